"""Archives of projects, byte for byte; what is damaged or odd is taken in not at all."""

import io
import json
import resource
import tempfile
import unittest
import zipfile
from pathlib import Path

from hinoki.core.errors import HinokiError, TooLarge
from hinoki.store import archive
from hinoki.store.database import Database
from hinoki.store.tables import fit_answers, print_photos, prints, projects
from hinoki.store.tables import ticked_steps as ticks
from hinoki.store.tables.sources import source_bytes
from tests.stored import DATA, photograph, stored_project


class Archives(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.database = self.open("one")

    def open(self, name: str) -> Database:
        database = Database(self.folder / name / "hinoki.sqlite")
        self.addCleanup(database.close)
        return database

    def project(self) -> str:
        return stored_project(self.database, self.folder)

    def out(self, database: Database, project: str, name: str) -> Path:
        path = self.folder / name
        with database.snapshot() as connection:
            archive.write_archive(connection, project, path)
        return path

    def taken(self, database: Database, path: Path, **more: object) -> str:
        with tempfile.TemporaryDirectory() as folder:
            found = archive.unpacked(path, Path(folder))
            return database.write(lambda c: archive.take_in(c, found, **more))  # type: ignore[arg-type]

    def test_out_and_in_again_on_another_machine_byte_for_byte(self) -> None:
        path = self.out(self.database, self.project(), "a.zip")
        other = self.open("two")
        again = self.out(other, self.taken(other, path), "b.zip")
        self.assertEqual(path.read_bytes(), again.read_bytes())

    def test_everything_is_there_log_included(self) -> None:
        path = self.out(self.database, self.project(), "a.zip")
        other = self.open("two")
        made = self.taken(other, path)
        with other.reading() as c:
            self.assertEqual([line[4] for line in projects.history(c, made)], ["as printed", ""])
            self.assertEqual(projects.revision(c, made).redo_label, "Moved the cut")
            (one,) = prints.prints_of(c, made)
            self.assertEqual([(i.state, i.reason) for i in one.items], [("printed", None), ("failed", "came loose")])
            self.assertEqual(print_photos.print_photo(c, one.id), photograph())
            self.assertEqual(ticks.ticked(c, made), ["p1+"])
            row = next(p for p in projects.list_projects(c) if p.id == made)
            self.assertEqual((row.pieces, row.printed, row.model_name), (2, 1, "made.stl"))
            source = projects.revision(c, made).plan.model
            assert source
            self.assertEqual(source_bytes(c, source.source), DATA)

    def test_a_copy_has_the_revisions_and_an_empty_log(self) -> None:
        path = self.out(self.database, self.project(), "a.zip")
        made = self.taken(self.database, path, name="Shed, copy", with_log=False)
        with self.database.reading() as c:
            self.assertEqual((projects.project(c, made).name, len(projects.history(c, made))), ("Shed, copy", 2))
            self.assertEqual((prints.prints_of(c, made), fit_answers.fit_answers(c, made)), ([], []))

    def test_damaged_and_foreign_archives_are_refused_and_change_nothing(self) -> None:
        good = self.out(self.database, self.project(), "a.zip").read_bytes()
        bad: dict[str, bytes] = {
            "is no project archive, or it is damaged": b"PK not a zip",
            "it holds “../evil”": self.rezipped(good, extra=("../evil", b"x")),
            "is not what it was when it was packed": self.rezipped(good, change=("sources/", b"other")),
            "is no photograph": self.rezipped(good, change=("prints/1.jpg", b"text")),
            "The archive is damaged": self.rezipped(good, change=("project.json", b"{}")),
            "plan": self.rezipped(good, change=("revisions/2.json", b"{}{")),
        }
        other = self.open("two")
        for told, content in bad.items():
            path = self.folder / "bad.zip"
            path.write_bytes(content)
            with self.subTest(told), self.assertRaisesRegex(HinokiError, told):
                self.taken(other, path)
        with other.reading() as c:
            self.assertEqual(projects.list_projects(c), [])
            self.assertEqual(c.execute("SELECT count(*) FROM sources").fetchone()[0], 0)

    def rezipped(
        self, content: bytes, change: tuple[str, bytes] | None = None, extra: tuple[str, bytes] | None = None
    ) -> bytes:
        out = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(out, "w") as new:
            for name in old.namelist():
                data = change[1] if change and name.startswith(change[0]) else old.read(name)
                new.writestr(name, data)
            if extra:
                new.writestr(*extra)
        return out.getvalue()

    def odd(self, good: bytes, **change: object) -> bytes:
        """The archive with other facts: dots lead to rows, such as fit_answers__0__note."""
        with zipfile.ZipFile(io.BytesIO(good)) as old:
            kept = json.loads(old.read("project.json"))
        for place, value in change.items():
            *way, last = [int(k) if k.isdigit() else k for k in place.split("__")]
            row = kept
            for key in way:
                row = row[key]
            row[last] = value
        return self.rezipped(good, change=("project.json", json.dumps(kept).encode()))

    def test_rows_are_believed_no_more_than_what_the_api_takes_in(self) -> None:
        good = self.out(self.database, self.project(), "a.zip").read_bytes()
        ring = {"revisions__0__parent": 2, "revisions__1__parent": 1}
        odd: dict[str, dict[str, object]] = {
            r"fit_answers\.0\.note": {"fit_answers__0__note": "x" * 500},
            r"fit_answers\.0\.clearance_mm: Input should be less": {"fit_answers__0__clearance_mm": float("inf")},
            r"fit_answers\.0\.clearance_mm: Input should be greater": {"fit_answers__0__clearance_mm": -5},
            r"fit_answers\.0\.made_at": {"fit_answers__0__made_at": "yesterday"},
            "revision 1 cannot come from revision 2": ring,
            "revision 2 cannot come from revision 7": {"revisions__1__parent": 7},
            "revision 9, which it shows, is not in it": {"head": 9},
            r"numbers\.p1-": {"numbers": {"p1-": 2**64}},
            r"prints\.0\.items\.1\.state": {"prints__0__items__1__state": "lost at sea"},
            r"prints\.0\.batch\.cost": {"prints__0__batch__cost": float("nan")},
            r"prints\.0\.begun_at": {"prints__0__begun_at": "2025-01-01"},
            r"went_out\.0\.wish": {"went_out": [{"revision": 1, "at": "2025-01-01T00:00:00Z", "wish": "[]", "held": "{}"}]},
            "a text holds a character that is none": {"name": "Sh\0ed"},
            "revisions: List should have at least 1": {"revisions": []},
            r"ticked\.0\.more": {"ticked__0__more": 1},
        }
        other = self.open("two")
        path = self.folder / "odd.zip"
        for told, change in odd.items():
            path.write_bytes(self.odd(good, **change))
            with self.subTest(told), self.assertRaisesRegex(HinokiError, told):
                self.taken(other, path)
        for name, content in {
            "deep": b"[" * 100_000,
            "surrogate": b'{"schema": "hinoki-project/1", "name": "\\ud800"}',
            "no UTF-8": b"\xff\xfe",
        }.items():
            path.write_bytes(self.rezipped(good, change=("project.json", content)))
            with self.subTest(name), self.assertRaisesRegex(HinokiError, "damaged"):
                self.taken(other, path)
        with other.reading() as c:
            self.assertEqual((projects.list_projects(c), fit_answers.fit_answers(c)), ([], []))

    def test_a_small_archive_cannot_fill_the_memory(self) -> None:
        """Four megabytes of wrong rows are told by the first of them; what packs too well is not unpacked at all."""
        good = self.out(self.database, self.project(), "a.zip").read_bytes()
        path = self.folder / "dense.zip"
        with zipfile.ZipFile(io.BytesIO(good)) as old:
            kept = json.loads(old.read("project.json"))
        wrong = {field: kept | {field: [None] * 800_000} for field in ("went_out", "fit_answers", "sources")}
        wrong["numbers"] = kept | {"numbers": {f"k{k}": None for k in range(250_000)}}
        for field, facts in wrong.items():
            path.write_bytes(self.rezipped(good, change=("project.json", json.dumps(facts).encode())))
            before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
            with self.subTest(field), self.assertRaisesRegex(HinokiError, field) as caught:
                self.taken(self.database, path)
            self.assertLess(len(caught.exception.message), 300)
            self.assertLess(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before, 400_000)  # kB
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive_file:
            archive_file.writestr("project.json", b"[" + b"0," * 2_000_000 + b"0]")
        path.write_bytes(packed.getvalue())
        self.assertLess(path.stat().st_size, 10_000)
        with self.assertRaisesRegex(TooLarge, "over 200 times its size"):
            self.taken(self.database, path)
