"""What the routers share: the database, the pool, the folders, and who listens to which project."""

import asyncio
import contextlib
import hashlib
import shutil
import tempfile
import threading
from collections import defaultdict
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

import orjson
from pydantic import BaseModel

from hinoki import __version__
from hinoki.api.shared.printer_watch import Watch
from hinoki.core.export.archive import ExportWish
from hinoki.core.export.manifest import WentOut
from hinoki.core.printlog.records import Print
from hinoki.jobs.job import ENDED, Job
from hinoki.jobs.pool import Pool
from hinoki.jobs.questions import CACHE_FORMAT, Questions
from hinoki.operations.build import BuildDone
from hinoki.operations.context import Situation
from hinoki.operations.model import Inspect
from hinoki.operations.registry import Nothing, find
from hinoki.present.printlog import needed_of
from hinoki.present.schemas.build import BuildView
from hinoki.store.backups import BEFORE, restore
from hinoki.store.cache_files import LIMIT, CacheFiles, used
from hinoki.store.database import Database
from hinoki.store.folder_lock import locked
from hinoki.store.tables import export_history as went_out
from hinoki.store.tables import prints, projects, workshop

if TYPE_CHECKING:
    from hinoki.jobs.cluster import ClusterAddress

UPLOAD_LIMIT = 500_000_000
T = TypeVar("T")


class State:
    """One running application."""

    def __init__(
        self,
        folder: Path,
        upload_limit: int = UPLOAD_LIMIT,
        cache_limit: int = LIMIT,
        cluster: "ClusterAddress | None" = None,
    ) -> None:
        self.folder, self.upload_limit = folder, upload_limit
        self.incoming, self.cache = folder / "incoming", folder / "cache"
        self.listeners = Listeners()
        self.making: list[str] = []
        """demo projects that are still to come"""
        self._lock = threading.Lock()
        with contextlib.ExitStack() as opening:  # what was opened is closed where the next cannot be
            opening.enter_context(locked(folder))
            shutil.rmtree(self.incoming, ignore_errors=True)  # uploads that a killed server left half done
            self.incoming.mkdir(parents=True, exist_ok=True)
            self.database = Database(folder / "hinoki.sqlite")
            opening.callback(self.database.close)
            self.database.write(workshop.fill_if_empty)
            self.files = CacheFiles(self.cache, cache_limit, self._to_be_sent)
            opening.callback(self.files.close)
            self.files.changed()  # the limit may be another now
            self.pool = Pool(self.database.path, self.cache, cluster=cluster)
            opening.callback(self.pool.close)
            self.questions = Questions(self.database, self.pool, self.cache, self.files, self._tell)
            self.watch = Watch(self.database, self.cache / "exports", self.tell_print, self.needed)
            opening.callback(self.watch.close)
            self._opened = opening.pop_all()

    def before_closing(self, what: Callable[[], object]) -> None:
        """Have something ended before all else is closed."""
        self._opened.callback(what)

    def until_closed(self, context: contextlib.AbstractContextManager[T]) -> T:
        """Enter a context that is left before all else is closed; gives what entering gave."""
        return self._opened.enter_context(context)

    def close(self) -> None:
        """Stop looking at printers, stop the workers and close the database."""
        self._opened.close()

    @property
    def before_restore(self) -> Path:
        """What was here before the last restore; there may be none."""
        return self.folder / BEFORE

    def last_picture(self, project_id: str) -> Path:
        """Where the last picture of a project is kept, drawn or shipped with it; there may be none."""
        return self.folder / "pictures" / f"{project_id}.png"

    def upload_path(self) -> Path:
        """A new, empty place for an upload."""
        handle = tempfile.NamedTemporaryFile(dir=self.incoming, delete=False)  # noqa: SIM115 - only its name is wanted
        handle.close()
        return Path(handle.name)

    @contextlib.contextmanager
    def made(self) -> Iterator[Path]:
        """A new place for a file that is made to be handed out; nothing is left of it where that fails."""
        path = self.upload_path()
        try:
            yield path
        except BaseException:
            path.unlink(missing_ok=True)
            raise

    def build_path(self, project_id: str, revision: int) -> Path:
        """Where the view of a revision's build is kept."""
        name = hashlib.sha256(f"{project_id} {revision} {__version__} {CACHE_FORMAT}".encode()).hexdigest()[:32]
        return self.cache / "builds" / f"{name}.json"

    def built(self, project_id: str, revision: int) -> bytes | None:
        """The view of a build if it and all its meshes are there."""
        path = self.build_path(project_id, revision)
        with contextlib.suppress(FileNotFoundError):
            content = path.read_bytes()
            view = BuildView.model_validate_json(content)
            names = [p.mesh for p in view.pieces] + [item.mesh for item in view.loose] + [m.mesh for m in view.marks]
            names += [w.mesh for w in view.ways] + [b.mesh for b in view.bought]
            names += [p.mesh for part in view.parts for p in part.pieces]
            meshes = [self.cache / "meshes" / f"{name}.bin" for name in names]
            if all(mesh.exists() for mesh in meshes):
                for used_now in (path, *meshes):
                    used(used_now)
                return content
        return None

    def start_build(self, project_id: str, revision: int) -> Job:
        """Ask for a build of a revision; the same one that is under way is given again."""
        own = find("build")
        place = self.questions.situation(project_id, revision, own.needs)
        target = self.build_path(project_id, revision).name
        return self.questions.ask(own, Nothing(), place, project_id, str(revision), target, self._keep_build)

    def start_export(self, project_id: str, revision: int, wish: ExportWish) -> Job:
        """Ask for an export of a revision."""
        own = find("export")
        place = self.questions.situation(project_id, revision, own.needs)
        asked = hashlib.sha256(wish.model_dump_json().encode()).hexdigest()[:8]
        target = f"{project_id[:12]}-{revision}-{asked}.json"
        return self.questions.ask(own, wish, place, project_id, str(revision), target, self._keep_export)

    def needed(self, project_id: str) -> dict[str, int]:
        """How many of each thing the model needs as it is shown, where it is built."""
        with self.database.reading() as connection:
            head = projects.project(connection, project_id).head
        content = self.built(project_id, head)
        if content is None:
            return {}
        return {n.key: n.count for n in needed_of(BuildView.model_validate_json(content))}

    def tell_print(self, one: Print) -> None:
        """Tell all windows of a project how a print is."""
        brief = one.model_dump(include={"id", "number", "state", "progress", "gone_since", "minutes", "grams", "why"})
        self.listeners.tell(one.project_id, "print", brief)

    def ask(
        self,
        operation: str,
        request: BaseModel,
        project_id: str,
        revision: int,
        plan: str | None = None,
        on_done: Callable[[Job, Any], Any] = lambda _job, result: result,
    ) -> Job:
        """Ask an operation about a revision's plan, or about another of the same project, given as JSON."""
        own = find(operation)
        place = self.questions.situation(project_id, revision, own.needs)
        if plan is not None:
            place = place.model_copy(update={"plan": plan})
        return self.questions.ask(own, request, place, project_id, str(revision), on_done=on_done)

    def start_inspection(self, project_id: str, path: Path, file_name: str) -> Job:
        """Ask for an upload to be read."""
        with self.database.reading() as connection:
            projects.project(connection, project_id)
        return self.questions.ask(
            find("inspect"), Inspect(path=str(path), file_name=file_name), Situation(), project_id, file_name
        )

    def _keep_build(self, job: Job, result: Any) -> Any:
        done = BuildDone.model_validate(result)
        self.database.write(lambda c: projects.remember_numbers(c, job.project_id, done.numbers))
        self.database.write(lambda c: projects.remember_shapes(c, job.project_id, int(job.subject), done.shapes))
        return None

    def _keep_export(self, job: Job, result: Any) -> Any:
        held = WentOut.model_validate_json((self.cache / "answers" / job.asked.target).read_bytes())
        wish = ExportWish.model_validate(job.asked.request)
        self.database.write(lambda c: went_out.remember(c, job.project_id, int(job.subject), wish, held))
        return f"{str(result).rpartition('.')[0]}.zip"

    def _to_be_sent(self) -> list[str]:
        """Files of prints that are not at their printer yet."""
        with self.database.reading() as connection:
            return [p.batch.file for p in prints.active_prints(connection)]

    def _tell(self, job: Job) -> None:
        if job.state in ENDED:
            self.files.changed()
        self.listeners.tell(job.project_id, "job", job_view(job))

    def restore(self, path: Path) -> None:
        """Take over a backup; what was computed from what was here before is computed anew.

        What was here is kept beside the database (see before_restore). Raises HinokiError for what is no sound backup; then
        nothing is changed.
        """
        restore(self.database, path, self.before_restore, self.incoming)
        for name in ("builds", "exports"):
            for old in (self.cache / name).iterdir():
                old.unlink(missing_ok=True)
        self.files.changed()
        self.watch.look_now()
        self.listeners.tell_all("restored", {})

    def told_revision(self, project_id: str, revision: int) -> None:
        """Tell all windows of a project that another revision is shown."""
        self.listeners.tell(project_id, "revision", {"revision": revision})


