"""Model with real clicks: a model that is wrong in every way is made right; ways of looking."""

import numpy as np

from hinoki.core.formats.registry import read_file
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from tests.shapes import box, stl_of, tube
from tests.ui.browser import BrowserCase


def wrong_in_every_way() -> bytes:
    """A stand drawn in inches, Y up, with a hole in its surface, faces turned over and a twelve-sided bore of 25 mm."""
    stand = box(120, 80, 160).minus([Solid.prism(12.5, -1, 161, 12).moved(20, 10, 0)])
    lying = stand.placed(np.array([[1.0, 0, 0, 0], [0, 0, 1, 0], [0, -1, 0, 0]])).mesh
    side = np.flatnonzero(lying.face_vectors[:, 0] < -1e3)
    faces = lying.faces.copy()
    flat = np.flatnonzero(lying.face_vectors[:, 0] > 1e3)
    faces[flat[:1]] = faces[flat[:1]][:, ::-1]
    return write_stl(Mesh(lying.vertices / 25.4, np.delete(faces, side[:1], axis=0)))


class ModelCase(BrowserCase):
    def begin(self, name: str, content: bytes) -> None:
        self.page.goto(f"{self.address}/projects/{self.started(name, content)}/model")
        self.page.wait_for_selector("[data-test=model-facts]")
        self.settled()

    def sheet(self, name: str) -> None:
        self.at(f"sheet-{name}").click()

    def add_step(self, kind: str) -> None:
        was = self.revision()
        self.at("add-step").click()
        self.at(f"add-{kind}").click()
        self.after_edit(was)

    def facts(self) -> str:
        return str(self.at("model-facts").inner_text())

    def click_model(self, x: float = 0.5, y: float = 0.5) -> None:
        """Click into the view, at shares of its width and height."""
        area = self.at("view").bounding_box()
        self.page.mouse.click(area["x"] + area["width"] * x, area["y"] + area["height"] * y)


