"""Divide's figures: proposals for half a million triangles, undo of what is cached, and whether dragging a plane freezes."""

import contextlib
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any
from unittest.mock import patch

from playwright.sync_api import Page

from bench.model import Line, as_table, serving
from hinoki.core.build import build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.solid import Solid
from hinoki.core.propose import Wishes, propose
from tests.shapes import plan_for, torus

BED = (220.0, 220.0, 250.0)


TIMED = Solid.slice, Solid.placed, Solid.halves


def _timed(real: Callable[..., Any], into: dict[str, float]) -> Callable[..., Any]:
    """A method that adds its time to `into`."""

    def call(*args: Any, **more: Any) -> Any:
        begun = time.perf_counter()
        out = real(*args, **more)
        into[real.__name__] = into.get(real.__name__, 0.0) + time.perf_counter() - begun
        return out

    return call


def proposals() -> list[Line]:
    """Three proposals for a torus of 500 thousand triangles that needs about ten pieces; the floor is cutting the first of
    them from the model itself, which every division has to do."""
    data = write_stl(torus(250, 60, 800, 320, 5.0))
    plan = plan_for(data, bed=BED)
    spent: dict[str, float] = {}
    with contextlib.ExitStack() as timed:
        for method in TIMED:
            timed.enter_context(patch.object(Solid, method.__name__, _timed(method, spent)))
        begun = time.perf_counter()
        found = propose(plan, lambda _: data, Cache(), Wishes(), lambda _f, _p: None)
        seconds = time.perf_counter() - begun
    divided = plan.model_copy(update={"partings": found.proposals[0].partings})
    begun = time.perf_counter()
    build(divided, lambda _: data, Cache())
    floor = time.perf_counter() - begun
    return [
        Line(f"proposals, 500 k triangles, {found.proposals[0].figures.pieces} pieces", seconds, floor, "under 20 s"),
        Line("of these: sections", spent.get("slice", 0.0) + spent.get("placed", 0.0), None, ""),
        Line("of these: cuts of the thinned copy and the model", spent.get("halves", 0.0), None, ""),
    ]


def undo() -> Line:
    """Building what was built before, as an undo does where its answer is not kept whole."""
    data = write_stl(torus(90, 20, 707, 354, 1.5))
    cache = Cache()
    one = plan_for(data, FlatParting(id="p1", axis="x", at_mm=1.7))
    two = plan_for(data, FlatParting(id="p1", axis="x", at_mm=9.7))
    for plan in (one, two):
        build(plan, lambda _: data, cache)
    begun = time.perf_counter()
    build(one, lambda _: data, cache)
    return Line("undo of a moved plane, 500 k triangles, all cached", time.perf_counter() - begun, None, "under 0.1 s")


def _drag(page: Page) -> float:
    page.locator("[data-test=add-flat]").click()
    page.wait_for_selector("[data-test=plane-handle]")
    page.wait_for_selector("[role=status]", state="detached")
    page.wait_for_selector("[data-test=sides]")
    page.wait_for_timeout(3000)
    place = page.locator("[data-test=plane-handle]").bounding_box()
    if place is None:
        raise RuntimeError("the plane has no handle")
    page.evaluate("window.longTasks.length = 0")
    page.mouse.move(place["x"] + 17, place["y"] + 17)
    page.mouse.down()
    for k in range(40):
        page.mouse.move(place["x"] + 17 - k, place["y"] + 17 - k)
        page.wait_for_timeout(30)
    tasks = [float(d) for _, d in page.evaluate("window.longTasks")]
    page.mouse.up()
    return max(tasks, default=0.0) / 1000


def dragging() -> Line:
    """The longest task of the browser's main thread while the plane of a flat parting is dragged through a million triangles;
    Chromium reports tasks of more than 50 ms only, so 0 means that all were shorter."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "million.stl"
        path.write_bytes(write_stl(torus(90, 20, 1000, 500, 1.5)))
        with serving(Path(folder) / "data", path, "divide") as page:
            longest = _drag(page)
    return Line("dragging a plane, 1 M triangles: longest task", longest, None, "under 0.05 s")


def table() -> str:
    """All figures as a table."""
    return as_table([*proposals(), undo(), dragging()])
