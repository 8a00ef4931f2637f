"""Hinges, stands, modules and screws in their variants, driven in the browser."""

from playwright.sync_api import expect

from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import DowelJoint, FaceRef
from tests.shapes import box, level, stl_of, tube
from tests.ui.joining import JoinCase

LID = box(80, 60, 40).minus([Solid.box([-36, -26, 4], [36, 26, 36])])


class JoiningMore(JoinCase):
    """What needs motion or bought parts."""

    def test_a_hatch_through_a_wall_gets_a_hinge_and_is_told_what_would_hold_it_in(self) -> None:
        case = Solid.box([-60, -40, 0], [60, 40, 40]).minus([Solid.box([-50, -30, 10], [50, 30, 30])])
        outline = {"shape": "rectangle", "width_mm": 60, "height_mm": 40}
        hatch = {"kind": "hatch", "id": "p1", "at_mm": (0, 0, 40), "outline": outline, "depth_mm": 10, "gap_mm": 2.0}
        self.show(self.started("Locker", stl_of(case), partings=[hatch]), "join")
        self.at("add-key").wait_for()
        self.at("add-pin").click()
        expect(self.page.locator(".v-snackbar__content").last).to_contain_text("comes out along this face")
        self.edited(self.at("add-hinge").click)
        self.counted("joint", 1)
        expect(self.at("face").nth(1)).to_contain_text("2.0 mm apart")

    def test_the_seam_of_an_open_cup_gets_a_lip_off_its_ends(self) -> None:
        cup = tube(40, 37, 50).plus([Solid.cylinder(38, 0, 3)])
        half = {"kind": "flat", "id": "p1", "axis": "x", "at_mm": 0.0}
        self.show(self.started("Cup", stl_of(cup), partings=[half]), "join")
        self.edited(self.at("add-lip").click)
        expect(self.at("face").first).to_contain_text("middle lip")
        self.edited(lambda: self.at("field-runs").select_option("inner"))
        self.edited(lambda: self.type_in("stop_mm", "6"))
        self.edited(lambda: self.type_in("thickness_mm", "2.4"))
        self.at("finding").filter(has_text="of the wall only").first.wait_for()
        self.edited(lambda: self.type_in("thickness_mm", "1.2"))
        report = self.exported()
        self.assertEqual([j["kind"] for j in report["joints"]], ["lip"])
        self.assertEqual([f["code"] for f in report["findings"] if f["severity"] != "note"], [])

    def test_the_walls_of_a_box_get_fingers_that_are_dragged_and_typed(self) -> None:
        walls = box(100, 80, 50).minus([Solid.box([-48.4, -38.4, -1], [48.4, 38.4, 51])])
        panel = {"kind": "flat", "id": "p1", "axis": "x", "at_mm": 48.4}
        self.show(self.started("Walls", stl_of(walls), partings=[panel]), "join")
        self.edited(self.at("add-finger").click)
        expect(self.at("face").first).to_contain_text("8 fingers 6 wide")
        before = self.at("spot").first.get_attribute("aria-label")
        self.edited(lambda: self.drag(0, -12))
        self.assertNotEqual(self.at("spot").first.get_attribute("aria-label"), before)
        report = self.exported()
        (joint,) = report["joints"]
        self.assertAlmostEqual(joint["clearance_measured_mm"], joint["clearance_mm"], delta=0.01)
        self.assertEqual([f["code"] for f in report["findings"] if f["severity"] != "note"], [])
        self.edited(lambda: self.type_in("depth_mm", "1"))
        self.at("finding").filter(has_text="at its floor").first.wait_for()

    def test_snap_hooks_are_made_typed_dragged_and_tell_their_strain(self) -> None:
        self.block(box(60, 60, 60))
        self.edited(self.at("add-hook").click)
        expect(self.at("face").first).to_contain_text("4 snap hooks 18 × 6 × 1.8")
        form = self.page.get_by_text("press it together")
        expect(form).to_contain_text("hooks let go")
        before = self.at("spot").first.get_attribute("aria-label")
        self.edited(lambda: self.drag(20, -20))
        self.assertNotEqual(self.at("spot").first.get_attribute("aria-label"), before)
        for length, said in (("14", "layers run across that"), ("10", "would break going in")):
            self.edited(lambda length=length: self.type_in("length_mm", length))
            self.at("finding").filter(has_text=said).first.wait_for()
        self.edited(lambda: self.type_in("length_mm", "20"))
        expect(self.at("finding").filter(has_text="snap hooks")).to_have_count(0)
        report = self.exported()
        (joint,) = report["joints"]
        self.assertEqual((joint["kind"], joint["count"]), ("hook", 4))
        self.assertAlmostEqual(joint["clearance_measured_mm"], joint["clearance_mm"], delta=0.01)

    def test_a_lip_gets_a_bead_that_snaps_and_tells_its_strain(self) -> None:
        self.block(tube(40, 35, 60))
        self.edited(self.at("add-lip").click)
        self.edited(lambda: self.type_in("snap_mm", "0.4"))
        expect(self.at("face").first).to_contain_text("with ring snap 0.4")
        expect(self.page.get_by_text("press it together")).to_contain_text("it is strained by")
        self.edited(lambda: self.type_in("snap_mm", "0.8"))
        self.at("finding").filter(has_text="would break going in").first.wait_for()
        self.edited(self.at("fix").filter(has_text="Make it").first.click)
        expect(self.at("finding").filter(has_text="would break going in")).to_have_count(0)
        report = self.exported()
        (joint,) = report["joints"]
        self.assertAlmostEqual(joint["clearance_measured_mm"], joint["clearance_mm"], delta=0.02)

    def test_splice_plates_lie_inside_a_thin_ring_are_dragged_and_printed(self) -> None:
        self.block(tube(40, 38.4, 60))
        self.edited(self.at("add-splice").click)
        expect(self.at("face").first).to_contain_text("splice plates 30 × 20 × 1.6")
        before = self.at("spot").first.get_attribute("aria-label")
        self.edited(lambda: self.drag(10, 30))
        self.assertNotEqual(self.at("spot").first.get_attribute("aria-label"), before)
        self.edited(self.at("field-studs").click)
        self.edited(lambda: self.type_in("length_mm", "24"))
        report = self.exported()
        (joint,) = report["joints"]
        self.assertEqual((joint["kind"], joint["count"]), ("splice", 4))
        self.assertAlmostEqual(joint["clearance_measured_mm"], joint["clearance_mm"], delta=0.01)
        self.assertEqual(sum(p["count"] for p in report["loose"]), 4)
        self.assertEqual([f["code"] for f in report["findings"] if f["severity"] != "note"], [])

    def test_a_face_is_made_a_lid_that_shuts_by_one_click(self) -> None:
        self.block(LID)
        self.edited(self.at("make-lid").click)
        expect(self.at("face").first).to_contain_text("hinge 40 long")
        expect(self.at("face").first).to_contain_text("3 magnets")
        expect(self.at("face").first).to_contain_text("inner lip")
        self.counted("joint", 3)
        self.at("make-lid").click()
        expect(self.page.locator(".v-snackbar__content").last).to_contain_text("has all that such a lid needs already")
        report = self.exported()
        self.assertEqual({j["kind"] for j in report["joints"]}, {"hinge", "lip", "magnet"})
        self.assertEqual([f["code"] for f in report["findings"] if f["severity"] != "note"], [])
        self.edited(self.at("undo").click)
        self.counted("joint", 0)
        self.at("lid-shuts").select_option("hinge and bump")
        self.edited(self.at("make-lid").click)
        expect(self.at("face").first).to_contain_text("with 1 bump")
        self.counted("joint", 2)

    def test_a_lid_gets_a_hinge_is_shown_open_and_printed_in_place(self) -> None:
        self.block(LID)
        self.edited(self.at("add-hinge").click)
        self.edited(lambda: self.type_in("opens_deg", "180"))
        self.at("open").fill("36")
        self.page.get_by_text("180°").wait_for()
        report = self.exported()
        self.assertEqual(report["joints"][0]["kind"], "hinge")
        self.assertIn("hinge pin", report["hardware"][0]["name"])
        self.assertEqual([f["code"] for f in report["findings"] if f["severity"] != "note"], [])
        self.edited(lambda: self.at("field-pin").select_option("in place"))
        report = self.exported()
        self.assertEqual([p["prints_with"] for p in report["pieces"]], [[2], [1]])
        self.assertEqual(report["hardware"], [])

    def test_a_door_that_hits_is_told_and_opened_less_by_its_fix(self) -> None:
        handle = Solid.box([-10, 33, 10], [10, 50, 60]).plus([Solid.box([-10, 25, 10], [10, 40, 14])])
        self.block(LID.plus([handle]))
        self.edited(self.at("add-hinge").click)
        self.edited(lambda: self.type_in("opens_deg", "250"))
        finding = self.at("finding").filter(has_text="touches piece").first
        finding.wait_for()
        self.edited(finding.locator("[data-test=fix]").first.click)
        self.assertLess(
            float(self.page.locator("[data-test=field-opens_deg] input, input[data-test=field-opens_deg]").first.input_value()),
            250,
        )

    def test_the_masks_door_swings_on_its_hinge_and_magnets_hold_it(self) -> None:
        self.open_demo("join", "owl")
        self.at("face").filter(has_text="hinge").click()
        self.counted("joint", 2)
        self.at("open").fill("18")
        self.page.get_by_text("90°").wait_for()
        self.at("cut-joint").click()
        self.assertEqual(self.at("open").input_value(), "0")

    def test_tiles_show_their_poles_and_the_table_of_all_pairs(self) -> None:
        self.open_demo("join", "fen")
        self.counted("module-pole", 8)
        cells = self.at("pairs").locator("td")
        self.assertEqual(cells.all_inner_texts(), ["●"] * 16)
        self.assertIn("every side meets every side", self.at("module-says").first.inner_text())
        self.counted("module-drawn", 2)
        self.edited(self.at("a-side-1").click)
        self.counted("module-pole", 4)
        self.assertEqual(cells.all_inner_texts().count("●"), 8)
        self.assertIn("8 of them are turned", self.at("module-says").nth(1).inner_text())
        self.edited(lambda: self.at("module-size").select_option(label="disc 8 × 3"))
        self.edited(self.at("module-piece").first.click)
        self.assertIn("3 modules", self.at("modules").inner_text())
        report = self.exported()
        self.assertEqual(
            (report["modules"][0]["pieces"], report["loose"][0]["name"]), ([3, 2, 4], "pole jig for magnet disc 8 × 3")
        )
        self.edited(self.at("remove-modules").click)
        self.edited(self.at("add-modules").click)
        self.counted("module-pole", 8)

    def test_a_stand_is_made_typed_and_bought_as_a_rod(self) -> None:
        self.block(box(60, 60, 90))
        self.edited(self.at("add-stand").click)
        self.at("ways").get_by_text("tips at").wait_for()
        self.edited(lambda: self.type_in("base_mm", "25"))
        self.at("ways").get_by_text("With").wait_for()
        self.assertTrue(any(x["name"].startswith("stand ø25") for x in self.exported()["loose"]))
        self.edited(lambda: self.at("field-peg").select_option("rod"))
        self.edited(lambda: self.at("way-size").select_option(label="rod ø6, wood"))
        self.assertIn("rod ø6, wood", [h["name"] for h in self.exported()["hardware"]])
        self.edited(self.at("remove-way").click)
        self.assertEqual(self.exported()["hardware"], [])

    def test_a_rod_is_looked_for_where_a_seam_bends_and_goes_through(self) -> None:
        face = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
        peg = DowelJoint(id="j1", face=face, count=1, diameter_mm=3, length_mm=10)
        mast = self.started(
            "Mast",
            stl_of(Solid.cylinder(5, 0, 300)),
            partings=[level(1, 140.0).model_dump(mode="json")],
            joints=[peg.model_dump(mode="json")],
        )
        self.show(mast, "join")
        self.station("check")
        bends = self.at("finding").filter(has_text="bends the seam by")
        self.edited(lambda: bends.locator("[data-test=fix]", has_text="Look for a rod").click())
        expect(self.at("message")).to_contain_text("J1 made room for it")
        expect(bends).to_have_count(0)
        self.station("join")
        expect(self.at("bore-drawn")).to_have_text("W1rod ø6, 40 long")
        plan = self.http.get(f"/api/projects/{mast}").json()["plan"]
        self.assertEqual([(w["kind"], w["id"]) for w in plan["ways"]], [("rod", "w1")])
        self.assertEqual([j["kind"] for j in plan["joints"]], ["butt"])

    def test_screws_take_nuts_from_the_side_lean_and_get_bosses(self) -> None:
        self.block()
        self.edited(self.at("add-screw").click)
        self.edited(lambda: self.at("field-into").select_option("nut"))
        self.edited(lambda: self.at("field-nut_from").select_option("side"))
        self.edited(lambda: self.type_in("nut_deep_mm", "5"))
        self.edited(lambda: self.type_in("tilt_deg", "10"))
        self.edited(lambda: self.type_in("tilt_to_deg", "45"))
        joint = self.exported()["joints"][0]
        self.assertIn("leaning 10°", joint["label"])
        self.assertEqual((joint["parameters"]["nut_from"], joint["parameters"]["nut_deep_mm"]), ("side", 5))
        self.block(tube(30, 26, 80))
        self.edited(self.at("add-screw").click)
        report = self.exported()
        self.assertGreater(report["joints"][0]["parameters"]["boss_mm"], 0)
        self.assertEqual([f["code"] for f in report["findings"] if f["severity"] == "must-fix"], [])


