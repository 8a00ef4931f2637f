"""What every release from 0.1 on kept is read, upgraded and built: plans, databases and archives that they wrote themselves.

`tests/releases/<version>` was made by running that release: the plan of its demo project, a database with a project in two
revisions (a block in two, with two pins), and, from 0.7 on, that project's archive.
"""

import gzip
import json
import sqlite3
import tempfile
import unittest
from contextlib import closing
from pathlib import Path

from hinoki.core.build import build
from hinoki.core.cache import Cache
from hinoki.core.plan.plan import Plan, given_plan, read_plan
from hinoki.store.archive import take_in, unpacked
from hinoki.store.database import Database
from hinoki.store.tables import projects
from hinoki.store.tables.sources import source_bytes

RELEASES = sorted((Path(__file__).parents[1] / "releases").iterdir())


class Releases(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def built_as_it_was(self, database: Database, project: str) -> None:
        """The project's plan is the one that was kept, and the block comes out in two, joined by its two pins."""
        with database.reading() as connection:
            now = projects.revision(connection, project)
            self.assertEqual((now.number, now.plan.least_wall_mm, now.plan.pieces["p1-"].name), (2, 2.5, "Foot"))
            numbers = projects.piece_numbers(connection, project)
            made = build(now.plan, lambda sha: source_bytes(connection, sha), Cache(), numbers=numbers)
        self.assertEqual([(p.key, p.number, p.name) for p in made.pieces], [("p1-", 1, "Foot"), ("p1+", 2, "Piece 2")])
        self.assertEqual([len(one.places) for one in made.placed], [2])
        self.assertAlmostEqual(sum(p.solid.volume_mm3 for p in made.before), 60**3, delta=1e-6)

    def test_there_is_something_of_every_release(self) -> None:
        self.assertEqual({r.name.rsplit(".", r.name.count(".") - 1)[0] for r in RELEASES}, {f"0.{n}" for n in range(1, 9)})

    def test_their_plans_are_read_and_say_the_same_when_they_are_written_again(self) -> None:
        for release in RELEASES:
            with self.subTest(release.name):
                text = (release / "plan.json").read_text()
                plan = given_plan(text)
                self.assertEqual((len(plan.partings), len(plan.joints)), (6, 11))
                self.assertEqual(read_plan(plan.json_text()), plan)
                kept = json.loads(text)
                again = json.loads(plan.json_text())
                for part in ("partings", "joints"):
                    for was, now in zip(kept[part], again[part], strict=True):
                        self.assertEqual({key: now[key] for key in was}, was)

    def test_objects_that_an_old_plan_left_out_are_told(self) -> None:
        kept = json.loads((RELEASES[0] / "plan.json").read_text())
        kept["model"]["leave_out"] = ["Bracket", "Foot"]
        plan = given_plan(json.dumps(kept))
        assert plan.model is not None
        self.assertEqual(plan.model.left_out, ("objects that an older plan left out are used again: Bracket, Foot",))

    def test_their_databases_are_migrated_with_all_that_is_in_them(self) -> None:
        for release in RELEASES:
            with self.subTest(release.name):
                path = self.folder / f"{release.name}.sqlite"
                path.write_bytes(gzip.decompress((release / "database.sqlite.gz").read_bytes()))
                database = Database(path)
                try:
                    with database.reading() as connection:
                        (row,) = projects.list_projects(connection)
                        steps = [label for _, _, label, _, _ in projects.history(connection, row.id)]
                    self.assertEqual((row.name, len(steps), steps[0]), ("From before", 2, "Wall of 2.5 mm"))
                    self.built_as_it_was(database, row.id)
                    database.write(lambda c, p=row.id: projects.undo(c, p, 2))  # type: ignore[misc]
                    added = Plan(least_wall_mm=3)
                    after = database.write(lambda c, p=row.id, a=added: projects.add_revision(c, p, 1, a, "On"))  # type: ignore[misc]
                    self.assertEqual(after.number, 3)
                finally:
                    database.close()
                with closing(sqlite3.connect(path)) as connection:
                    self.assertEqual(connection.execute("PRAGMA integrity_check").fetchone()[0], "ok")
                    self.assertEqual(connection.execute("PRAGMA foreign_key_check").fetchall(), [])

    def test_their_databases_end_with_the_tables_that_a_new_one_has(self) -> None:
        Database(self.folder / "new.sqlite").close()
        wanted = self.schema(self.folder / "new.sqlite")
        for release in RELEASES:
            path = self.folder / f"{release.name}.sqlite"
            path.write_bytes(gzip.decompress((release / "database.sqlite.gz").read_bytes()))
            Database(path).close()
            with self.subTest(release.name):
                self.assertEqual(self.schema(path), wanted)

    def schema(self, path: Path) -> set[tuple[str, str]]:
        with closing(sqlite3.connect(path)) as connection:
            rows = connection.execute("SELECT name, sql FROM sqlite_schema WHERE sql IS NOT NULL")
            return {(name, " ".join(sql.split())) for name, sql in rows}

    def test_their_archives_are_taken_in(self) -> None:
        database = Database(self.folder / "h.sqlite")
        self.addCleanup(database.close)
        for release in (r for r in RELEASES if (r / "archive.zip").exists()):
            with self.subTest(release.name):
                place = self.folder / release.name
                place.mkdir()
                found = unpacked(release / "archive.zip", place)
                project = database.write(lambda c, f=found: take_in(c, f))  # type: ignore[misc]
                self.built_as_it_was(database, project)


if __name__ == "__main__":
    unittest.main()
