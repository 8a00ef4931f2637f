"""The store: revisions, undo and redo, lost edits, sources, backups, migrations."""

import sqlite3
import tempfile
import unittest
from pathlib import Path

from hinoki.core.errors import ChangedElsewhere, NotFound
from hinoki.core.plan.plan import Plan
from hinoki.store.backups import backup
from hinoki.store.database import Database, migrate
from hinoki.store.tables import projects
from hinoki.store.tables.sources import CHUNK, SourceFacts, add_source, source_bytes, source_facts
from tests.shapes import level


class Store(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.database = Database(self.folder / "hinoki.sqlite")
        self.addCleanup(self.database.close)
        self.project = self.database.write(lambda c: projects.add_project(c, "Shed", Plan()))

    def edit(self, base: int, at: float) -> projects.Revision:
        plan = Plan(partings=(level(1, at),))
        return self.database.write(lambda c: projects.add_revision(c, self.project, base, plan, f"to {at}"))

    def test_every_edit_is_a_revision(self) -> None:
        self.edit(1, 10)
        self.assertEqual(self.edit(2, 20).number, 3)
        with self.database.reading() as c:
            self.assertEqual([line[2] for line in projects.history(c, self.project)], ["to 20", "to 10", "Begun"])

    def test_undo_and_redo_move_a_pointer(self) -> None:
        self.edit(1, 10)
        self.edit(2, 20)
        back = self.database.write(lambda c: projects.undo(c, self.project, 3))
        self.assertEqual((back.number, back.undo_label, back.redo_label), (2, "to 10", "to 20"))
        self.database.write(lambda c: projects.undo(c, self.project, 2))
        with self.assertRaises(NotFound):
            self.database.write(lambda c: projects.undo(c, self.project, 1))
        self.assertEqual(self.database.write(lambda c: projects.redo(c, self.project, 1)).number, 2)
        self.assertEqual(self.database.write(lambda c: projects.redo(c, self.project, 2)).number, 3)
        with self.assertRaises(NotFound):
            self.database.write(lambda c: projects.redo(c, self.project, 3))

    def test_what_comes_of_a_project_that_was_deleted_meanwhile_is_passed_over(self) -> None:
        self.database.write(lambda c: projects.remember_numbers(c, self.project, {"p1-": 1}))
        self.database.write(lambda c: projects.delete_project(c, self.project))
        self.database.write(lambda c: projects.remember_numbers(c, self.project, {"p1-": 1}))
        self.database.write(lambda c: projects.remember_shapes(c, self.project, 1, {"p1-": "a"}))
        with self.database.reading() as c:
            self.assertEqual(projects.piece_numbers(c, self.project), {})

    def test_an_edit_after_undo_takes_its_own_way_and_loses_nothing(self) -> None:
        self.edit(1, 10)
        self.edit(2, 20)
        self.database.write(lambda c: projects.undo(c, self.project, 3))
        branch = self.edit(2, 33)
        self.assertEqual((branch.number, branch.redo_label), (4, None))
        with self.database.reading() as c:
            self.assertEqual(len(projects.history(c, self.project)), 4)
            self.assertEqual(projects.revision(c, self.project, 3).plan.partings[0].at_mm, 20)  # type: ignore[union-attr]

    def test_an_edit_on_an_old_revision_is_refused_and_changes_nothing(self) -> None:
        self.edit(1, 10)
        with self.assertRaises(ChangedElsewhere):
            self.edit(1, 99)
        with self.database.reading() as c:
            self.assertEqual(projects.revision(c, self.project).plan.partings[0].at_mm, 10)  # type: ignore[union-attr]

    def test_a_failed_write_leaves_nothing_behind(self) -> None:
        def half(c: sqlite3.Connection) -> None:
            projects.add_project(c, "Half", Plan())
            raise RuntimeError("in the middle")

        with self.assertRaises(RuntimeError):
            self.database.write(half)
        with self.database.reading() as c:
            self.assertEqual(len(projects.list_projects(c)), 1)

    def test_model_files_are_kept_as_they_came_and_go_with_the_last_project(self) -> None:
        path = self.folder / "in"
        content = bytes(range(256)) * (CHUNK // 256) + b"the rest"
        path.write_bytes(content)
        facts = SourceFacts("ab" * 32, "a.stl", len(content), 12, (1, 2, 3))
        for _ in range(2):
            self.database.write(lambda c: add_source(c, path, facts))
        with self.database.reading() as c:
            self.assertEqual(source_bytes(c, "ab" * 32), content)
            self.assertEqual(source_facts(c, "ab" * 32), facts)
        self.database.write(lambda c: projects.delete_project(c, self.project))
        with self.database.reading() as c, self.assertRaises(NotFound):
            source_bytes(c, "ab" * 32)

    def test_readers_cannot_write(self) -> None:
        with self.database.reading() as c, self.assertRaises(sqlite3.OperationalError):
            c.execute("DELETE FROM projects")

    def test_a_backup_of_a_running_store_opens_with_everything(self) -> None:
        self.edit(1, 10)
        backup(self.database.path, self.folder / "copy.sqlite")
        copy = Database(self.folder / "copy.sqlite")
        self.addCleanup(copy.close)
        with copy.reading() as c:
            self.assertEqual(projects.revision(c, self.project).label, "to 10")
            self.assertEqual(c.execute("PRAGMA integrity_check").fetchone()[0], "ok")

    def test_migrations_are_applied_once(self) -> None:
        with sqlite3.connect(self.folder / "new.sqlite") as connection:
            first = migrate(connection)
            self.assertEqual(migrate(connection), first)
        connection.close()

    def test_settings_that_keep_what_a_person_entered(self) -> None:
        self.assertEqual(self.database.write(lambda c: c.execute("PRAGMA synchronous").fetchone()[0]), 2)
        self.assertEqual(self.database.write(lambda c: c.execute("PRAGMA journal_mode").fetchone()[0]), "wal")
        self.assertEqual(self.database.write(lambda c: c.execute("PRAGMA foreign_keys").fetchone()[0]), 1)
