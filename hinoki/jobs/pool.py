"""The worker pool: a project always goes to the same worker, so that its solids are still there.

Ready-made pools restart a process on every cancel and hand jobs to whichever is free; here the geometry kept alive in a
worker is what makes the second build cheap, so each worker has its own queue and is stopped politely first. Only what somebody
waits for, such as a build, does not wait behind other work: while its worker is busy with a proposal, an assembly or the like,
a spare one does it. With a cluster all else is done there.
"""

import logging
import queue
import threading
import time
import zlib
from functools import partial
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from pathlib import Path
from typing import TYPE_CHECKING

from hinoki.jobs.forkserver import read_ahead, serve_jobs, worker_context
from hinoki.jobs.job import ENDED, GRACE_S, LONGEST_S, SUDDEN, Job, took_too_long
from hinoki.jobs.threads import share_cores

if TYPE_CHECKING:
    from hinoki.jobs.cluster import Cluster, ClusterAddress

SPARE_S = 120.0
"""how long a spare worker is kept after its last build"""
LOG = logging.getLogger(__name__)


class Pool:
    """Worker processes and their queues."""

    def __init__(
        self,
        database: Path,
        cache_folder: Path,
        workers: int = 2,
        longest_s: float = LONGEST_S,
        cluster: "ClusterAddress | None" = None,
    ) -> None:
        share_cores(workers)
        read_ahead()
        self._cluster = None if cluster is None else self._reached(cluster, database, cache_folder, longest_s)
        self._new_seat = partial(_Seat, database, cache_folder, longest_s)
        self._seats = [self._new_seat() for _ in range(workers)]
        self._spare: list[_Seat] = []
        self._jobs: dict[str, Job] = {}
        self._lock = threading.Lock()

    def submit(self, job: Job) -> Job:
        """Queue a job; older builds of the same project are cancelled, since nobody waits for them any more."""
        with self._lock:
            for other in list(self._jobs.values()):
                if other.state in ENDED:
                    if len(self._jobs) > 500:
                        del self._jobs[other.id]
                elif job.operation.newest_only and job.kind == other.kind and other.project_id == job.project_id:
                    other.cancel_asked = True
            self._jobs[job.id] = job
            if self._cluster is not None and self._cluster.takes(job):
                self._cluster.put(job)
            else:
                self._seat_for(job).put(job)
        return job

    def _reached(self, at: "ClusterAddress", database: Path, cache_folder: Path, longest_s: float) -> "Cluster":
        from hinoki.jobs.cluster import Cluster  # read by those who have one

        return Cluster(at, database, cache_folder, self._do_here, longest_s)

    def _do_here(self, job: Job) -> None:
        with self._lock:
            self._seat_for(job).put(job)

    def _seat_for(self, job: Job) -> "_Seat":
        """The project's own worker; for what somebody waits for, and would wait there, a spare one."""
        own = self._seats[zlib.crc32(job.project_id.encode()) % len(self._seats)]
        if job.operation.lane != "interactive" or not own.keeps_waiting(job):
            return own
        free = next((seat for seat in self._spare if not seat.keeps_waiting(job)), None)
        if free is None and len(self._spare) < len(self._seats):
            free = self._new_seat(SPARE_S)
            self._spare.append(free)
        return free or own

    def same(self, job: Job) -> Job | None:
        """A job that has not ended and asks the same for the same project: what is told of a job, and what is saved when it is
        done, is its own project's."""

        def asks(one: Job) -> tuple[str, str, str]:
            return one.kind, one.asked.target, one.project_id

        going_on = (j for j in list(self._jobs.values()) if j.state not in ENDED and not j.cancel_asked)
        return next((j for j in going_on if asks(j) == asks(job)), None) if job.asked.target else None

    def job(self, job_id: str) -> Job | None:
        """A job by its id."""
        return self._jobs.get(job_id)

    def running(self, project_id: str) -> list[Job]:
        """Jobs of a project that have not ended."""
        return [j for j in list(self._jobs.values()) if j.project_id == project_id and j.state not in ENDED]

    def processes(self) -> list[int]:
        """Process ids of the workers that are alive."""
        seats = (*self._seats, *self._spare)
        return [s.process.pid for s in seats if s.process is not None and s.process.pid and s.process.is_alive()]

    def close(self) -> None:
        """End all workers, and leave the cluster."""
        if self._cluster is not None:
            self._cluster.close()
        for seat in (*self._seats, *self._spare):
            seat.close()


