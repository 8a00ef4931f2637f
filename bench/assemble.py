"""Figures of Assemble: a plan of 30 pieces and 60 loose parts, one joint moved, a sheet, scrubbing; floors in the same run."""

import tempfile
import time
from pathlib import Path

import numpy as np
from playwright.sync_api import Page

from bench.model import Line, as_table, serving
from hinoki.core.assemble.assembled import Assembled, assembled
from hinoki.core.build import Build, build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting, WedgesParting
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.raycast import Rays
from hinoki.core.join.joints import DowelJoint
from hinoki.core.plan.plan import Plan
from hinoki.demo.lighthouse_project import demo_plan, demo_source
from hinoki.present.assemble.view import assembly_view
from hinoki.present.sheets.sheet import sheet_of
from hinoki.present.sheets.sheet_pdf import write_pdf
from tests.shapes import plan_for, torus

WEDGES = 15
LEVEL = "p1"
SHEET_PIXELS = 620 * 470


def many() -> tuple[bytes, Plan]:
    """A ring of a million triangles in two layers of 15 wedges, with four dowels between each upper and lower one."""
    data = write_stl(torus(90, 20, 1000, 500, 1.5))
    plan = plan_for(data, FlatParting(id=LEVEL, axis="z", at_mm=20.3), WedgesParting(id="p2", count=WEDGES))
    built = build(plan, lambda _: data, Cache())
    level = [f.ref for f in built.faces if f.ref.parting == LEVEL]
    joints = tuple(
        DowelJoint(id=f"j{k}", face=ref, count=4, diameter_mm=4, length_mm=12) for k, ref in enumerate(level, start=1)
    )
    return data, plan.model_copy(update={"joints": joints})


def _planned(plan: Plan, built: Build, cache: Cache) -> tuple[Assembled, float]:
    begun = time.perf_counter()
    out = assembled(plan, built, cache)
    assembly_view(plan, built, out, cache)
    return out, time.perf_counter() - begun


def _overlaps(out: Assembled) -> float:
    """The floor: the kernel's bare look at whether units that touch overlap, once for each pair."""
    units = out.scene.units
    begun = time.perf_counter()
    for pair in out.scene.together:
        one, two = (units[u] for u in sorted(pair))
        for a in one.solids:
            for b in two.solids:
                float(a.common(b).volume_mm3)
    return time.perf_counter() - begun


def planning() -> list[Line]:
    """A full plan, and the plan after one joint's dowels are another length."""
    data, plan = many()
    cache = Cache()
    built = build(plan, lambda _: data, cache)
    out, full = _planned(plan, built, cache)
    loose = sum(len(u.solids) for u in out.scene.units.values() if u.kind == "loose")
    floor = _overlaps(out)
    first = plan.joints[0].model_copy(update={"length_mm": 14.0})
    moved = plan.model_copy(update={"joints": (first, *plan.joints[1:])})
    again = build(moved, lambda _: data, cache)
    _, after = _planned(moved, again, cache)
    said = f"{len(built.pieces)} pieces, {loose} loose parts, 1 M triangles"
    return [
        Line(f"plan of {said}", full, floor, "under 20 s"),
        Line("plan after one joint is changed", after, None, "under 3 s"),
    ]


def sheet() -> Line:
    """The sheets of the lighthouse's 12 steps; the floor is embreex casting one ray for each point of every picture."""
    data = demo_source()
    cache = Cache()
    plan = demo_plan(data, cache)
    built = build(plan, lambda _: data, cache)
    out = assembled(plan, built, cache)
    view, _ = assembly_view(plan, built, out, cache)
    begun = time.perf_counter()
    write_pdf(sheet_of(plan, built, out, view, "Lighthouse", cache))
    seconds = time.perf_counter() - begun
    solids = [s for u in out.scene.units.values() if u.is_piece for s in u.solids]
    rng = np.random.default_rng(1)
    starts = rng.uniform(-300, 300, (SHEET_PIXELS, 3))
    way = np.broadcast_to(np.array([0.4, -0.7, 0.3]), starts.shape)
    begun = time.perf_counter()
    for _ in view.steps:
        for solid in solids[:4]:  # half the pieces are there in a step, taken over all steps
            Rays(solid.mesh).first(starts, way)
    return Line(f"sheets of {len(view.steps)} steps, as PDF", seconds, time.perf_counter() - begun, "under 15 s")


def _scrub(page: Page) -> list[float]:
    page.wait_for_selector("[data-test=step]", timeout=300_000)
    page.wait_for_selector("[role=status]", state="detached", timeout=300_000)
    page.wait_for_timeout(3000)
    page.locator("[data-test=scrubber] [role=slider]").focus()
    page.evaluate("window.longTasks.length = 0")
    for _ in range(60):
        page.keyboard.press("ArrowLeft")
        page.wait_for_timeout(16)
    return [float(d) for _, d in page.evaluate("window.longTasks")]


def scrubbing() -> Line:
    """The longest task of the main thread while an assembly of 30 pieces is scrubbed within a step; Chromium reports tasks of
    more than 50 ms only, so 0 means that all were shorter."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "ring.stl"
        path.write_bytes(write_stl(torus(90, 20, 300, 150, 1.5)))
        with serving(Path(folder) / "data", path, "assemble") as page:
            tasks = _scrub(page)
    return Line("scrubbing: longest task", max(tasks, default=0.0) / 1000, None, "under 0.016 s")


def table() -> str:
    """All figures as a table."""
    return as_table([*planning(), sheet(), scrubbing()])
