"""The print log in the browser: a demo project from batch to finished model, with a failure, an edit, a reprint; the shelf."""

import contextlib
import re
from pathlib import Path

from PIL import Image
from playwright.sync_api import Route, TimeoutError, expect

from hinoki.core.join.joints import DowelJoint, FaceRef, PinJoint
from tests.shapes import box, level, stl_of
from tests.ui.joining import JoinCase

LEARNED = re.compile(r"^[1-9]\d* prints?: time × ")
"""what an estimate rests on once prints of that printer have taught"""


class LogCase(JoinCase):
    """Prints, and what is waited for."""

    each_alone = False
    print_speed = 60_000.0

    def send(self, row: int, to: str | None = None) -> None:
        """Send the batch of a row out, to the free printer or by hand."""
        line = self.at("send-row").nth(row)
        line.locator("[data-test=send]").click()
        form = line.locator("form")
        expect(form.locator("[data-test=send-to]")).not_to_have_value("")
        if to is not None:
            form.locator("[data-test=send-to]").select_option(to)
        form.locator("[data-test=send-out]").click()
        expect(form).to_have_count(0)

    def wait_for_prints(self) -> None:
        """Until nothing is under way; where a reel has run out, another is put in."""
        ended = "!document.querySelector('[data-test=active-print]')"
        while True:
            self.page.wait_for_function(f"() => {ended} || document.querySelector('[data-test=resume]')")
            if self.at("active-print").count() == 0:
                return
            with contextlib.suppress(TimeoutError):  # it may have gone on meanwhile
                self.at("resume").first.click(timeout=1000)

    def pieces(self) -> list[str]:
        self.at("page-pieces").click()
        return [text.replace("\n", " ") for text in self.at("log-piece").all_inner_texts()]


class WholeJob(LogCase):
    own = "its printers print, and how many batches there are hangs on what other prints have taught"

    def test_from_batch_to_finished_model(self) -> None:
        page = self.page
        self.show(self.post(), "log")
        self.at("send-row").first.wait_for()
        batches = self.at("send-row").count()
        self.assertGreater(batches, 1)
        for row in range(batches):
            self.send(row)
        self.wait_for_prints()
        self.assertEqual(len(self.prints()), batches)
        # what came out badly comes back as one batch
        self.pieces()
        self.at("log-piece").first.locator(".tag").click()
        self.at("came-failed").click()
        self.at("reasons").locator("button", has_text="warped").click()
        self.at("page-send").click()
        expect(self.at("again")).to_contain_text("Foot failed")
        expect(self.at("rests-on").first).to_have_text(LEARNED)  # one print of it where the printers took turns
        self.again()
        self.assertFalse([p for p in self.pieces() if "planned" in p])
        # an edit that touches printed pieces asks first
        was = self.revision()
        self.station("join")
        page.wait_for_selector("[data-test=face-sheet]")
        self.type_in("clearance_mm", "0.3")
        expect(self.at("touched").first).to_contain_text("Foot")
        expect(self.at("touches")).to_contain_text("anew costs")
        self.at("touch-leave").click()
        self.assertEqual(self.revision(), was)
        self.type_in("clearance_mm", "0.31")
        self.at("touch-change").click()
        self.after_edit(was)
        # what is out of date is told with where it differs, and printed again
        self.station("log")
        self.at("page-pieces").click()
        old = self.at("log-piece").filter(has_text="Shaft").filter(has_text="out of date")
        old.locator(".tag").click()
        self.at("differs").first.click()
        expect(self.at("difference")).to_contain_text("differs at 1|2")
        self.at("page-send").click()
        expect(self.at("again")).to_contain_text("out of date")
        self.again()
        # how a joint went together feeds the fits
        self.at("page-pieces").click()
        self.at("log-piece").filter(has_text="Head").locator(".tag").click()
        self.at("fit-joint").first.select_option(index=1)
        self.at("fit-no").first.click()
        self.at("page-lessons").click()
        expect(self.at("fit-lessons")).to_contain_text("1 joint tried")
        expect(self.at("take-fit")).to_have_count(1)
        expect(self.at("lesson-sheet").locator("canvas")).to_have_count(3)
        # every piece goes through its life, on the board
        self.at("on-board").click()
        self.at("page-pieces").click()
        for _ in range(60):
            printed = self.at("column-printed").locator("[data-test=board-card]").count()
            if printed == 0:
                break
            installed = self.at("column-installed").locator("[data-test=board-card]").count()
            left_after = {"printed": printed - 1, "cleaned": 0, "fitted": 0}
            for column in ("printed", "cleaned", "fitted", "finished"):
                self.at(f"column-{column}").locator("[data-test=board-card]").first.press("ArrowRight")
                after, many = ("installed", installed + 1) if column == "finished" else (column, left_after[column])
                expect(self.at(f"column-{after}").locator("[data-test=board-card]")).to_have_count(many)
        expect(self.at("progress")).to_contain_text("4 of 4 parts")
        self.at("on-model").click()
        expect(self.at("legend")).to_contain_text("installed 3")
        page.goto(self.address)
        expect(self.at("project").filter(has_text="Post")).to_contain_text("3 of 3 printed, 3 finished")

    def post(self) -> str:
        """A post in three pieces of different heights, with pins and dowels, in several batches."""
        keys = {"p1-": "Foot", "p1+ p2-": "Shaft", "p1+ p2+": "Head"}
        foot, shaft, head = keys
        joints = (
            PinJoint(id="j1", face=FaceRef(parting="p1", member=0, a=foot, b=shaft)),
            DowelJoint(id="j2", face=FaceRef(parting="p2", member=0, a=shaft, b=head), count=1, diameter_mm=14, length_mm=16),
        )
        return self.started(
            "Post",
            stl_of(box(30, 30, 100)),
            partings=[level(k, at).model_dump(mode="json") for k, at in ((1, 40.0), (2, 65.0))],
            joints=[j.model_dump(mode="json") for j in joints],
            pieces={key: {"name": name} for key, name in keys.items()},
            batching={"most_hours": 1.75},
        )

    def prints(self) -> list[str]:
        self.at("page-prints").click()
        return self.at("print").all_inner_texts()

    def again(self) -> None:
        """Print again what must be, and wait until that list is empty."""
        for _ in range(4):
            if self.at("again").count() == 0:
                return
            self.at("lay-again").click()
            self.page.wait_for_selector("[data-test=again] [data-test=send-row]")
            self.send(0)
            self.wait_for_prints()


