"""Plates: a cut that runs within a wall, not across it, leaves plates on either side in which no joint finds hold.

They are told by sections alone: what a section has that those a little above or below have not, where it is wide.
"""

import math
from collections.abc import Sequence

import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.polygons import as_multi

DEEP_MM = 5.0
"""a peg and the wall at its end need about so much on either side of a cut (common practice)"""
HAIR_MM = 1e-3
WIDE_MM = 5.0
"""half of how wide a plate is at least: walls that lean are thin in this sense, too, but narrow"""


def plates(section: MultiPolygon, beside: Sequence[MultiPolygon]) -> MultiPolygon:
    """Where a section is over a plate; `beside` are the sections DEEP_MM above and below."""
    # without the hairs that differences leave
    thin = shapely.simplify(shapely.union_all([shapely.difference(section, other) for other in beside]), HAIR_MM)
    if thin.area < math.pi * WIDE_MM**2:  # nowhere wide enough
        return MultiPolygon()
    wide = thin.buffer(-WIDE_MM, join_style="mitre").buffer(WIDE_MM, join_style="mitre")
    wide = shapely.union_all(shapely.get_parts(wide))  # with mitred corners what comes may lie one in the other
    return as_multi(shapely.intersection(wide, thin))


def plate_share(sections: Sequence[MultiPolygon], over: Sequence[MultiPolygon]) -> float:
    """How much of its sections a row of cuts has over plates: 1 for one whose single section is nothing else."""
    return float(sum(plate.area / section.area for section, plate in zip(sections, over, strict=True) if section.area))
