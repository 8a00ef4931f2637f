"""SIGKILL at many random moments of edits, uploads and prints: what was acknowledged is there, and all hangs together."""

import multiprocessing
import os
import random
import signal
import sqlite3
import tempfile
import time
import unittest
from multiprocessing.connection import Connection
from pathlib import Path

from hinoki.core.plan.plan import Plan
from hinoki.core.printlog.states import ENDED
from hinoki.store import archive, backups
from hinoki.store.database import Database
from hinoki.store.tables import print_photos, prints, projects
from hinoki.store.tables.sources import SourceFacts, add_source, sha256_of
from tests.effort import either
from tests.printed import prepared
from tests.shapes import level

KILLS = either(25, 100)
LET_GO = 3, 9
"""how many edits are acknowledged before it is killed"""
NEXT = {"sending": "sent", "sent": "printing", "printing": "done"}


def work(path: str, seed: int, said: Connection) -> None:
    """Edits, uploads and prints until it is killed; every one that is saved is told."""
    database = Database(Path(path))
    chance = random.Random(seed)
    with database.reading() as c:
        owner = next(p for p in projects.list_projects(c) if p.name == "Shed")
    while True:
        what = chance.random()
        if what < 0.05:
            with tempfile.TemporaryDirectory(dir=Path(path).parent) as folder:
                found = archive.unpacked(Path(path).with_name("shed.zip"), Path(folder))
                made = database.write(lambda c, found=found: archive.take_in(c, found))
            said.send(("archive", made, 3))
        elif what < 0.35:
            at = float(chance.randrange(1, 1000))
            with database.reading() as c:
                head = projects.project(c, owner.id).head
            made = database.write(
                lambda c, at=at, head=head: projects.add_revision(c, owner.id, head, Plan(partings=(level(1, at),)), f"to {at}")
            )
            said.send(("revision", made.number, made.label))
        elif what < 0.5:
            file = Path(path).with_name(f"upload-{seed}-{chance.randrange(10**9)}")
            file.write_bytes(chance.randbytes(300_000))
            digest = sha256_of(file)
            database.write(lambda c, f=file, d=digest: add_source(c, f, SourceFacts(d, "a.stl", 300_000, 1, (1, 1, 1))))
            said.send(("source", digest, 300_000))
            file.unlink()
        elif what < 0.7:
            one = database.write(lambda c: prints.add_print(c, owner.id, 1, prepared("a", "b"), (None, "by hand")))
            database.write(lambda c, one=one: print_photos.keep_print_photo(c, one.id, chance.randbytes(20_000)))
            said.send(("print", one.id, "sending"))
        else:
            with database.reading() as c:
                waiting = prints.active_prints(c)
            if waiting:
                one = chance.choice(waiting)
                then = NEXT[one.state]
                database.write(lambda c, one=one, then=then: prints.come_to(c, one.id, then, None, 90.0, 20.0))  # type: ignore[arg-type]
                said.send(("print", one.id, then))


def restore(path: str, saved: list[str], said: Connection) -> None:
    """One backup after the other until it is killed."""
    database = Database(Path(path))
    while True:
        for one in saved:
            backups.restore(database, Path(one), Path(path).with_name(backups.BEFORE), Path(path).parent)
            said.send(one)


