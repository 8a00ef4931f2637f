"""One side of a joint on a flat face of a body: where it stands, what it does to the body, what is wrong with it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import MultiPolygon, Point

from hinoki.core.errors import StepRefused
from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.sections import FramedSolid, flat_faces_at
from hinoki.core.geometry.shape import Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.outline import rings_of, spots_on
from hinoki.core.join.contract.terms import NOWHERE, Place, SideName, Standing, Tool, Tools
from hinoki.core.join.faced.pattern import Pattern
from hinoki.core.join.joints import (
    BayonetJoint,
    DovetailJoint,
    KeyJoint,
    MagnetJoint,
    PinJoint,
    ScrewJoint,
    ThreadJoint,
    TongueJoint,
)

HalfOf = Annotated[
    PinJoint | ScrewJoint | MagnetJoint | ThreadJoint | BayonetJoint | DovetailJoint | TongueJoint | KeyJoint,
    Field(discriminator="kind"),
]
"""the kinds that make sense with one piece only"""
Half = Literal["takes", "stands"]
NEAR_MM = 1.0
"""a face that is further from the point than this is not the one that was picked"""
ON_PLANE_MM = 0.02
EDGE_MM = 0.5
"""over so much of an edge to either side it is seen which way is inwards"""
TALL_MM = 200.0
"""nothing stands out of a face further than this"""
OWN: SideName = "a"
"""the side of the body; the other one is what meets it"""


@dataclass(frozen=True)
class OneSide:
    """Sections of the body behind its face, on its side; there is nothing on the other."""

    body: Solid
    seen: FramedSolid
    own: SideName

    def section(self, side: SideName, depth: float) -> MultiPolygon:
        """Of the body, `depth` behind the face; nothing of what meets it."""
        if side != self.own:
            return NOWHERE
        return self.seen.section(depth if side == "b" else -depth)

    def solid(self, side: SideName) -> Solid:  # noqa: ARG002
        """The body."""
        return self.body


@dataclass(frozen=True)
class FlatFace:
    """A flat face: its frame, the normal looking out, and its outline in it, mm."""

    frame: Frame
    shape: MultiPolygon


def flat_face(body: Solid, at: Points, facing: Points) -> FlatFace | None:
    """The flat face of a body at a point (3,) that looks along a unit vector (3,); None where it is not flat there."""
    frame = plane_frame(at, facing)
    faces = flat_faces_at(body.mesh, frame, upward=True, within_mm=ON_PLANE_MM)
    near = min(faces.geoms, key=lambda face: face.distance(Point(0.0, 0.0)), default=None)
    if near is None or near.distance(Point(0.0, 0.0)) > NEAR_MM:
        return None
    return FlatFace(frame, MultiPolygon([near]))


def face_on(shape: Shape, at: Points, facing: Points, step: str) -> tuple[Solid, FlatFace]:
    """The body of a shape that has a flat face at a point (3,), and the face. Raises StepRefused for that step."""
    way = facing / np.linalg.norm(facing)
    for body in shape.bodies:
        face = None if body.solid is None else flat_face(body.solid, at, way)
        if body.solid is not None and face is not None:
            return body.solid, face
    raise StepRefused("There is no flat face at this place. Pick a flat one, or cut it flat first.", step)


def half_of(joint: HalfOf, half: Half) -> HalfOf:
    """The joint with the half that is wanted on the body: what stands out of it, or what takes that."""
    own: SideName = "a" if half == "stands" else "b"
    changes: dict[str, object] = {"on": own} if "on" in type(joint).model_fields else {}
    return joint.model_copy(update=changes)


def places_on(face: FlatFace, pattern: Pattern) -> list[Place]:
    """Where the elements of a pattern stand, in the coordinates of the face's frame."""
    if pattern.measured_from == "edge":
        return _along_the_edge(face, pattern)
    x0, y0, x1, y1 = face.shape.bounds
    origin = {"point": (0.0, 0.0), "middle": ((x0 + x1) / 2, (y0 + y1) / 2), "edges": (x0, y0)}[pattern.measured_from]
    return [(float(x), float(y)) for x, y in np.round(pattern.flat + origin, 9)]


def _along_the_edge(face: FlatFace, pattern: Pattern) -> list[Place]:
    """Places measured along the outline nearest the frame's origin, round its bends, and inwards from it. A ring keeps its
    shape: only its middle is measured so."""
    flat = pattern.flat
    ring = min(rings_of(face.shape), key=lambda r: r.distance(Point(0.0, 0.0)))
    along = flat[:, 0] if pattern.pattern != "ring" else np.full(len(flat), pattern.x_mm)
    spots = spots_on(ring, (ring.project(Point(0.0, 0.0)) + along) % ring.length, EDGE_MM)
    beside = flat[:, :1] - along[:, None]
    return [(float(x), float(y)) for x, y in np.round(spots.at + beside * spots.along + flat[:, 1:] * spots.inward, 9)]


