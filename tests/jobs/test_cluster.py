"""Heavy work on a cluster of processes of this machine: answered, told, left, and done all the same when one of them dies."""

import os
import signal
import tempfile
import time
import unittest
from pathlib import Path
from typing import Any
from unittest.mock import patch

from distributed import LocalCluster
from distributed.security import Security

from hinoki.core.errors import BadPlan, HinokiError
from hinoki.core.formats.stl import write_stl
from hinoki.jobs import cluster as cluster_module
from hinoki.jobs.cluster import Cluster, ClusterAddress
from hinoki.jobs.cluster_worker import Question, answer
from hinoki.jobs.job import Job
from hinoki.jobs.pool import Pool
from hinoki.store.database import Database
from hinoki.store.tables.sources import SourceFacts, add_source
from tests.questions import job_of
from tests.shapes import box, plan_for, stl_of, torus

PATIENCE_S = 120.0


class OnACluster(unittest.TestCase):
    security: Any = None

    @classmethod
    def setUpClass(cls) -> None:
        cls.folder = Path(cls.enterClassContext(tempfile.TemporaryDirectory()))
        cls.processes = cls.enterClassContext(
            LocalCluster(
                n_workers=2,
                threads_per_worker=1,
                host="127.0.0.1",
                dashboard_address=None,
                security=cls.security,
                protocol="tls://" if cls.security else "tcp://",
            )
        )
        cls.database = Database(cls.folder / "h.sqlite")
        cls.addClassCleanup(cls.database.close)

    def pool(self, address: str = "", longest_s: float = PATIENCE_S, **more: Any) -> Pool:
        """A pool that leans on the cluster."""
        at = ClusterAddress(address or self.processes.scheduler_address, **more)
        pool = Pool(self.database.path, self.folder / "cache", 1, longest_s, at)
        self.addCleanup(pool.close)
        return pool

    def plan(self, data: bytes, name: str = "a.stl") -> str:
        """A plan of a model that the database has."""
        path = self.folder / name
        path.write_bytes(data)
        plan = plan_for(data, bed=(60.0, 60.0, 60.0))
        assert plan.model is not None
        facts = SourceFacts(plan.model.source, name, len(data), 12, (1.0, 1.0, 1.0))
        self.database.write(lambda c: add_source(c, path, facts))
        return plan.json_text()

    def proposing(self, plan: str, target: str, **more: Any) -> Job:
        return job_of("propose", plan=plan, target=target, **more)

    def answer(self, target: str) -> bytes:
        return (self.folder / "cache" / "answers" / target).read_bytes()


