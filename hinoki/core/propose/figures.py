"""The figures of a division, by which proposals and variants are compared."""

from collections.abc import Sequence

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import MatingFace, mating_faces
from hinoki.core.divide.seams import seams_of
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import largest_circle, least_wall
from hinoki.core.geometry.solid import Solid
from hinoki.core.orient.resting.resting_faces import Rest, rests
from hinoki.core.stages import Keyed, stage
from hinoki.core.workshop.printers import Printer

LEAST_HANGING_MM2 = 20.0
"""surface that hangs over and still needs no support worth counting"""
BETWEEN_MM = 4.0
"""kept between pieces on a bed"""
TENTHS = 10
HAIR_MM = 0.02


class Figures(BaseModel):
    """What a division is like."""

    pieces: int
    fitting: int = Field(description="pieces that fit a printer")
    batches: int = Field(description="beds full, an estimate by the rectangles the pieces lie in")
    seam_mm: float = Field(description="length of all seams on the outside")
    seam_show_mm: float = Field(description="length of the seams on show faces")
    least_room_mm: float | None = Field(description="diameter of the largest circle on the mating face with the least room")
    least_wall_mm: float | None = Field(description="least wall at a seam")
    supported: int = Field(description="pieces that need support as they lie best")
    overhang_mm2: float = Field(description="surface that hangs over on them")
    balance: float = Field(description="volume of the smallest piece as a share of the largest, 0 to 1")


def figures_of(parts: Sequence[Part], printers: dict[str, Printer], outside: Faces, show: Mesh | None, cache: Cache) -> Figures:
    """The figures of pieces; `printers` gives each piece's printer by its key, `show` the show faces."""
    faces = mating_faces(parts, cache)
    seams = seams_of(parts, outside, cache)
    lying = {p.key: best_rest(p, faces, printers[p.key], cache) for p in parts}
    hanging = [r.overhang_mm2 for r in lying.values() if r.overhang_mm2 > LEAST_HANGING_MM2]
    measured = [_measured(cache, f) for f in faces]
    walls = [wall for _, wall in measured if wall is not None]
    volumes = [p.solid.volume_mm3 for p in parts]
    return Figures(
        pieces=len(parts),
        fitting=sum(r.fits for r in lying.values()),
        batches=batches_of([(lying[p.key].size_mm[:2], printers[p.key]) for p in parts]),
        seam_mm=round(sum(s.length for s in seams.values()), 1),
        seam_show_mm=round(sum(s.length_on(show) for s in seams.values()), 1),
        least_room_mm=round(2 * min(room for room, _ in measured), 2) if measured else None,
        least_wall_mm=round(min(walls), 2) if walls else None,
        supported=len(hanging),
        overhang_mm2=round(sum(hanging), 1),
        balance=round(min(volumes) / max(volumes), 3),
    )


def batches_of(footprints: "Sequence[tuple[np.ndarray, Printer]]") -> int:
    """How many beds the rectangles (2,) fill, printer by printer, packed by rectpack (guillotine and skyline rules)."""
    import rectpack

    total = 0
    for printer in {p.id: p for _, p in footprints}.values():
        own = [size for size, p in footprints if p.id == printer.id]
        side = printer.room_mm[:2]
        if printer.bed_shape == "round":
            side = side / np.sqrt(2)
        packer = rectpack.newPacker(rotation=True)
        bed = [int((v + BETWEEN_MM) * TENTHS + 0.01) for v in side]
        alone = 0
        for size in own:
            box = [int(np.ceil((float(v) + BETWEEN_MM) * TENTHS - 0.01)) for v in size]
            if sorted(box) > sorted(bed) or max(box) > max(bed) or min(box) > min(bed):
                alone += 1  # lies across the bed's diagonal
            else:
                packer.add_rect(*box)
        packer.add_bin(*bed, count=max(1, len(own)))
        packer.pack()
        total += len(packer) + alone
    return total


def best_rest(part: Part, faces: Sequence[MatingFace], printer: Printer, cache: Cache) -> Rest:
    """How a part without joints lies best."""
    normals = [f.frame.n if f.a is part else -f.frame.n for f in faces if part in (f.a, f.b)]
    return _rests_of(cache, part.body, normals, printer)[0]


@stage("rest of part")
def _rests_of(body: Keyed[Solid], normals: Sequence[Points], printer: Printer) -> list[Rest]:
    """The best way to lay a piece without joints."""
    return rests(body.value, normals, printer, True)


@stage("face room")
def _measured(face: MatingFace) -> tuple[float, float | None]:
    """Radius of the largest circle on a face, and its least wall."""
    # hair-fine slits, where a plane grazes an edge, are no walls
    shape = as_multi(face.shape.buffer(-HAIR_MM, join_style="mitre").buffer(HAIR_MM, join_style="mitre"))
    wall = least_wall(shape)
    return largest_circle(face.shape)[0], wall[0] if wall else None