def standing_on(
    body: Solid, face: FlatFace, clearance_mm: float, least_wall_mm: float, line_mm: float, other_mm: float
) -> Standing:
    """Where a half joint stands; `other_mm` is the thickness of what meets the body."""
    return _standing(body, face.frame, face.shape, OWN, (clearance_mm, least_wall_mm, line_mm), other_mm, 0.0)


def facing_standing(  # noqa: PLR0913 - the figures of the project it stands in
    body: Solid, frame: Frame, face: FlatFace, clearance_mm: float, least_wall_mm: float, line_mm: float, gap_mm: float
) -> Standing:
    """Where the other half stands on a body whose `face` looks against the normal of `frame`, in that frame; `gap_mm` is
    how far behind the frame's plane the face lies, which what passes through the body goes over."""
    world = face.frame.to_world

    def across(flat: Points) -> Points:
        return frame.flat(np.column_stack([flat, np.zeros(len(flat))]) @ world[:, :3].T + world[:, 3])

    return _standing(
        body, frame, shapely.transform(face.shape, across), "b", (clearance_mm, least_wall_mm, line_mm), 0.0, gap_mm
    )


def _standing(  # noqa: PLR0913 - a side, and the figures of the project it stands in
    body: Solid,
    frame: Frame,
    shape: MultiPolygon,
    own: SideName,
    figures: tuple[float, float, float],
    other_mm: float,
    gap_mm: float,
) -> Standing:
    inwards = -frame.n if own == "a" else frame.n

    def through(side: SideName, place: Place, way: Points | None) -> float:
        if side != own:
            return other_mm
        start = frame.world(np.array([place]))[0] + (gap_mm + 1e-3) * inwards
        along = inwards if way is None else (way if way @ inwards > 0 else -way)
        far = float(np.linalg.norm(body.size)) + 1.0
        hits = body.ray(start, start + far * along)
        return float(np.linalg.norm(hits[0] - start)) + gap_mm if len(hits) else math.inf

    def top(side: SideName, place: Place) -> float:
        return 0.0 if side == own and shape.covers(Point(place)) else -math.inf

    sections = OneSide(body, FramedSolid(body, frame), own)
    return Standing(frame, shape, *figures, through, top, sections)


def own_tools(joint: HalfOf, standing: Standing, places: Sequence[Place]) -> Tools:
    """What the joint does to the body, and the loose parts that go into it and what meets it."""
    every = joint.tools(standing, places)
    return Tools(every.of(OWN), every.loose)


def within_face(tool: Tool, standing: Standing) -> Solid | None:
    """What a tool adds; where it runs along the face it ends where that does."""
    if tool.add is None or not tool.clipped:
        return tool.add
    return tool.add.common(Solid.drawn(standing.shape, -TALL_MM, TALL_MM).placed(standing.frame.to_world))


def shaped(body: Solid, tools: Sequence[Tool], standing: Standing) -> Solid:
    """The body with what tools add and without what they cut; what runs along the face ends where that does."""
    adds = [add for t in tools if (add := within_face(t, standing)) is not None]
    cuts = [t.cut for t in tools if t.cut is not None]
    return (body.plus(adds) if adds else body).minus(cuts)


def meeting(joint: HalfOf, standing: Standing, places: Sequence[Place]) -> list[int]:
    """The elements that run into one before them, their clearance counted."""
    return overlapping([joint.footprint(standing, place).buffer(standing.clearance_mm) for place in places])


def overlapping(taken: Sequence[shapely.Polygon]) -> list[int]:
    """Outlines that run into one before them."""
    tree = shapely.STRtree(taken)
    one, other = tree.query(taken, predicate="overlaps")
    return sorted({int(k) for k, before in zip(one, other, strict=True) if k > before})


def off_the_face(joint: HalfOf, standing: Standing, places: Sequence[Place]) -> list[int]:
    """The elements that do not stand wholly on the face."""
    return not_within(standing.shape, [joint.footprint(standing, place) for place in places])


def not_within(shape: MultiPolygon, taken: Sequence[shapely.Polygon]) -> list[int]:
    """Outlines that do not lie wholly in a face."""
    room = shape.buffer(1e-3)
    shapely.prepare(room)
    return [k for k, outline in enumerate(taken) if not room.covers(outline)]
