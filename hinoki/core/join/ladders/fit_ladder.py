"""Fit ladders: small test pieces of a joint at stepped clearances, numbered, laid out to print together."""

import io
import re
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field, TypeAdapter
from shapely import affinity

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.errors import BadPlan
from hinoki.core.formats.stl import write_stl
from hinoki.core.formats.threemf_write import Placed, write_3mf
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.geometry.text_outlines import lettered
from hinoki.core.join.apply import joined
from hinoki.core.join.joints import SIDES, FaceRef, HingeJoint, Joint, JointBase, SideName, Standing
from hinoki.core.join.ladders.coupons import TestPiece, test_piece
from hinoki.core.join.ladders.hole_ladder import Hole, hole_of, plate
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.placing import Depths
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import Printer

LEAST_RUNGS, MOST_RUNGS = 3, 9
MOST_CLEARANCE_MM = 2.0
LEAST_IN_HOLE_MM = -0.5
GAP_MM = 4.0
MARK_DEEP_MM = 0.5
ROW_MM = 120.0
"""pieces are laid in rows up to this long, or the bed's width"""
SAME_MM3 = 1e-4
LAYER_S = 2.0
"""what a layer costs beside its lines: moves and the change of layer (common practice)"""


Tried = Annotated[Joint | Hole, Field(discriminator="kind")]
"""what a ladder can try: a joint, or a hole for something that is there already"""
TRIED: TypeAdapter[Joint | Hole] = TypeAdapter(Tried)


@dataclass(frozen=True)
class RungPiece:
    """One test piece: its name, the rungs it serves, and its solid as it lies on the bed."""

    name: str
    rungs: tuple[int, ...]
    solid: Solid


@dataclass(frozen=True)
class Ladder:
    """A ladder: what it tries, the clearance of each rung (each side, mm), its pieces, and where each stands."""

    label: str
    clearances_mm: tuple[float, ...]
    pieces: tuple[RungPiece, ...]
    shifts_mm: tuple[tuple[float, float], ...]

    @property
    def volume_mm3(self) -> float:
        """Of all pieces."""
        return sum(p.solid.volume_mm3 for p in self.pieces)

    def mass_g(self, material: Material) -> float:
        """Printed full."""
        return material.mass_g(self.volume_mm3)

    def minutes(self, printer: Printer) -> float:
        """An estimate of the printing time: the length of all lines at the printer's speed, and a cost for each layer."""
        layer = printer.layers_mm[1]
        lines = self.volume_mm3 / (layer * printer.line_mm) / printer.speed_mm_s
        layers = max(float(p.solid.size[2]) for p in self.pieces) / layer
        return (lines + layers * LAYER_S) / 60

    def file(self) -> bytes:
        """All pieces as named objects of one 3MF."""
        rows = zip(self.pieces, self.shifts_mm, strict=True)
        return write_3mf([Placed(p.name, p.solid.moved(x, y, 0).mesh) for p, (x, y) in rows], f"Ladder, {self.label}")

    def stl_files(self) -> bytes:
        """A ZIP with an STL for each piece."""
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
            for piece in self.pieces:
                stem = re.sub(r"[^a-z0-9.]+", "-", piece.name.lower()).strip("-")
                archive.writestr(zipfile.ZipInfo(f"{stem}.stl", _EPOCH), write_stl(piece.solid.mesh, "Hinoki ladder"))
        return out.getvalue()


_EPOCH = (1980, 1, 1, 0, 0, 0)


def clearances(low_mm: float, high_mm: float, rungs: int, least_mm: float = 0.0) -> tuple[float, ...]:
    """Evenly stepped clearances, none under `least_mm`. Raises BadPlan where they make no sense."""
    if not LEAST_RUNGS <= rungs <= MOST_RUNGS:
        raise BadPlan(f"A ladder has {LEAST_RUNGS} to {MOST_RUNGS} rungs; {rungs} were asked for.", "rungs")
    if not least_mm <= low_mm < high_mm <= MOST_CLEARANCE_MM:
        raise BadPlan(
            f"A ladder goes from a smaller to a larger clearance between {least_mm:g} and {MOST_CLEARANCE_MM:g} mm; "
            f"{low_mm:g} to {high_mm:g} was asked for.",
            "clearances",
        )
    return tuple(round(float(c), 4) for c in np.linspace(low_mm, high_mm, rungs))


def least_for(tried: Joint | Hole) -> float:
    """The least clearance a ladder may try: a hole may be smaller than the thing that is pressed, or melted, into it."""
    return LEAST_IN_HOLE_MM if isinstance(tried, Hole) or hole_of(tried) else 0.0


