"""What a screw cuts: the way for its head, its clearance hole, and the bore, the insert or the nut its thread goes into."""

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import shapely
from shapely.geometry import LineString

from hinoki.core.geometry.frames import composed, turned_to
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.pegs import into
from hinoki.core.join.contract.terms import JUST_INSIDE_MM, OPENING_MM, Place, SideName, Standing, Tool
from hinoki.core.workshop.screw_tables import nut_of

if TYPE_CHECKING:
    from hinoki.core.join.joints.screw import ScrewJoint

TIP_MM = 1.0
"""free bore beyond a screw's end"""
OUT_MM = 60.0
"""how far the way for the head is kept open outside"""
WAYS = 24
"""directions in which the shortest way out for a nut is sought"""
FAR_MM = 500.0
PAST_MM = 1.0
NUT_SPACE_MM = 0.2
"""a nut's pocket is higher than the nut by this, its clearance not counted"""


@dataclass(frozen=True)
class Driven:
    """One screw where it stands: how thick the piece under its head is there, what of it is gripped, how deep the screw goes
    into the other piece, and its length on sale (None where none is long enough)."""

    thick_mm: float
    grip_mm: float
    bite_mm: float
    length_mm: float | None


def screw_matrix(joint: "ScrewJoint", standing: Standing, side: SideName, place: Place) -> Points:
    """The matrix (3, 4) whose Z goes along the screw, out of the face, into the piece on `side`."""
    straight = into(standing.frame, side, place)
    if not joint.tilt_deg:
        return straight
    axis = joint.axis(standing, place)
    way = axis if side == joint.on else -axis
    return composed(straight, turned_to(straight[:, :3].T @ way))


def headed(joint: "ScrewJoint", index: int, standing: Standing, place: Place, at: Driven) -> Tool:
    """What the piece with the heads loses: the clearance hole, the seat of the head and its way out."""
    hole, head, gap = joint.hole_mm / 2, joint.headed.diameter_mm / 2, standing.clearance_mm
    grip, out = max(at.grip_mm, 0.1), max(at.thick_mm, at.grip_mm) + OUT_MM
    lean = math.tan(math.radians(joint.tilt_deg))
    shank = Solid.cylinder(hole, -OPENING_MM - hole * lean, grip + 0.1, around=True)
    if joint.head == "countersunk":
        below = max(0.0, grip - (head + gap - hole))
        seat = [Solid.cone(hole, head + gap, below, grip), Solid.cylinder(head + gap, grip - 1e-3, out, around=True)]
    else:
        seat = [Solid.cylinder(head + gap, grip, out, around=True)]
    wall = standing.least_wall_mm
    # around the shank up to the seat the piece must be whole; the way for the head leaves it on purpose
    low = JUST_INSIDE_MM + (hole + wall) * lean
    high = max(low + 0.1, grip - (head - hole if joint.head == "countersunk" else 0.0))
    matrix = screw_matrix(joint, standing, joint.on, place)
    return Tool(
        joint.on,
        index,
        cut=Solid.united([shank, *seat]).placed(matrix),
        bore=Solid.cylinder(hole, low, high, around=True).placed(matrix),
        around=Solid.cylinder(hole + wall, low, high).placed(matrix),
        beyond=Solid.cylinder(hole + wall, max(low, high - 0.05), high).placed(matrix),
    )


def threaded(joint: "ScrewJoint", index: int, standing: Standing, place: Place, at: Driven) -> Tool:
    """What the other piece loses: the bore of the thread, and the room for its insert or its nut."""
    gap, wall, deep = standing.clearance_mm, standing.least_wall_mm, at.bite_mm + TIP_MM
    radius = joint.bored_mm / 2
    lean = math.tan(math.radians(joint.tilt_deg))
    mouth = -OPENING_MM - radius * lean
    cut = [Solid.cylinder(radius, mouth, deep, around=True)]
    wide = radius
    if joint.insert:  # a screw longer than its insert goes on in a bore of its own width
        cut = [
            Solid.cylinder(radius, mouth, joint.insert.length_mm + TIP_MM, around=True),
            Solid.cylinder(joint.hole_mm / 2, 0, deep, around=True),
        ]
        wide = max(radius, joint.insert.boss_mm / 2 - wall)
    if joint.into == "nut":
        flats, high = nut_of(joint.size_mm)
        wide = (flats / 2 + gap) / math.cos(math.pi / 6)
        cut += _nut_room(joint, standing, place, flats / 2 + gap, high)
    matrix = screw_matrix(joint, standing, joint.other, place)
    low = JUST_INSIDE_MM + (wide + wall) * lean
    end = max(low + 0.1, min(deep, joint.least_bite_mm))
    return Tool(
        joint.other,
        index,
        cut=Solid.united(cut).placed(matrix),
        bore=Solid.cylinder(radius, low, max(deep, low + 0.1), around=True).placed(matrix),
        around=Solid.cylinder(wide + wall, low, end).placed(matrix),
        beyond=Solid.cylinder(radius, deep, deep + wall).placed(matrix),
    )


def _nut_room(joint: "ScrewJoint", standing: Standing, place: Place, half: float, high: float) -> list[Solid]:
    """The six-sided pocket of a nut, half as wide across its flats as `half`, at the face, or deeper with a slot to it."""
    corner = half / math.cos(math.pi / 6)
    turn = np.pi / 3 * np.arange(6)
    ring = corner * np.column_stack([np.cos(turn), np.sin(turn)])
    if joint.nut_from == "face":
        return [Solid.drawn_ring(ring, -OPENING_MM - corner * math.tan(math.radians(joint.tilt_deg)), high + NUT_SPACE_MM)]
    low, top = joint.nut_deep_mm, joint.nut_deep_mm + high + NUT_SPACE_MM + standing.clearance_mm
    angle, long = slot_way(joint, standing, place)
    # seen from inside the other piece the face is turned over
    way = angle if joint.other == "b" else -angle
    matrix = np.array([[math.cos(way), -math.sin(way), 0, 0], [math.sin(way), math.cos(way), 0, 0], [0, 0, 1.0, 0]])
    slot = Solid.box([0, -half, low], [long + PAST_MM, half, top])
    return [Solid.drawn_ring(ring, low, top).plus([slot]).placed(matrix)]


def slot_way(joint: "ScrewJoint", standing: Standing, place: Place) -> tuple[float, float]:
    """The direction in the face (radians) in which a nut goes in, and how far it is from its place out of the piece."""
    section = standing.sections.section(joint.other, joint.nut_deep_mm) if standing.sections else standing.shape
    angles = [math.radians(joint.slot_deg)] if joint.slot_deg is not None else list(2 * np.pi * np.arange(WAYS) / WAYS)
    return min(((a, _out(section, place, a)) for a in angles), key=lambda w: (round(w[1], 2), w[0]))


def _out(section: shapely.Geometry, place: Place, angle: float) -> float:
    """How far it is from a place to the first edge of a section."""
    ray = LineString([place, (place[0] + FAR_MM * math.cos(angle), place[1] + FAR_MM * math.sin(angle))])
    inside = shapely.intersection(ray, section)
    runs = [g for g in shapely.get_parts(inside) if g.geom_type == "LineString"]
    first = min(runs, key=lambda g: g.distance(shapely.Point(place)), default=None)
    return 0.0 if first is None else float(max(np.hypot(x - place[0], y - place[1]) for x, y in first.coords))
