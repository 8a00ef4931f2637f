"""Thousands of damaged model files, in this process and over HTTP: nothing but a model or a refusal, and none takes long.

`python3 run.py bench fuzz --many 10000 --http 300`
"""

import argparse
import logging
import resource
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path
from random import Random

from hinoki.core.errors import HinokiError
from hinoki.core.formats.registry import read_file
from tests.mutations import mutated, seeds

MOST_S = 5.0
MOST_KB = 1_000_000


class Unforeseen(logging.Handler):
    """Counts what only the guard around the readers caught."""

    def __init__(self) -> None:
        super().__init__(logging.ERROR)
        self.kinds: Counter[str] = Counter()

    def emit(self, record: logging.LogRecord) -> None:
        """One more."""
        if record.exc_info and record.exc_info[1]:
            error, trace = record.exc_info[1], record.exc_info[2]
            while trace and trace.tb_next:
                trace = trace.tb_next
            at = f"{Path(trace.tb_frame.f_code.co_filename).name}:{trace.tb_lineno}" if trace else ""
            self.kinds[f"{type(error).__name__} {at}"] += 1


def in_process(many: int, seed: int) -> bool:
    """Read so many damaged files; whether all went well."""
    rng, good, unforeseen = Random(seed), seeds(), Unforeseen()
    logger = logging.getLogger("hinoki.core.formats.registry")
    logger.addHandler(unforeseen)
    logger.propagate = False
    came: Counter[str] = Counter()
    slowest, where = 0.0, ""
    for k in range(many):
        ending = rng.choice(sorted(good))
        data = mutated(ending, good[ending], rng)
        begun = time.perf_counter()
        try:
            read_file(data, f"a{ending}")
            came["a model"] += 1
        except HinokiError:
            came["a refusal"] += 1
        except Exception as error:  # noqa: BLE001 - that there is none is what is looked for
            came[f"UNCAUGHT {type(error).__name__}"] += 1
        took = time.perf_counter() - begun
        if took > slowest:
            slowest, where = took, f"number {k}, {ending}"
        if k % 500 == 499:
            print(f"{k + 1} of {many}", file=sys.stderr, flush=True)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    print(f"{many} damaged files in process (seed {seed}): {dict(came)}")
    print(f"  slowest {slowest:.2f} s ({where}); peak {peak / 1000:.0f} MB; caught only by the guard: {dict(unforeseen.kinds)}")
    return slowest < MOST_S and peak < MOST_KB and not any(kind.startswith("UNCAUGHT") for kind in came)


def over_http(many: int, seed: int) -> bool:
    """Send so many damaged files to a server of its own; whether each was answered as it should be."""
    import httpx

    from tests.api.serving import started

    rng, good = Random(seed), seeds()
    came: Counter[int] = Counter()
    slowest = 0.0
    with tempfile.TemporaryDirectory() as folder:
        process, address = started("serve", Path(folder))
        try:
            with httpx.Client(base_url=address, timeout=120, verify=False) as http:
                made = http.post("/api/projects", json={"name": "Damaged"}).json()
                project, revision = made["project_id"], made["revision"]
                for _ in range(many):
                    ending = rng.choice(sorted(good))
                    data = mutated(ending, good[ending], rng)
                    begun = time.perf_counter()
                    url = f"/api/projects/{project}/model?file_name=a{ending}&base_revision={revision}"
                    answer = http.post(url, content=data)
                    slowest = max(slowest, time.perf_counter() - begun)
                    came[answer.status_code] += 1
                    if answer.status_code == 200:
                        revision = answer.json()["revision"]
        finally:
            process.terminate()
            process.wait()
    print(f"{many} damaged files over HTTP (seed {seed}): statuses {dict(came)}; slowest {slowest:.2f} s")
    return slowest < MOST_S and set(came) <= {200, 413, 422}


def main() -> int:
    """Both; gives 0 where all went well."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--many", type=int, default=10_000)
    parser.add_argument("--http", type=int, default=300)
    parser.add_argument("--seed", type=int, default=1)
    given = parser.parse_args()
    well = in_process(given.many, given.seed)
    return 0 if (not given.http or over_http(given.http, given.seed)) and well else 1


if __name__ == "__main__":
    sys.exit(main())
