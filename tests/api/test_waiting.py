"""Requests that wait for a worker keep nobody else waiting."""

import asyncio
import tempfile
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import httpx

from hinoki.api.app import make_app
from hinoki.api.shared.state import State
from hinoki.core.plan.plan import Plan
from hinoki.jobs.job import Failure, Job
from hinoki.store.tables import projects
from tests.questions import job_of

UPLOADS = 60
"""more than there are threads for requests"""


class Uploads(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.state = State(Path(folder.name))
        self.addCleanup(self.state.close)
        self.project = self.state.database.write(lambda c: projects.add_project(c, "Shed", Plan()))

    def test_the_shelf_is_there_while_sixty_uploads_wait(self) -> None:
        """Of none of them the worker has begun; all end as their jobs do."""
        jobs: list[Job] = []

        def start(project_id: str, _path: Path, name: str) -> Job:
            jobs.append(job_of("inspect", project=project_id, subject=name))
            return jobs[-1]

        self.state.start_inspection = start  # type: ignore[method-assign]

        async def ask() -> tuple[int, set[int], set[str]]:
            transport = httpx.ASGITransport(make_app(self.state))
            async with httpx.AsyncClient(transport=transport, base_url="http://localhost") as http:
                url = f"/api/projects/{self.project}/model?file_name=a.stl&base_revision=1"
                uploads = [asyncio.create_task(http.post(url, content=bytes(100))) for _ in range(UPLOADS)]
                while len(jobs) < UPLOADS:
                    await asyncio.sleep(0.01)
                shelf = await asyncio.wait_for(http.get("/api/projects"), 60)
                for job in jobs:
                    job.end("failed", failure=Failure("It cannot be read.", status=422))
                answers = await asyncio.gather(*uploads)
                return shelf.status_code, {a.status_code for a in answers}, {a.json()["detail"] for a in answers}

        with ThreadPoolExecutor(1) as own:  # the thread of this test may have a loop already, that of the browser
            shelf, statuses, told = own.submit(lambda: asyncio.run(ask())).result()
        self.assertEqual((shelf, statuses, told), (200, {422}, {"It cannot be read."}))
        self.assertEqual(list(self.state.incoming.iterdir()), [])
