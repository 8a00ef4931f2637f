"""A database that 0.8 wrote, with a print log and all that goes with it, says the same once it is migrated."""

import gzip
import json
import sqlite3
import tempfile
import unittest
from contextlib import closing
from pathlib import Path

from hinoki.store.database import Database
from hinoki.store.slugs import listed, slug, word
from hinoki.store.tables import prints, projects, step_photos, ticked_steps
from tests.printed import prepared

OLD = Path(__file__).parents[1] / "releases" / "0.8.2" / "database.sqlite.gz"
LONG = " ".join(f"p{k}+" for k in range(1, 1500))
"""a key as pieces of many partings have it"""
STATES = (
    "in a batch",
    "printing",
    "printed",
    "cleaned",
    "fitted",
    "finished",
    "installed",
    "spare",
    "lost",
    "failed",
    "not printed",
)


class FromBefore(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "h.sqlite"
        self.path.write_bytes(gzip.decompress(OLD.read_bytes()))
        with closing(sqlite3.connect(self.path)) as c:
            self.assertEqual(c.execute("PRAGMA user_version").fetchone()[0], 8)
            (self.project,) = c.execute("SELECT id FROM projects").fetchone()
            self.fill(c)
            c.commit()

    def fill(self, c: sqlite3.Connection) -> None:
        """What 0.8 kept of a project that was printed."""
        own = self.project
        c.executemany(
            "INSERT OR REPLACE INTO piece_numbers VALUES (?, ?, ?)", [(own, "p1-", 1), (own, "p1+", 2), (own, LONG, 3)]
        )
        c.executemany(
            "INSERT OR REPLACE INTO piece_shapes VALUES (?, ?, ?)", [(own, "p1-", "s"), (own, "p1+", "s"), (own, LONG, "t")]
        )
        c.execute("INSERT INTO machines VALUES ('m', ?, 'now')", (json.dumps({"id": "m"}),))
        batch = prepared("p1-", "p1+").model_dump_json()
        for k, (state, machine) in enumerate((("done", "m"), ("broke off", "gone")), 1):
            c.execute(
                "INSERT INTO prints (id, project_id, number, revision, state, machine_id, machine, batch, printer_id, "
                "material_id, est_minutes, est_grams, sent_at, progress) "
                "VALUES (?, ?, ?, 2, ?, ?, 'Old', ?, 'x', 'y', 1, 1, 'then', '{}')",
                (f"print {k}", own, k, state, machine, batch),
            )
        for k, state in enumerate(STATES):
            key = (LONG, "p1-", "p1+")[k % 3]
            result, reason = ("failed", "came loose") if state == "failed" else ("usable after clean-up", None)
            row = (f"print {1 + k % 2}", k, own, key, 1, f"piece {k}", 1, "s", 1.5, 2.5, state, result, reason, "", k, "then")
            c.execute(f"INSERT INTO print_items VALUES ({', '.join('?' * 16)})", row)
        c.executemany("INSERT INTO ticked_steps VALUES (?, ?, ?)", [(own, "w1", "2"), (own, LONG, "1")])
        c.execute("INSERT INTO step_photos VALUES (?, ?, 'then', 'hash', x'ffd8')", (own, LONG))

    def test_all_that_was_in_it_is_there(self) -> None:
        with closing(Database(self.path)) as database, database.reading() as c:
            self.assertEqual(projects.piece_numbers(c, self.project), {"p1-": 1, "p1+": 2, LONG: 3})
            self.assertEqual(projects.shapes(c, self.project), {"p1-": "s", "p1+": "s", LONG: "t"})
            self.assertEqual(ticked_steps.ticked(c, self.project), [LONG, "w1"])
            self.assertEqual(step_photos.photos(c, self.project), {LONG: "hash"})
            self.assertEqual(step_photos.photo(c, self.project, LONG), b"\xff\xd8")
            second, first = prints.prints_of(c, self.project)
            self.assertEqual(
                [(p.state, p.machine_id, p.machine) for p in (first, second)],
                [("done", "m", "Old"), ("broke off", None, "Old")],
            )
            items = sorted(prints.items_of(c, "project_id", self.project), key=lambda i: i.item)
            self.assertEqual(tuple(i.state for i in items), STATES)
            self.assertEqual([i.key for i in items[:3]], [LONG, "p1-", "p1+"])
            self.assertEqual([(i.result, i.reason) for i in items if i.state == "failed"], [("failed", "came loose")])
            self.assertEqual({i.result for i in items if i.state != "failed"}, {"usable after clean-up"})
            self.assertEqual([i.version for i in items], list(range(len(STATES))))
            (row,) = projects.list_projects(c)
            # shape and state decide: the long one was printed in another shape
            self.assertEqual((row.pieces, row.printed, row.installed), (3, 2, 1))
            self.assertEqual((row.head, row.tip, row.partings, row.joints), (2, 2, 1, 1))

    def test_a_deleted_project_takes_all_of_it_along(self) -> None:
        with closing(Database(self.path)) as database:
            database.write(lambda c: projects.delete_project(c, self.project))
            with database.reading() as c:
                for table in (
                    "revisions",
                    "piece_keys",
                    "piece_numbers",
                    "piece_shapes",
                    "prints",
                    "print_items",
                    "ticked_steps",
                    "step_photos",
                ):
                    self.assertEqual(c.execute(f"SELECT count(*) FROM {table}").fetchone()[0], 0, table)

    def test_one_that_cannot_be_migrated_stays_as_it_is(self) -> None:
        with closing(sqlite3.connect(self.path)) as c:
            c.execute("UPDATE projects SET head = 99")
            c.commit()
        before = self.path.read_bytes()
        with self.assertRaisesRegex(Exception, "a row of its projects belongs to nothing"):
            Database(self.path)
        with closing(sqlite3.connect(self.path)) as c:
            self.assertEqual(c.execute("PRAGMA user_version").fetchone()[0], 8)
            self.assertEqual(c.execute("SELECT head FROM projects").fetchone()[0], 99)
        self.assertEqual(len(self.path.read_bytes()), len(before))


class Sound(unittest.TestCase):
    """What the tables promise."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        database = Database(Path(folder.name) / "h.sqlite")
        self.addCleanup(database.close)
        self.c = self.enterContext(closing(sqlite3.connect(database.path)))
        self.c.execute("PRAGMA foreign_keys = ON")

    def tables(self) -> list[str]:
        return [
            name
            for (name,) in self.c.execute("SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT GLOB 'sqlite_*'")
        ]

    def test_every_foreign_key_has_an_index(self) -> None:
        bare = []
        for table in self.tables():
            keys: dict[int, list[str]] = {}
            for row in self.c.execute(f"PRAGMA foreign_key_list({table})"):
                keys.setdefault(row[0], []).append(row[3])
            begun = [
                [row[2] for row in self.c.execute(f"PRAGMA index_info({index[1]})")]
                for index in self.c.execute(f"PRAGMA index_list({table})")
            ]
            begun += [[row[1] for row in self.c.execute(f"PRAGMA table_info({table})") if row[5]]]
            bare += [(table, own) for own in keys.values() if not any(i[: len(own)] == own or i[:1] == own[:1] for i in begun)]
        self.assertEqual(bare, [])

    def test_what_is_no_json_or_no_state_is_refused(self) -> None:
        for change in (
            "INSERT INTO printers VALUES ('a', '{', 'now')",
            "INSERT INTO own_sizes VALUES ('a', 'magnet', 'now')",
            "INSERT INTO projects (id, name, created_at, updated_at, head) VALUES ('a', 'A', 'now', 'now', 7)",
            "INSERT INTO piece_keys (project_id, key) VALUES ('nobody', 'p1+')",
        ):
            with self.subTest(change), self.assertRaises(sqlite3.DatabaseError):
                self.c.execute(change)

    def test_the_states_of_the_tables_are_those_of_the_log(self) -> None:
        text = " ".join(
            sql for (sql,) in self.c.execute("SELECT sql FROM sqlite_schema WHERE name IN ('prints', 'print_items')")
        )
        for state in (*STATES, "broke off", "usable after clean-up", "came loose", "printer stopped"):
            self.assertIn(f"'{slug(state)}'", text)
            self.assertEqual(word(slug(state)), state)
        self.assertEqual(listed(("in a batch", "lost")), "('in-a-batch', 'lost')")
        self.assertIsNone(word(None))
        with self.assertRaises(KeyError):
            word("eaten")


if __name__ == "__main__":
    unittest.main()
