"""One process at a time uses a data folder: another is told which one has it."""

import os
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from filelock import FileLock, Timeout

from hinoki.core.errors import InUse


@contextmanager
def locked(folder: Path) -> Iterator[None]:
    """Hold the lock of a data folder; it is let go when the process ends, however it ends. Raises InUse."""
    folder.mkdir(parents=True, exist_ok=True)
    lock, holder = FileLock(folder / "hinoki.lock"), folder / "hinoki.pid"
    try:
        lock.acquire(timeout=0)
    except Timeout as error:
        which = ""
        with suppress(OSError, ValueError):
            which = f" (process {int(holder.read_text())})"
        raise InUse(f"{folder} is used by another Hinoki{which}. Stop it, or choose another --data.") from error
    try:
        holder.write_text(str(os.getpid()))
        yield
    finally:
        holder.unlink(missing_ok=True)
        lock.release()