class _Seat:
    """One worker process, its queue, and the thread that looks after it."""

    def __init__(self, database: Path, cache_folder: Path, longest_s: float, idle_s: float | None = None) -> None:
        self._where = str(database), str(cache_folder)
        self._longest_s, self._idle_s = longest_s, idle_s
        self._queue: queue.Queue[Job | None] = queue.Queue()
        self._waiting: list[Job] = []
        """jobs that were put here and have not ended"""
        self.process: BaseProcess | None = None
        self._pipe: Connection | None = None
        self._line: Connection | None = None
        """never written to: its end is the worker's end"""
        self._closed = False
        self._changing = threading.Lock()
        self._thread = threading.Thread(target=self._look_after, name="worker seat", daemon=True)
        self._thread.start()

    def put(self, job: Job) -> None:
        """Queue a job."""
        self._waiting.append(job)
        self._queue.put(job)

    def keeps_waiting(self, job: Job) -> bool:
        """Whether a job would wait here for anything but an older one of its kind, which is stopped anyway."""
        self._waiting = [j for j in self._waiting if j.state not in ENDED]
        newest = job.operation.newest_only
        return any(not (newest and (j.kind, j.project_id) == (job.kind, job.project_id)) for j in self._waiting)

    def close(self) -> None:
        """End the process and the thread; the thread sees its pipe end, and what still waits is cancelled."""
        with self._changing:
            self._closed = True
            self._kill()
        self._queue.put(None)
        self._thread.join(timeout=5)
        self._end_process()

    def _look_after(self) -> None:
        while (job := self._next()) is not None:
            if job.cancel_asked or self._closed:
                job.end("cancelled")
                continue
            try:
                self._run(job)
            except (EOFError, OSError):
                self._end_process()
                job.end("failed", failure=SUDDEN)
            except Exception:  # whatever it was, the next job needs somebody to look after it
                LOG.exception("job=%s kind=%s project=%s could not be looked after", job.id, job.kind, job.project_id)
                self._end_process()
                job.end("failed", failure=SUDDEN)

    def _next(self) -> Job | None:
        """The next job, or None at the end; a spare worker's process ends while it has nothing to do for long."""
        try:
            return self._queue.get(timeout=self._idle_s)
        except queue.Empty:
            self._end_process()
            return self._queue.get()

    def _run(self, job: Job) -> None:
        pipe = self._started()
        job.begun()
        pipe.send(("job", job.id, job.kind, job.asked))
        began, asked_at = time.monotonic(), 0.0
        while True:
            if pipe.poll(0.05) and self._hear(job, pipe.recv()):
                return
            now = time.monotonic()
            if job.cancel_asked and not asked_at:
                asked_at = now
                pipe.send(("cancel", job.id))
            if asked_at and now - asked_at > GRACE_S:
                self._end_process()
                job.end("cancelled")
                return
            if now - began > self._longest_s:
                self._end_process()
                job.end("failed", failure=took_too_long(self._longest_s))
                return

    def _hear(self, job: Job, message: tuple) -> bool:  # type: ignore[type-arg]
        """Take a worker's message; True when the job has ended."""
        what, job_id, *rest = message
        return job_id == job.id and job.hear(what, *rest)

    def _started(self) -> Connection:
        """The pipe to the process, started where it does not run. Raises OSError once the seat is closed."""
        if self.process is None or not self.process.is_alive() or self._pipe is None:
            self._end_process()
            with self._changing:
                if self._closed:
                    raise OSError("the pool is closed")
                context = worker_context()
                self._pipe, theirs = context.Pipe()
                line, self._line = context.Pipe(duplex=False)
                self.process = context.Process(  # type: ignore[attr-defined]
                    target=serve_jobs, args=(theirs, line, *self._where), name="hinoki worker", daemon=True
                )
                self.process.start()
                theirs.close()
                line.close()
        return self._pipe

    def _end_process(self) -> None:
        self._kill()
        for end in (self._pipe, self._line):
            if end is not None:
                end.close()
        self.process = self._pipe = self._line = None

    def _kill(self) -> None:
        if self.process is not None and self.process.is_alive():
            self.process.kill()
            self.process.join(timeout=5)
