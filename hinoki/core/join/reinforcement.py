"""Faces of thin shells as their joints see them: with the collars both pieces get inside the hollow."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import FramedSolid
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.collar import JUST_OFF_MM, Bounds, collar
from hinoki.core.join.contract.terms import CollarWish
from hinoki.core.join.contract.wall_runs import towards
from hinoki.core.join.joints import (
    SIDES,
    Place,
    SideName,
)
from hinoki.core.stages import Keyed, key_of, stage
from hinoki.core.workshop.screw_tables import Size

BOSSED: tuple[Size, ...] = ("M4", "M3", "M2.5", "M2")
"""screws tried in bosses, large ones first"""
FAR_MM = 1e3
MUCH, LEAST_POST_MM2 = 0.8, 1.0
"""of the section of a post that a panel has behind it, and how large that is at least"""
BESIDE_MM = 2.0
"""added to how far a collar reaches, so that what it touches is near"""


@dataclass(frozen=True)
class Collared:
    """A face whose pieces have collars, and what each of them gained."""

    face: MatingFace
    gains: Mapping[SideName, Solid]
    bare: Mapping[SideName, Part]
    """the pieces without"""


@dataclass(frozen=True)
class Ground:
    """The whole model and all its pieces: what tells where a hollow is, and what else lies in it."""

    whole: Solid
    made_by: str
    parts: Sequence[Part]
    bores: Sequence[tuple[Solid, str, Sequence[str]]] = ()
    """what ways cut, with a hash, and the pieces (their keys) they go through"""

    def collared(self, face: MatingFace, wish: CollarWish, cache: Cache) -> Collared | None:
        """The face with collars as wished; None where it has no hollow beside it, or too narrow a one."""
        model, near = Keyed(FramedSolid(self.whole, face.frame), self.made_by), self._near(face, wish)
        return _collared(cache, model, face, wish, near)

    def _near(self, face: MatingFace, wish: CollarWish) -> list[Part]:
        """The pieces that a collar could meet: far ones do not matter, so they change nothing."""
        reach = max(wish.deep_mm.values()) + 2 * wish.thick_mm + BESIDE_MM
        corners = face.frame.world(shapely.get_coordinates(shapely.box(*face.shape.buffer(reach).bounds)))
        low, high = corners.min(axis=0) - reach, corners.max(axis=0) + reach
        return [p for p in self.parts if (p.solid.bounds[0] <= high).all() and (p.solid.bounds[1] >= low).all()]


@stage("collar", weigh=lambda made: sum(s.triangles for s in made.gains.values()) if made else 10)
def _collared(model: Keyed[FramedSolid], face: MatingFace, wish: CollarWish, near: Sequence[Part]) -> Collared | None:
    """A face with collars, the whole model being seen in its frame; None where they have no room."""
    gains: dict[SideName, Solid] = {}
    for side in SIDES:
        part = face.part(side)
        planes = [(end.frame, end.side) for end in part.ends if not end.frame.same_plane(face.frame)]
        bounds = Bounds(planes, [other.solid for other in near if other.key != part.key], face.crossed)
        gains[side] = collar(wish, model.value, face.frame, side, face.shape, bounds)
    bare = [side for side in SIDES if gains[side].empty]
    if len(bare) == len(SIDES):
        return None
    rings = [_at_face(gains[side], face, side) for side in SIDES]
    if bare:  # the other piece is a panel there: a post on this one, along the wall that ends at it
        (post,) = (side for side in SIDES if side not in bare)
        gains[post] = gains[post].common(_along(face, wish))
        rings = [_at_face(gains[post], face, post), _at_face(face.part(bare[0]).solid, face, bare[0])]
        if shapely.intersection(*rings).area < MUCH * max(rings[0].area, LEAST_POST_MM2):
            return None
    shape = as_multi(shapely.union(face.shape, shapely.intersection(*rings)))
    key = _collared.key(model, face, wish, near)
    a, b = (
        replace(face.part(s), solid=face.part(s).solid.plus([gains[s]]), made_by=key_of(key, face.part(s).made_by))
        for s in SIDES
    )
    return Collared(replace(face, shape=shape, a=a, b=b), gains, {s: face.part(s) for s in SIDES})


def _at_face(solid: Solid, face: MatingFace, side: SideName) -> MultiPolygon:
    """The section of what lies on a side, just off the face."""
    return solid.placed(face.frame.to_frame).slice(JUST_OFF_MM if side == "b" else -JUST_OFF_MM)


def _along(face: MatingFace, wish: CollarWish) -> Solid:
    """All that is so near to a face as a post is thick, seen along its normal."""
    near = as_multi(face.shape.buffer(wish.thick_mm + JUST_OFF_MM, cap_style="square", join_style="mitre"))
    return Solid.drawn(near, -FAR_MM, FAR_MM).placed(face.frame.to_world)


def bossed(grown: Collared, bare: MultiPolygon, places: Sequence[Place], wish: CollarWish) -> Collared:
    """The same face with only what of its collars lies around its places, as wished: bosses; `bare` is it without any."""
    face, around_mm = grown.face, wish.around_mm
    if not places or around_mm is None:
        return grown
    key = key_of("bossed", face.made_by, places, around_mm, wish.squared)
    across = wish.thick_mm + around_mm if wish.squared else None
    deep = max(wish.deep_mm.values())
    within = as_multi(shapely.union_all([_boss(bare, place, around_mm, across, deep) for place in places]))
    column = Solid.drawn(within, -FAR_MM, FAR_MM).placed(face.frame.to_world)
    gains = {side: solid.common(column) for side, solid in grown.gains.items()}
    shape = as_multi(shapely.union(bare, shapely.intersection(face.shape, within)))
    a, b = (
        replace(grown.bare[s], solid=grown.bare[s].solid.plus([gains[s]]), made_by=key_of(key, grown.bare[s].made_by))
        for s in SIDES
    )
    return Collared(replace(face, shape=shape, a=a, b=b), gains, grown.bare)


def _boss(bare: MultiPolygon, place: Place, around_mm: float, across_mm: float | None, deep_mm: float) -> shapely.Geometry:
    """A disc around a place, and all up to the wall, which may lean away as deep as the collar goes; where it is to reach
    across the wall, a box so wide and `across_mm` to either side."""
    box, long = towards(place, bare)
    if long < JUST_OFF_MM:
        return shapely.Point(place).buffer(around_mm)
    if across_mm is not None:
        return box(around_mm, across_mm)
    return shapely.union(shapely.Point(place).buffer(around_mm), box(around_mm, 0.0, long + deep_mm + around_mm))
