"""A door that swings about an axis: tried in positions, by exact overlap with what is near it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.closures.hinge import Axis
from hinoki.core.join.joints import HingeJoint
from hinoki.core.join.opening.moving import Point, bent, giving_between, met, moves_with
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.stages import stage

STEP_DEG = 5.0
FIRST_DEG = 10.0
"""so far it is tried degree by degree: that is where a door leaves its frame"""
FREE_MM3 = 0.02
"""what two knuckles share by rounding, along their whole length"""


@dataclass(frozen=True)
class Swing:
    """The first position, in degrees, at which a door touches another piece (its key), how much of it, and where.

    `angle` is None where it swings freely.
    """

    angle: float | None
    piece: str = ""
    volume_mm3: float = 0.0
    at: Point = (0.0, 0.0, 0.0)


def swing_of(door: Solid, others: Mapping[str, Solid], axis: Axis, opens_deg: float, from_deg: float = 0.0) -> Swing:
    """The door turned about the axis to positions STEP_DEG apart, closer where it leaves its frame, and the last one, against
    what `others` have near it; those below `from_deg` are known to be free."""
    frame = axis.frame
    seen = frame.seen(door.mesh.vertices)
    far = float(np.hypot(seen[:, 0], seen[:, 1]).max()) + 1.0
    low, high = float(seen[:, 2].min()) - 1.0, float(seen[:, 2].max()) + 1.0
    reach = Solid.cylinder(far, low, high).placed(frame.to_world)
    near = {key: solid.common(reach) for key, solid in others.items() if solid.box_meets(reach)}
    for angle in (a for a in angles_to(opens_deg) if a >= from_deg):
        turned = door.placed(axis.turned(float(angle)))
        for key, solid in near.items():
            if not solid.box_meets(turned):
                continue
            both = solid.common(turned)
            if both.volume_mm3 > FREE_MM3:
                found = met(key, both)
                return Swing(float(angle), found.piece, found.volume_mm3, found.at)
    return Swing(None)


def angles_to(most_deg: float) -> list[float]:
    """The positions that are tried up to an angle."""
    return [*np.arange(0.0, min(FIRST_DEG, most_deg), 1.0), *np.arange(FIRST_DEG, most_deg, STEP_DEG), most_deg]


def axis_of(placed: PlacedJoint) -> Axis | None:
    """Where a placed hinge turns; None for other joints, and where it has no edge."""
    joint = placed.joint
    if not isinstance(joint, HingeJoint) or not placed.places:
        return None
    return joint.axis(placed.standing, placed.places[0])


def swung(placed_joint: PlacedJoint, placed: Sequence[PlacedJoint], parts: Sequence[Part], cache: Cache) -> Swing:
    """How the door of a hinge swings among the finished pieces, what gives way between door and frame bent; free where it has
    no axis. `placed` are all joints."""
    axis = axis_of(placed_joint)
    if axis is None or not isinstance(placed_joint.joint, HingeJoint):
        return Swing(None)
    moving = moves_with(placed_joint.face.b.key, placed_joint.face.a.key, placed)
    still = [p for p in parts if p.key not in moving]
    bending = giving_between(moving, placed)
    return _swing(cache, [p for p in parts if p.key in moving], still, axis, placed_joint.joint.opens_deg, bending)


@stage("swing", version=2)
def _swing(
    moving: Sequence[Part], still: Sequence[Part], axis: Axis, opens_deg: float, bending: Sequence[PlacedJoint]
) -> Swing:
    """How a door swings with what hangs on it among other pieces, the joints `bending` between them bent."""
    others = {p.key: bent(p, bending) for p in still}
    swings = (swing_of(bent(p, bending), others, axis, opens_deg) for p in moving)
    return min((s for s in swings if s.angle is not None), key=lambda s: s.angle or 0.0, default=Swing(None))
