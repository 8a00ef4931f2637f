"""A part laid against another with real clicks: the two faces meet where one clicks."""

from collections.abc import Callable

from playwright.sync_api import expect

from hinoki.core.geometry.solid import Solid
from tests.shapes import box
from tests.ui.test_parts import PartsCase, as_3mf


class Laying(PartsCase):
    def click_until(self, done: Callable[[], bool]) -> tuple[float, float]:
        """Click over the view, place by place, until something is hit; where that was."""
        view = self.at("view").bounding_box()
        assert view is not None
        for down in range(3, 18):
            for across in range(3, 18):
                x, y = view["x"] + view["width"] * across / 20, view["y"] + view["height"] * down / 20
                self.page.mouse.click(x, y)
                self.page.wait_for_timeout(40)
                if done():
                    return x, y
        self.fail("nothing was there to be clicked")

    def asks(self) -> str:
        return " ".join(self.at("pick-hint").all_inner_texts())

    def test_a_post_is_laid_onto_a_plate(self) -> None:
        bodies: dict[str, Solid] = {"Plate": box(80, 60, 12), "Post": Solid.cylinder(12, 0, 40).moved(70, 0, 0)}
        self.begin(as_3mf(bodies), "pair.3mf")
        self.edited(self.at("take-apart").click)
        self.open_part("Post")
        self.page.get_by_role("button", name="Top").click()
        self.drawn()
        was = self.revision()
        self.at("lay-against").click()
        post_at = self.click_until(lambda: "where it goes on another part" in self.asks())
        plate_at = self.click_until(lambda: "where it goes" not in self.asks())
        self.after_edit(was)
        expect(self.at("laid-told")).to_contain_text("Laid ")
        # turned over, its top lies on the plate's top
        project = self.page.url.split("/projects/")[1].split("/")[0]
        plan = self.http.get(f"/api/projects/{project}").json()["plan"]
        (post,) = plan["instances"]
        self.assertAlmostEqual(post["at_mm"][2], 12 + 40, places=3)
        self.assertLess(abs(post["at_mm"][0]), 40 + 12)
        self.assertEqual(self.at("finding").count(), 0)

        # undone, and dragged there instead
        self.edited(self.at("undo").click)
        was = self.revision()
        self.at("lay-against").click()
        self.page.mouse.move(*post_at)
        self.page.mouse.down()
        self.page.wait_for_timeout(300)
        for share in (0.3, 0.6, 1.0):
            self.page.mouse.move(*(a + share * (b - a) for a, b in zip(post_at, plate_at, strict=True)))
            self.page.wait_for_timeout(100)
        self.page.mouse.up()
        self.after_edit(was)
        (dragged,) = self.http.get(f"/api/projects/{project}").json()["plan"]["instances"]
        self.assertEqual(dragged, post)
