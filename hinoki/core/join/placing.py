"""Where joints may stand on a mating face: room within both pieces, off what other joints take."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import FramedSolid
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.base import JointBase
from hinoki.core.join.contract.point_spacing import opposite_the_hinge
from hinoki.core.join.contract.terms import Place, SideName, Standing


@dataclass(frozen=True)
class Depths:
    """Sections of the two pieces of a face at growing depths, remembered with the face."""

    face: MatingFace
    _framed: dict[SideName, FramedSolid] = field(default_factory=dict)

    def solid(self, side: SideName) -> Solid:
        """The piece on `side`."""
        return self.face.part(side).solid

    def section(self, side: SideName, depth: float) -> MultiPolygon:
        """Section of the piece on `side`, `depth` into it, in the face's plane coordinates."""
        key, known = (side, round(depth, 3)), self.face.sections
        if key not in known:
            if side not in self._framed:
                self._framed[side] = FramedSolid(self.solid(side), self.face.frame)
            known[key] = self._framed[side].section(key[1] if side == "b" else -key[1])
        return known[key]


def room_for(
    joint: JointBase, depths: Depths, standing: Standing, taken: Sequence[tuple[SideName, Solid]] = ()
) -> MultiPolygon:
    """Where the places of a joint may lie.

    `taken` are solids in the pieces (bores of other joints) that the joint must keep clear of.
    """

    def shadows(side: SideName, deep: float) -> list[shapely.Geometry]:
        return [_shadow(solid, standing.frame, side, deep) for owner, solid in taken if owner == side]

    room = as_multi(joint.room(standing, depths, shadows), 1e-3)
    return as_multi(opposite_the_hinge(room, standing), 1e-3) if joint.holds_shut else room


def auto_places(
    joint: JointBase, depths: Depths, standing: Standing, taken: Sequence[tuple[SideName, Solid]] = ()
) -> tuple[list[Place], MultiPolygon]:
    """Places for a joint that has none typed, and the room they were chosen from."""
    if joint.wanted == 0 and joint.places is None:
        return [], MultiPolygon()
    room = room_for(joint, depths, standing, taken)
    apart = joint.apart_mm + 2 * standing.clearance_mm + standing.least_wall_mm
    return joint.spread(room, apart), room


def _shadow(solid: Solid, frame: Frame, side: SideName, deep: float) -> shapely.Geometry:
    """What `solid` covers of the plane where it lies within `deep` of it on `side`."""
    seen = solid.placed(frame.to_frame)
    low, high = float(seen.bounds[0][2]), float(seen.bounds[1][2])
    from_, to = (low, high) if side == "b" else (-high, -low)
    return MultiPolygon() if to < 0 or from_ > deep else seen.silhouette()