def job_view(job: Job) -> dict[str, object]:
    """A job as the browser sees it."""
    return {
        "id": job.id,
        "kind": job.kind,
        "subject": job.subject,
        "state": job.state,
        "fraction": round(job.fraction, 3),
        "phrase": job.phrase,
        "message": job.failure.message if job.failure else None,
        "where": job.failure.where if job.failure else None,
        "pieces": job.pieces if job.state == "running" else {},
        "result": job.result if isinstance(job.result, str) else None,
    }


class Listeners:
    """Windows that listen to a project, each with its own queue on the event loop."""

    def __init__(self) -> None:
        self._queues: dict[str, set[asyncio.Queue[tuple[str, bytes]]]] = defaultdict(set)
        self._loop: asyncio.AbstractEventLoop | None = None
        self._lock = threading.Lock()

    def add(self, project_id: str) -> asyncio.Queue[tuple[str, bytes]]:
        """A new listener; call it on the event loop."""
        self._loop = asyncio.get_running_loop()
        waiting: asyncio.Queue[tuple[str, bytes]] = asyncio.Queue(maxsize=1000)
        with self._lock:
            self._queues[project_id].add(waiting)
        return waiting

    def remove(self, project_id: str, waiting: asyncio.Queue[tuple[str, bytes]]) -> None:
        """A window has gone."""
        with self._lock:
            self._queues[project_id].discard(waiting)

    def tell_all(self, event: str, data: dict[str, object]) -> None:
        """Send to all windows of all projects."""
        for project_id in list(self._queues):
            self.tell(project_id, event, data)

    def tell(self, project_id: str, event: str, data: dict[str, object]) -> None:
        """Send to all windows of a project; callable from any thread."""
        loop = self._loop
        if loop is None or loop.is_closed():
            return
        content = orjson.dumps(data)
        with self._lock:
            for waiting in self._queues[project_id]:
                loop.call_soon_threadsafe(_offer, waiting, (event, content))


def _offer(waiting: asyncio.Queue[tuple[str, bytes]], item: tuple[str, bytes]) -> None:
    if waiting.full():
        waiting.get_nowait()  # a window that does not listen loses old progress, never the newest
    waiting.put_nowait(item)
