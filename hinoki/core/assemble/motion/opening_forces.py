"""Doors, lids and modules: how they open, what holds them shut, and whether that is stronger than their weight."""

import math
from collections.abc import Iterator, Mapping, Set
from dataclasses import dataclass
from typing import Literal

import numpy as np

from hinoki.core.assemble.motion.moves import Motion, MotionKind
from hinoki.core.assemble.scene.parts import Scene
from hinoki.core.assemble.scene.weights import Weight
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.findings import Params
from hinoki.core.geometry.mesh import Points
from hinoki.core.join.contract.strength import Stuff
from hinoki.core.join.joints import HingeJoint, RailJoint
from hinoki.core.join.opening.folds import Fold, folds_of, unfolds
from hinoki.core.join.opening.slides import door_of, slid
from hinoki.core.join.opening.swings import axis_of, swung
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.workshop.materials import GRAVITY

Way = MotionKind | Literal["door", "rail", "fold", "lift"]
"""how something opens: on a hinge or a rail, folding, straight up, or as it moves"""


@dataclass(frozen=True)
class Opens:
    """A part that opens: by swinging (`opens_deg`, and what it touches first, if anything), sliding or lifting off.

    `shut` is the torque until which magnets, hooks or bumps hold a door, in N·mm, `weight` what its weight does against that at
    worst, the hinge level; for parts that lift off both are forces in newtons.
    """

    unit: str
    how: Way
    params: Params
    opens_deg: float | None = None
    touches: str | None = None
    at_deg: float | None = None
    shut: float = 0.0
    weight: float = 0.0
    torque: bool = False

    @property
    def stays_shut(self) -> bool | None:
        """Whether it is held shut in any attitude; None where nothing holds it."""
        return None if self.shut <= 0 else self.shut > self.weight


def opening(
    built: Build, scene: Scene, weights: Mapping[str, Weight], comes_off: Mapping[str, Motion], cache: Cache
) -> list[Opens]:
    """All doors, and what must come off again, by how it does."""
    folds = folds_of(built.placed)
    folding = {joint for fold in folds for joint in fold.joints}
    found = [_folds(fold, built, scene, cache) for fold in folds]
    for placed_joint in (one for one in built.placed if one.joint.id not in folding):
        if isinstance(placed_joint.joint, HingeJoint):
            found.append(_swings(placed_joint, built, scene, weights, cache))
        elif isinstance(placed_joint.joint, RailJoint):
            found.append(_slides(placed_joint, built, scene, cache))
    known = [opens for opens in found if opens is not None]
    doors = {o.unit for o in known}
    for unit, motion in ((u, m) for u, m in comes_off.items() if u not in doors):
        own = set(scene.units[unit].keys)
        pulls = sum(catch.newtons for catch in _catches(built, own, {part.key for part in built.parts} - own))
        how: Way = "lift" if motion.kind == "slide" and motion.way[2] > 0.9 else motion.kind
        weight_n = weights[unit].grams / 1000 * GRAVITY
        params: Params = {"turns": motion.turns, "turn_deg": 360 * motion.turns}
        known.append(Opens(unit, how, params, shut=round(pulls, 1), weight=round(weight_n, 2)))
    return known


def _swings(placed_joint: PlacedJoint, built: Build, scene: Scene, weights: Mapping[str, Weight], cache: Cache) -> Opens | None:
    """A door on a hinge, and what holds it shut."""
    joint, axis = placed_joint.joint, axis_of(placed_joint)
    door, frame = scene.of_piece(placed_joint.face.b.key), scene.of_piece(placed_joint.face.a.key)
    if axis is None or door is None or frame is None or not isinstance(joint, HingeJoint):
        return None
    n, at = axis.frame.n, axis.frame.origin
    weight = weights[door.id] if door.id != frame.id else _alone(placed_joint, weights[door.id])
    arm = weight.centre - at
    level = float(np.linalg.norm(arm - n * float(arm @ n)))
    shut = 0.0
    for catch in _catches(built, {placed_joint.face.a.key}, {placed_joint.face.b.key}):
        to = catch.at - at
        shut += catch.newtons * float(np.linalg.norm(np.cross(to - n * float(to @ n), catch.way)))
    swing = swung(placed_joint, built.placed, built.parts, cache)
    return Opens(
        unit=door.id,
        how="door",
        params={"hinge": joint.label()},
        opens_deg=joint.opens_deg,
        touches=swing.piece or None,
        at_deg=swing.angle,
        shut=round(shut, 1),
        weight=round(weight.grams / 1000 * GRAVITY * level, 1),
        torque=True,
    )


def _slides(placed_joint: PlacedJoint, built: Build, scene: Scene, cache: Cache) -> Opens | None:
    """A door on a rail: how far it goes, or is stopped."""
    joint, door = placed_joint.joint, scene.of_piece(door_of(placed_joint))
    if not isinstance(joint, RailJoint) or door is None or not placed_joint.places:
        return None
    stopped = slid(placed_joint, built.placed, built.parts, cache)
    gone = joint.travel_mm if stopped.after_mm is None else stopped.after_mm
    return Opens(door.id, "rail", {"gone_mm": gone}, touches=stopped.piece or None)


def _folds(fold: Fold, built: Build, scene: Scene, cache: Cache) -> Opens | None:
    """A folding door: how far it folds, and what it meets."""
    door, how = scene.of_piece(fold.near), unfolds(fold, built.parts, cache)
    if door is None:
        return None
    met = how.met.piece if how.met else None
    return Opens(door.id, "fold", {}, fold.linkage.most_deg, met, how.angle)


@dataclass(frozen=True)
class _Catch:
    """Where something holds a lid shut (3,), the way (3,) it is pulled open, and until which force, in newtons."""

    at: Points
    way: Points
    newtons: float


def _catches(built: Build, one: Set[str], other: Set[str]) -> Iterator[_Catch]:
    """What holds pieces of one set shut on those of another: magnets, hooks, bumps."""
    stuff = Stuff.of(built.plan.material)
    for placed in built.placed:
        a, b = placed.face.a.key, placed.face.b.key
        if (a in one and b in other) or (b in one and a in other):
            for place, newtons in placed.joint.catches(placed.standing, placed.places, stuff):
                if math.isfinite(newtons):
                    yield _Catch(placed.standing.frame.world(np.array([place]))[0], placed.standing.frame.n, newtons)


def _alone(placed_joint: PlacedJoint, together: Weight) -> Weight:
    """The share of a door that prints in place with its frame, by volume."""
    a, b = placed_joint.face.a.solid, placed_joint.face.b.solid
    share = b.volume_mm3 / max(1e-9, a.volume_mm3 + b.volume_mm3)
    return Weight(together.grams * share, b.centre_of_mass)
