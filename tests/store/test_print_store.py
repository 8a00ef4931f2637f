"""Prints in the store: lives by a state machine of random steps, spools, two windows, the clock set back."""

import sqlite3
import tempfile
import unittest
from datetime import UTC, datetime
from pathlib import Path
from unittest.mock import patch

from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule

from hinoki.core.errors import ChangedElsewhere, HinokiError, InUse, NotFound, NotSo
from hinoki.core.plan.plan import Plan
from hinoki.core.printlog.printer_connection import Machine
from hinoki.core.printlog.records import Item, Print
from hinoki.core.printlog.spools import NewSpool
from hinoki.core.printlog.states import ACTIVE, ENDED, MADE, PIECE_STATES, REASONS, print_may
from hinoki.store.database import Database, migrate
from hinoki.store.tables import fit_answers, print_photos, prints, projects, spools
from hinoki.store.tables import printers as machines
from hinoki.store.tables import workshop as shelf
from tests.effort import either
from tests.printed import prepared

STATES = (*ACTIVE, *ENDED)


def memory() -> sqlite3.Connection:
    connection = sqlite3.connect(":memory:", isolation_level=None)
    connection.row_factory = sqlite3.Row
    connection.execute("PRAGMA foreign_keys = ON")
    migrate(connection)
    shelf.fill_if_empty(connection)
    return connection


class Lives(RuleBasedStateMachine):
    """Printers and people say things in any order; what cannot follow is refused, and the rest hangs together."""

    def __init__(self) -> None:
        super().__init__()
        self.c = memory()
        self.project = projects.add_project(self.c, "Shed", Plan())
        projects.remember_shapes(self.c, self.project, 1, {"a": "s", "b": "s"})
        spools.add_spool(self.c, NewSpool(material_id="pla", name="Sand", full_g=500))
        self.used = 0.0
        self.known: list[str] = []

    @rule(keys=st.lists(st.sampled_from(["a", "b", "loose key"]), min_size=1, max_size=4), spool=st.booleans())
    def send(self, keys: list[str], spool: bool) -> None:
        one = prints.add_print(self.c, self.project, 1, prepared(*keys, grams=40.0), (None, "by hand"), 1 if spool else None)
        self.known.append(one.id)

    @precondition(lambda self: self.known)
    @rule(data=st.data(), then=st.sampled_from(STATES), grams=st.sampled_from([None, 20.0, 45.0]))
    def comes_to(self, data: st.DataObject, then: str, grams: float | None) -> None:
        one = prints.one_print(self.c, data.draw(st.sampled_from(self.known)))
        names = [i.name for i in one.items][:1]
        if print_may(one.state, then):  # type: ignore[arg-type]
            after = prints.come_to(self.c, one.id, then, dict.fromkeys(names, "came loose"), 90.0, grams, "", {"a": 1})  # type: ignore[arg-type]
            self.assert_print(after)
            if then in ENDED and then != one.state and one.spool_id:
                self.used += grams if grams is not None else (one.grams or 0.0)
        else:
            with unittest.TestCase().assertRaises(NotSo):
                prints.come_to(self.c, one.id, then)  # type: ignore[arg-type]

    @precondition(lambda self: self.known)
    @rule(
        data=st.data(), to=st.sampled_from(PIECE_STATES), stale=st.booleans(), result=st.sampled_from([None, "good", "failed"])
    )
    def say(self, data: st.DataObject, to: str, stale: bool, result: str | None) -> None:
        one = prints.one_print(self.c, data.draw(st.sampled_from(self.known)))
        item = data.draw(st.sampled_from(one.items))
        version = item.version - 1 if stale else item.version
        try:
            now = prints.mark(self.c, one.id, item.item, version, to, result, "warped")  # type: ignore[arg-type]
        except ChangedElsewhere:
            assert stale
        except NotSo:
            assert not stale
            assert prints.one_print(self.c, one.id).items[item.item].state == item.state
        else:
            assert now.version == item.version + 1

    @precondition(lambda self: self.known)
    @rule(data=st.data())
    def forget(self, data: st.DataObject) -> None:
        one = prints.one_print(self.c, data.draw(st.sampled_from(self.known)))
        if one.active:
            with unittest.TestCase().assertRaises(ChangedElsewhere):
                prints.delete_print(self.c, one.id)
        else:
            prints.delete_print(self.c, one.id)
            self.known.remove(one.id)

    def assert_print(self, one: Print) -> None:
        assert (one.ended_at is not None) == (one.state in ENDED)
        assert one.begun_at is None or one.begun_at >= one.sent_at
        for item in one.items:
            if one.state in ENDED:
                assert item.state not in ("in a batch", "printing"), (one.state, item.state)

    @invariant()
    def all_hangs_together(self) -> None:
        log = prints.prints_of(self.c, self.project)
        assert sorted(p.id for p in log) == sorted(self.known)
        assert len({p.number for p in log}) == len(log)
        items: list[Item] = [i for p in log for i in p.items]
        for one in log:
            assert len(one.items) == len(one.batch.items)
        for item in items:
            assert (item.state == "failed") == (item.result == "failed")
            assert (item.reason is not None) == (item.state == "failed")
            assert item.reason is None or item.reason in REASONS
        (row,) = projects.list_projects(self.c)
        made = {i.key for i in items if i.state in MADE} & {"a", "b"}
        assert (row.pieces, row.printed) == (2, len(made))
        assert prints.live(self.c, self.project) == sum(i.state in ("in a batch", "printing", *MADE) for i in items)
        left = spools.spools(self.c)[0].left_g
        assert abs(left - max(0.0, 500 - self.used)) < 1e-6 or self.used > 500

    def teardown(self) -> None:
        assert self.c.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        assert self.c.execute("PRAGMA foreign_key_check").fetchone() is None
        self.c.close()


