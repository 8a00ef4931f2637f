"""Questions put to workers: what operations need is gathered, results are found again, equal questions are asked once."""

import hashlib
import re
import sqlite3
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any, Literal

import orjson
from pydantic import BaseModel

from hinoki import __version__
from hinoki.core.batch.print_items import Known
from hinoki.core.printlog.edit_impact import PrintedPiece, printed_now
from hinoki.jobs.job import Asked, Job
from hinoki.jobs.pool import Pool
from hinoki.operations.context import Need, Situation
from hinoki.operations.registry import Operation
from hinoki.store.cache_files import CacheFiles, used
from hinoki.store.database import Database
from hinoki.store.tables import prints, projects, spools, step_photos, workshop

CACHE_FORMAT = "6"
"""another one when what is kept of results is read otherwise"""


class Questions:
    """Asks operations of workers, for projects as they are shown and for plans that belong to none."""

    def __init__(
        self, database: Database, pool: Pool, cache: Path, files: CacheFiles, on_change: Callable[[Job], None]
    ) -> None:
        self._database, self.pool, self._cache, self._files = database, pool, cache, files
        self._on_change = on_change
        self._lock = threading.Lock()

    def situation(self, project_id: str, revision: int, needs: frozenset[Need]) -> Situation:
        """The plan of a revision, and of the rest what is needed."""
        known = self.known() if {"known", "power_price"} & needs else Situation()
        with self._database.reading() as connection:
            return Situation(
                plan=projects.revision(connection, project_id, revision).plan.json_text(),
                numbers=projects.piece_numbers(connection, project_id) if "numbers" in needs else {},
                known=known.known if "known" in needs else Known(),
                power_price=known.power_price if "power_price" in needs else 0.0,
                title=projects.project(connection, project_id).name if "title" in needs else "",
                revision=revision if "revision" in needs else 0,
                project=project_id if {"project", "photos"} & needs else "",
                printed=self._printed(connection, project_id) if "printed" in needs else [],
                photos=step_photos.photos(connection, project_id) if "photos" in needs else {},
            )

    def _printed(self, connection: sqlite3.Connection, project_id: str) -> list[PrintedPiece]:
        return printed_now(prints.prints_of(connection, project_id), projects.shapes(connection, project_id))

    def known(self) -> Situation:
        """What estimates need besides a plan: the price of power, what was learned, what is on spools."""
        with self._database.reading() as connection:
            found = Known(factors=prints.learned_factors(connection), stock_g=spools.on_spools(connection))
            return Situation(power_price=workshop.settings(connection).power_price, known=found)

    def ask(  # noqa: PLR0913 - how a question is asked, by name
        self,
        operation: Operation,
        request: BaseModel,
        situation: Situation,
        project_id: str = "",
        subject: str = "",
        target: str | None = None,
        on_done: Callable[[Job, Any], Any] = lambda _job, result: result,
    ) -> Job:
        """Ask an operation. A result that is kept is given at once; a question that is being answered for the project
        is not asked again.

        `target` names the result where it does not go by what was asked; then it is made anew.
        """
        said = request.model_dump(mode="json", by_alias=True)
        name = target or self._name(operation, said, situation)
        asked = Asked(said, situation, name if operation.kept or target else "")
        job = Job(operation, project_id, asked, subject, on_change=self._on_change, on_done=on_done)
        if asked.target:
            self._files.note(project_id, asked.target)
        path = self._cache / "answers" / name
        there = path.exists() and (not operation.edits or self.plan_of(name) is not None)
        if target is None and operation.kept and there:
            used(path)
            job.fraction = 1.0
            job.end("done", name)
            return job
        with self._lock:
            same = self.pool.same(job)
            if same is not None:
                same.askers += target is None
                return same
            return self.pool.submit(job)

    def answer(self, operation: str, name: str) -> bytes | None:
        """The result of a question asked before."""
        path = self._cache / "answers" / name
        return path.read_bytes() if re.fullmatch(rf"{operation}-[0-9a-f]{{32}}\.json", name) and path.exists() else None

    def plan_of(self, name: str, which: Literal["plan", "kept"] = "plan") -> bytes | None:
        """The plan that an operation which edits made (see `operations.edits`), by the name of its result."""
        path = (self._cache / "answers" / name).with_suffix(f".{which}.json")
        return path.read_bytes() if path.exists() else None

    def _name(self, operation: Operation, request: dict[str, Any], situation: Situation) -> str:
        asked = orjson.dumps(
            [operation.name, request, situation.only(operation.needs), __version__, CACHE_FORMAT],
            option=orjson.OPT_SORT_KEYS,
        )
        return f"{operation.name}-{hashlib.sha256(asked).hexdigest()[:32]}.json"
