"""Holes for countersunk screws in what is made."""

from hinoki.core.geometry.solid import Solid

HEAD = 1.9
"""a countersunk head is so much wider than its shank (ISO 10642: about 2 times; common practice)"""


def screw_hole(diameter_mm: float, thick_mm: float) -> Solid:
    """A hole through a plate from Z 0 to `thick_mm`, countersunk from above at 90°, no deeper than leaves a third of it."""
    radius = diameter_mm / 2
    head = HEAD * radius
    sink = min(head - radius, thick_mm * 2 / 3)
    bore = Solid.cylinder(radius, -1.0, thick_mm + 1.0, around=True)
    cone = Solid.cone(radius, radius + sink + 0.02, thick_mm - sink, thick_mm + 0.02)
    return bore.plus([cone])
