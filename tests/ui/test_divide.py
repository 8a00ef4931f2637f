"""Every kind of parting, marks, proposals and variants in the browser, by mouse and keyboard, on the demos."""

from playwright.sync_api import expect

from hinoki.core.geometry.solid import Solid
from tests.shapes import box, level, stl_of
from tests.ui.browser import BrowserCase


class Divide(BrowserCase):
    def open_harbour(self) -> None:
        """The third demo, with its partings taken out: one piece of 420 mm across."""
        self.open_demo(name="harbour", partings=[], joints=[], marks=[], variants=[], together=[])
        self.counted("piece", 1)

    def spot(self, across: float, down: float) -> tuple[float, float]:
        """A place on the page by shares of the view."""
        box = self.at("view").bounding_box()
        return box["x"] + across * box["width"], box["y"] + down * box["height"]

    def click_view(self, across: float, down: float) -> None:
        self.page.mouse.click(*self.spot(across, down))

    def told(self, test_id: str) -> str:
        return str(self.at(test_id).first.inner_text())

    def test_profile_drawn_by_mouse_moved_by_keys_and_typed(self) -> None:
        self.open_harbour()
        self.edited(lambda: self.at("add-profile").click())
        self.assertGreaterEqual(self.at("piece").count(), 2)
        self.at("draw-top").click()
        self.page.wait_for_selector("[data-test=pick-hint]")
        self.drawn()
        for across, down in ((0.05, 0.6), (0.4, 0.6), (0.6, 0.35), (0.95, 0.35)):
            self.click_view(across, down)
        self.edited(lambda: self.page.keyboard.press("Enter"))
        self.assertIn("4 points", self.at("parting").first.inner_text())
        self.assertGreaterEqual(self.at("piece").count(), 2)
        self.assertIn("1 piece becomes", self.told("cut-change"))
        before = float(self.at("point-1-y").locator("input").input_value())
        self.at("handle-point-1").focus()

        def nudge() -> None:
            self.page.keyboard.press("ArrowUp")
            self.page.keyboard.press("Shift+ArrowUp")

        self.edited(nudge)
        self.assertAlmostEqual(float(self.at("point-1-y").locator("input").input_value()), before + 11, delta=0.02)

        def typed() -> None:
            self.at("point-1-y").locator("input").fill("7.5")
            self.at("point-1-y").locator("input").press("Enter")

        self.edited(typed)
        self.edited(lambda: self.page.get_by_label("Point 2 smooth").check())
        self.assertIn("mm", self.told("seam-length"))

    def test_lap_by_typing_dragging_and_keys(self) -> None:
        self.open_harbour()
        self.edited(lambda: self.at("add-lap").click())
        self.counted("piece", 2)
        self.edited(lambda: self.type_in("overlap_mm", "40"))
        self.assertIn("by 40.0", self.at("parting").first.inner_text())
        self.at("handle-plane").focus()
        self.edited(lambda: self.page.keyboard.press("Shift+ArrowRight"))
        where = self.steady("handle-plane")
        self.page.mouse.move(where["x"] + 7, where["y"] + 7)
        self.page.mouse.down()
        self.page.mouse.move(where["x"] + 40, where["y"] + 20, steps=4)
        self.edited(self.page.mouse.up)
        self.counted("piece", 2)

    def test_hatch_where_it_is_clicked_with_gap_and_rebate(self) -> None:
        self.open_harbour()
        self.page.get_by_role("button", name="Top", exact=True).click()
        self.drawn()
        self.at("add-hatch").click()
        self.edited(lambda: self.click_view(0.5, 0.5))
        self.assertGreaterEqual(self.at("piece").count(), 2)
        self.edited(lambda: self.at("outline-shape").select_option("circle"))
        self.edited(lambda: self.type_in("rebate_mm", "2"))
        self.assertIn("⌀ 30.0", self.at("parting").first.inner_text())
        self.assertIn("1 piece becomes", self.told("cut-change"))
        self.expected = ("422",)
        self.type_in("depth_mm", "0")
        self.assertIn("Between", self.page.locator("[data-test=field-depth_mm] [role=alert]").inner_text())
        self.at("outline-shape").select_option("free")
        self.drawn()
        for across, down in ((0.46, 0.46), (0.54, 0.46), (0.54, 0.54), (0.46, 0.54)):
            self.click_view(across, down)
        self.edited(lambda: self.page.keyboard.press("Enter"))
        self.assertIn("free, 4 corners", self.at("parting").first.inner_text())

    def test_detach_on_the_lighthouse_takes_off_only_the_mast(self) -> None:
        self.open_demo()
        self.counted("piece", 8)
        self.page.get_by_role("button", name="Front").click()
        self.drawn()
        self.at("add-detach").click()
        view = self.at("view").bounding_box()
        mast = self.page.locator(".balloon", has_text="8").first
        expect(mast).to_be_visible()
        self.edited(lambda: self.page.mouse.click(view["x"] + view["width"] / 2, view["y"] + 0.154 * view["height"]))
        self.counted("piece", 9)
        self.assertIn("Detach", self.at("parting").last.inner_text())
        self.at("handle-loop").focus()
        self.edited(lambda: self.page.keyboard.press("ArrowUp"))
        self.counted("piece", 9)

    def test_flat_by_picking_duplicate_mirror_hide_and_name(self) -> None:
        self.open_harbour()
        self.page.get_by_role("button", name="Top", exact=True).click()
        self.drawn()
        self.at("pick-flat").click()
        self.at("flat-points").click()
        for (across, down), words in (((0.5, 0.3), "second"), ((0.5, 0.7), "third")):
            self.click_view(across, down)
            self.page.wait_for_selector(f"text=Click the {words} point.")
        self.edited(lambda: self.click_view(0.55, 0.5))
        self.counted("parting", 1)
        self.edited(lambda: self.at("duplicate").click())
        self.counted("parting", 2)
        self.edited(lambda: self.at("mirror-x").click())
        self.counted("parting", 3)
        self.edited(lambda: self.at("hide-parting").click())
        self.assertIn("Show in view", self.told("hide-parting"))
        self.edited(
            lambda: self.page.get_by_label("Name of the parting").fill("by the quay\n") or self.page.keyboard.press("Tab")
        )
        self.assertEqual(self.page.get_by_label("Name of the parting").input_value().strip(), "by the quay")

    def test_pieces_are_joined_again_and_parted(self) -> None:
        self.open_harbour()
        self.edited(lambda: self.at("add-wedges").click())
        self.counted("piece", 4)
        self.at("together").click()
        for key in ("p1:0", "p1:1"):
            self.page.locator(f"[data-key='{key}']").check()
        self.edited(lambda: self.at("together-join").click())
        self.counted("piece", 3)
        self.page.keyboard.press("Escape")
        self.edited(lambda: self.at("together-group").get_by_role("button").click())
        self.counted("piece", 4)
        self.edited(lambda: self.at("undo").click())
        self.counted("piece", 3)

    def test_lumps_and_even_spacing_of_an_uploaded_pair(self) -> None:
        pair = box(40, 40, 400).plus([box(30, 30, 30).moved(80, 0, 0), box(1, 1, 1).moved(60, 0, 0)])
        self.show(self.started("Pair", stl_of(pair)), "divide")
        self.edited(lambda: self.at("add-lumps").click())
        self.counted("piece", 3)
        self.edited(lambda: self.type_in("speck_mm3", "5"))
        self.counted("piece", 2)
        self.edited(lambda: self.at("field-specks").select_option("drop"))
        self.assertIn("specks under 5 mm³ dropped", self.at("parting").first.inner_text())
        self.edited(lambda: self.at("add-even").click())
        self.counted("piece", 3)
        self.edited(lambda: self.type_in("parts", "4"))
        self.counted("piece", 5)
        self.edited(lambda: self.type_in("first_mm", "20"))
        self.counted("piece", 5)

    def test_marks_are_painted_boxed_and_heeded(self) -> None:
        self.open_harbour()
        self.edited(lambda: self.at("add-flat").click())
        self.at("page-marks").click()
        self.page.get_by_role("button", name="Top", exact=True).click()
        self.drawn()
        self.at("paint-keep").click()

        def stroke() -> None:
            self.page.mouse.move(*self.spot(0.4, 0.5))
            self.page.mouse.down()
            for share in (0.45, 0.5, 0.55, 0.6):
                self.page.mouse.move(*self.spot(share, 0.5), steps=3)
                self.drawn()
            self.page.mouse.up()

        self.edited(stroke)
        self.counted("mark", 1)
        self.page.wait_for_selector("[data-test=mark] .bad")
        self.assertIn("cut by P1", self.told("mark"))
        self.assertIn("is to stay whole", " ".join(self.at("finding").all_inner_texts()))
        self.page.keyboard.press("Escape")
        self.at("box-show").click()
        self.edited(lambda: self.click_view(0.5, 0.4))
        self.counted("mark", 2)
        self.edited(lambda: self.at("mark-remove").click())
        self.counted("mark", 1)

    def test_limbs_come_off_at_their_roots_where_that_is_preferred(self) -> None:
        arms = [Solid.box([a, -14, 100], [b, 14, 128]) for a, b in ((50, 205), (-205, -50))]
        self.show(self.started("Robot", stl_of(box(120, 110, 160).plus(arms))), "divide")
        self.at("page-propose").click()
        self.at("propose-prefer").select_option("limbs")
        self.at("propose").click()
        self.page.wait_for_selector("[data-test=proposal] img")
        card = self.at("proposal").first.inner_text()
        self.assertIn("Limbs apart", card)
        self.assertIn("2 limbs come off", card)
        self.edited(lambda: self.at("take").first.click())
        self.counted("piece", 3)
        self.assertTrue(all("fits" in line for line in self.at("piece").all_inner_texts()))

    def test_a_proposal_is_taken_and_variants_are_compared_and_switched(self) -> None:
        post = box(100, 100, 520).minus([Solid.box([-38, -38, -1], [38, 38, 521])])
        cuts = [level(1 + k, 100 + 80 * k).model_dump(mode="json") for k in range(5)]
        self.show(self.started("Post", stl_of(post), partings=cuts), "divide")
        self.counted("piece", 6)
        self.at("page-propose").click()
        self.at("propose-prefer").select_option("hidden")
        self.at("propose").click()
        self.page.wait_for_selector("[data-test=proposal] img")
        self.assertEqual(self.at("proposal").count(), 3)
        text = self.at("proposal").first.inner_text()
        pieces = int(text.split("pieces\n")[1].split("\n")[0])
        self.edited(lambda: self.at("take").first.click())
        self.counted("piece", pieces)
        self.assertTrue(all("fits" in line for line in self.at("piece").all_inner_texts()))
        self.at("page-variants").click()
        self.counted("variant", 1)
        self.page.wait_for_selector("[data-test=comparison]")
        self.assertIn("Division 1", self.told("comparison"))
        self.edited(lambda: self.at("switch").first.click())
        self.counted("piece", 6)
        self.at("variant-name").fill("third")
        self.edited(lambda: self.at("keep-variant").click())
        self.counted("variant", 2)
