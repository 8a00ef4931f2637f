"""Backups and restores while running; what is no sound backup changes nothing; what was there can be taken back."""

import contextlib
import io
import sqlite3
import tempfile
import unittest
from contextlib import closing
from pathlib import Path

from hinoki.api.shared.state import State
from hinoki.cli import main
from hinoki.core.errors import Closing, HinokiError, InUse
from hinoki.store import archive
from hinoki.store.backups import backup, looked_through
from hinoki.store.database import Database
from hinoki.store.folder_lock import locked
from hinoki.store.tables import projects
from tests.apart import apart
from tests.shapes import level, plan_for
from tests.stored import DATA, stored_project


class BackupCase(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.database = Database(self.folder / "hinoki.sqlite")
        self.addCleanup(self.database.close)

    def names(self, database: Database | None = None) -> list[str]:
        with (database or self.database).reading() as c:
            return sorted(p.name for p in projects.list_projects(c))

    def saved(self, *changes: str) -> Path:
        """A backup of a project, changed by SQL."""
        path = self.folder / "saved.sqlite"
        path.unlink(missing_ok=True)
        backup(self.database.path, path)
        with closing(sqlite3.connect(path, isolation_level=None)) as c:
            for change in changes:
                c.executescript(change)
        return path


class Backups(BackupCase):
    def setUp(self) -> None:
        super().setUp()
        stored_project(self.database, self.folder)

    def looked(self, path: Path) -> Path:
        target = self.folder / "looked.sqlite"
        target.unlink(missing_ok=True)
        looked_through(path, target)
        return target

    def test_one_taken_while_writing_goes_back_while_running(self) -> None:
        saved = self.saved()
        self.database.write(lambda c: projects.add_project(c, "Later", plan_for(DATA)))
        self.database.replace(self.looked(saved))
        self.assertEqual(self.names(), ["Shed"])
        with self.database.reading() as c:
            self.assertEqual(c.execute("PRAGMA integrity_check").fetchone()[0], "ok")
            self.assertEqual(c.execute("PRAGMA journal_mode").fetchone()[0], "wal")
        self.database.write(lambda c: projects.add_project(c, "After", plan_for(DATA)))

    def test_one_of_an_older_hinoki_is_brought_up_and_itself_left_as_it_is(self) -> None:
        old = self.folder / "old.sqlite"
        scripts = sorted((Path(archive.__file__).parent / "migrations").glob("*.sql"))
        plan = plan_for(DATA, level(1, 5))
        assert plan.model
        with closing(sqlite3.connect(old, isolation_level=None)) as c:
            for script in scripts[:3]:
                c.executescript(script.read_text())
            c.execute("INSERT INTO sources VALUES (?, 'made.stl', 1, 12, 1, 1, 1, '2025')", (plan.model.source,))
            c.execute("INSERT INTO projects VALUES ('x', 'Old', '2025', '2025', 1, 1)")
            c.execute("INSERT INTO revisions VALUES ('x', 1, 0, 'Begun', ?, '2025')", (plan.json_text(),))
            c.execute("PRAGMA user_version = 3")
        was = old.read_bytes()
        self.database.replace(self.looked(old))
        self.assertEqual(old.read_bytes(), was)
        with self.database.reading() as c:
            (row,) = projects.list_projects(c)
        self.assertEqual((row.name, row.partings, row.printer != ""), ("Old", 1, True))

    def test_what_is_no_sound_backup_is_refused(self) -> None:
        path = self.folder / "x.sqlite"
        path.write_bytes(b"hello" * 1000)
        with self.assertRaisesRegex(HinokiError, "not a database"):
            self.looked(path)
        path.unlink()
        three = "CREATE TABLE projects (x); CREATE TABLE revisions (x); CREATE TABLE sources (x); PRAGMA user_version = 3;"
        with closing(sqlite3.connect(path)) as c:
            c.executescript(three)
        with self.assertRaisesRegex(HinokiError, "is not as Hinoki makes it|is missing"):
            self.looked(path)
        odd = {
            "made by a newer Hinoki": "PRAGMA user_version = 999",
            "no backup of Hinoki's. Choose the file that was saved": "PRAGMA application_id = 7",
            "trigger evil is not as": "CREATE TRIGGER evil AFTER INSERT ON projects BEGIN DELETE FROM projects; END",
            "view shelf is not as": "CREATE VIEW shelf AS SELECT * FROM projects",
            "more is not as": "CREATE TABLE more (x)",
            "ladders is missing": "DROP TABLE ladders",
            "projects is not as": "ALTER TABLE projects ADD COLUMN more TEXT",
            "revision 1 of “Shed” cannot be read": "UPDATE revisions SET plan = '{\"schema\": 5}' WHERE number = 1",
            "its file made.stl is missing": "PRAGMA foreign_keys = OFF; DELETE FROM sources; DELETE FROM source_chunks",
            "CHECK constraint failed in revisions": "PRAGMA ignore_check_constraints = ON; UPDATE revisions SET parent = 2",
            "an answer about a fit cannot be read": "UPDATE fit_answers SET clearance_mm = -5",
            "print log of “Shed” cannot be read": "UPDATE prints SET batch = '[]'",
            "a row of its projects belongs to nothing": "PRAGMA foreign_keys = OFF; UPDATE revisions SET project_id = 'gone'",
        }
        for told, change in odd.items():
            with self.subTest(told), self.assertRaisesRegex(HinokiError, told):
                self.looked(self.saved(change))

    def test_what_is_damaged_inside_is_refused(self) -> None:
        content = bytearray(self.saved().read_bytes())
        for place in range(8192, len(content), 4096):
            content[place : place + 64] = b"\xff" * 64
        path = self.folder / "torn.sqlite"
        path.write_bytes(content)
        with self.assertRaisesRegex(HinokiError, "damaged|cannot be read"):
            self.looked(path)


class Restoring(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.data = self.folder / "data"
        self.state = State(self.data)
        self.addCleanup(self.state.close)
        stored_project(self.state.database, self.folder)
        self.saved = self.folder / "saved.sqlite"
        backup(self.state.database.path, self.saved)
        self.state.database.write(lambda c: projects.add_project(c, "Later", plan_for(DATA)))

    def names(self) -> list[str]:
        with self.state.database.reading() as c:
            return sorted(p.name for p in projects.list_projects(c))

    def command(self, *words: str) -> tuple[int, str]:
        said = io.StringIO()
        with contextlib.redirect_stdout(said), contextlib.redirect_stderr(said):
            code = apart(lambda: main([*words, "--data", str(self.data)]))
        return code, said.getvalue()

    def test_what_was_there_is_kept_and_can_be_taken_back(self) -> None:
        self.assertFalse(self.state.before_restore.exists())
        self.state.restore(self.saved)
        self.assertEqual(self.names(), ["Shed"])
        self.state.restore(self.state.before_restore)
        self.assertEqual(self.names(), ["Later", "Shed"])
        self.state.restore(self.state.before_restore)
        self.assertEqual(self.names(), ["Shed"])
        self.assertEqual(list(self.state.incoming.iterdir()), [])

    def test_a_bad_backup_changes_nothing(self) -> None:
        with closing(sqlite3.connect(self.saved)) as c:
            c.execute("CREATE TRIGGER evil AFTER INSERT ON settings BEGIN DELETE FROM projects; END")
        with self.assertRaises(HinokiError):
            self.state.restore(self.saved)
        self.assertEqual(self.names(), ["Later", "Shed"])
        self.assertFalse(self.state.before_restore.exists())
        self.assertEqual(list(self.state.incoming.iterdir()), [])

    def test_one_process_at_a_time_has_the_folder(self) -> None:
        with self.assertRaisesRegex(InUse, "used by another Hinoki"):
            State(self.data)
        code, said = self.command("restore", str(self.saved))
        self.assertEqual((code, "used by another Hinoki" in said), (2, True))
        self.state.close()
        with locked(self.data):
            pass
        self.assertEqual(self.command("restore", str(self.saved))[0], 0)

    def test_the_command_line_takes_back_and_mends_a_damaged_database(self) -> None:
        self.state.close()
        there = self.data / "hinoki.sqlite"
        self.assertEqual(self.command("restore", str(self.saved))[0], 0)
        self.assertEqual(self.command("restore", "--back")[0], 0)
        there.write_bytes(b"SQLite format 3\0" + b"\xff" * 9000)
        code, said = self.command("serve", "--port", "0")
        self.assertEqual((code, "damaged" in said and "hinoki restore" in said), (2, True), said)
        code, said = self.command("restore", str(self.saved))
        self.assertEqual((code, "kept as damaged-" in said), (0, True), said)
        with closing(Database(there)) as database, database.reading() as c:
            self.assertEqual([p.name for p in projects.list_projects(c)], ["Shed"])

    def test_a_database_of_a_newer_hinoki_is_not_opened(self) -> None:
        self.state.close()
        with closing(sqlite3.connect(self.data / "hinoki.sqlite")) as c:
            c.execute("PRAGMA user_version = 999")
        code, said = self.command("serve", "--port", "0")
        self.assertEqual((code, "newer Hinoki" in said), (2, True), said)


class Closed(BackupCase):
    def test_who_writes_after_the_end_is_told_so(self) -> None:
        self.database.close()
        with self.assertRaises(Closing):
            self.database.write(projects.list_projects)

    def test_readers_are_given_back(self) -> None:
        """A burst of readers at once leaves no more of them open than are kept for the next."""
        with contextlib.ExitStack() as many:
            for _ in range(60):
                many.enter_context(self.database.reading())
        self.assertLessEqual(self.database._idle.qsize(), 8)
