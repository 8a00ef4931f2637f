"""`python3 run.py bench kept`: whether what leaves Hinoki is still what it was: files, findings and figures.

The four demo projects and the ten models of `bench.models` go through `hinoki make`. Of each the hash of every file is kept,
the codes of its findings, and the figures of its report. `--write` keeps them (`bench/kept.json`); without it they are compared
with what was kept, and every difference is told.
"""

import argparse
import hashlib
import json
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from pathlib import Path
from typing import Any

from bench.models import MODELS, model_file
from hinoki.demo.projects import DEMOS

KEPT = Path(__file__).parent / "kept.json"
WORDS = ("message", "says", "how", "notes", "label", "seconds", "name", "text")
"""fields of a report that hold sentences or times"""
Result = dict[str, Any]


def main() -> int:
    """Make all, then keep or compare."""
    parser = argparse.ArgumentParser(prog="run.py bench kept")
    parser.add_argument("--write", action="store_true", help="keep what comes out now")
    parser.add_argument("--only", nargs="*", help="names of demo projects or models")
    options = parser.parse_args()
    names = [*(d.path.stem for d in DEMOS), *MODELS]
    wanted = [n for n in names if not options.only or n in options.only]
    with tempfile.TemporaryDirectory() as folder, ThreadPoolExecutor(2) as pool:
        found = dict(zip(wanted, pool.map(partial(_made, Path(folder)), wanted), strict=True))
    if options.write:
        KEPT.write_text(json.dumps(found, indent=1, sort_keys=True) + "\n")
        return 0
    kept = json.loads(KEPT.read_text())
    differing = [line for name in wanted for line in _differences(name, kept.get(name, {}), found[name])]
    print("\n".join(differing) or "all the same")
    return 1 if differing else 0


def _made(folder: Path, name: str) -> Result:
    demo = next((d for d in DEMOS if d.path.stem == name), None)
    data = demo.source() if demo else model_file(name)
    model, out = folder / f"{name}{_ending(data)}", folder / name
    model.write_bytes(data)
    how = ["--plan", str(demo.path)] if demo else ["--bed", "220x220x250"]
    begun = time.perf_counter()
    ran = subprocess.run(
        [sys.executable, "-m", "hinoki.cli", "make", str(model), *how, "--out", str(out)],
        capture_output=True,
        text=True,
        check=False,
    )
    print(f"{name}: exit {ran.returncode}, {time.perf_counter() - begun:.0f} s", flush=True)
    if ran.returncode > 1:
        return {"exit": ran.returncode, "said": ran.stderr.splitlines()[-1:]}
    report = json.loads((out / "report.json").read_text())
    return {
        "exit": ran.returncode,
        "model": hashlib.sha256(data).hexdigest(),
        "files": {
            str(p.relative_to(out)): hashlib.sha256(p.read_bytes()).hexdigest()[:16]
            for p in sorted(out.rglob("*"))
            if p.is_file() and p.name != "report.json"
        },
        "findings": sorted(f"{f['severity']} {f['code']}" for f in [*report["findings"], *report["assembly"]["findings"]]),
        "figures": dict(_figures(report, "")),
    }


def _ending(data: bytes) -> str:
    return ".3mf" if data[:2] == b"PK" else ".glb" if data[:4] == b"glTF" else ".stl"


def _figures(value: Any, path: str) -> Iterator[tuple[str, float | str | bool | None]]:
    """Everything of a report but its sentences and times, by path; long lists as one hash."""
    if isinstance(value, dict):
        for key, inner in value.items():
            if key not in WORDS and key != "findings":
                yield from _figures(inner, f"{path}.{key}")
    elif isinstance(value, list) and value and not isinstance(value[0], dict):
        yield path, json.dumps(value) if len(value) <= 3 else hashlib.sha256(json.dumps(value).encode()).hexdigest()[:16]
    elif isinstance(value, list):
        for k, inner in enumerate(value):
            yield from _figures(inner, f"{path}[{k}]")
    else:
        yield path, value


def _differences(name: str, kept: Result, found: Result) -> Iterator[str]:
    for part in ("exit", "said", "model", "findings"):
        if kept.get(part) != found.get(part):
            yield f"{name}: {part} was {kept.get(part)}, is {found.get(part)}"
    for part in ("files", "figures"):
        before, after = kept.get(part, {}), found.get(part, {})
        for key in sorted(before.keys() | after.keys()):
            if before.get(key) != after.get(key):
                yield f"{name}: {part} {key} was {before.get(key)}, is {after.get(key)}"


if __name__ == "__main__":
    sys.exit(main())
