"""`python3 run.py bench`: the table of docs/performance.md."""

import argparse
import json
import resource
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import asdict, dataclass
from datetime import UTC, datetime
from pathlib import Path

import numpy as np

from bench.assemble import table as assemble_table
from bench.divide import table as divide_table
from bench.floor import Tool, floor_seconds
from bench.join import table as join_table
from bench.log import table as log_table
from bench.model import table as model_table
from bench.parts import table as parts_table
from bench.print import table as print_table
from hinoki.core.build import Build, build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting
from hinoki.core.export.archive import lying
from hinoki.core.formats.stl import write_stl
from hinoki.core.join.joints import PinJoint
from hinoki.core.plan.plan import Plan
from tests.shapes import plan_for, torus

SIZES = {100_000: (316, 158), 500_000: (707, 354), 1_000_000: (1000, 500), 5_000_000: (2236, 1118)}
ROUNDS = 3
LARGE = 2_000_000
"""so many triangles are measured once"""
PARTINGS = (
    FlatParting(id="p1", axis="z", at_mm=20.3),
    FlatParting(id="p2", axis="x", at_mm=1.7),
    FlatParting(id="p3", axis="y", at_mm=-2.9),
)
DOC = Path(__file__).parents[1] / "docs" / "performance.md"


@dataclass
class Row:
    """Figures of one size."""

    triangles: int
    floor_s: float
    full_s: float
    move_s: float
    read_s: float
    part_s: float
    join_s: float
    write_s: float
    peak_mb: float

    @property
    def ratio(self) -> float:
        """Full build against the floor."""
        return self.full_s / self.floor_s

    @property
    def move_ratio(self) -> float:
        """Moving one pin against the full build."""
        return self.move_s / self.full_s


def measure(triangles: int) -> Row:
    """One size, the best of ROUNDS for each figure."""
    rounds = ROUNDS if triangles < LARGE else 1
    data = write_stl(torus(90, 20, *SIZES[triangles], 1.5))
    plan = _pinned(data)
    best: dict[str, float] = {}
    full = move = float("inf")
    for _ in range(rounds):
        built = again = cache = None  # what the last round kept is not this one's memory
        seconds: dict[str, float] = {}
        cache = Cache()
        begun = time.perf_counter()
        built = build(plan, lambda _: data, cache, seconds=seconds)
        writing = time.perf_counter()
        _write(plan, built)
        ended = time.perf_counter()
        if ended - begun < full:
            full, best = ended - begun, {**seconds, "write": ended - writing}
        moved = _moved(plan, built)
        begun = time.perf_counter()
        again = build(moved, lambda _: data, cache)
        _write(moved, again, {p.made_by for p in built.parts})
        move = min(move, time.perf_counter() - begun)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    if built is None:
        raise RuntimeError("nothing was built")
    tools, planes = _tools(built), [(p.frame.n.tolist(), p.frame.offset) for p in PARTINGS]
    floor = min(floor_seconds(data, planes, tools) for _ in range(rounds))
    return Row(
        triangles, floor, full, move, best["read"], best["part"], best["join"], best["write"], peak
    )  # fmt: skip


def kernel_table() -> str:
    """Every size in a process of its own, against the kernel."""
    rows = []
    for size in SIZES:
        print(f"  {size:,} triangles …", flush=True)
        done = subprocess.run([sys.executable, "-m", "bench.run", str(size)], check=True, capture_output=True, text=True)
        rows.append(Row(**json.loads(done.stdout.splitlines()[-1])))
    return _table(rows)


SECTIONS: dict[str, tuple[str, Callable[[], str]]] = {
    "kernel": ("a build of 100 k, 500 k, 1 M and 5 M triangles against the bare kernel", kernel_table),
    "model": ("reading, making right, hollowing", model_table),
    "divide": ("proposals, undo, live sections", divide_table),
    "join": ("a moved pin, joints everywhere", join_table),
    "print": ("orienting, batches, files", print_table),
    "assemble": ("an order, sheets", assemble_table),
    "parts": ("many instances, what moves", parts_table),
    "log": ("the print log", log_table),
}
"""what is measured, by the name it is asked for by"""
MARKS = {"kernel": "table"}
"""how docs/performance.md marks a section that is not called as it is asked for"""


