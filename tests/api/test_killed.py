"""A server that is killed loses no saved revision, and the next start works."""

import signal
import sqlite3
import subprocess
import tempfile
import time
import unittest
from pathlib import Path

import httpx

from hinoki.core.formats.stl import write_stl
from tests.api.serving import started
from tests.shapes import box, stl_of, torus


class Server:
    """A server process of its own."""

    def __init__(self, folder: Path, *more: str) -> None:
        self.process, address = started("serve", folder, *more, stderr=subprocess.PIPE)
        self.http = httpx.Client(base_url=address, timeout=600, verify=False)

    def kill(self) -> None:
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()
        if self.process.stderr:
            self.process.stderr.close()
        self.http.close()


class Killed(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_during_an_upload_and_during_a_computation(self) -> None:
        server = Server(self.folder)
        project = server.http.post("/api/projects", json={"name": "Shed"}).json()["project_id"]
        address = f"/api/projects/{project}/model?file_name=a.stl&base_revision="
        self.assertEqual(server.http.post(address + "1", content=stl_of(box(40, 40, 300))).status_code, 200)

        def slow():  # type: ignore[no-untyped-def]
            yield bytes(1000)
            server.kill()
            yield bytes(1000)

        with self.assertRaises(httpx.TransportError):
            server.http.post(address + "2", content=slow())

        server = Server(self.folder)
        self.assertEqual(server.http.get(f"/api/projects/{project}").json()["revision"], 2)
        self.assertEqual(list((self.folder / "incoming").iterdir()), [])
        big = write_stl(torus(60, 20, 200, 100))
        self.assertEqual(server.http.post(address + "2", content=big).status_code, 200)
        self.assertEqual(server.http.get(f"/api/projects/{project}/build").status_code, 202)
        server.kill()

        with sqlite3.connect(self.folder / "hinoki.sqlite") as connection:
            self.assertEqual(connection.execute("PRAGMA integrity_check").fetchone()[0], "ok")
        connection.close()
        server = Server(self.folder)
        self.addCleanup(server.kill)
        self.assertEqual(server.http.get(f"/api/projects/{project}").json()["revision"], 3)
        for _ in range(600):
            answer = server.http.get(f"/api/projects/{project}/build").json()
            if answer["build"]:
                break
            time.sleep(0.1)
        self.assertEqual(answer["build"]["model"]["triangles"], 40_000)

    def test_progress_is_streamed_and_work_can_be_stopped(self) -> None:
        server = Server(self.folder)
        self.addCleanup(server.kill)
        project = server.http.post("/api/projects", json={"name": "Ring"}).json()["project_id"]
        big = write_stl(torus(60, 20, 400, 150))
        seen, job = [], ""
        with server.http.stream("GET", f"/api/projects/{project}/events") as stream:
            server.http.post(f"/api/projects/{project}/model?file_name=a.stl&base_revision=1", content=big)
            for line in stream.iter_lines():
                if '"kind":"build"' in line:
                    seen.append(line)
                    if not job:
                        job = line.split('"id":"')[1].split('"')[0]
                        server.http.delete(f"/api/jobs/{job}")
                    if '"state":"cancelled"' in line or '"state":"done"' in line:
                        break
        self.assertIn('"state":"cancelled"', seen[-1])
        self.assertEqual(server.http.get(f"/api/projects/{project}").json()["revision"], 2)
