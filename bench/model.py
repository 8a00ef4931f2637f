"""The Model station's figures: bringing a model in, the thickness map, hollowing, and whether the screen freezes."""

import contextlib
import sys
import tempfile
import threading
import time
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

import manifold3d
import numpy as np
import uvicorn
from embreex import rtcore_scene
from embreex.mesh_construction import TriangleMesh
from playwright.sync_api import Page, sync_playwright

from bench.floor import RECORD
from hinoki.api.app import make_app
from hinoki.api.shared.state import State
from hinoki.core.build import build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.shape import Body, Shape, mesh_of
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.health.thickness import face_thickness
from hinoki.core.model.offsets.offset import Distances
from hinoki.core.model.steps import HollowStep
from hinoki.core.plan.plan import Plan
from hinoki.present.build import present
from hinoki.present.display_mesh import display_buffer
from hinoki.store.tables import projects
from tests.api.serving import free_port
from tests.shapes import plan_for, torus
from tests.ui.serving import FLAGS, browser_path

LONG_TASKS = """
window.longTasks = [];
new PerformanceObserver((list) => {
  for (const entry of list.getEntries()) window.longTasks.push([entry.startTime, entry.duration]);
}).observe({ type: 'longtask', buffered: true });
"""


@dataclass
class Line:
    """One figure: what, Hinoki's seconds, the floor's seconds, what is wanted."""

    what: str
    seconds: float
    floor: float | None
    wanted: str


def bring_in() -> Line:
    """A binary STL of a million triangles to a checked, displayed model, against reading it and building the bare solid."""
    data = write_stl(torus(90, 20, 1000, 500, 1.5))
    plan = plan_for(data)
    begun = time.perf_counter()
    cache = Cache()
    built = build(plan, lambda _: data, cache)
    shown = present(built, check(built, cache), cache)
    for body in shown.meshes.values():
        display_buffer(mesh_of(body))
    ours = time.perf_counter() - begun
    begun = time.perf_counter()
    corners = np.frombuffer(data, dtype=RECORD, offset=84)["corners"].reshape(-1, 3)
    rows = np.ascontiguousarray(corners).view(np.dtype((np.void, 12))).ravel()
    _, first, inverse = np.unique(rows, return_index=True, return_inverse=True)
    faces = np.ascontiguousarray(inverse.reshape(-1, 3).astype(np.uint64))
    manifold3d.Manifold(manifold3d.Mesh64(np.ascontiguousarray(corners[first].astype(np.float64)), faces)).volume()
    return Line("STL of 1 M triangles, read, checked, drawn", ours, time.perf_counter() - begun, "at most 4")


def thickness_map() -> Line:
    """The thickness under 300 thousand faces, against one bare embreex pass of the same rays."""
    mesh = torus(90, 20, 548, 274, 1.5)
    face_thickness(torus(9, 2, 20, 10))  # the library is loaded before anything is timed
    begun = time.perf_counter()
    face_thickness(mesh)
    ours = time.perf_counter() - begun
    vectors = mesh.face_vectors
    unit = vectors / np.linalg.norm(vectors, axis=1, keepdims=True)
    corners = mesh.vertices[mesh.faces]
    starts = (corners.mean(axis=1) - 1e-3 * unit).astype(np.float32)
    begun = time.perf_counter()
    scene = rtcore_scene.EmbreeScene()
    kept = TriangleMesh(scene, corners.astype(np.float32))
    scene.run(starts, (-unit).astype(np.float32), query="INTERSECT", output=True)
    floor = time.perf_counter() - begun
    del kept
    return Line("thickness map of 300 k triangles", ours, floor, "under 5")


def hollow() -> Line:
    """A wall of 3 mm in a body of 220 mm and 300 thousand triangles, against libigl's distances at the cavity's corners."""
    mesh = torus(80, 30, 548, 274, 1.5)
    shape = Shape((Body("ring", solid=Solid.from_mesh(mesh)),))
    told: list[float] = []
    begun = time.perf_counter()
    outcome = HollowStep(id="s1", wall_mm=3).apply(shape, lambda f, _p: told.append(f))
    ours = time.perf_counter() - begun
    if len(told) < 10:
        raise RuntimeError("hollowing told too little of its progress")
    inner = outcome.shape.mesh.vertices
    begun = time.perf_counter()
    Distances(mesh).nearest(inner)
    return Line("hollow, wall 3 mm, 300 k triangles", ours, time.perf_counter() - begun, "under 30 s")


@contextlib.contextmanager
def serving(data: Path, model: Path, station: str) -> Iterator[Page]:
    """A page at a station of a new project with a model brought in, whose long tasks are noted in `window.longTasks`."""
    state = State(data)
    app = make_app(state)
    project = state.database.write(lambda c: projects.add_project(c, "Million", Plan()))
    port = free_port()
    server = uvicorn.Server(uvicorn.Config(app, port=port, log_level="error"))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=browser_path(), args=FLAGS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.set_default_timeout(180_000)
            page.add_init_script(LONG_TASKS)
            page.goto(f"http://127.0.0.1:{port}/projects/{project}/model")
            page.wait_for_selector("[data-test=pick]")
            page.evaluate("window.longTasks.length = 0")
            page.locator("[data-test=file]").set_input_files(str(model))
            page.wait_for_selector("[data-test=model-facts]")
            page.wait_for_selector("[role=status]", state="detached")
            if station != "model":
                page.locator(f"[data-test=station-{station}]").click()
            page.wait_for_timeout(4000)
            yield page
            browser.close()
    finally:
        server.should_exit = True
        thread.join(timeout=10)


def screen() -> list[Line]:
    """The longest tasks of the browser's main thread while a model of a million triangles is brought in and shown."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "million.stl"
        path.write_bytes(write_stl(torus(90, 20, 1000, 500, 1.5)))
        with serving(Path(folder) / "data", path, "model") as page:
            tasks = sorted((float(d) for _, d in page.evaluate("window.longTasks")), reverse=True)
    tasks += [0.0, 0.0]
    return [
        Line("screen: longest task, the first draw", tasks[0] / 1000, None, "apart from the rest"),
        Line("screen: longest task but the first draw", tasks[1] / 1000, None, "under 0.2 s"),
    ]


def table() -> str:
    """All figures as a table."""
    return as_table([bring_in(), thickness_map(), hollow(), *screen()])


def as_table(lines: Sequence[Line]) -> str:
    """Figures as a table."""
    rows = ["| what | Hinoki s | floor s | ratio | wanted |", "| --- | ---: | ---: | ---: | --- |"]
    for line in lines:
        floor = f"{line.floor:.2f}" if line.floor else ""
        ratio = f"{line.seconds / line.floor:.2f}" if line.floor else ""
        rows.append(f"| {line.what} | {line.seconds:.2f} | {floor} | {ratio} | {line.wanted} |")
    return "\n".join(rows)


if __name__ == "__main__":
    print(table())
    sys.exit(0)