def main() -> int:
    """Measure the sections asked for, all of them where none is, print each as it comes and keep it in docs/performance.md."""
    if len(sys.argv) > 1 and sys.argv[1].isdigit():
        print(json.dumps(asdict(measure(int(sys.argv[1])))))
        return 0
    told = "\n".join(f"  {name:10} {what}" for name, (what, _) in SECTIONS.items())
    parser = argparse.ArgumentParser(
        prog="run.py bench",
        description="Speed, as a ratio to a floor in the same run; docs/performance.md is written anew.",
        epilog=f"sections:\n{told}\n\nbenches of their own: cluster, corpus, estimates, fuzz, kept, mutants, sample, soak",
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )
    parser.add_argument("sections", nargs="*", metavar="SECTION", help="what to measure; all of it where none is named")
    asked = parser.parse_args().sections or list(SECTIONS)
    unknown = [name for name in asked if name not in SECTIONS]
    if unknown:
        parser.error(f"there is no section {unknown[0]}; there are {', '.join(SECTIONS)}")
    for k, name in enumerate(asked, start=1):
        print(f"{k} of {len(asked)}: {name}, {SECTIONS[name][0]} …", flush=True)
        table = SECTIONS[name][1]()
        print(table, flush=True)
        DOC.write_text(_between(DOC.read_text(), MARKS.get(name, name), table))
    return 0


def _between(text: str, name: str, content: str) -> str:
    """The document with `content` between the marks of `name`."""
    head, _, rest = text.partition(f"<!-- {name} -->")
    _, end, tail = rest.partition("<!-- end -->")
    stamp = f"Measured {datetime.now(UTC):%Y-%m-%d} on two cores."
    return f"{head}<!-- {name} -->\n\n{stamp}\n\n{content}\n{end}{tail}"


def _table(rows: list[Row]) -> str:
    lines = [
        "| triangles | floor s | Hinoki s | ratio | one pin s | of the whole | read | part | join | write | peak MB |",
        "| ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: |",
    ]
    for r in rows:
        lines.append(
            f"| {r.triangles:,} | {r.floor_s:.2f} | {r.full_s:.2f} | {r.ratio:.2f} | {r.move_s:.2f} | {r.move_ratio:.2f} | "
            f"{r.read_s:.2f} | {r.part_s:.2f} | {r.join_s:.2f} | {r.write_s:.2f} | {r.peak_mb:.0f} |"
        )
    growth = rows[-1].full_s / rows[0].full_s
    kernel = rows[-1].floor_s / rows[0].floor_s
    lines.append(
        f"\nFrom {rows[0].triangles:,} to {rows[-1].triangles:,} triangles: {growth:.1f}-fold (floor {kernel:.1f}-fold)."
    )
    return "\n".join(lines)


def _pinned(data: bytes) -> Plan:
    """Two pins on each of the twelve mating faces."""
    plan = plan_for(data, *PARTINGS)
    faces = build(plan, lambda _: data, Cache()).faces
    joints = [PinJoint(id=f"j{i}", face=f.ref, count=2, diameter_mm=4, length_mm=5) for i, f in enumerate(faces, start=1)]
    if len(joints) != 12:
        raise RuntimeError(f"{len(joints)} faces, not 12")
    return plan.model_copy(update={"joints": tuple(joints)})


def _moved(plan: Plan, built: Build) -> Plan:
    (u, v), *others = built.placed[3].places
    joint = plan.joints[3].model_copy(update={"places": ((u + 0.5, v + 0.5), *others)})
    return plan.model_copy(update={"joints": (*plan.joints[:3], joint, *plan.joints[4:])})


def _write(plan: Plan, built: Build, known: set[str] = frozenset()) -> None:  # type: ignore[assignment]
    for piece in built.pieces:
        if piece.made_by not in known:
            write_stl(lying(plan, piece))


def _tools(built: Build) -> list[Tool]:
    """The tools the build used, by the index of the piece in the floor's order of halves (above first)."""
    order = {key: i for i, key in enumerate(f"p1{a} p2{b} p3{c}" for a in "+-" for b in "+-" for c in "+-")}
    tools: list[Tool] = []
    for placed in built.placed:
        for tool in placed.tools.each:
            piece = order[placed.part(tool.side).key]
            for add, solid in ((True, tool.add), (False, tool.cut)):
                if solid is not None:
                    tools.append((piece, add, np.array(solid.mesh.vertices), np.array(solid.mesh.faces)))
    return tools


if __name__ == "__main__":
    sys.exit(main())
