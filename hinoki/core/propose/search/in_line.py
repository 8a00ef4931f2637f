"""Seams of neighbours run on in one plane: a cut hardly beside the plane of another's is made in that plane."""

from collections.abc import Iterable

import numpy as np

from hinoki.core.divide.cut import Part
from hinoki.core.divide.partings import EvenParting, FlatParting, PartingBase
from hinoki.core.divide.partings.base import Reach
from hinoki.core.divide.partings.flat import plane_fields
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import box_corners
from hinoki.core.propose.search.candidates import NEAR_MM
from hinoki.core.propose.search.constraints import Heed

IN_LINE_MM = 1.0
"""planes nowhere farther apart than this, across a piece, are meant to be one"""


def in_line(parts: Iterable[Part], piece: Part, parting: PartingBase, heed: Heed) -> PartingBase:
    """A parting of a piece in one plane, moved into the plane in which another of the `parts` was cut where that lies hardly
    beside it and crosses nothing that is to stay whole; else as it is. Between the two there would be a sliver of a face."""
    members = parting.members(Reach([piece.solid])) if isinstance(parting, FlatParting | EvenParting) else []
    if len(members) != 1:
        return parting
    corners = box_corners(*piece.solid.bounds)
    own = members[0].frame
    for frame in (end.frame for part in parts for end in part.ends if part is not piece):
        there = frame.heights(corners) * np.sign(frame.n @ own.n)
        beside = np.abs(there - own.heights(corners)).max() < IN_LINE_MM
        if beside and crosses(frame, piece) and heed.crossed(frame, *piece.solid.bounds) is None:
            fields = {"id": parting.id, "only": parting.only, **plane_fields(frame.origin, frame.n)}
            return FlatParting.model_validate(fields)
    return parting


def crosses(frame: Frame, part: Part) -> bool:
    """Whether a plane goes through a part."""
    heights = frame.heights(part.solid.mesh.vertices)
    return float(heights.min()) < -NEAR_MM and float(heights.max()) > NEAR_MM
