"""Follows the printers: sends what waits, asks how prints go, and writes what is heard into the log. One thread a printer, so
that one that hangs delays no other."""

import logging
import sqlite3
import threading
import time
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path

from hinoki.core.errors import HinokiError
from hinoki.core.printlog.printer_connection import Machine
from hinoki.core.printlog.records import Print
from hinoki.printers.adapters import adapter_for
from hinoki.printers.base import Adapter, MachineProblem, Status
from hinoki.printers.status_events import Step, after_hearing, after_problem
from hinoki.store.database import Database
from hinoki.store.tables import printers as shelf
from hinoki.store.tables import prints
from hinoki.store.tables.sources import now

log = logging.getLogger("hinoki.printers")
EVERY_S = 0.4
MOST_AT_ONCE = 8
SAVED_EVERY_S = 5.0
"""how often progress is written down; what changes state is at once"""


class Watch:
    """Looks after all prints under way, until it is closed."""

    def __init__(
        self,
        database: Database,
        exports: Path,
        tell: Callable[[Print], None],
        needed: Callable[[str], dict[str, int]],
        every_s: float = EVERY_S,
    ) -> None:
        self._database, self._exports, self._tell, self._needed = database, exports, tell, needed
        self._every_s = every_s
        self._adapters: dict[str, tuple[Machine, Adapter]] = {}
        self._replaced: list[Adapter] = []
        self._busy: dict[str, Future[None]] = {}
        self._saved: dict[str, float] = {}
        self._closed, self._wake = threading.Event(), threading.Event()
        self._hands = ThreadPoolExecutor(MOST_AT_ONCE, thread_name_prefix="printer")
        self._thread = threading.Thread(target=self._run, name="watch", daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Stop looking; prints go on, and are found again at the next start."""
        self._closed.set()
        self._wake.set()
        self._thread.join(timeout=5)
        self._hands.shutdown(wait=True, cancel_futures=True)  # each ends within its time-out; the database is closed after
        for adapter in (*(kept for _, kept in self._adapters.values()), *self._replaced):
            adapter.close()

    def look_now(self) -> None:
        """Something was sent out, or changed: do not wait."""
        self._wake.set()

    def adapter(self, machine: Machine) -> Adapter:
        """The adapter of a printer, kept while its address stays."""
        kept = self._adapters.get(machine.id)
        if kept is None or (kept[0].way, kept[0].address) != (machine.way, machine.address):
            if kept is not None:
                self._replaced.append(kept[1])  # somebody may be speaking through it now
            kept = machine, adapter_for(machine)
            self._adapters[machine.id] = kept
        return kept[1]

    def status(self, machine: Machine) -> Status:
        """How a printer is now. Raises MachineProblem."""
        return self.adapter(machine).status()

    def _run(self) -> None:
        while not self._closed.is_set():
            self._wake.clear()
            try:
                self._look()
            except sqlite3.Error:
                log.exception("looking for prints under way")
            self._wake.wait(self._every_s)

    def _look(self) -> None:
        with self._database.reading() as connection:
            waiting = prints.active_prints(connection)
            known = {m.id: m for m in shelf.machines(connection)} if waiting else {}
        by_machine: dict[str, list[Print]] = {}
        for one in waiting:
            if one.machine_id in known:
                by_machine.setdefault(one.machine_id, []).append(one)
        for machine_id, own in by_machine.items():
            before = self._busy.get(machine_id)
            if before is None or before.done():
                self._busy[machine_id] = self._hands.submit(self._follow, known[machine_id], own)

    def _follow(self, machine: Machine, own: list[Print]) -> None:
        for one in own:
            if self._closed.is_set():
                return
            try:
                step = self._step(machine, one)
                try:
                    self._take(one, step)
                except HinokiError as error:  # stopped or deleted in a window meanwhile: that holds, at the printer, too
                    log.info("print %s: %s", one.number, error.message)
                    if step is not None and step.state == "sent" and self.adapter(machine).follows:
                        self.adapter(machine).cancel(one.id)
            except MachineProblem as problem:
                log.info("print %s: %s", one.number, problem.says)
            except Exception:  # one print must not keep the others from being followed
                log.exception("following print %s of %s", one.number, one.project_id)

    def _step(self, machine: Machine, one: Print) -> Step | None:
        """What follows for a print from asking its printer once; None where nothing does."""
        try:
            adapter = self.adapter(machine)
            if one.state == "sending":
                return self._send(adapter, one)
            return after_hearing(one, adapter.heard(one.id)) if adapter.follows else None
        except MachineProblem as problem:
            return after_problem(one, problem, now())

    def _send(self, adapter: Adapter, one: Print) -> Step:
        file = self._exports / one.batch.file
        try:
            content = file.read_bytes()
        except OSError:
            return Step("refused", one.progress, why="Its file is not there any more. Send the batch out again.")
        adapter.send(one.id, one.batch, content)
        return Step("sent", one.progress)

    def _take(self, one: Print, step: Step | None) -> None:
        if step is None:
            return
        changed = step.state != one.state or (step.gone_since is None) != (one.gone_since is None)
        quick = step.progress != one.progress or step.gone_since != one.gone_since
        if not changed and not quick:
            return
        write = changed or time.monotonic() - self._saved.get(one.id, -SAVED_EVERY_S) >= SAVED_EVERY_S
        if write:
            self._saved[one.id] = time.monotonic()
            self._database.write(lambda c: prints.heard(c, one.id, step.progress, step.gone_since, step.minutes, step.grams))
        if step.state != one.state:
            self._come_to(one, step)
        with self._database.reading() as connection:
            after = prints.one_print(connection, one.id)
        self._tell(after if write else after.model_copy(update={"progress": step.progress}))

    def _come_to(self, one: Print, step: Step) -> None:
        needed = self._needed(one.project_id) if step.state == "done" else {}
        self._database.write(
            lambda c: prints.come_to(c, one.id, step.state, step.fell, step.minutes, step.grams, step.why, needed)
        )
