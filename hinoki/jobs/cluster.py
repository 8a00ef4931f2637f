"""Heavy work on more than one machine: background operations are answered by the workers of a Dask cluster.

Questions go by what is asked, so that equal ones are worked out once whoever asks them; model files go once, by their hash.
Dask gives what a dead worker was doing to another. Where the cluster cannot be reached, this machine does the work itself.
"""

import contextlib
import logging
import threading
import time
from collections import defaultdict
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from hinoki.core.errors import BadPlan, HinokiError
from hinoki.core.plan.plan import read_plan
from hinoki.jobs import cluster_worker as there
from hinoki.jobs.atomic_write import save
from hinoki.jobs.job import GRACE_S, LONGEST_S, SUDDEN, Failure, Job, took_too_long
from hinoki.store.database import reader_connection
from hinoki.store.tables.sources import source_bytes
from hinoki.store.tables.step_photos import photo

LOCAL = "local:"
"""how the address of a cluster begins that is made of processes of this machine"""
MOST_AT_ONCE = 256
"""questions that are with the cluster; more wait here"""
TRIES = 3
CONNECT_S = 10.0
AGAIN_S = 30.0
"""a cluster that was lost is looked for at most so often"""
LOOKS_EVERY_S = 0.1
SOURCES_BYTES = 1_000_000_000
"""of model files that stay on the cluster; those used last"""
DASK = {
    "distributed.admin.large-graph-warning-threshold": "10GB",  # a model file is large and meant to be
    "distributed.worker.profile.enabled": False,  # looking at what runs a hundred times a second, and giving memory back
    "distributed.nanny.pre-spawn-environ": {"OMP_NUM_THREADS": 1},  # at every turn, take a fifth of the time
}
"""what of Dask's settings is otherwise"""
LOG = logging.getLogger(__name__)


class Gone(Exception):
    """The cluster does not answer."""


@dataclass(frozen=True)
class ClusterAddress:
    """Where a cluster is: `tcp://…`, `tls://…`, or `local:N`; and the files with which TLS is spoken, if it is."""

    address: str
    ca: Path | None = None
    certificate: Path | None = None
    key: Path | None = None


