"""What the routers share: the database, the pool, the folders, and who listens to which project."""

import asyncio
import contextlib
import hashlib
import re
import shutil
import tempfile
import threading
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import orjson

from hinoki import __version__
from hinoki.api.shared.printer_watch import Watch
from hinoki.core.batch.print_items import Known
from hinoki.core.export.archive import ExportWish
from hinoki.core.export.manifest import WentOut
from hinoki.core.printlog.records import Print
from hinoki.jobs.job import ENDED, Job, Kind
from hinoki.jobs.pool import Pool
from hinoki.present.printlog import needed_of
from hinoki.present.schemas.build import BuildView
from hinoki.store.backups import BEFORE, restore
from hinoki.store.cache_files import LIMIT, CacheFiles, used
from hinoki.store.database import Database
from hinoki.store.folder_lock import locked
from hinoki.store.tables import export_history as went_out
from hinoki.store.tables import prints, projects, spools, workshop

CACHE_FORMAT = 6
UPLOAD_LIMIT = 500_000_000


class State:
    """One running application."""

    def __init__(self, folder: Path, upload_limit: int = UPLOAD_LIMIT, cache_limit: int = LIMIT) -> None:
        self.folder, self.upload_limit = folder, upload_limit
        self.incoming, self.cache = folder / "incoming", folder / "cache"
        self.listeners = Listeners()
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
            self.pool = Pool(self.database.path, self.cache)
            opening.callback(self.pool.close)
            self.watch = Watch(self.database, self.cache / "exports", self.tell_print, self.needed)
            opening.callback(self.watch.close)
            self._opened = opening.pop_all()

    def close(self) -> None:
        """Stop looking at printers, stop the workers and close the database."""
        self._opened.close()

    @property
    def before_restore(self) -> Path:
        """What was here before the last restore; there may be none."""
        return self.folder / BEFORE

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
            meshes = [self.cache / "meshes" / f"{name}.bin" for name in names]
            if all(mesh.exists() for mesh in meshes):
                for used_now in (path, *meshes):
                    used(used_now)
                return content
        return None

    def start_build(self, project_id: str, revision: int) -> Job:
        """Ask for a build of a revision; the same one that is under way is given again."""
        with self._lock:
            for job in self.pool.running(project_id):
                if job.kind == "build" and job.subject == str(revision) and not job.cancel_asked:
                    return job
            return self.pool.submit(self._job("build", project_id, revision, self.build_path(project_id, revision).name))

    def start_export(self, project_id: str, revision: int, title: str, wish: ExportWish) -> Job:
        """Ask for an export of a revision."""
        more = {**self.known(), "wish": wish.model_dump(mode="json"), "title": title, "revision": revision}
        asked = hashlib.sha256(orjson.dumps(more, option=orjson.OPT_SORT_KEYS)).hexdigest()[:8]
        job = self._job("export", project_id, revision, f"{project_id[:12]}-{revision}-{asked}.zip")
        job.payload.update(more)
        return self.pool.submit(job)

    def known(self, only: dict[str, int] | None = None) -> dict[str, object]:
        """What estimates need besides the plan: the price of power, what was learned, what is on spools, and, for a reprint,
        what alone is to be printed."""
        with self.database.reading() as connection:
            price = workshop.settings(connection).power_price
            found = Known(factors=prints.learned_factors(connection), stock_g=spools.on_spools(connection), only=only)
        return {"power_price": price, "known": found.model_dump(mode="json")}

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

    def ask(self, kind: Kind, project_id: str, revision: int, **more: object) -> Job:
        """Ask a question about a revision's model; the answer becomes a file named by what was asked."""
        with self.database.reading() as connection:
            plan = projects.revision(connection, project_id, revision).plan.json_text()
        return self.ask_about(kind, plan, project_id, str(revision), **more)

    def ask_about(self, kind: Kind, plan: str, project_id: str = "", subject: str = "", **more: object) -> Job:
        """Ask a question about a plan, given as JSON, that may belong to no project."""
        asked = orjson.dumps([kind, plan, more, __version__, CACHE_FORMAT])
        target = f"{kind}-{hashlib.sha256(asked).hexdigest()[:32]}.json"
        job = Job(kind, project_id, {"plan": plan, "target": target, **more}, subject, on_change=self._tell)
        self.files.note(project_id, target)
        if (self.cache / "answers" / target).exists():
            used(self.cache / "answers" / target)
            job.state, job.fraction, job.result = "done", 1.0, target
            return job
        return self.pool.submit(job)

    def answer(self, kind: Kind, name: str) -> bytes | None:
        """The answer to a question asked before."""
        path = self.cache / "answers" / name
        return path.read_bytes() if re.fullmatch(rf"{kind}-[0-9a-f]{{32}}\.json", name) and path.exists() else None

    def start_inspection(self, project_id: str, path: Path, file_name: str) -> Job:
        """Ask for an upload to be read."""
        with self.database.reading() as connection:
            projects.project(connection, project_id)
        payload = {"path": str(path), "file_name": file_name}
        return self.pool.submit(Job("inspect", project_id, payload, subject=file_name, on_change=self._tell))

    def _job(self, kind: str, project_id: str, revision: int, target: str) -> Job:
        with self.database.reading() as connection:
            plan = projects.revision(connection, project_id, revision).plan
            numbers = projects.piece_numbers(connection, project_id)
        payload = {"plan": plan.json_text(), "numbers": numbers, "target": target}
        self.files.note(project_id, target)
        kind_of: Kind = "build" if kind == "build" else "export"
        return Job(kind_of, project_id, payload, str(revision), on_change=self._tell, on_done=self._keep)

    def _keep(self, job: Job, result: Any) -> Any:
        if job.kind == "export":
            self._remember_export(job)
            return result
        if result:
            self.database.write(lambda c: projects.remember_numbers(c, job.project_id, result["numbers"]))
            self.database.write(lambda c: projects.remember_shapes(c, job.project_id, int(job.subject), result["shapes"]))
        return None

    def _to_be_sent(self) -> list[str]:
        """Files of prints that are not at their printer yet."""
        with self.database.reading() as connection:
            return [p.batch.file for p in prints.active_prints(connection)]

    def _tell(self, job: Job) -> None:
        if job.state in ENDED:
            self.files.changed()
        self.listeners.tell(job.project_id, "job", job_view(job))

    def _remember_export(self, job: Job) -> None:
        held = WentOut.model_validate_json((self.cache / "exports" / f"{job.payload['target']}.json").read_bytes())
        wish = ExportWish.model_validate(job.payload["wish"])
        self.database.write(lambda c: went_out.remember(c, job.project_id, int(job.subject), wish, held))

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
