"""How worker processes begin. One process imports everything once; workers are copies of it, there within milliseconds.

This module imports little itself, so that the server's process need not read what only workers use.
"""

import multiprocessing
import os
import sys
from multiprocessing.connection import Connection
from multiprocessing.context import BaseContext
from pathlib import Path

from hinoki.core.parent_process import SERVER, end_with

HEAVY = ("hinoki.jobs.worker", "igl", "scipy.ndimage", "scipy.spatial", "scipy.sparse.csgraph", "trimesh", "networkx")
"""what workers read when they are asked the usual questions"""
READ_AHEAD = ["hinoki.jobs.preload"]
"""modules that are read before workers are copied, in order"""


def worker_context() -> BaseContext:
    """Where workers come from: copies of a process that has read HEAVY; where the system cannot copy, new processes."""
    if sys.platform == "win32":
        return multiprocessing.get_context("spawn")
    context = multiprocessing.get_context("forkserver")
    os.environ[SERVER] = str(os.getpid())
    context.set_forkserver_preload(READ_AHEAD)
    return context


def read_ahead() -> None:
    """Begin to read what workers need, beside what this process does now."""
    if worker_context().get_start_method() == "forkserver":
        from multiprocessing import forkserver

        forkserver.ensure_running()


def serve_jobs(pipe: Connection, line: Connection, database: str, cache_folder: str) -> None:
    """Entry of a worker process; it ends when the other end of `line` is closed."""
    end_with(line.fileno())
    import numpy as np

    from hinoki.jobs.worker import Worker
    from hinoki.logs import configure

    configure()
    np.seterr(all="ignore")
    Worker(pipe, Path(database), Path(cache_folder)).run()
