"""What leaves Hinoki of the batches: one 3MF for each, everything in it named and placed, and their part of the report."""

import re
from collections.abc import Iterator
from typing import Any

import numpy as np

from hinoki.core.batch.batches import Batch, Batches, on_bed
from hinoki.core.batch.estimate.estimate import summed
from hinoki.core.batch.print_items import Body, Printable
from hinoki.core.export.own_settings import own_facts
from hinoki.core.export.thumbnail import picture, pigment
from hinoki.core.formats.threemf_write import Placed, write_3mf
from hinoki.core.geometry.mesh import rounded_to_single
from hinoki.core.geometry.solid import Solid

PLATE = "#e2d3b3"
DRAWN_TRIANGLES = 3_000_000
"""batches with more have no thumbnail"""


def batch_file(batch: Batch) -> str:
    """Where its file lies: sortable, and named by its printer."""
    stem = re.sub(r"[^a-z0-9]+", "-", batch.printer.name.lower()).strip("-") or "printer"
    return f"batches/{batch.number:02d}-{stem}.3mf"


def batch_files(batches: Batches, title: str, revision: int | None) -> Iterator[tuple[str, bytes]]:
    """A 3MF for every batch."""
    for batch in batches.each:
        yield batch_file(batch), batch_content(batch, len(batches.each), title, revision)


def batch_content(batch: Batch, of: int, title: str, revision: int | None) -> bytes:
    """The 3MF of a batch with a picture of it; its origin is the front left corner of the bed's usable room.

    Metadata: project, revision (where there is one), batch, printer, material, by how much all is enlarged against shrinkage
    (where it is); and for every object the key of its piece, and what of it is printed otherwise.
    """
    room = batch.printer.room_mm
    corner = np.array([float(room[0]) / 2, float(room[1]) / 2, 0.0])
    placed, coloured = [], []
    for thing, place in batch.things:
        for k, (body, matrix) in enumerate(on_bed(thing, place)):
            mesh = rounded_to_single(body.solid.placed(matrix).moved(*corner.tolist()).mesh)
            facts = {"PieceKey": body.key, **own_facts(thing.thing.own)}
            placed.append(Placed(body_name(thing, body), mesh, body.key, facts=facts))
            numbers = thing.thing.numbers
            coloured.append((mesh, pigment(numbers[k] if numbers else None)))
    facts = {
        "Project": title,
        "Batch": f"{batch.number} of {of}",
        "Printer": batch.printer.name,
        "Material": batch.material.name,
        **({"Revision": str(revision)} if revision is not None else {}),
        **({"Enlarged": f"{100 * (larger - 1):.3f} % against shrinkage"} if (larger := batch.material.enlarged) != 1 else {}),
    }
    drawn = sum(len(m.faces) for m, _ in coloured) <= DRAWN_TRIANGLES
    x, y = float(room[0]), float(room[1])
    plate = Solid.box([0.0, 0.0, -2.0], [x, y, -0.2]).mesh, PLATE
    thumbnail = picture([plate, *coloured]) if drawn else None
    return write_3mf(placed, f"{title}, batch {batch.number}", facts, thumbnail)


def body_name(thing: Printable, body: Body) -> str:
    """What a body is called in a batch's file: unique there."""
    return body.name if thing.copy == 1 else f"{body.name} ({thing.copy})"


def batches_report(batches: Batches) -> list[dict[str, Any]]:
    """The batches in figures, with where everything lies: the middle of its box from the bed's, and its turn."""
    return [
        {
            "file": batch_file(b),
            "printer": b.printer.name,
            "material": b.material.name,
            "pieces": sorted(n for thing, _ in b.things for n in thing.thing.numbers),
            "minutes": round(b.took.minutes, 1),
            "mass_g": round(b.took.mass_g, 1),
            "cost": round(b.took.cost, 2),
            "placements": [
                {"name": t.name, "key": t.key, "x_mm": round(p.x_mm, 3), "y_mm": round(p.y_mm, 3), "turn_deg": p.turn_deg}
                for t, p in b.things
            ],
        }
        for b in batches.each
    ]


def estimates_of(batches: Batches) -> dict[str, dict[str, float]]:
    """Mass, time and cost by the key of a piece in the project; pieces that print as one have theirs together, and so have
    copies."""
    found: dict[str, dict[str, float]] = {}
    for one in batches.every:
        took = summed([one.took] * one.thing.wanted)
        figures = {"mass_g": round(took.mass_g, 1), "minutes": round(took.minutes, 1), "cost": round(took.cost, 2)}
        found |= {body.key: figures for body in one.thing.bodies if one.thing.numbers}
    return found
