"""The Join station: doors that slide on a rail and doors that fold, made, shown open and exported in the browser."""

from playwright.sync_api import expect

from tests.doors import CUPBOARD, folding_plan
from tests.shapes import across, box, stl_of
from tests.ui.joining import JoinCase


class Doors(JoinCase):
    def test_a_door_gets_rails_is_slid_open_and_told_where_it_is_stopped(self) -> None:
        front = across(1, "y", -12.0).model_dump(mode="json")
        self.show(self.started("Cupboard", stl_of(CUPBOARD), partings=[front]), "join")
        self.edited(self.at("add-rail").click)
        expect(self.at("face").first).to_contain_text("2 rails 6/12")
        self.edited(lambda: self.type_in("travel_mm", "50"))
        self.at("open").fill("20")
        self.page.get_by_text("50 mm", exact=True).wait_for()
        self.edited(lambda: self.drag(0, -12))
        report = self.exported()
        (joint,) = report["joints"]
        self.assertEqual((joint["kind"], joint["count"]), ("rail", 2))
        self.assertAlmostEqual(joint["clearance_measured_mm"], joint["clearance_mm"], delta=0.01)
        self.assertEqual([f["code"] for f in report["findings"] if f["severity"] != "note"], [])
        self.edited(lambda: self.type_in("travel_mm", "200"))
        self.at("finding").filter(has_text="breaks through").first.wait_for()

    def test_a_thick_lid_gets_a_hinge_and_a_latch_by_one_click(self) -> None:
        lid = across(1, "z", 32.0).model_dump(mode="json")
        self.show(self.started("Chest", stl_of(box(80, 60, 40)), partings=[lid]), "join")
        self.at("lid-shuts").select_option("hinge and latch")
        self.edited(self.at("make-lid").click)
        expect(self.at("face").first).to_contain_text("turning latch")
        self.counted("joint", 2)
        report = self.exported()
        self.assertEqual({j["kind"] for j in report["joints"]}, {"hinge", "latch"})
        self.assertTrue(any(p["name"].startswith("latch ø") for p in report["loose"]))
        self.assertEqual([f["code"] for f in report["findings"] if f["severity"] != "note"], [])

    def test_two_leaves_fold_and_a_leaf_that_meets_the_jamb_is_told(self) -> None:
        data, plan = folding_plan(right_jamb=15.0)
        given = plan.model_dump(mode="json")
        self.show(self.started("Folding door", data, partings=given["partings"], joints=given["joints"]), "join")
        self.at("face").filter(has_text="pin ø3").click()
        self.at("finding").filter(has_text="of the folding door").first.wait_for()
        self.at("open").fill("6")
        self.page.get_by_text("30°", exact=True).wait_for()