class Answered(OnACluster):
    def test_the_answer_is_that_of_this_machine_and_its_progress_is_told(self) -> None:
        plan = self.plan(stl_of(box(30, 20, 140)))
        heard: list[float] = []
        there = self.pool().submit(self.proposing(plan, "there.json", on_change=lambda job: heard.append(job.fraction)))
        self.assertEqual(there.wait(PATIENCE_S), "there.json")
        alone = Pool(self.database.path, self.folder / "cache", workers=1)
        self.addCleanup(alone.close)
        alone.submit(self.proposing(plan, "here.json")).wait(PATIENCE_S)
        self.assertEqual(self.answer("there.json"), self.answer("here.json"))
        self.assertGreater(len(set(heard)), 2)

    def test_a_refusal_comes_back_with_its_words(self) -> None:
        lost = plan_for(stl_of(box(1, 2, 3))).json_text()
        with self.assertRaises(HinokiError) as caught:
            self.pool().submit(self.proposing(lost, "lost.json")).wait(PATIENCE_S)
        self.assertLess(caught.exception.status, 500)

    def test_equal_questions_of_two_projects_are_worked_out_once_and_one_may_be_left(self) -> None:
        plan, pool = self.plan(write_stl(torus(60, 20, 120, 60)), "ring.stl"), self.pool()
        first = pool.submit(self.proposing(plan, "same.json", project="one"))
        second = pool.submit(self.proposing(plan, "same.json", project="other"))
        self.until(lambda: second.fraction > 0)
        first.cancel_asked = True
        with self.assertRaises(HinokiError):
            first.wait(PATIENCE_S)
        self.assertEqual(second.wait(PATIENCE_S), "same.json")
        done = [key for key in self.processes.scheduler.tasks if str(key).startswith("hinoki-propose-same")]
        self.assertLessEqual(len(done), 1)

    def until(self, true: Any) -> None:
        end = time.monotonic() + PATIENCE_S
        while not true() and time.monotonic() < end:
            time.sleep(0.02)
        self.assertTrue(true())

    def test_it_is_left_soon_and_the_workers_go_on(self) -> None:
        plan, pool = self.plan(write_stl(torus(60, 20, 200, 100)), "large.stl"), self.pool()
        job = pool.submit(self.proposing(plan, "left.json"))
        self.until(lambda: job.fraction > 0)
        job.cancel_asked = True
        with self.assertRaises(HinokiError):
            job.wait(PATIENCE_S)
        self.assertEqual(job.state, "cancelled")
        small = self.plan(stl_of(box(20, 20, 100)))
        self.assertEqual(pool.submit(self.proposing(small, "after.json")).wait(PATIENCE_S), "after.json")

    def test_a_worker_that_is_killed_in_the_middle_does_not_cost_the_answer(self) -> None:
        plan, pool = self.plan(write_stl(torus(60, 20, 100, 50)), "killed.stl"), self.pool()
        job = pool.submit(self.proposing(plan, "killed.json"))
        self.until(lambda: job.fraction > 0.02)
        busy = [w for w in self.processes.scheduler.workers.values() if w.processing]
        self.assertTrue(busy)
        os.kill(self.process_of(busy[0].address), signal.SIGKILL)
        self.assertEqual(job.wait(PATIENCE_S), "killed.json")

    def process_of(self, address: str) -> int:
        nanny = next(n for n in self.processes.workers.values() if n.worker_address == address)
        return int(nanny.process.pid)

    def test_what_takes_too_long_is_ended_with_its_worker_and_another_takes_its_place(self) -> None:
        plan, pool = self.plan(write_stl(torus(60, 20, 220, 110)), "long.stl"), self.pool(longest_s=0.3)
        with self.assertRaises(HinokiError) as caught:
            pool.submit(self.proposing(plan, "long.json")).wait(PATIENCE_S)
        self.assertEqual(caught.exception.status, 504)
        small = self.plan(stl_of(box(20, 20, 90)))
        self.assertEqual(self.pool().submit(self.proposing(small, "next.json")).wait(PATIENCE_S), "next.json")

    def test_a_machine_with_another_hinoki_says_so(self) -> None:
        job = job_of("propose")
        question = Question("key", job.id, job.kind, job.asked, {}, version="0.1")
        what, (said, _, status, code) = answer(question, {}).ended
        self.assertEqual((what, status, code), ("failed", 409, "other-version"))
        self.assertIn("0.1", said)

    def test_builds_stay_on_this_machine(self) -> None:
        self.assertFalse(Cluster.takes(job_of("build")))
        self.assertFalse(Cluster.takes(job_of("picture", {"pieces": []})))
        self.assertTrue(Cluster.takes(job_of("propose")))


class Lost(OnACluster):
    def test_processes_of_this_machine_are_a_cluster_too_and_end_with_us(self) -> None:
        pool = self.pool("local:1")
        job = pool.submit(self.proposing(self.plan(stl_of(box(20, 20, 130))), "near.json"))
        self.assertEqual(job.wait(PATIENCE_S), "near.json")
        started = [n.process.pid for n in pool._cluster._local.workers.values()]  # type: ignore[union-attr]
        pool.close()
        self.assertEqual([pid for pid in started if Path(f"/proc/{pid}").exists()], [])

    def test_without_its_cluster_this_machine_does_the_work(self) -> None:
        pool = self.pool()
        self.processes.close()
        plan = self.plan(stl_of(box(30, 20, 140)))
        with self.assertLogs("hinoki.jobs.cluster", "WARNING"):
            self.assertEqual(pool.submit(self.proposing(plan, "alone.json")).wait(PATIENCE_S), "alone.json")

    def test_an_address_where_nobody_answers_is_told_at_once(self) -> None:
        with patch.object(cluster_module, "CONNECT_S", 0.5), self.assertRaisesRegex(BadPlan, "cannot be reached"):
            Pool(self.database.path, self.folder / "cache", cluster=ClusterAddress("tcp://127.0.0.1:9"))
        with self.assertRaisesRegex(BadPlan, "local:4"):
            Pool(self.database.path, self.folder / "cache", cluster=ClusterAddress("local:many"))


class WithTls(OnACluster):
    security = Security.temporary()

    def pems(self) -> dict[str, Path]:
        files = {"ca": "tls_ca_file", "certificate": "tls_client_cert", "key": "tls_client_key"}
        for name, what in files.items():
            (self.folder / f"{name}.pem").write_text(getattr(self.security, what))
        return {name: self.folder / f"{name}.pem" for name in files}

    def test_it_is_spoken_with_the_files_that_are_given(self) -> None:
        plan = self.plan(stl_of(box(30, 20, 140)))
        job = self.pool(**self.pems()).submit(self.proposing(plan, "tls.json"))
        self.assertEqual(job.wait(PATIENCE_S), "tls.json")
        with self.assertRaisesRegex(BadPlan, "each a PEM file"):
            self.pool(ca=self.folder / "none.pem")
