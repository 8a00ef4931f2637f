"""`python3 run.py bench cluster [QUESTIONS]`: proposals and orientations answered by 1, 2 and 4 workers of this machine.

Half of the questions are proposals, half orientations, each about a small model of its own. The floor is the same work in this
process, one question after the other. What a question costs besides its work, and how large it is, is measured too: the figures
of docs/scale.md.
"""

import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import orjson

from hinoki.core.build import build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting
from hinoki.core.plan.plan import read_plan
from hinoki.core.propose import Wishes, propose
from hinoki.demo.projects import LIGHTHOUSE
from hinoki.jobs.answering import answered
from hinoki.jobs.cluster import ClusterAddress
from hinoki.jobs.cluster_worker import SentFiles
from hinoki.jobs.job import Job
from hinoki.jobs.memory import taken_bytes
from hinoki.jobs.pool import Pool
from hinoki.store.database import Database
from hinoki.store.tables import projects
from hinoki.store.tables.sources import SourceFacts, add_source
from tests.questions import job_of
from tests.shapes import box, plan_for, stl_of

QUESTIONS = 200
WORKERS = (1, 2, 4)
SECONDS = 3600.0
SAVED = 100


def main() -> int:
    """Measure and print a table."""
    number = int(sys.argv[1]) if len(sys.argv) > 1 else QUESTIONS
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        database = Database(folder / "h.sqlite")
        asked = [_question(database, folder, k) for k in range(number)]
        begun = time.perf_counter()
        sizes = [_alone(job, data) for job, data in asked]
        floor = time.perf_counter() - begun
        print(f"{number} questions in this process: {floor:.1f} s, {number / floor:.2f} a second")
        for what, found in (("model file", [len(data) for _, data in asked]), ("question", [_size(job) for job, _ in asked])):
            print(f"{what}: {statistics.median(found):.0f} bytes (median)")
        print(f"answer with its files: {statistics.median(sizes):.0f} bytes (median)")
        _for_paper(database)
        print(f"{'workers':>8}{'starts s':>10}{'all s':>8}{'a second':>10}{'of floor':>10}")
        for workers in WORKERS:
            _measure(database, folder, workers, [job for job, _ in asked], floor)
        database.close()
    return 0


def _for_paper(database: Database) -> None:
    """What docs/scale.md reckons with: the demo lighthouse, edited and divided by one process."""
    data, cache = LIGHTHOUSE.source(), Cache()
    plan = LIGHTHOUSE.plan(data)
    project = database.write(lambda c: projects.add_project(c, "Lighthouse", plan))
    head = iter(range(1, SAVED + 1))
    saving = _seconds(lambda: database.write(lambda c: projects.add_revision(c, project, next(head), plan, "Edited")), SAVED)
    build(plan, lambda _: data, cache)
    first = plan.partings[0]
    if not isinstance(first, FlatParting):
        raise RuntimeError("the lighthouse begins with a flat parting")
    moved = iter(plan.model_copy(update={"partings": (_raised(first, k), *plan.partings[1:])}) for k in range(1, 6))
    editing = _seconds(lambda: build(next(moved), lambda _: data, cache), 5)
    bare = plan.model_copy(update={"partings": (), "joints": ()})
    proposing = _seconds(lambda: propose(bare, lambda _: data, Cache(), Wishes(), lambda _share, _phrase: None), 1)
    print(
        f"lighthouse: file {len(data) / 1e6:.1f} MB, plan {len(plan.json_text()) / 1e3:.0f} kB; saved in {1e3 * saving:.1f} ms,"
    )
    print(
        f"built in {editing:.2f} s (a parting moved), proposals in {proposing:.1f} s; a process of {taken_bytes() / 1e6:.0f} MB"
    )


def _seconds(work: Callable[[], object], times: int) -> float:
    begun = time.perf_counter()
    for _ in range(times):
        work()
    return (time.perf_counter() - begun) / times


def _raised(parting: FlatParting, by_mm: float) -> FlatParting:
    return parting.model_copy(update={"at_mm": parting.at_mm + by_mm})


def _measure(database: Database, folder: Path, workers: int, asked: list[Job], floor: float) -> None:
    begun = time.perf_counter()
    pool = Pool(database.path, folder / f"cache-{workers}", 1, SECONDS, ClusterAddress(f"local:{workers}"))
    started = time.perf_counter() - begun
    try:
        _all(pool, [_question(database, folder, -k)[0] for k in range(1, 4 * workers)])  # what workers read at first
        took = _all(pool, [_again(job) for job in asked])
    finally:
        pool.close()
    print(f"{workers:>8}{started:>10.1f}{took:>8.1f}{len(asked) / took:>10.2f}{floor / took:>10.2f}", flush=True)


def _all(pool: Pool, jobs: list[Job]) -> float:
    begun = time.perf_counter()
    for job in jobs:
        pool.submit(job)
    for job in jobs:
        job.wait(SECONDS)
    return time.perf_counter() - begun


def _question(database: Database, folder: Path, number: int) -> tuple[Job, bytes]:
    data = stl_of(box(30, 20, 120 + 0.1 * number))
    path = folder / f"{number}.stl"
    path.write_bytes(data)
    plan = plan_for(data, bed=(80.0, 80.0, 80.0))
    if plan.model is None:
        raise RuntimeError("a plan of a model names it")
    facts = SourceFacts(plan.model.source, path.name, len(data), 12, (1.0, 1.0, 1.0))
    database.write(lambda c: add_source(c, path, facts))
    kind = ("propose", "orient")[number % 2]
    return job_of(kind, plan=plan.json_text(), target=f"{kind}-{number}.json", project=f"project {number}"), data


def _again(job: Job) -> Job:
    return job_of(job.kind, plan=job.asked.situation.plan, target=job.asked.target, project=job.project_id)


def _alone(job: Job, data: bytes) -> int:
    """Answer it here; the size of what came of it."""
    files = SentFiles({use.source: data for use in read_plan(job.asked.situation.plan).all_files}, {})
    ended = answered(job.kind, job.asked, files, Cache(), lambda _share, _phrase: None)
    if ended.what != "done":
        raise RuntimeError(f"{job.kind}: {ended.said}")
    return sum(map(len, files.made.values()))


def _size(job: Job) -> int:
    return len(orjson.dumps(job.asked.request)) + len(job.asked.situation.plan)


if __name__ == "__main__":
    sys.exit(main())