class LivesTest(Lives.TestCase):  # type: ignore[misc,name-defined]
    """The machine, run as a test of this module."""

    settings = settings(
        max_examples=either(10, 100),
        stateful_step_count=25,
        deadline=None,
        derandomize=True,
        suppress_health_check=list(HealthCheck),
    )


class Kept(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.database = Database(Path(folder.name) / "hinoki.sqlite")
        self.addCleanup(self.database.close)
        self.write = self.database.write
        self.write(shelf.fill_if_empty)
        self.project = self.write(lambda c: projects.add_project(c, "Shed", Plan()))

    def send(self, *keys: str, spool: int | None = None) -> Print:
        return self.write(lambda c: prints.add_print(c, self.project, 1, prepared(*keys), ("m", "Sim"), spool))

    def test_what_is_more_than_needed_is_a_spare(self) -> None:
        one = self.send("loose key", "loose key", "loose key")
        done = self.write(lambda c: prints.come_to(c, one.id, "done", needed={"loose key": 2}))
        self.assertEqual([i.state for i in done.items], ["printed", "printed", "spare"])
        again = self.send("loose key")
        done = self.write(lambda c: prints.come_to(c, again.id, "done", needed={"loose key": 2}))
        self.assertEqual(done.items[0].state, "spare")

    def test_what_is_out_of_date_does_not_count_as_printed(self) -> None:
        c = memory()
        project = projects.add_project(c, "Shed", Plan())
        projects.remember_shapes(c, project, 1, {"a": "s", "b": "s"})
        one = prints.add_print(c, project, 1, prepared("a", "b"), (None, "by hand"))
        for state in ("sent", "printing", "done"):
            prints.come_to(c, one.id, state)  # type: ignore[arg-type]

        def counts() -> tuple[int, int]:
            row = next(r for r in projects.list_projects(c) if r.id == project)
            return row.pieces, row.printed

        self.assertEqual(counts(), (2, 2))
        projects.remember_shapes(c, project, 1, {"a": "s", "b": "another shape"})
        self.assertEqual(counts(), (2, 1))
        projects.remember_shapes(c, project, 1, {"a": "s", "b": "s"})
        self.assertEqual(counts(), (2, 2))

    def test_times_are_iso_8601_and_never_run_backwards(self) -> None:
        one = self.send("a")
        self.assertEqual(datetime.fromisoformat(one.sent_at).tzinfo, UTC)
        with patch("hinoki.store.tables.prints.now", return_value="2001-01-01T00:00:00.000+00:00"):
            done = self.write(lambda c: prints.come_to(c, one.id, "done"))
        assert done.begun_at
        assert done.ended_at
        self.assertGreaterEqual(done.begun_at, done.sent_at)
        self.assertGreaterEqual(done.ended_at, done.begun_at)
        self.assertGreaterEqual(done.items[0].changed_at, one.sent_at)

    def test_a_spool_goes_down_and_a_correction_follows(self) -> None:
        self.write(lambda c: spools.add_spool(c, NewSpool(material_id="pla", name="Sand", full_g=200, left_g=150)))
        one = self.send("a", spool=1)
        self.write(lambda c: prints.come_to(c, one.id, "done", grams=50.0))
        self.write(lambda c: prints.annotate(c, one.id, None, None, 60.0))
        with self.database.reading() as c:
            self.assertEqual(spools.on_spools(c), {"pla": 90.0})
        self.write(lambda c: spools.weigh(c, 1, 80.0))
        self.write(lambda c: spools.drop_spool(c, 1))
        with self.database.reading() as c:
            self.assertIsNone(prints.one_print(c, one.id).spool_id)
        with self.assertRaises(NotFound):
            self.write(lambda c: spools.add_spool(c, NewSpool(material_id="none", name="x")))

    def test_what_was_learned_is_told_by_group(self) -> None:
        for minutes in (110.0, 120.0, 130.0):
            one = self.send("a")
            self.write(lambda c, one=one, m=minutes: prints.come_to(c, one.id, "done", minutes=m, grams=52.0))  # type: ignore[misc]
        with self.database.reading() as c:
            found = prints.learned_factors(c)["bench-220/pla"]
        self.assertEqual((found.time, found.mass, found.prints), (1.2, 1.04, 3))

    def test_progress_adds_up_print_by_print(self) -> None:
        for fell in ({}, {"1 a": "came loose"}):
            one = self.send("a", "b")
            self.write(lambda c, o=one, f=fell: prints.come_to(c, o.id, "done", f, 60.0, 20.0))  # type: ignore[misc]
        with self.database.reading() as c:
            self.assertEqual(
                [(d.pieces, d.failed, d.hours, d.grams) for d in prints.done_by(c, self.project)],
                [(2, 0, 1, 20), (3, 1, 2, 40)],
            )
            self.assertEqual((len(prints.prints_of(c, self.project, 1)), prints.count_prints(c, self.project)), (1, 2))

    def test_a_printer_in_use_stays(self) -> None:
        self.write(lambda c: machines.put_machine(c, Machine(id="m", name="Sim", address="http://x", printer_id="bench-220")))
        self.send("a")
        with self.assertRaises(InUse):
            self.write(lambda c: machines.drop_machine(c, "m"))

    def test_photographs_go_with_their_print(self) -> None:
        one = self.send("a")
        self.write(lambda c: print_photos.keep_print_photo(c, one.id, b"jpeg"))
        self.write(lambda c: prints.come_to(c, one.id, "stopped"))
        with self.database.reading() as c:
            self.assertEqual(prints.one_print(c, one.id).photo, __import__("hashlib").sha256(b"jpeg").hexdigest())
        self.write(lambda c: prints.delete_print(c, one.id))
        with self.database.reading() as c:
            self.assertIsNone(print_photos.print_photo(c, one.id))
            self.assertEqual(fit_answers.fit_answers(c), [])

    def test_a_deleted_project_takes_its_log_along(self) -> None:
        self.send("a")
        self.write(lambda c: projects.delete_project(c, self.project))
        with self.database.reading() as c:
            self.assertEqual(c.execute("SELECT count(*) FROM print_items").fetchone()[0], 0)

    def test_an_unknown_print_is_told(self) -> None:
        with self.assertRaises(HinokiError), self.database.reading() as c:
            prints.one_print(c, "nothing")