class MadeRight(ModelCase):
    def test_a_model_that_is_wrong_in_every_way(self) -> None:
        self.begin("stand", wrong_in_every_way())

        # the unit: a reason and a choice
        question = self.at("unit-question").inner_text()
        self.assertIn("Which unit?", question)
        self.assertIn("inches", question)
        was = self.revision()
        self.at("unit-inch").click()
        self.after_edit(was)
        self.counted("unit-question", 0)
        self.assertIn("120.0 × 160.0 × 80.0 mm", self.facts())
        self.assertIn("not closed", self.facts())

        # the surface: what is wrong, and the recommended repair, seen before it is kept
        self.sheet("surface")
        issues = " ".join(self.at("issue").all_inner_texts())
        for words in ("1 hole", "turned over", "has 12 sides: 0.85 mm too small"):
            self.assertIn(words, issues)
        self.at("issue").first.click()
        self.page.wait_for_selector("text=1 of 1 places")
        self.at("repair").click()
        self.page.wait_for_selector("[data-test=trial-facts] td")
        facts = self.at("trial-facts").inner_text()
        self.assertRegex(facts, r"Holes\s+1\s+0")
        self.assertRegex(facts, r"Closed\s+no\s+yes")
        was = self.revision()
        self.at("trial-keep").click()
        self.after_edit(was)
        self.assertNotIn("hole (", " ".join(self.at("issue").all_inner_texts()))

        # prepare: stand it up, true bores, to its size, hollow with drain holes
        self.sheet("shape")
        self.counted("prepare-step", 1)
        self.add_step("stand")
        self.add_step("round-bores")
        self.assertIn("1 bores made true: ø25", self.at("step-said").inner_text())
        self.add_step("ratio")
        was = self.revision()
        self.type_in("real_mm", "4800")
        self.after_edit(was)
        self.add_step("hollow")
        self.assertRegex(self.at("step-said").inner_text(), r"takes out [\d.]+ cm³[\s\S]*least wall found [23]\.\d\d mm")
        was = self.revision()
        self.at("suggest-drains").click()
        self.after_edit(was)
        self.counted("drain", 2)
        self.assertIn("→", self.at("title-block").inner_text())
        self.sheet("file")
        self.assertIn("75.0 × 50.0 × 100.0 mm", self.facts())
        self.assertIn("closed", self.facts())

        # out again in another format
        with self.page.expect_download() as download:
            self.at("save-as").select_option("obj")
        path = self.folder / "stand.obj"
        download.value.save_as(path)
        saved = read_file(path.read_bytes(), "stand.obj")
        self.assertTrue(saved.mesh.edges.closed)
        np.testing.assert_allclose(np.ptp(saved.mesh.vertices, axis=0), [75, 50, 100], atol=0.01)

        # and the next station takes it from there
        self.station("divide")
        was = self.revision()
        self.at("add-flat").click()
        self.after_edit(was)
        self.counted("piece", 2)

    def test_steps_are_switched_reordered_and_taken_out(self) -> None:
        self.begin("bar", stl_of(box(20, 30, 40)))
        self.sheet("shape")
        self.add_step("stand")
        self.add_step("length")
        was = self.revision()
        self.type_in("length_mm", "80")
        self.after_edit(was)
        self.assertIn("Z to 80 mm", self.at("prepare-step").last.inner_text())
        self.assertIn("53.3 × 106.7 × 80.0", self.at("title-block").inner_text())
        was = self.revision()
        self.at("prepare-step").last.locator("[aria-label=Earlier]").click()
        self.after_edit(was)
        self.assertIn("40.0 × 80.0 × 60.0", self.at("title-block").inner_text())
        was = self.revision()
        self.at("step-on").uncheck()
        self.after_edit(was)
        self.assertIn("20.0 × 40.0 × 30.0", self.at("title-block").inner_text())
        was = self.revision()
        self.at("step-remove").click()
        self.after_edit(was)
        self.counted("prepare-step", 1)
        was = self.revision()
        self.at("undo").click()
        self.after_edit(was)
        self.counted("prepare-step", 2)

    def test_points_are_picked_in_the_view(self) -> None:
        self.begin("block", stl_of(box(80, 80, 80)))
        self.sheet("shape")
        self.add_step("match")
        self.at("pick-from_mm").click()
        was = self.revision()
        self.assertIn("first point", self.at("pick-hint").inner_text())
        self.click_model(0.47, 0.52)
        self.page.wait_for_selector("text=Click the second point.")
        self.click_model(0.53, 0.52)
        self.after_edit(was)
        was = self.revision()
        self.type_in("distance_mm", "55")
        self.after_edit(was)
        self.assertIn("Two points 55 mm apart", self.at("prepare-step").last.inner_text())
        self.add_step("stand")
        self.at("stand-pick").click()
        was = self.revision()
        self.click_model(0.47, 0.52)
        self.after_edit(was)
        self.assertIn("Stand", self.at("prepare-step").last.inner_text())

    def test_a_step_that_cannot_be_done_says_so_and_is_kept(self) -> None:
        self.begin("post", stl_of(tube(20, 14, 60)))
        self.sheet("shape")
        self.add_step("stretch")
        was = self.revision()
        self.type_in("at_mm", "400")
        self.after_edit(was)
        self.assertIn("misses the model", self.at("finding").first.inner_text())
        self.counted("prepare-step", 1)
        was = self.revision()
        self.type_in("at_mm", "3")
        self.after_edit(was)
        self.counted("finding", 0)
        self.assertIn("of section × 10 mm", self.at("step-said").inner_text())

    def test_a_sheet_gets_a_wall(self) -> None:
        flat = Mesh(np.array([[0.0, 0, 0], [60, 0, 0], [60, 40, 0], [0, 40, 0]]), np.array([[0, 1, 2], [0, 2, 3]]))
        self.begin("banner", write_stl(flat))
        self.assertIn("not closed", self.facts())
        self.sheet("shape")
        self.add_step("thicken")
        was = self.revision()
        self.type_in("wall_mm", "5")
        self.after_edit(was)
        self.assertIn("1 sheet of", self.at("step-said").inner_text())
        self.assertIn("65.0 × 45.0 × 5.0", self.at("title-block").inner_text())
        self.sheet("file")
        self.assertNotIn("not closed", self.facts())

    def test_several_files_make_one_project(self) -> None:
        self.begin("low", stl_of(box(60, 60, 20)))
        path = self.folder / "high.stl"
        path.write_bytes(write_stl(Mesh(box(30, 30, 30).mesh.vertices + np.array([80.0, 0, 0]), box(30, 30, 30).mesh.faces)))
        was = self.revision()
        with self.page.expect_file_chooser() as chooser:
            self.at("add-file").click()
        chooser.value.set_files(str(path))
        self.after_edit(was)
        self.counted("object", 2)
        self.assertIn("125.0 × 60.0 × 30.0 mm", self.facts())


class Looking(ModelCase):
    def test_measures_cutaway_and_walls(self) -> None:
        self.begin("sleeve", stl_of(tube(50, 44, 90)))
        self.page.get_by_role("button", name="Front").click()
        self.at("measure").click()
        self.at("measure-wall").click()
        self.click_model(0.5, 0.5)
        self.page.wait_for_selector("[data-test=measured]")
        self.assertRegex(self.at("measured").inner_text(), r"wall (5\.9|6\.0)\d mm")
        self.at("measure").click()
        self.at("measure-distance").click()
        self.click_model(0.48, 0.5)
        self.page.wait_for_selector("text=Click the second point.")
        self.click_model(0.52, 0.5)
        self.page.wait_for_selector("[data-test=measured]")
        self.assertRegex(self.at("measured").inner_text(), r"^\d+\.\d\d mm$")
        self.page.keyboard.press("Escape")
        self.counted("measured", 0)
        self.at("walls").click()
        self.page.wait_for_selector("[data-test=walls-key]")
        self.assertIn("under 0.9", self.at("walls-key").inner_text())
        self.at("cut-away").click()
        self.page.locator("[data-test=cut-at] [role=slider]").focus()
        self.page.keyboard.press("ArrowRight")
        self.at("see-through").click()
        self.assertEqual(self.at("see-through").get_attribute("aria-pressed"), "true")
        # the ways of looking are there at later stations too
        self.station("divide")
        self.page.wait_for_selector("[data-test=measure]")

    def test_the_second_demo_project_is_made_right_already(self) -> None:
        self.open_demo(name="owl")
        self.counted("piece", 5)
        self.station("model")
        self.assertIn("closed", self.facts())
        self.sheet("shape")
        self.counted("prepare-step", 2)
        self.at("prepare-step").first.click()
        self.assertIn("1 hole filled", self.at("step-said").inner_text())
