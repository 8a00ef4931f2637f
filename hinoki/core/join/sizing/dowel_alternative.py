"""Dowels that take the place of pins on a face."""

from hinoki.core.join.apply import standing_on
from hinoki.core.join.joints import Joint, PinJoint
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.placing import Depths
from hinoki.core.join.sizing.recommended_sizes import suggest
from hinoki.core.plan.plan import Plan


def dowels_for(placed_joint: PlacedJoint, plan: Plan) -> Joint | None:
    """Dowels that suit the face of pins; None for other joints, and where there is no room for any."""
    if not isinstance(placed_joint.joint, PinJoint):
        return None
    found = suggest(
        "dowel",
        placed_joint.joint.id,
        Depths(placed_joint.face),
        placed_joint.joint.fit,
        standing_on(placed_joint.face, plan, placed_joint.joint.fit),
    )
    return found and found.as_chosen
