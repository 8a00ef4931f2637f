"""How much memory workers may keep between jobs: together a quarter of what the machine has."""

import ctypes
import gc
import os
import sys
from pathlib import Path

from hinoki.core.cache import Cache

SHARE = 0.25
WORKERS = 4
"""as many as there are at the most, spare ones included"""
LEAST = 300_000_000
"""bytes; what a worker has read takes most of this"""
KEPT = (0.5, 0.2, 0.0)
"""how much of its results a worker keeps, step by step, once it takes more than it may"""
LIMIT = "HINOKI_WORKER_MB"
"""where the environment says how many megabytes one worker may keep"""


def limit_bytes() -> int:
    """How much one worker may keep."""
    asked = os.environ.get(LIMIT, "")
    if asked.isdigit():
        return int(asked) * 1_000_000
    if not hasattr(os, "sysconf"):
        return 4_000_000_000
    return max(LEAST, int(SHARE * os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES") / WORKERS))


def taken_bytes() -> int:
    """How much memory this process takes now; 0 where the system does not tell."""
    try:
        return int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE")
    except OSError:
        return 0


def keep_within(cache: Cache, limit: int | None = None) -> None:
    """Let go of results used least recently until this process takes no more than it may."""
    limit = limit_bytes() if limit is None else limit
    for share in KEPT:
        if taken_bytes() <= limit:
            return
        cache.shrink(share)
        gc.collect()
        if sys.platform == "linux":
            ctypes.CDLL(None).malloc_trim(0)  # what was let go is given back to the system
