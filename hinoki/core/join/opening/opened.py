"""Where pieces are while what stands on a hinge or a rail is opened: positions to be shown."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from hinoki.core.geometry.mesh import Points
from hinoki.core.join.closures.hinge import HingeJoint
from hinoki.core.join.closures.rail import RailJoint
from hinoki.core.join.opening.folds import Fold
from hinoki.core.join.opening.moving import moves_with
from hinoki.core.join.opening.slides import door_of, frame_of, way_of
from hinoki.core.join.opening.swings import STEP_DEG, axis_of
from hinoki.core.join.placed_joint import PlacedJoint

SLIDE_STEPS = 20


@dataclass(frozen=True)
class Opened:
    """By how much it is opened in each position, in degrees or mm, and the matrices (3, 4) of each piece (its key) then;
    `at` is where to look, (3,)."""

    unit: Literal["deg", "mm"]
    by: Sequence[float]
    moved: Mapping[str, Sequence[Points]]
    at: Points


def opened(one: PlacedJoint, placed: Sequence[PlacedJoint], folds: Sequence[Fold]) -> Opened | None:
    """How what hangs on a joint opens; None for joints that nothing opens on. `placed` are all joints."""
    fold = next((f for f in folds if one.joint.id in f.joints), None)
    if fold is not None:
        return _folded(fold, one)
    joint, axis, way = one.joint, axis_of(one), way_of(one)
    if axis is None and way is None:
        return None
    moving = moves_with(door_of(one), frame_of(one), placed)
    if isinstance(joint, HingeJoint) and axis is not None:
        angles = _steps(joint.opens_deg, STEP_DEG)
        matrices = [axis.turned(angle) for angle in angles]
        return Opened("deg", angles, dict.fromkeys(moving, matrices), axis.frame.origin)
    if isinstance(joint, RailJoint) and way is not None:
        gone = _steps(joint.travel_mm, joint.travel_mm / SLIDE_STEPS)
        matrices = [np.column_stack([np.eye(3), by * np.array(way)]) for by in gone]
        at = one.standing.frame.world(np.array([one.places[0]]))[0]
        return Opened("mm", gone, dict.fromkeys(moving, matrices), at)
    return None


def _steps(most: float, each: float) -> list[float]:
    return [float(by) for by in np.linspace(0.0, most, max(1, math.ceil(most / each - 1e-9)) + 1)]


def _folded(fold: Fold, one: PlacedJoint) -> Opened:
    angles = _steps(fold.linkage.most_deg, STEP_DEG)
    found = [(angle, now) for angle in angles if (now := fold.linkage.at(angle)) is not None]
    at = one.standing.frame.world(np.array([one.places[0]]))[0]
    moved = {fold.near: [now.near for _, now in found], fold.far: [now.far for _, now in found]}
    return Opened("deg", [angle for angle, _ in found], moved, at)
