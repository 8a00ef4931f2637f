"""Computed files stay within their limit, and what a deleted project alone used goes."""

import contextlib
import os
import tempfile
import time
import unittest
from collections.abc import Iterator
from pathlib import Path
from unittest.mock import patch

from hinoki.core.cache import Cache
from hinoki.jobs.memory import keep_within, limit_bytes, taken_bytes
from hinoki.store.cache_files import PART, CacheFiles, used

A, B, C = "a" * 32, "b" * 32, "c" * 32


class CacheFilesCase(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.kept: list[str] = []
        self.files = CacheFiles(self.folder, 10_000, lambda: self.kept)
        self.addCleanup(self.files.close)

    def put(self, place: str, content: bytes = bytes(1000), age_s: float = 0.0) -> Path:
        path = self.folder / place
        path.write_bytes(content)
        then = time.time() - age_s
        os.utime(path, (then, then))
        return path

    def there(self) -> list[str]:
        return sorted(str(p.relative_to(self.folder)) for p in self.folder.rglob("*") if p.is_file() and "owners" not in str(p))

    def test_what_was_used_least_recently_goes_first(self) -> None:
        paths = [self.put(f"meshes/{k}.bin", age_s=1000.0 - k) for k in range(20)]
        used(paths[0])
        self.kept = ["1.bin"]
        self.assertLessEqual(self.files.prune(), 9000)
        stay = self.there()
        self.assertEqual(len(stay), 9)
        for name in ("meshes/0.bin", "meshes/1.bin", "meshes/19.bin"):
            self.assertIn(name, stay)
        self.assertNotIn("meshes/2.bin", stay)

    def test_nothing_goes_within_the_limit(self) -> None:
        for k in range(10):
            self.put(f"answers/{k}.json", age_s=1e6)
        self.assertEqual(self.files.prune(), 10_000)
        self.assertEqual(len(self.there()), 10)

    def test_it_is_looked_after_by_itself(self) -> None:
        for k in range(30):
            self.put(f"answers/{k}.json", age_s=100.0 - k)
        self.files.changed()
        until = time.monotonic() + 60
        while len(self.there()) > 10 and time.monotonic() < until:
            time.sleep(0.02)
        self.assertEqual(len(self.there()), 9)

    def test_a_file_that_goes_meanwhile_is_passed_over(self) -> None:
        """As when a worker gives what it has written its name while the folder is read."""
        for k in range(20):
            self.put(f"meshes/{k}.bin", age_s=1000.0 - k)
        gone, stat = self.folder / "meshes" / "0.bin", os.DirEntry.stat

        class Entry:
            def __init__(self, entry: "os.DirEntry[str]") -> None:
                self.path, self.is_file = entry.path, entry.is_file
                self._entry = entry

            def stat(self) -> os.stat_result:
                if Path(self.path) == gone:
                    raise FileNotFoundError(gone)
                return stat(self._entry)

        real = os.scandir

        @contextlib.contextmanager
        def scandir(folder: Path) -> Iterator[list[Entry]]:
            with real(folder) as entries:
                yield [Entry(e) for e in entries]

        with patch("hinoki.store.cache_files.os.scandir", scandir):
            self.assertLessEqual(self.files.prune(), 9000)

    def test_what_was_left_half_written_goes_after_a_while(self) -> None:
        self.put(f"exports/{PART}old", age_s=5000)
        self.put(f"exports/{PART}new")
        self.files.drop_parts()
        self.assertEqual(self.there(), [f"exports/{PART}new"])

    def test_what_a_deleted_project_alone_used_goes(self) -> None:
        for project, names in {
            "p": ["build-p.json", "ask-1.json", "ask-2.json", "z-1.zip"],
            "q": ["build-q.json", "ask-2.json"],
        }.items():
            for name in names:
                self.files.note(project, name)
                self.files.note(project, name)
        self.put("builds/build-p.json", f'{{"mesh": "{A}", "other": "{B}"}}'.encode())
        self.put("builds/build-q.json", f'{{"mesh": "{B}"}}'.encode())
        self.put("answers/ask-1.json", f'{{"maps": ["{C}"]}}'.encode())
        for place in (
            f"meshes/{A}.bin",
            f"meshes/{B}.bin",
            f"meshes/{C}.thick",
            "answers/ask-2.json",
            "exports/z-1.zip",
            "exports/z-1.zip.json",
        ):
            self.put(place, b"x")
        self.assertEqual((self.folder / "owners" / "p").read_text().count("\n"), 4)
        self.files.drop_of("p")
        self.assertEqual(self.there(), ["answers/ask-2.json", "builds/build-q.json", f"meshes/{B}.bin"])
        self.assertEqual([p.name for p in (self.folder / "owners").iterdir()], ["q"])


class Memory(unittest.TestCase):
    def test_a_cache_shrinks_by_what_was_used_last(self) -> None:
        cache = Cache()
        for k in range(10):
            cache.get(str(k), lambda k=k: k, lambda _: 10)  # type: ignore[misc]
        cache.get("0", lambda: -1)
        cache.shrink(0.3)
        self.assertEqual(cache.weight, 30)
        self.assertEqual([cache.get(k, lambda: -1, lambda _: 10) for k in ("0", "9", "8", "5")], [0, 9, 8, -1])

    def test_a_worker_that_takes_too_much_lets_go(self) -> None:
        cache = Cache()
        for k in range(20):
            cache.get(str(k), lambda: bytearray(1_000_000), lambda _: 1)
        keep_within(cache, 1 << 60)
        self.assertEqual(cache.weight, 20)
        keep_within(cache, 1)
        self.assertEqual(cache.weight, 0)

    def test_all_workers_together_take_a_quarter_of_the_machine(self) -> None:
        whole = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
        self.assertLessEqual(4 * limit_bytes(), max(whole / 4, 4 * 300_000_000))
        self.assertGreater(taken_bytes(), 1_000_000)
