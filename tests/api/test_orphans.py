"""No process of ours outlives the one that started it, however it ends."""

import os
import signal
import subprocess
import sys
import tempfile
import time
import unittest
import uuid
from pathlib import Path

from hinoki.core.formats.stl import write_stl
from tests.effort import either
from tests.shapes import torus

PATIENCE_S = 30.0
"""orphans are gone within three seconds; a machine that is busy otherwise may take its time"""


@unittest.skipUnless(sys.platform == "linux", "looks into /proc")
class Orphans(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.mark = uuid.uuid4().hex

    def marked(self) -> list[int]:
        """Processes that have the mark in their environment."""
        found = []
        for place in Path("/proc").iterdir():
            try:
                if place.name.isdigit() and self.mark.encode() in (place / "environ").read_bytes():
                    found.append(int(place.name))
            except OSError:  # it has ended meanwhile
                continue
        return found

    def begun(self, command: str) -> "subprocess.Popen[bytes]":
        words = [sys.executable, "-m", "hinoki.cli", command, "--data", str(self.folder), "--port", "0"]
        quiet = subprocess.DEVNULL
        return subprocess.Popen(words, env={**os.environ, "HINOKI_MARK": self.mark}, stdout=quiet, stderr=quiet)

    def gone(self) -> None:
        until = time.monotonic() + PATIENCE_S
        while self.marked() and time.monotonic() < until:
            time.sleep(0.02)
        self.assertEqual(self.marked(), [])

    def test_while_the_demo_starts(self) -> None:
        """Killed when so many of its processes are there, or, thoroughly, at every second of the first fifteen."""
        for number in either((2,), (1, 2, 3, 4, 5)):
            process = self.begun("demo")
            until = time.monotonic() + PATIENCE_S
            while len(self.marked()) < number and time.monotonic() < until:
                time.sleep(0.01)
            process.kill()
            process.wait()
            with self.subTest(processes=number):
                self.gone()
        for second in either((), tuple(range(1, 16))):
            process = self.begun("demo")
            time.sleep(second)
            process.kill()
            process.wait()
            with self.subTest(second=second):
                self.gone()

    def test_the_reader_of_a_step_file(self) -> None:
        """It is a process of its own, and computes in a library that listens to nobody."""
        (self.folder / "cascadio.py").write_text("import time\ndef step_to_glb(*_): time.sleep(600)\n")
        code = (
            "from hinoki.core.formats.step import read_step\n"
            "from tests.step_files import step_box\n"
            "read_step(step_box(10, 20, 30))\n"
        )
        paths = os.pathsep.join([str(self.folder), str(Path(__file__).parents[2])])
        process = subprocess.Popen(
            [sys.executable, "-c", code], env={**os.environ, "HINOKI_MARK": self.mark, "PYTHONPATH": paths}
        )
        until = time.monotonic() + PATIENCE_S
        while len(self.marked()) < 2 and time.monotonic() < until:
            time.sleep(0.01)
        self.assertEqual(len(self.marked()), 2)
        process.kill()
        process.wait()
        self.gone()

    def test_amid_a_long_computation(self) -> None:
        """A worker that computes outside of Python, and would not hear of anything for seconds, ends with its server."""
        path = self.folder / "large.stl"
        path.write_bytes(write_stl(torus(60, 20, 1200, 400)))
        code = (
            "import sys, time\n"
            "from pathlib import Path\n"
            "from hinoki.store.database import Database\n"
            "from tests.questions import job_of\n"
            "from hinoki.jobs.pool import Pool\n"
            "folder = Path(sys.argv[1])\n"
            "pool = Pool(Database(folder / 'h.sqlite').path, folder / 'cache', workers=1)\n"
            "job = pool.submit(job_of('inspect', {'path': str(folder / 'large.stl'), 'file_name': 'large.stl'}))\n"
            "while job.fraction == 0: time.sleep(0.001)\n"
            "print('busy', flush=True)\n"
            "job.wait()\n"
        )
        process = subprocess.Popen(
            [sys.executable, "-c", code, str(self.folder)],
            env={**os.environ, "HINOKI_MARK": self.mark},
            stdout=subprocess.PIPE,
        )
        assert process.stdout
        process.stdout.readline()
        self.assertGreaterEqual(len(self.marked()), 3)
        os.kill(process.pid, signal.SIGKILL)
        process.wait()
        process.stdout.close()
        self.gone()
