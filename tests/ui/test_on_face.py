"""Joints on picked faces, with real clicks: a ring of screws where nothing was cut, and its other side in another part."""

from playwright.sync_api import expect

from hinoki.core.geometry.solid import Solid
from tests.shapes import box, stl_of
from tests.ui.test_parts import PartsCase, as_3mf


class OnFace(PartsCase):
    def pick_middle(self, by: str = "pick-face") -> None:
        self.at(by).click()
        view = self.at("view").bounding_box()
        assert view is not None
        self.page.mouse.click(view["x"] + 0.5 * view["width"], view["y"] + 0.5 * view["height"])

    def test_a_ring_of_screws_on_a_picked_face(self) -> None:
        self.begin(stl_of(box(90, 90, 24)), "plate.stl")
        self.at("sheet-shape").click()
        self.at("add-step").click()
        self.edited(self.at("add-on-face").click)
        self.page.get_by_role("button", name="Top").click()
        self.drawn()
        self.edited(self.pick_middle)
        expect(self.at("step-form")).to_contain_text("looks up")
        self.edited(lambda: self.at("field-pattern").select_option("ring"))
        self.edited(lambda: self.at("field-measured_from").select_option("middle"))
        self.edited(lambda: self.type_in("count", "6"))
        self.edited(lambda: self.type_in("ring_mm", "50"))
        expect(self.at("step-said")).to_contain_text("6 on the face")
        expect(self.at("step-said")).to_contain_text("25 mm from one to the next")
        expect(self.at("prepare-step")).to_contain_text("6 screws M3 into inserts, in a ring of 50 mm")
        self.assertEqual(self.at("finding").count(), 0)

        # too large a ring is told, each screw by its number
        self.edited(lambda: self.type_in("ring_mm", "90"))
        expect(self.page.get_by_text("Screw 1 does not stand wholly on the face").first).to_be_visible()
        self.edited(self.at("undo").click)

        # the holes of a bought thing are offered by its name
        self.edited(lambda: self.at("hole-pattern").select_option(label="motor, NEMA 17"))
        expect(self.at("step-said")).to_contain_text("4 on the face")
        expect(self.at("field-pattern")).to_have_value("grid")
        self.assertEqual(self.at("finding").count(), 0)
        self.edited(self.at("undo").click)

        # and what is bought is counted
        project = self.page.url.split("/projects/")[1].split("/")[0]
        bought = {h["name"]: h["count"] for h in self.http.get(f"/api/projects/{project}/build").json()["build"]["hardware"]}
        self.assertEqual(bought["insert M3 × 4"], 6)

        # keys stand along the face's edge, and are printed
        self.edited(lambda: self.at("half-of").select_option("key"))
        self.edited(lambda: self.at("field-measured_from").select_option("edge"))
        self.edited(lambda: self.at("field-pattern").select_option("row"))
        self.edited(lambda: self.type_in("count", "3"))
        self.assertEqual((self.at("half").count(), self.at("finding").count()), (0, 0))
        expect(self.at("prepare-step")).to_contain_text("3 butterfly keys 10 × 6/4 × 3, 20 mm apart")
        loose = self.http.get(f"/api/projects/{project}/build").json()["build"]["loose"]
        self.assertEqual([(one["name"], one["count"]) for one in loose], [("butterfly key 10 × 6/4 × 3", 3)])

    def test_two_parts_are_pinned_across_a_gap(self) -> None:
        bodies: dict[str, Solid] = {"Plate": box(80, 60, 12), "Block": box(60, 50, 20).moved(0, 0, 14)}
        self.begin(as_3mf(bodies), "pair.3mf")
        self.edited(self.at("take-apart").click)
        self.at("sheet-shape").click()
        self.at("add-step").click()
        self.edited(self.at("add-on-face").click)
        self.edited(lambda: self.at("half-of").select_option("pin"))
        self.edited(lambda: self.at("half").select_option("stands"))
        self.edited(lambda: self.at("field-pattern").select_option("ring"))
        self.edited(lambda: self.at("meet").select_option(label="also in Block"))
        expect(self.at("meet-told")).to_have_text("4 at 2 mm from each other")
        expect(self.at("meet")).to_contain_text("in Block")
        self.at("sheet-parts").click()
        self.open_part("Block")
        self.at("sheet-shape").click()
        expect(self.at("step-said")).to_contain_text("4 at 2 mm from each other")
        self.assertEqual(self.at("finding").count(), 0)

    def test_letters_are_sunk_where_one_clicks(self) -> None:
        self.begin(stl_of(box(90, 90, 24)), "plate.stl")
        self.at("sheet-shape").click()
        self.at("add-step").click()
        self.edited(self.at("add-letters").click)
        self.page.get_by_role("button", name="Top").click()
        self.drawn()
        self.edited(lambda: self.pick_middle("pick-at_mm"))
        self.edited(lambda: self.type_in("text", "No. 7"))
        expect(self.at("prepare-step")).to_contain_text("Letters “No. 7”, sunk 0.8")
        self.edited(lambda: self.type_in("text", "木"))
        expect(self.page.get_by_text("there is no letter '木' in the font").first).to_be_visible()
