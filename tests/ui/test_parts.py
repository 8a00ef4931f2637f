"""Parts with real clicks: one file taken apart, parts placed more often, play measured, all printed as often as it stands."""

import re

from playwright.sync_api import expect

from hinoki.core.formats.base import NamedMesh
from hinoki.core.formats.write import write_file
from hinoki.core.geometry.solid import Solid
from tests.core.parts.test_take_apart import ring_of_pods
from tests.shapes import box, stl_of
from tests.ui.browser import BrowserCase


def as_3mf(bodies: dict[str, Solid]) -> bytes:
    return write_file([NamedMesh(name, body.mesh) for name, body in bodies.items()], "set.3mf")


class PartsCase(BrowserCase):
    def begin(self, content: bytes, name: str = "lander.3mf") -> str:
        project = self.started("lander", content, name)
        self.page.goto(f"{self.address}/projects/{project}/model")
        self.page.wait_for_selector("[data-test=model-facts]")
        self.settled()
        self.at("sheet-parts").click()
        return project

    def parts(self) -> list[str]:
        return [re.sub(r"\s+", " ", one).strip() for one in self.at("part").all_inner_texts()]

    def open_part(self, name: str) -> None:
        self.edited(lambda: self.page.get_by_role("button", name=f"Work on {name}").click())


class Together(PartsCase):
    def test_six_equal_pods_are_edited_once_and_printed_six_times(self) -> None:
        self.begin(as_3mf(ring_of_pods()))
        self.edited(self.at("take-apart").click)
        expect(self.at("parts-told")).to_contain_text("3 parts, 8 in all")
        self.counted("part", 3)
        expect(self.at("part").nth(1)).to_contain_text("× 6")

        # how far the first pod stands from the hull, in figures and colours
        self.at("play-second").select_option(label="Pod 1, 1 of 6")
        self.page.get_by_label("Look within").fill("20")
        self.page.get_by_label("Look within").press("Enter")
        self.at("measure-play").click()
        expect(self.at("play-says")).to_contain_text("mm between them")
        self.counted("play-key", 1)

        # the pod is opened and cut once
        self.open_part("Pod 1")
        expect(self.at("part-line")).to_have_value("q2")
        self.station("divide")
        self.edited(self.at("add-flat").click)
        self.counted("piece", 2)
        expect(self.at("other-pieces")).to_contain_text("1 × Hull")

        # and printed as often as it stands, with all other parts
        self.station("batch")
        self.page.wait_for_selector("[data-test=laid]")
        self.counted("laid", 14)

        # all parts go together in an order that is proved; the pod has one of its own
        self.station("assemble")
        self.page.wait_for_selector("[data-test=proof]")
        self.counted("step", 2)
        self.at("scope-project").click()
        self.counted("step", 8)
        self.page.wait_for_selector("text=The order works")


class Seated(PartsCase):
    def test_a_body_gets_six_equal_pods_seated_with_their_play_shown(self) -> None:
        self.begin(as_3mf(ring_of_pods()))
        self.edited(self.at("take-apart").click)
        self.move_pods_in()
        self.an_overlap_stays_accepted_in_every_part()
        self.at("play-second").select_option(label="Pod 1, 1 of 6")
        self.at("measure-play").click()
        expect(self.at("play-says")).to_contain_text("They run into each other")
        was = self.revision()
        self.at("seat-it").click()
        self.after_edit(was)
        self.at("measure-play").click()
        expect(self.at("play-says")).to_contain_text("They touch")
        self.sheet("shape")
        expect(self.at("step-said")).to_contain_text("6 seats")
        expect(self.at("step-said")).to_contain_text("measured: as wanted")
        expect(self.at("seat-part")).to_have_value("q2")

        # the pod is edited once, half as large: each seat follows by itself
        self.sheet("parts")
        self.open_part("Pod 1")
        self.sheet("shape")
        self.at("add-step").click()
        self.edited(self.at("add-stretch").click)
        self.sheet("parts")
        self.open_part("Hull")
        self.sheet("shape")
        expect(self.at("step-said")).to_contain_text("6 seats")

    def an_overlap_stays_accepted_in_every_part(self) -> None:
        self.station("check")
        told = self.page.locator("[data-test=finding]", has_text="run into each other").first
        told.locator("[data-test=accept]").click()
        self.at("reason").fill("pressed in")
        self.edited(self.at("accept-it").click)
        expect(self.page.get_by_text("pressed in")).to_be_visible()
        self.edited(lambda: self.at("part-line").select_option("q2"))
        expect(self.page.get_by_text("pressed in")).to_be_visible()
        self.edited(lambda: self.at("part-line").select_option("q1"))
        self.edited(self.at("take-back").click)
        expect(self.page.get_by_text("pressed in")).to_have_count(0)
        self.station("model")
        self.sheet("parts")

    def sheet(self, name: str) -> None:
        self.at(f"sheet-{name}").click()

    def move_pods_in(self) -> None:
        """Every pod of the ring 20 mm towards the axis, as a maker who types it six times."""
        project = self.page.url.split("/projects/")[1].split("/")[0]
        now = self.http.get(f"/api/projects/{project}").json()
        pods = next(p for p in now["plan"]["parts"] if p["id"] == "q2")
        for one in pods["instances"]:
            x, y, z = one["at_mm"]
            far = (x * x + y * y) ** 0.5
            one["at_mm"] = [x * (far - 20) / far, y * (far - 20) / far, z]
        was = self.revision()
        self.change(project, parts=now["plan"]["parts"])
        self.after_edit(was)


class Planned(PartsCase):
    def test_the_whole_job_of_all_parts(self) -> None:
        bodies = {
            "Beam": box(50, 50, 300),
            "Rail 1": box(20, 20, 420).moved(80, 0, 0),
            "Rail 2": box(20, 20, 420).moved(120, 0, 0),
        }
        self.begin(as_3mf(bodies), "frame.3mf")
        self.edited(self.at("take-apart").click)
        self.station("whole-job")
        expect(self.at("job-all")).to_be_checked()
        self.edited(self.at("plan-whole-job").click)
        self.page.wait_for_selector("text=Nothing must be fixed")
        reasons = self.at("job-reasons").inner_text()
        self.assertIn("Beam: ", reasons)
        self.assertIn("Rail 1: ", reasons)
        expect(self.at("other-pieces")).to_contain_text("2 × Rail 1, 2 pieces each")


class Placing(PartsCase):
    def test_a_part_is_added_and_placed_by_figures_in_a_ring_and_mirrored(self) -> None:
        self.begin(stl_of(box(60, 60, 40)), "hub.stl")
        was = self.revision()
        self.page.set_input_files(
            "[data-test=part-file]", {"name": "arm.stl", "mimeType": "", "buffer": stl_of(box(30, 12, 8))}
        )
        self.after_edit(was)
        self.counted("part", 2)
        self.open_part("arm")
        self.edited(lambda: (self.page.get_by_label("At X").fill("48"), self.page.get_by_label("At X").press("Enter")))
        self.at("more-ring").click()
        self.at("ring-count").locator("input").fill("5")
        self.at("ring-count").locator("input").press("Tab")
        self.edited(self.at("place-more").click)
        expect(self.at("part-count").nth(1)).to_have_text("× 5")
        self.at("which").select_option(index=2)
        self.edited(self.at("remove-instance").click)
        expect(self.at("part-count").nth(1)).to_have_text("× 4")
        self.open_part("hub")
        self.edited(self.at("drop-part").click)
        self.counted("part", 1)
