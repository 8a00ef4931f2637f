"""The pool: results, progress, cancelling, and workers that are killed."""

import os
import signal
import tempfile
import time
import unittest
from pathlib import Path
from unittest.mock import patch

from hinoki.core.errors import HinokiError
from hinoki.core.formats.stl import write_stl
from hinoki.core.plan.plan import Plan
from hinoki.jobs.job import Job
from hinoki.jobs.pool import Pool
from hinoki.store.database import Database
from tests.questions import job_of
from tests.shapes import box, torus


class Working(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        database = Database(self.folder / "h.sqlite")
        self.addCleanup(database.close)
        self.pool = Pool(database.path, self.folder / "cache", workers=1)
        self.addCleanup(self.pool.close)

    def inspect(self, content: bytes, name: str = "a.stl") -> Job:
        path = self.folder / f"in-{len(content)}"
        path.write_bytes(content)
        return self.pool.submit(job_of("inspect", {"path": str(path), "file_name": name}))

    def test_a_result_comes_back(self) -> None:
        facts = self.inspect(write_stl(box(10, 20, 30).mesh)).wait(60)
        self.assertEqual((facts["triangles"], facts["size"], facts["unit"]), (12, [10, 20, 30], "mm"))

    def test_a_refusal_comes_back_with_its_words(self) -> None:
        with self.assertRaisesRegex(HinokiError, "empty") as caught:
            self.inspect(b"").wait(60)
        self.assertEqual((caught.exception.status, caught.exception.where), (422, "byte 0"))

    def test_an_unexpected_error_fails_one_job_and_the_worker_goes_on(self) -> None:
        missing = self.pool.submit(job_of("inspect", {"path": str(self.folder / "none"), "file_name": "a.stl"}))
        with self.assertRaisesRegex(HinokiError, "FileNotFoundError"):
            missing.wait(60)
        self.assertEqual(self.inspect(write_stl(box(1, 1, 1).mesh)).wait(60)["triangles"], 12)

    def test_whoever_listens_may_fail_and_the_worker_goes_on(self) -> None:
        """As when a project is deleted while it is built, and what came of it cannot be kept."""

        def fails(job: Job) -> None:
            raise LookupError(f"the project of {job.id} is gone")

        path = self.folder / "listened"
        path.write_bytes(write_stl(box(1, 2, 3).mesh))
        with self.assertLogs("hinoki.jobs.job", "ERROR") as logged:
            listened = self.pool.submit(job_of("inspect", {"path": str(path), "file_name": "a.stl"}, on_change=fails))
            self.assertEqual(listened.wait(60)["size"], [1, 2, 3])
            self.assertEqual(self.inspect(write_stl(box(1, 1, 1).mesh)).wait(60)["triangles"], 12)
        self.assertTrue(all("LookupError" in line and listened.id in line for line in logged.output))

    def test_what_came_of_a_job_is_kept_before_anybody_sees_it_done(self) -> None:
        path = self.folder / "kept"
        path.write_bytes(write_stl(box(1, 2, 3).mesh))
        seen: list[str] = []

        def keep(job: Job, result: dict[str, object]) -> object:
            seen.append(job.state)
            return result["triangles"]

        def fails(job: Job, _result: object) -> None:
            raise LookupError(f"the project of {job.id} is gone")

        asked = {"path": str(path), "file_name": "a.stl"}
        job = self.pool.submit(job_of("inspect", asked, on_done=keep))
        self.assertEqual(job.wait(60), 12)
        self.assertNotIn("done", seen)
        with self.assertLogs("hinoki.jobs.job", "ERROR") as logged:
            lost = self.pool.submit(job_of("inspect", asked, on_done=fails))
            self.assertEqual(lost.wait(60)["size"], [1, 2, 3])
        self.assertTrue(any("LookupError" in line and lost.id in line for line in logged.output))

    def test_a_message_that_nobody_understands_fails_one_job(self) -> None:
        """Whatever goes wrong while a worker is looked after, the next job has somebody to look after it."""
        unheard = job_of("inspect", {"path": lambda: None, "file_name": "a.stl"})
        with self.assertLogs("hinoki.jobs.pool", "ERROR"), self.assertRaisesRegex(HinokiError, "stopped suddenly"):
            self.pool.submit(unheard).wait(60)
        self.assertEqual(self.inspect(write_stl(box(1, 1, 1).mesh)).wait(60)["triangles"], 12)

    def test_a_killed_worker_fails_only_its_job(self) -> None:
        self.inspect(write_stl(box(1, 1, 1).mesh)).wait(60)
        slow = self.inspect(write_stl(torus(60, 20, 1200, 400)))
        while slow.state == "queued":
            time.sleep(0.005)
        os.kill(self.pool.processes()[0], signal.SIGKILL)
        with self.assertRaisesRegex(HinokiError, "stopped suddenly"):
            slow.wait(60)
        self.assertEqual(self.inspect(write_stl(box(1, 1, 2).mesh)).wait(60)["size"], [1, 1, 2])

    def test_a_build_does_not_wait_behind_other_work(self) -> None:
        """While a worker is busy a spare one makes the builds, and as few of them as there are workers."""

        def build(number: int, project: str = "project") -> Job:
            return self.pool.submit(job_of("build", None, Plan().json_text(), f"{number}.json", project, str(number)))

        build(1).wait(60)
        self.assertEqual(len(self.pool.processes()), 1)
        slow = self.inspect(write_stl(torus(60, 20, 1200, 400)))
        while slow.state == "queued":
            time.sleep(0.005)
        build(2).wait(60)
        self.assertEqual(len(self.pool.processes()), 2)
        build(3).wait(60)
        waits = [build(4, "another"), build(5, "a third")]
        self.assertEqual(len(self.pool.processes()), 2)
        slow.wait(60)
        for one in waits:
            one.wait(60)

    def test_a_spare_worker_that_has_nothing_to_do_ends(self) -> None:
        with patch("hinoki.jobs.pool.SPARE_S", 0.0):
            slow = self.inspect(write_stl(torus(60, 20, 600, 200)))
            build = job_of("build", None, Plan().json_text(), "1.json", subject="1")
            self.pool.submit(build).wait(60)
        slow.wait(60)
        until = time.monotonic() + 60
        while len(self.pool.processes()) > 1 and time.monotonic() < until:
            time.sleep(0.01)
        self.assertEqual(len(self.pool.processes()), 1)

    def test_a_newer_build_of_a_project_stops_the_older_ones_and_no_others(self) -> None:
        first = self.inspect(write_stl(torus(60, 20, 600, 200)))
        plan = Plan().json_text()
        with patch("hinoki.jobs.pool._Seat.put"):  # none of them begins
            old, other = job_of("build", None, plan, "1.json"), job_of("build", None, plan, "2.json", "another")
            survey, new = job_of("survey", None, plan, "3.json"), job_of("build", None, plan, "4.json")
            for job in (old, other, survey, new):
                self.pool.submit(job)
        self.assertEqual([j.cancel_asked for j in (first, old, other, survey, new)], [False, True, False, False, False])
        first.wait(60)

    def test_equal_questions_are_the_same_job_until_they_end(self) -> None:
        with patch("hinoki.jobs.pool._Seat.put"):
            one = self.pool.submit(job_of("survey", None, "a plan", "a.json"))
            self.assertIs(self.pool.same(job_of("survey", None, "a plan", "a.json")), one)
            self.assertIsNone(self.pool.same(job_of("survey", None, "another", "b.json")))
            self.assertIsNone(self.pool.same(job_of("survey", None, "a plan", "a.json", "another project")))
        one.askers += 1
        one.leave()
        self.assertFalse(one.cancel_asked)
        one.leave()
        self.assertTrue(one.cancel_asked)
        self.assertIsNone(self.pool.same(job_of("survey", None, "a plan", "a.json")))

    def test_a_queued_job_can_be_cancelled(self) -> None:
        first = self.inspect(write_stl(torus(60, 20, 600, 200)))
        second = self.inspect(write_stl(box(3, 3, 3).mesh))
        second.cancel_asked = True
        first.wait(60)
        with self.assertRaisesRegex(HinokiError, "stopped"):
            second.wait(60)
        self.assertEqual(second.state, "cancelled")

    def test_work_that_takes_too_long_is_stopped(self) -> None:
        impatient = Pool(self.folder / "h.sqlite", self.folder / "cache", workers=1, longest_s=0.0)
        self.addCleanup(impatient.close)
        path = self.folder / "big"
        path.write_bytes(write_stl(torus(60, 20, 600, 200)))
        job = impatient.submit(job_of("inspect", {"path": str(path), "file_name": "a.stl"}))
        with self.assertRaisesRegex(HinokiError, "longer than") as caught:
            job.wait(60)
        self.assertEqual(caught.exception.status, 504)

    def test_closing_while_work_goes_on_ends_every_job_and_every_process(self) -> None:
        closing = Pool(self.folder / "h.sqlite", self.folder / "cache", workers=1)
        path = self.folder / "big"
        path.write_bytes(write_stl(torus(60, 20, 1200, 400)))
        jobs = [closing.submit(job_of("inspect", {"path": str(path), "file_name": "a.stl"})) for _ in range(3)]
        while jobs[0].state == "queued":
            time.sleep(0.005)
        closing.close()
        self.assertEqual(closing.processes(), [])
        self.assertEqual((jobs[0].state, {j.state for j in jobs}), ("failed", {"failed", "cancelled"}))
