"""Faces of thin shells as their joints see them: with the collars both pieces get inside the hollow."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.cache import Cache, key_of
from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import FramedSolid
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import CollarWish
from hinoki.core.join.joints import (
    SIDES,
    Place,
    SideName,
)
from hinoki.core.join.joints.collar import JUST_OFF_MM, Bounds, collar
from hinoki.core.workshop.screw_tables import Size

BOSSED: tuple[Size, ...] = ("M4", "M3", "M2.5", "M2")
"""screws tried in bosses, large ones first"""
FAR_MM = 1e3


@dataclass(frozen=True)
class Collared:
    """A face whose pieces have collars, and what each of them gained."""

    face: MatingFace
    gains: Mapping[SideName, Solid]
    bare: Mapping[SideName, Part]
    """the pieces without"""


@dataclass
class Ground:
    """The whole model and all its pieces: what tells where a hollow is, and what else lies in it."""

    whole: Solid
    made_by: str
    parts: Sequence[Part]
    bores: Sequence[tuple[Solid, str, Sequence[str]]] = ()
    """what ways cut, with a hash, and the pieces (their keys) they go through"""
    _framed: dict[str, FramedSolid] = field(default_factory=dict)

    def collared(self, face: MatingFace, wish: CollarWish, cache: Cache) -> Collared | None:
        """The face with collars as wished; None where it has no hollow beside it, or too narrow a one."""
        key = key_of("collar", self.made_by, face.made_by, wish.thick_mm, sorted(wish.deep_mm.items()))
        return cache.get(
            key, lambda: self._made(face, wish, key), lambda made: sum(s.triangles for s in made.gains.values()) if made else 10
        )

    def _made(self, face: MatingFace, wish: CollarWish, key: str) -> Collared | None:
        whole = self._framed.setdefault(face.made_by, FramedSolid(self.whole, face.frame))
        gains: dict[SideName, Solid] = {}
        for side in SIDES:
            gains[side] = collar(wish, whole, face.frame, side, face.shape, self._bounds(face, face.part(side)))
            if gains[side].empty:
                return None
        rings = [gains[s].placed(face.frame.to_frame).slice(JUST_OFF_MM if s == "b" else -JUST_OFF_MM) for s in SIDES]
        shape = as_multi(shapely.union(face.shape, shapely.intersection(*rings)))
        a, b = (
            replace(face.part(s), solid=face.part(s).solid.plus([gains[s]]), made_by=key_of(key, face.part(s).made_by))
            for s in SIDES
        )
        return Collared(replace(face, shape=shape, a=a, b=b), gains, {s: face.part(s) for s in SIDES})

    def _bounds(self, face: MatingFace, part: Part) -> Bounds:
        planes = [(end.frame, end.side) for end in part.ends if not end.frame.same_plane(face.frame)]
        return Bounds(planes, [other.solid for other in self.parts if other.key != part.key])


def bossed(grown: Collared, bare: MultiPolygon, places: Sequence[Place], around_mm: float) -> Collared:
    """The same face with only what of its collars lies within `around_mm` of a place: bosses; `bare` is it without any."""
    face, discs = grown.face, [shapely.Point(p).buffer(around_mm) for p in places]
    if not discs:
        return grown
    key = key_of("bossed", face.made_by, places, around_mm)
    within = as_multi(shapely.union_all(discs))
    column = Solid.drawn(within, -FAR_MM, FAR_MM).placed(face.frame.to_world)
    gains = {side: solid.common(column) for side, solid in grown.gains.items()}
    shape = as_multi(shapely.union(bare, shapely.intersection(face.shape, within)))
    a, b = (
        replace(grown.bare[s], solid=grown.bare[s].solid.plus([gains[s]]), made_by=key_of(key, grown.bare[s].made_by))
        for s in SIDES
    )
    return Collared(replace(face, shape=shape, a=a, b=b), gains, grown.bare)
