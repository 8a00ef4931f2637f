"""Pins and dowels for a mating face: several on a large one, a single long one where something slender was parted."""

import itertools
from collections.abc import Callable, Iterator
from typing import Literal

from hinoki.core.geometry.sections import largest_circle
from hinoki.core.join.contract.pegs import PEG_SIZES_MM
from hinoki.core.join.joints import DowelJoint, Joint, PinJoint, Standing
from hinoki.core.join.placing import Depths
from hinoki.core.join.sizing.face_measures import count_for, measures, with_room
from hinoki.core.workshop.fits import Fit

LENGTH_SHARES = (1.2, 0.8, 0.5)
"""lengths tried, as a share of the diameter: long first, short where the model is low"""
LEAST_LENGTH_MM = 1.5
WIDE_MM = 15.0
"""on a face with a circle of this radius in it pegs stand far out, where they hold the seam and bear more bending"""
SLENDER_MM, SLENDER_LENGTHS = 20.0, (2.0, 1.6, *LENGTH_SHARES)
"""a face no longer than this is the end of something slender: one long peg, with a flat so that it does not turn, bears more
bending than two thin ones (Z = π d³/32; common practice: one and a half to two diameters into either piece)"""
SLENDER_LEAST_MM = 2.5
SLENDER_PEG_MM, SLENDER_SHARE = 5.0, 1.2
"""on any face a peg may be as thick as the walls allow up to this, and to this share of the face's inner radius"""


def pegs(kind: Literal["pin", "dowel"]) -> Callable[[str, Depths, Fit, Standing], Iterator[Joint]]:
    """The sizes of a kind of peg that are tried on a face, those that suit it best first."""

    def suit(joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> Iterator[Joint]:
        radius, _ = largest_circle(standing.shape)
        extent, _, _ = measures(standing.shape)
        most = standing.clearance_mm + standing.least_wall_mm
        thick = max(1.5, extent / 5, min(SLENDER_PEG_MM, SLENDER_SHARE * radius))
        fitting = [d for d in PEG_SIZES_MM if d / 2 + most <= radius and d <= thick]

        def sized(diameter: float, share: float, **more: object) -> Joint:
            length = max(LEAST_LENGTH_MM, round(2 * share * diameter) / 2)
            fields = {"id": joint_id, "face": depths.face.ref, "fit": fit, "diameter_mm": diameter, **more}
            if kind == "pin":
                return PinJoint.model_validate({**fields, "length_mm": length})
            return DowelJoint.model_validate({**fields, "length_mm": 2 * length})

        count = count_for(extent)
        stand = "outwards" if radius >= WIDE_MM else "within"
        several = (sized(d, share, count=count, stand=stand) for d in fitting for share in LENGTH_SHARES)
        if extent >= SLENDER_MM:
            return with_room(several, depths, standing)
        single = (sized(d, share, count=1, shape="flat") for d in fitting if d >= SLENDER_LEAST_MM for share in SLENDER_LENGTHS)
        return with_room(itertools.chain(single, several), depths, standing)

    return suit
