"""Partings that make no sense are refused when they are entered, before anything is computed."""

from hinoki.core.divide.partings import FlatParting
from hinoki.core.divide.partings.base import SKIN_MM
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.mesh import Points, box_corners
from hinoki.core.plan.plan import Plan


def refuse_partings(plan: Plan, before: Plan, low: Points, high: Points) -> None:
    """Raise BadPlan for a flat parting, new or changed since `before`, that misses the model or repeats another.

    `low` and `high` (3,) are the corners of the model as prepared. What only a build can tell is left to its findings, and
    what was there before is never refused.
    """
    old = {p.id: p for p in before.partings}
    corners = box_corners(low, high)
    for index, parting in enumerate(plan.partings):
        if not isinstance(parting, FlatParting) or not parting.on or old.get(parting.id) == parting:
            continue
        heights = parting.frame.heights(corners)
        if heights.min() > -SKIN_MM or heights.max() < SKIN_MM:
            axis = "xyz".index(parting.axis)
            raise BadPlan(
                f"{parting.id.upper()} ({parting.label()}) misses the model, which reaches from {low[axis]:.1f} to "
                f"{high[axis]:.1f} mm along {parting.axis.upper()}. Choose a position in between.",
                f"partings.{index}.at_mm",
            )
        for other in plan.partings:
            if other is parting or not isinstance(other, FlatParting) or not other.on:
                continue
            shared = parting.only is None or other.only is None or set(parting.only) & set(other.only)
            if shared and parting.frame.same_plane(other.frame):
                raise BadPlan(
                    f"{parting.id.upper()} ({parting.label()}) lies in the same place as {other.id.upper()}. "
                    "Move it, or change the other one.",
                    f"partings.{index}.at_mm",
                )
