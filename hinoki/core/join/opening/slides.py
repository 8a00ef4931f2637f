"""A door that slides on a rail: tried over its whole travel, exactly, among the finished pieces."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.geometry.mesh import stacked
from hinoki.core.geometry.slide_collision import Form, slide
from hinoki.core.join.closures.rail import RailJoint
from hinoki.core.join.contract.terms import Direction, direction_of
from hinoki.core.join.opening.moving import Point, bent, giving_between, moves_with
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.stages import stage

STOPS_MM = 0.05
"""a door that is stopped so little before the end of its travel has reached it"""


@dataclass(frozen=True)
class Slid:
    """How far a door slides before it touches another piece (its key), and where; None where it goes as far as it is to."""

    after_mm: float | None
    piece: str = ""
    at: Point = (0.0, 0.0, 0.0)


def way_of(placed: PlacedJoint) -> Direction | None:
    """The way in which the door of a placed rail opens; None for other joints, and where it has no place."""
    joint = placed.joint
    return direction_of(joint.opening(placed.standing)) if isinstance(joint, RailJoint) and placed.places else None


def door_of(placed: PlacedJoint) -> str:
    """The piece (its key) with the runner."""
    joint = placed.joint
    return placed.part(joint.on if isinstance(joint, RailJoint) else "b").key


def frame_of(placed: PlacedJoint) -> str:
    """The piece (its key) with the groove."""
    joint = placed.joint
    return placed.part(joint.female if isinstance(joint, RailJoint) else "a").key


def slid(placed_joint: PlacedJoint, placed: Sequence[PlacedJoint], parts: Sequence[Part], cache: Cache) -> Slid:
    """How the door of a rail slides among the finished pieces with what moves along; `placed` are all joints."""
    joint, way = placed_joint.joint, way_of(placed_joint)
    if way is None or not isinstance(joint, RailJoint):
        return Slid(None)
    moving = moves_with(door_of(placed_joint), frame_of(placed_joint), placed)
    giving = [one for one in giving_between(moving, placed) if not isinstance(one.joint, RailJoint)]
    still = [part for part in parts if part.key not in moving]
    return _slid(cache, [part for part in parts if part.key in moving], still, way, joint.travel_mm, giving)


@stage("slid")
def _slid(
    moving: Sequence[Part], still: Sequence[Part], way: Direction, travel_mm: float, bending: Sequence[PlacedJoint]
) -> Slid:
    """How far pieces go along a way among others, the joints `bending` between them bent."""
    door = Form(stacked([bent(part, bending).mesh for part in moving]))
    low, high = door.bounds
    gone = travel_mm * np.array(way)
    low, high = np.minimum(low, low + gone), np.maximum(high, high + gone)
    first = Slid(None)
    for part in still:
        least, most = part.solid.bounds
        if (least > high).any() or (most < low).any():
            continue
        stop = slide(door, Form(bent(part, bending).mesh), np.array(way))
        if stop.free or stop.after_mm >= (travel_mm if first.after_mm is None else first.after_mm) - STOPS_MM:
            continue
        first = Slid(round(float(stop.after_mm), 2), part.key, stop.at or (0.0, 0.0, 0.0))
    return first
