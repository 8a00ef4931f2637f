"""Bores of other joints and of channels near a mating face: what a joint that is placed there has to keep off."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import SIDES, Joint, SideName, Standing
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.reinforcement import Ground
from hinoki.core.stages import key_of


@dataclass(frozen=True)
class NearbyBore:
    """A bore of another joint close to a face, in the piece on `side` of it."""

    side: SideName
    cut: Solid
    key: str

    @property
    def fingerprint(self) -> object:
        """Its side and what made it."""
        return self.side, self.key


def bores_near(joint: Joint, face: MatingFace, standing: Standing, before: Sequence[PlacedJoint]) -> list[NearbyBore]:
    """The bores placed before that a joint on `face` could meet; far ones do not matter, so they change nothing."""
    deep = max(joint.reach_mm("a"), joint.reach_mm("b")) + standing.least_wall_mm + 1.0
    corners = face.frame.world(np.array(shapely.get_coordinates(shapely.box(*face.shape.bounds))))
    low, high = corners.min(axis=0) - deep, corners.max(axis=0) + deep
    return [
        NearbyBore(side, tool.cut, key_of(other.made_by, tool.side, tool.index))
        for other in before
        for other_side in SIDES
        for side in SIDES
        if other.part(other_side).key == face.part(side).key
        for tool in other.tools.of(other_side)
        if tool.cut is not None and (tool.cut.bounds[0] <= high).all() and (tool.cut.bounds[1] >= low).all()
    ]


def channels_near(face: MatingFace, ground: Ground) -> list[NearbyBore]:
    """The bores of ways through the two pieces of a face."""
    return [
        NearbyBore(side, bore, key) for side in SIDES for bore, key, pieces in ground.bores if face.part(side).key in pieces
    ]
