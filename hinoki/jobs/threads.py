"""How many threads heavy work takes in a process: one where as many processes as there are cores work beside each other."""

import os

ONE_EACH = "HINOKI_ONE_THREAD_EACH"
"""where the environment says that workers do with one thread"""


def share_cores(workers: int) -> None:
    """Note in the environment whether so many workers beside each other are to do with one thread each."""
    if workers >= (os.cpu_count() or 1):
        os.environ[ONE_EACH] = "yes"
    else:
        os.environ.pop(ONE_EACH, None)


def one_thread_each() -> None:
    """Have the kernel and linear algebra do with one thread in this process and in copies of it; threads of processes that keep
    all cores busy anyway take a sixth more processor time.

    Both ask once how many cores there are, when they are used first: for that moment this process has one.
    """
    if not hasattr(os, "sched_setaffinity"):
        return
    cores = os.sched_getaffinity(0)
    os.sched_setaffinity(0, {min(cores)})
    try:
        from hinoki.core.geometry.solid import Solid

        bar = Solid.cylinder(10, 0, 20)
        bar.minus([bar.moved(1, 1, 1)]).volume_mm3  # noqa: B018 - it is worked out only when it is asked for
    finally:
        os.sched_setaffinity(0, cores)