class Restored(unittest.TestCase):
    def test_a_restore_is_whole_or_not_at_all(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path, saved = Path(folder) / "hinoki.sqlite", []
            for name in ("One", "Two"):
                place = Path(folder) / name
                database = Database(place / "hinoki.sqlite")
                for _ in range(20):
                    database.write(lambda c, n=name: projects.add_project(c, n, Plan(partings=(level(1, 5.0),))))  # type: ignore[misc]
                database.close()
                backups.backup(place / "hinoki.sqlite", place / "saved.sqlite")
                saved.append(str(place / "saved.sqlite"))
            Database(path).close()
            context = multiprocessing.get_context("fork")
            chance = random.Random(20261129)
            for _ in range(either(6, 100)):
                here, there = context.Pipe(duplex=False)
                child = context.Process(target=restore, args=(str(path), saved, there), daemon=True)
                child.start()
                there.close()
                here.recv()
                time.sleep(chance.uniform(0, 0.05))
                assert child.pid
                os.kill(child.pid, signal.SIGKILL)
                child.join()
                here.close()
                database = Database(path)
                with database.reading() as c:
                    self.assertEqual(c.execute("PRAGMA integrity_check").fetchone()[0], "ok")
                    names = [p.name for p in projects.list_projects(c)]
                self.assertEqual((len(names), len(set(names))), (20, 1))
                database.close()
                backups.looked_through(path.with_name(backups.BEFORE), path.with_name("again.sqlite"))
                path.with_name("again.sqlite").unlink()


class Killed(unittest.TestCase):
    def test_what_was_acknowledged_is_there(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "hinoki.sqlite"
            database = Database(path)
            owner = database.write(lambda c: projects.add_project(c, "Taken in", Plan()))
            for number in (1, 2):
                plan = Plan(partings=(level(1, float(number)),))
                database.write(lambda c, n=number, p=plan: projects.add_revision(c, owner, n, p, "Moved"))  # type: ignore[misc]
            with database.snapshot() as c:
                archive.write_archive(c, owner, Path(folder) / "shed.zip")
            owner = database.write(lambda c: projects.add_project(c, "Shed", Plan()))
            database.close()
            context = multiprocessing.get_context("fork")  # what was loaded once need not be loaded again
            chance = random.Random(20261128)
            told: list[tuple[str, object, object]] = []
            for turn in range(KILLS):
                here, there = context.Pipe(duplex=False)
                child = context.Process(target=work, args=(str(path), turn, there), daemon=True)
                child.start()
                there.close()
                for _ in range(chance.randint(*LET_GO)):
                    told.append(here.recv())
                time.sleep(chance.uniform(0, 0.01))  # somewhere in the middle of what comes next
                assert child.pid
                os.kill(child.pid, signal.SIGKILL)
                child.join()
                try:
                    while here.poll(0):
                        told.append(here.recv())
                except EOFError:
                    pass
                here.close()
                self.check(path, owner, told[-50:])
            self.assertGreaterEqual(len(told), LET_GO[0] * KILLS)
            self.check(path, owner, told)

    def check(self, path: Path, owner: str, told: list[tuple[str, object, object]]) -> None:
        """As after a start: sound, nothing that was acknowledged lost, states that can be."""
        database = Database(path)
        try:
            with database.reading() as c:
                self.assertEqual(c.execute("PRAGMA integrity_check").fetchone()[0], "ok")
                self.assertIsNone(c.execute("PRAGMA foreign_key_check").fetchone())
                labels = {line[0]: line[2] for line in projects.history(c, owner)}
                log = {p.id: p for p in prints.prints_of(c, owner, 100_000)}
                sizes = dict(c.execute("SELECT sha256, sum(length(content)) FROM source_chunks GROUP BY sha256").fetchall())
                for what, name, value in told:
                    if what == "revision":
                        self.assertEqual(labels[name], value)  # type: ignore[index]
                    elif what == "archive":
                        self.assertEqual(len(projects.history(c, str(name))), value)
                    elif what == "source":
                        self.assertEqual(sizes[name], value)
                    else:
                        order = ["sending", "sent", "printing", "done"]
                        self.assertGreaterEqual(order.index(log[name].state), order.index(str(value)))  # type: ignore[index]
                for one in log.values():
                    self.assertEqual(len(one.items), 2)
                    self.assertEqual(one.ended_at is not None, one.state in ENDED)
                    states = {i.state for i in one.items}
                    self.assertEqual(
                        states, {"printed" if one.state == "done" else "printing" if one.state == "printing" else "in a batch"}
                    )
                self.assertEqual(max(labels), projects.project(c, owner).tip)
        except sqlite3.DatabaseError as error:  # pragma: no cover - the point of the test
            self.fail(f"the database is damaged: {error}")
        finally:
            database.close()