class Cluster:
    """A cluster's client. `fall_back` does a job on this machine. Raises BadPlan where the cluster cannot be reached at the
    start."""

    def __init__(
        self,
        at: ClusterAddress,
        database: Path,
        cache_folder: Path,
        fall_back: Callable[[Job], object],
        longest_s: float = LONGEST_S,
    ) -> None:
        self._at, self._database, self._folder = at, database, cache_folder
        self._fall_back, self._longest_s = fall_back, longest_s
        self._local: Any = None
        self._lock = threading.Lock()
        self._closed = threading.Event()
        self._doing: defaultdict[str, list[Job]] = defaultdict(list)
        """who waits for a question, by its key; the first one asked it"""
        self._askers: dict[str, str] = {}
        self._sources: dict[str, tuple[Any, int]] = {}
        """model files on the cluster, and their size in bytes"""
        self._tried = time.monotonic()
        self._client: Any = self._connect()
        self._hands = ThreadPoolExecutor(MOST_AT_ONCE, thread_name_prefix="cluster")

    @staticmethod
    def takes(job: Job) -> bool:
        """Whether a job may be done elsewhere: nobody waits with the hand on the mouse, and it needs no file of here."""
        return job.operation.lane == "background" and job.operation.asked_by_url

    def put(self, job: Job) -> None:
        """Send a job there."""
        self._hands.submit(self._look_after, job)

    def close(self) -> None:
        """Leave the cluster; what it still does for us is stopped."""
        self._closed.set()
        self._hands.shutdown(wait=True)
        with contextlib.suppress(Exception):  # it may be gone already
            self._client.close(timeout=2)
        if self._local is not None:
            self._local.close(timeout=5)

    def _look_after(self, job: Job) -> None:
        try:
            for number in range(TRIES):
                if self._attempt(job, number):
                    return
            job.end("failed", failure=SUDDEN)
        except HinokiError as error:
            job.end("failed", failure=Failure(error.message, error.where, error.status, error.code))
        except Gone:
            LOG.warning("job=%s kind=%s: the cluster %s does not answer; done here", job.id, job.kind, self._at.address)
            self._fall_back(job)
        except Exception:
            LOG.exception("job=%s kind=%s project=%s could not be looked after", job.id, job.kind, job.project_id)
            job.end("failed", failure=SUDDEN)

    def _attempt(self, job: Job, number: int) -> bool:
        """Send a job and wait for its end; False where it is to be sent again. Raises Gone."""
        client = self._connected()
        key = f"hinoki-{job.kind}-{job.asked.target or job.id}" + (f"-{number}" if number else "")
        with self._lock:
            self._doing[key].append(job)
            self._askers.setdefault(key, job.id)
        try:
            future = self._sent(client, job, key)
            return self._ended(client, future, job, key)
        except (OSError, TimeoutError) as error:
            raise Gone from error
        finally:
            with self._lock:
                self._doing[key].remove(job)
                if not self._doing[key]:
                    del self._doing[key], self._askers[key]

    def _sent(self, client: Any, job: Job, key: str) -> Any:
        plan, photos = job.asked.situation.plan, {}
        with contextlib.closing(reader_connection(self._database)) as connection:
            uses = read_plan(plan).all_files if plan else ()
            sources = {use.source: self._source(client, connection, use.source) for use in uses}
            for unit in job.asked.situation.photos:
                found = photo(connection, job.asked.situation.project, unit)
                if found is not None:
                    photos[unit] = found
        question = there.Question(key, self._askers[key], job.kind, job.asked, photos)
        return client.submit(there.answer, question, sources, key=key, pure=False)

    def _source(self, client: Any, connection: Any, sha256: str) -> Any:
        """The model file on the cluster, sent where it is not there yet."""
        with self._lock:
            future, size = self._sources.pop(sha256, (None, 0))
        if future is None or future.client is not client or future.status in ("cancelled", "lost", "error"):
            content = source_bytes(connection, sha256)
            future, size = client.submit(there.model_file, content, key=f"hinoki-source-{sha256}", pure=False), len(content)
        with self._lock:
            self._sources[sha256] = future, size
            while len(self._sources) > 1 and sum(bytes_ for _, bytes_ in self._sources.values()) > SOURCES_BYTES:
                del self._sources[next(iter(self._sources))]
        return future

    def _ended(self, client: Any, future: Any, job: Job, key: str) -> bool:
        ready = threading.Event()
        future.add_done_callback(lambda _: ready.set())
        began, asked_at = time.monotonic(), 0.0
        while not ready.wait(LOOKS_EVERY_S):
            now = time.monotonic()
            if client.status != "running":
                raise Gone
            if self._closed.is_set():
                job.cancel_asked = True
            if job.cancel_asked and self._others(key, job):
                job.end("cancelled")  # somebody else still waits for the same
                return True
            if job.cancel_asked and not asked_at:
                asked_at = now
                self._leave(client, future, key)
            late = job.state == "running" and now - began > self._longest_s
            if (asked_at and now - asked_at > GRACE_S) or late:
                self._restart_where(client, key)
                job.end("failed", failure=took_too_long(self._longest_s)) if late else job.end("cancelled")
                return True
            if job.state == "queued":
                began = now
        return self._heard(client, future, job)

    def _heard(self, client: Any, future: Any, job: Job) -> bool:
        if future.status == "finished":
            found: there.Answer = future.result(timeout=60)
            if found.ended.what == "cancelled" and not job.cancel_asked:
                return False  # somebody else left the same question
            for path, content in found.files.items():
                save(self._folder / path, content)
            return job.hear(found.ended.what, *found.ended.said)
        if job.cancel_asked:
            job.end("cancelled")
            return True
        if client.status != "running":
            raise Gone
        if future.status == "error":
            LOG.error("job=%s kind=%s failed on the cluster: %s", job.id, job.kind, future.exception(timeout=60))
            job.end("failed", failure=SUDDEN)
            return True
        return False

    def _others(self, key: str, job: Job) -> bool:
        with self._lock:
            return any(other is not job and not other.cancel_asked for other in self._doing[key])

    def _leave(self, client: Any, future: Any, key: str) -> None:
        """A question that is being worked on is left by itself; one that waits is taken back."""
        if any(key in keys for keys in client.processing().values()):
            client.run(there.leave, self._askers[key], on_error="return")
        else:
            future.cancel()

    def _restart_where(self, client: Any, key: str) -> None:
        """End the worker that does not stop; another one takes its place."""
        found = [address for address, keys in client.processing().items() if key in keys]
        if found:
            client.restart_workers(found, timeout=CONNECT_S, raise_for_error=False)

    def _told(self, event: tuple[float, tuple[str, float, str]]) -> None:
        """Hear of progress."""
        _, (key, fraction, phrase) = event
        with self._lock:
            jobs = list(self._doing.get(key, ()))
        for job in jobs:
            if job.state == "queued":
                job.begun()
            job.hear("progress", fraction, phrase)

    def _connected(self) -> Any:
        """The client. Raises Gone; a cluster that was lost is looked for again now and then."""
        with self._lock:
            if self._client is not None and self._client.status == "running":
                return self._client
            if self._closed.is_set() or time.monotonic() - self._tried < AGAIN_S:
                raise Gone
            self._tried = time.monotonic()
            self._sources.clear()
            try:
                self._client = self._connect()
            except BadPlan as error:
                raise Gone from error
            return self._client

    def _connect(self) -> Any:
        """A client of the cluster. Raises BadPlan where there is none, or Dask is not installed."""
        try:
            import dask
            from distributed import Client
        except ImportError:
            raise BadPlan("--cluster needs Dask. Install it: pip install 'hinoki[cluster]'.", "--cluster") from None
        logging.getLogger("distributed").setLevel(logging.ERROR)  # what comes and goes is told here
        dask.config.set(DASK)
        where: Any = self._at.address
        if where.startswith(LOCAL):
            where = self._local = _processes(where.removeprefix(LOCAL))
        try:
            client = Client(where, security=_security(self._at), timeout=CONNECT_S, set_as_default=False)
        except (OSError, TimeoutError, ValueError) as error:
            text = f"The cluster at {self._at.address} cannot be reached ({error}). Start its scheduler first."
            raise BadPlan(text, "--cluster") from None
        client.subscribe_topic(there.TOPIC, self._told)
        return client


def _processes(number: str) -> Any:
    """A cluster of so many processes of this machine. Raises BadPlan for what is no number of them."""
    from distributed import LocalCluster

    if not number.isdigit() or not 1 <= int(number) <= 64:
        raise BadPlan("Say local: and how many processes, 1 to 64, such as local:4.", "--cluster")
    return LocalCluster(n_workers=int(number), threads_per_worker=1, processes=True, host="127.0.0.1", dashboard_address=None)


def _security(at: ClusterAddress) -> Any:
    """How TLS is spoken, or None where it is not."""
    from distributed.security import Security

    if at.ca is None and at.certificate is None and at.key is None:
        return None
    for path in (at.ca, at.certificate, at.key):
        if path is None or not path.is_file():
            raise BadPlan("TLS needs --cluster-ca, --cluster-cert and --cluster-key, each a PEM file.", "--cluster-ca")
    return Security(
        tls_ca_file=str(at.ca), tls_client_cert=str(at.certificate), tls_client_key=str(at.key), require_encryption=True
    )