class Log(LogCase):
    own = "what prints teach counts for all projects, and the shelf is restored from a backup"

    def test_by_hand_with_a_photograph_a_note_and_a_revision_gone_back_to(self) -> None:
        picture = self.folder / "photograph.png"
        Image.new("RGB", (300, 200), "#c9a36b").save(picture)
        self.block()
        self.station("log")
        with self.page.expect_download() as waiting:
            self.send(0, "")
        self.assertEqual(Path(waiting.value.suggested_filename).suffix, ".3mf")
        self.at("say-begun").click()
        self.at("say-done").click()
        self.counted("active-print", 0)
        self.at("page-prints").click()
        self.at("print").first.locator(".tag").click()
        self.at("print-photo-file").set_input_files(str(picture))
        expect(self.at("print-photo")).to_be_visible()
        self.at("print-note").fill("first layer was fine")
        self.at("print-note").press("Enter")
        for field, value in (("minutes-taken", "95"), ("grams-used", "41")):
            box = self.page.locator(f"input[data-test={field}], [data-test={field}] input").first
            box.fill(value)
            box.press("Enter")
        expect(self.at("measured")).to_contain_text("1 h 35")
        self.pieces()
        self.at("log-piece").first.locator(".tag").click()
        self.at("came-failed").click()
        self.at("reasons").locator("button", has_text="warped").click()
        expect(self.at("log-piece").first).to_contain_text("failed")
        self.at("page-plan").click()
        self.at("revision-line").nth(1).locator(".tag").click()
        self.at("name-revision").click()
        self.at("revision-name").fill("in one")
        self.at("keep-name").click()
        expect(self.at("revision-line").nth(1)).to_contain_text("in one")
        self.at("compare-revision").click()
        expect(self.at("comparison")).to_contain_text("added")
        was = self.revision()
        self.at("go-back").click()
        self.at("touch-change").click()  # the piece that came out well would be no more
        self.after_edit(was)
        self.assertEqual(self.page.locator("[data-test=piece]").count(), 1)

    def test_what_is_said_in_haste_goes_out_one_after_the_other(self) -> None:
        """A slow network must not let “It is done” overtake “It has begun”."""
        self.block()
        self.station("log")
        with self.page.expect_download():
            self.send(0, "")
        held: list[Route] = []
        self.page.route("**/api/prints/*/state", lambda route: route.continue_() if held else held.append(route))
        with self.page.expect_request("**/api/prints/*/state"):
            self.at("say-begun").click()
        self.at("say-done").click()
        self.drawn()
        self.assertEqual(len(held), 1)
        held[0].continue_()
        self.counted("active-print", 0)

    def test_the_shelf(self) -> None:
        page = self.page
        page.goto(self.address)
        expect(self.at("project-picture").first).to_be_visible()
        self.at("search").fill("FEN bench")
        self.counted("project", 1)
        self.at("copy").click()
        page.locator("[data-test=project-name] input").fill("Fen, another")
        self.at("project-begin").click()
        self.at("search").fill("fen, another")
        self.counted("project", 1)
        self.at("put-away").click()
        self.counted("project", 0)
        self.at("show-away").click()
        self.counted("project", 1)
        with page.expect_download() as waiting:
            self.at("archive").click()
        packed = self.folder / "fen.zip"
        waiting.value.save_as(packed)
        self.at("show-away").click()
        self.at("search").fill("")
        with page.expect_download() as waiting:
            self.at("save-backup").click()
        saved = self.folder / "saved.sqlite"
        waiting.value.save_as(saved)
        many = self.at("project").count()
        self.at("archive-file").set_input_files(str(packed))
        expect(self.at("message")).to_contain_text("Took in “Fen, another”")
        self.at("show-away").click()
        self.counted("project", 2)
        self.at("show-away").click()
        self.at("order").select_option("name")
        names = self.at("project").locator("strong").all_inner_texts()
        self.assertEqual(names[: many - 1], sorted(names[: many - 1]))
        self.at("backup-file").set_input_files(str(saved))
        self.at("restore-it").click()
        expect(self.at("message")).to_contain_text("Restored:")
        self.at("show-away").click()
        self.counted("project", 1)
        self.at("before-restore").click()
        expect(self.at("before-words")).to_contain_text("projects")
        self.at("take-back").click()
        self.counted("project", 2)
        self.at("before-restore").click()
        self.at("let-go").click()
        self.counted("before-restore", 0)