def ladder(tried: Joint | Hole, steps: Sequence[float], wall_mm: float, line_mm: float, bed_mm: float = 220.0) -> Ladder:
    """The ladder of a joint, or of a hole. Raises BadPlan for a kind without a clearance to be tried.

    What takes something bought is one plate of holes. Where all rungs have the same body on one side it is made once: a pin for
    all bores, one socket for all plugs.
    """
    hole = tried if isinstance(tried, Hole) else hole_of(tried)
    if hole is not None:
        every = tuple(range(1, len(steps) + 1))
        laid, shifts = _laid([RungPiece("plate, " + hole.label(), every, _lying(plate(hole, steps, wall_mm), "plate"))], bed_mm)
        return Ladder(tried.label(), tuple(steps), laid, shifts)
    joint = tried
    assert not isinstance(joint, Hole)
    test = test_piece(joint, wall_mm)
    if test is None:
        raise BadPlan(f"There is no fit to be tried in a {joint.elements}: it has no clearance of its own.", "joint")
    bodies: dict[str, list[Solid]] = {}
    for step in steps:
        for name, solid in _made(test, step, wall_mm, line_mm).items():
            bodies.setdefault(name, []).append(solid)
    pieces: list[RungPiece] = []
    for name, solids in bodies.items():
        if all(abs(s.volume_mm3 - solids[0].volume_mm3) < SAME_MM3 for s in solids):
            pieces.append(RungPiece(f"{name}, for all", tuple(range(1, len(steps) + 1)), _lying(solids[0], name)))
            continue
        for number, (solid, step) in enumerate(zip(solids, steps, strict=True), start=1):
            marked = _numbered(_lying(solid, name), number)
            pieces.append(RungPiece(f"{number}, {name}, {step:.3g} each side", (number,), marked))
    laid, shifts = _laid(pieces, min(ROW_MM, bed_mm))
    return Ladder(joint.label(), tuple(steps), laid, shifts)


def _made(test: TestPiece, clearance: float, wall_mm: float, line_mm: float) -> dict[str, Solid]:
    """The two pieces of one rung, and the loose part where there is one, in the face's frame."""
    frame = plane_frame(np.zeros(3), np.array([0.0, 0.0, 1.0]))
    ends: dict[SideName, tuple[float, float]] = {"a": (-_deep(test, "a"), 0.0), "b": (0.0, _deep(test, "b"))}
    parts = {side: Part(side, Solid.drawn(test.shape, *ends[side]), side) for side in SIDES}
    face = MatingFace(FaceRef(parting="p1", member=0, a="a", b="b"), frame, test.shape, parts["a"], parts["b"])
    standing = Standing(frame, test.shape, clearance, wall_mm, line_mm, face.thick_at, face.top_at, Depths(face))
    joint = test.joint.tried_at(clearance)
    places = list(joint.places or [])
    tools = joint.tools(standing, places)
    placed = PlacedJoint(joint, face, standing, places, tools, test.shape, "ladder", bare=test.shape)  # type: ignore[arg-type]
    names = {"a": "plug", "b": "socket"}
    found = {names[side]: joined(parts[side], [placed], Cache()).solid for side in SIDES}
    if joint.prints_together:
        return {"hinge": _opened(joint, standing, found["plug"], found["socket"])}
    if tools.loose:
        found["loose part"] = tools.loose[0].solid.placed(tools.loose[0].printed)
    return found


def _opened(joint: JointBase, standing: Standing, body: Solid, leaf: Solid) -> Solid:
    """Both pieces of a hinge in place, opened flat."""
    axis = joint.axis(standing, joint.places[0]) if isinstance(joint, HingeJoint) and joint.places else None
    return Solid.together([body, leaf.placed(axis.turned(180.0)) if axis else leaf])


def _deep(test: TestPiece, side: SideName) -> float:
    both = test.joint.reach_mm("a") > 0 and test.joint.reach_mm("b") > 0
    return test.female_mm if side == "b" or both else test.male_mm


def _lying(solid: Solid, name: str) -> Solid:
    """On the bed: the plug with its male part up, the socket on the back with its mouth up."""
    turned = solid.placed(np.array([[1.0, 0, 0, 0], [0, -1.0, 0, 0], [0, 0, -1.0, 0]])) if name == "socket" else solid
    low, high = turned.bounds
    return turned.moved(-float(low[0] + high[0]) / 2, -float(low[1] + high[1]) / 2, -float(low[2]))


def _numbered(solid: Solid, number: int) -> Solid:
    """With its number sunk into the side that looks to the front, or from below where that is too low."""
    low, high = solid.bounds
    wide, tall = float(high[0] - low[0]), float(high[2] - low[2])
    size = min(6.0, 0.6 * tall, 0.5 * wide)
    if size >= 3.0:
        cut = Solid.drawn(lettered(str(number), size), -1.0, MARK_DEEP_MM)
        # drawn in X and Z, sunk along Y
        matrix = np.array([[1.0, 0, 0, 0], [0, 0, 1.0, float(low[1])], [0, 1.0, 0, tall / 2]])
        return solid.minus([cut.placed(matrix)])
    drawn = affinity.scale(lettered(str(number), 4.0), -1.0, origin=(0, 0))
    return solid.minus([Solid.drawn(drawn, -1.0, MARK_DEEP_MM)])


def _laid(pieces: Sequence[RungPiece], row_mm: float) -> tuple[tuple[RungPiece, ...], tuple[tuple[float, float], ...]]:
    """The pieces in rows, in order."""
    shifts: list[tuple[float, float]] = []
    x = y = deepest = 0.0
    for piece in pieces:
        size: Points = piece.solid.size
        if x > 0 and x + size[0] > row_mm:
            x, y, deepest = 0.0, y + deepest + GAP_MM, 0.0
        shifts.append((x + float(size[0]) / 2, y + float(size[1]) / 2))
        x += float(size[0]) + GAP_MM
        deepest = max(deepest, float(size[1]))
    return tuple(pieces), tuple(shifts)
