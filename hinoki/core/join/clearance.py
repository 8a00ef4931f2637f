"""Clearances measured on the finished solids, against what was asked."""

from collections.abc import Mapping

from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import SIDES
from hinoki.core.join.placed_joint import PlacedJoint

WITHIN_MM = 3.0
"""clearances above this are not told apart"""


def measured_clearance(placed: PlacedJoint, pieces: Mapping[str, Solid]) -> float | None:
    """The clearance in mm told by the smallest distance between the male bodies of a joint (those that are to have its
    clearance) and the finished pieces they go into, by piece key; None for a joint without any, or where nothing of it is.
    """
    gaps = [
        tool.probe.gap(pieces[placed.part("b" if tool.side == "a" else "a").key], WITHIN_MM)
        for tool in placed.tools.each
        if tool.probe is not None
    ]
    gaps += [loose.solid.gap(pieces[placed.part(side).key], WITHIN_MM) for loose in placed.tools.loose for side in SIDES]
    return min(gaps) / placed.joint.gap_share(placed.clearance_mm) if gaps else None
