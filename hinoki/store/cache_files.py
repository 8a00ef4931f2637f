"""The files that were computed: no more of them than a limit in bytes, and none that only a deleted project used.

What was used least recently goes first; whatever is gone is computed again when it is asked for.
"""

import contextlib
import logging
import os
import re
import threading
import time
from collections.abc import Callable, Iterable
from pathlib import Path

FOLDERS = ("builds", "meshes", "exports", "answers")
LIMIT = 2_000_000_000
LEAVES = 0.9
"""share of the limit that stays once something has to go"""
USED_EVERY_S = 60.0
"""a use is noted at most so often"""
AFTER_S = 1.0
"""how long after something was written it is looked whether it is too much"""
PART = ".part-"
PART_S = 3600.0
"""what was left half written for so long is left for good"""
LOG = logging.getLogger(__name__)
_MESH = re.compile(rb"[0-9a-f]{32}")


class CacheFiles:
    """The folders of computed files under `folder`; `kept` gives names that must stay, such as files waiting to be sent."""

    def __init__(self, folder: Path, limit: int = LIMIT, kept: Callable[[], Iterable[str]] = tuple) -> None:
        self.folder, self._limit, self._kept = folder, limit, kept
        for name in (*FOLDERS, "owners"):
            (folder / name).mkdir(parents=True, exist_ok=True)
        self._gone: list[str] = []
        self._noted: dict[str, set[str]] = {}
        self._wake, self._closed = threading.Event(), threading.Event()
        self._lock = threading.Lock()
        self._thread = threading.Thread(target=self._look_after, name="cache files", daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Look after them no more."""
        self._closed.set()
        self._wake.set()
        self._thread.join()

    def changed(self) -> None:
        """Something was written: look whether it is too much, soon."""
        self._wake.set()

    def note(self, project_id: str, name: str) -> None:
        """A file of this name is made for a project."""
        if not project_id:
            return
        with self._lock:
            noted = self._noted.setdefault(project_id, self._names(project_id))
            if name not in noted:
                noted.add(name)
                with (self.folder / "owners" / project_id).open("a") as file:
                    file.write(f"{name}\n")

    def forget(self, project_id: str) -> None:
        """A project was deleted: what it alone used goes, soon."""
        with self._lock:
            self._gone.append(project_id)
            self._noted.pop(project_id, None)
        self._wake.set()

    def prune(self) -> int:
        """Take out what was used least recently until the rest is within the limit; gives how many bytes are left."""
        files = [found for name in FOLDERS for found in _files(self.folder / name)]
        total = sum(stat.st_size for _, stat in files)
        if total <= self._limit:
            return total
        stay = set(self._kept())
        for path, stat in sorted(files, key=lambda f: f[1].st_mtime):
            if total <= LEAVES * self._limit:
                break
            if path.name not in stay and not path.name.startswith(PART):
                path.unlink(missing_ok=True)
                total -= stat.st_size
        return total

    def drop_parts(self, older_s: float = PART_S) -> None:
        """Take out what was left half written."""
        for name in FOLDERS:
            for path, stat in _files(self.folder / name):
                if path.name.startswith(PART) and time.time() - stat.st_mtime > older_s:
                    path.unlink(missing_ok=True)

    def drop_of(self, project_id: str) -> None:
        """Take out what a project that is gone alone used."""
        own, others = self._names(project_id), set[str]()
        for other, _ in _files(self.folder / "owners"):
            if other.name != project_id:
                others |= self._names(other.name)
        stems = {Path(name).name.split(".")[0] for name in own - others}
        used, elsewhere = set[bytes](), set[bytes]()
        for name in ("builds", "answers"):
            for path, _ in _files(self.folder / name):
                try:
                    found = set(_MESH.findall(path.read_bytes()))
                except FileNotFoundError:
                    continue
                if path.name.split(".")[0] in stems:
                    used |= found
                else:
                    elsewhere |= found
        meshes = {name.decode() for name in used - elsewhere}
        for name in FOLDERS:
            for path, _ in _files(self.folder / name):
                if path.name.split(".")[0] in (meshes if name == "meshes" else stems):
                    path.unlink(missing_ok=True)
        (self.folder / "owners" / project_id).unlink(missing_ok=True)

    def _names(self, project_id: str) -> set[str]:
        try:
            return set((self.folder / "owners" / project_id).read_text().splitlines())
        except FileNotFoundError:
            return set()

    def _look_after(self) -> None:
        while not self._closed.is_set():
            self._wake.wait()
            self._wake.clear()
            try:
                while self._gone:
                    with self._lock:
                        gone = self._gone.pop(0)
                    self.drop_of(gone)
                if not self._closed.wait(AFTER_S):
                    self.drop_parts()
                    self.prune()
            except OSError:
                LOG.exception("looking after the computed files in %s failed", self.folder)


def used(path: Path) -> None:
    """Note that a computed file was used, so that others go first."""
    with contextlib.suppress(OSError):
        if time.time() - path.stat().st_mtime > USED_EVERY_S:
            os.utime(path)


def _files(folder: Path) -> list[tuple[Path, os.stat_result]]:
    """The files in a folder; those that go while it is read are passed over."""
    found = []
    with contextlib.suppress(FileNotFoundError), os.scandir(folder) as entries:
        for entry in entries:
            with contextlib.suppress(FileNotFoundError):
                if entry.is_file():
                    found.append((Path(entry.path), entry.stat()))
    return found