class Versions(JoinCase):
    def test_a_try_is_kept_compared_and_gone_back_to(self) -> None:
        self.block()
        self.edited(self.at("add-pin").click)
        self.at("versions-open").click()
        self.edited(self.at("keep-version").click)
        expect(self.at("version-now")).to_have_count(1)
        self.edited(lambda: self.type_in("clearance_mm", "0.2"))
        expect(self.at("version-differs")).to_contain_text("clearance 0.10, now 0.20 mm each side")
        self.edited(self.at("keep-version").click)
        expect(self.at("version-name").nth(1)).to_have_value("V2, 0.10 wider")
        self.edited(lambda: self.at("version-how").nth(1).select_option("slides"))
        note = self.at("version-note").nth(1)
        note.fill("goes in with two fingers")
        self.edited(lambda: note.press("Enter"))
        self.edited(self.at("version-back").click)
        expect(self.at("version").nth(0)).to_contain_text("as it is now")
        expect(self.at("version-differs")).to_contain_text("clearance 0.20, now 0.10 mm each side")

        # it is all there when the project is opened anew
        self.page.reload()
        self.settled()
        self.at("face").first.click()
        self.at("versions-open").click()
        expect(self.at("version-note").nth(1)).to_have_value("goes in with two fingers")
        expect(self.at("version-how").nth(1)).to_have_value("slides")
