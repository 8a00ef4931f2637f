"""What a worker does for the print log: batches made ready, what an edit touches, where printed pieces differ, pictures."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from hinoki.core.batch.batches import batched
from hinoki.core.batch.print_items import Known
from hinoki.core.errors import NotFound
from hinoki.core.export.thumbnail import picture, pigment
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.plan.plan import Plan, read_plan
from hinoki.core.printlog.dispatch import prepared_batch
from hinoki.core.printlog.edit_impact import PrintedPiece
from hinoki.core.printlog.edit_impact import touches as touched_by
from hinoki.core.printlog.shape_diff import difference
from hinoki.core.progress import Tell, part_of
from hinoki.jobs.atomic_write import save
from hinoki.present.display_mesh import MAGIC

if TYPE_CHECKING:
    from hinoki.core.build import Build
    from hinoki.core.geometry.solid import Solid
    from hinoki.jobs.worker import Worker

PORTRAIT_PX = (360, 270)


def send(
    worker: Worker,
    plan: str,
    numbers: dict[str, int],
    power_price: float,
    known: dict[str, Any],
    batch: int,
    title: str,
    drawn_for: int,
    target: str,
) -> str:
    """Make a batch ready to be sent: its 3MF among the exports, and what the log must know of it."""
    wanted = read_plan(plan)
    built = worker.built(wanted, numbers)
    tell = part_of(worker.progress, 0.4, 0.9)
    found = batched(wanted, built, worker.cache, power_price, tell, Known.model_validate(known))
    file = f"{target.removesuffix('.json')}.3mf"
    ready, content = prepared_batch(found, batch, wanted, built, title, drawn_for, file)
    save(worker.folder / "exports" / file, content)
    save(worker.folder / "answers" / target, ready.model_dump_json().encode())
    return target


def touches(worker: Worker, plan: str, before: str, numbers: dict[str, int], printed: list[dict[str, Any]], target: str) -> str:
    """What an edit does to printed pieces."""
    was = worker.built(read_plan(before), numbers, part_of(worker.progress, 0.0, 0.2))

    def build_of(one: Plan, tell: Tell) -> Build:
        return worker.built(one, numbers, tell)

    pieces = [PrintedPiece.model_validate(p) for p in printed]
    found = touched_by(was, read_plan(plan), build_of, pieces, part_of(worker.progress, 0.2, 1.0))
    save(worker.folder / "answers" / target, found.model_dump_json(by_alias=True).encode())
    return target


def differs(
    worker: Worker,
    plan: str,
    printed_plan: str,
    others: list[tuple[str, list[str]]],
    numbers: dict[str, int],
    key: str,
    target: str,
) -> str:
    """Where a piece printed from an earlier plan differs from the plan now. `others` gives the plans that other pieces were
    printed from, each with their keys."""
    now = worker.built(read_plan(plan), numbers, part_of(worker.progress, 0.0, 0.4))
    was = worker.built(read_plan(printed_plan), numbers, part_of(worker.progress, 0.4, 0.7))
    neighbours: dict[str, Solid] = {}
    for step, (own_plan, keys) in enumerate(others):
        tell = part_of(worker.progress, 0.7 + 0.2 * step / len(others), 0.7 + 0.2 * (step + 1) / len(others))
        one = worker.built(read_plan(own_plan), numbers, tell)
        neighbours |= {p.key: p.solid for p in one.parts if p.key in keys}
    if not any(p.key == key for p in now.parts):
        raise NotFound("The plan has no such piece any more; there is nothing to compare it with.", "piece")
    if not any(p.key == key for p in was.parts):
        raise NotFound("The plan it was printed from cannot be built as it was; it cannot be compared.", "piece")
    worker.progress(0.9, "Comparing")
    found, more, less = difference(was, now, key, neighbours)
    stem = target.removesuffix(".json").rsplit("-", 1)[1]
    for solid, letter in ((more, "a"), (less, "b")):
        if solid is not None:
            worker.draw(f"{stem}{letter}", solid.mesh)
    named = found.model_copy(
        update={"more_mesh": f"{stem}a" if more is not None else None, "less_mesh": f"{stem}b" if less is not None else None}
    )
    save(worker.folder / "answers" / target, named.model_dump_json().encode())
    return target


def portrait(worker: Worker, plan: str, meshes: list[tuple[str, int]], target: str) -> str:
    """A small picture of the pieces put together, from their drawings; `plan` only names what it is of."""
    bodies = [(_drawing(worker, name), pigment(number)) for name, number in meshes]
    if not bodies or not plan:
        raise NotFound("There is nothing to draw yet.", "picture")
    save(worker.folder / "exports" / f"{target.removesuffix('.json')}.png", picture(bodies, PORTRAIT_PX))
    save(worker.folder / "answers" / target, b"{}")
    return target


def _drawing(worker: Worker, name: str) -> Mesh:
    """A display mesh read back (see hinoki.present.display_mesh)."""
    content = (worker.folder / "meshes" / f"{name}.bin").read_bytes()
    start = len(MAGIC)
    vertices, triangles = (int(n) for n in np.frombuffer(content, "<u4", 2, start))
    at = start + 8
    points = np.frombuffer(content, "<f4", 3 * vertices, at).reshape(-1, 3).astype(np.float64)
    faces = np.frombuffer(content, "<u4", 3 * triangles, at + 24 * vertices).reshape(-1, 3).astype(np.int64)
    return Mesh(points, faces)
