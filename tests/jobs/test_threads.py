"""Processes beside each other do not take more threads than there are cores."""

import os
import subprocess
import sys
import unittest
from unittest.mock import patch

from hinoki.jobs.threads import ONE_EACH, share_cores

WORK = """
import os
from hinoki.jobs.threads import one_thread_each
cores = os.sched_getaffinity(0)
one_thread_each()
from tests.shapes import ellipsoid
copied = os.fork()
if copied == 0:
    ball = ellipsoid(10, 10, 10, 240)
    assert len(ball.mesh.faces) > 50_000
    ball.minus([ball.moved(1, 2, 3)]).volume_mm3
    alone = len(os.listdir("/proc/self/task")) == 1
    os._exit(0 if alone and os.sched_getaffinity(0) == cores else 1)
print(os.waitstatus_to_exitcode(os.waitpid(copied, 0)[1]))
"""


class Threads(unittest.TestCase):
    def test_workers_do_with_one_each_where_they_keep_all_cores_busy(self) -> None:
        for cores, one_each in ((1, True), (2, True), (3, False), (16, False)):
            with patch.dict(os.environ, {ONE_EACH: "no"}), patch("os.cpu_count", return_value=cores):
                share_cores(2)
                self.assertEqual(os.environ.get(ONE_EACH), "yes" if one_each else None, cores)

    @unittest.skipUnless(hasattr(os, "sched_setaffinity"), "the system does not bind processes to cores")
    def test_a_copied_process_works_in_one_thread_and_may_still_use_every_core(self) -> None:
        found = subprocess.run([sys.executable, "-c", WORK], capture_output=True, text=True, check=True)
        self.assertEqual(found.stdout.strip(), "0", found.stderr)
