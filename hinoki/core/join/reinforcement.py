"""Faces of thin shells as their joints see them: with the collars both pieces get inside the hollow."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.cache import Cache, key_of
from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.geometry.sections import FramedSolid, least_wall
from hinoki.core.geometry.solid import Solid, as_multi
from hinoki.core.join.dimensions.placing import Depths, auto_places
from hinoki.core.join.dimensions.sizing import Good, any_will_do, ring_threads, thread_lengths
from hinoki.core.join.joints import (
    SIDES,
    DowelJoint,
    Joint,
    JointBase,
    PinJoint,
    Place,
    ScrewJoint,
    SideName,
    Standing,
    ThreadJoint,
)
from hinoki.core.join.joints.base import CollarWish
from hinoki.core.join.joints.collar import JUST_OFF_MM, Bounds, collar
from hinoki.core.join.joints.screw import Size
from hinoki.core.workshop.fits import Fit

BOSSED: tuple[Size, ...] = ("M4", "M3", "M2.5", "M2")
"""screws tried in bosses, large ones first"""
PEGS_MM = (5.0, 4.0, 3.0)
"""pegs tried in a collar, large ones first"""
THREAD_COLLARS_MM = (2.0, 3.0, 4.0, 6.0, 8.0)
"""collars tried for a threaded ring, thin ones first"""
FAR_MM = 1e3
WIDER_MM = (0.5, 3.0)
"""what a collar has more than its pegs need: little where walls stand upright, more where they lean"""


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


def collar_for(diameter_mm: float, standing: Standing, more_mm: float = WIDER_MM[0]) -> float:
    """How thick a collar must be at least so that pegs of a diameter have their clearance and the least wall all round, in
    half millimetres."""
    wall = least_wall(standing.shape)
    needed = diameter_mm + 2 * (standing.clearance_mm + standing.least_wall_mm) - (wall[0] if wall else 0.0)
    return max(0.5, math.ceil(2 * (needed + more_mm)) / 2)


def pegs_in_collar(
    kind: Literal["pin", "dowel"],
    joint_id: str,
    face: MatingFace,
    fit: Fit,
    standing: Standing,
    ground: Ground,
    cache: Cache,
    good: Good = any_will_do,
) -> Joint | None:
    """Pegs in the least collar in which two of them have room; None where there is no hollow for it."""
    if not any(part.interiors for part in standing.shape.geoms):
        return None
    for diameter in PEGS_MM:
        for more in WIDER_MM:
            measures = {"diameter_mm": diameter, "collar_mm": collar_for(diameter, standing, more)}
            joint: PinJoint | DowelJoint = (
                PinJoint(id=joint_id, face=face.ref, fit=fit, count=3, length_mm=diameter, **measures)
                if kind == "pin"
                else DowelJoint(id=joint_id, face=face.ref, fit=fit, count=3, length_mm=2 * diameter, **measures)
            )
            places = _places_in_collar(joint, face, standing, ground, cache)
            if places is None:
                break
            suiting = joint.model_copy(update={"count": len(places)})
            if len(places) >= 2 and good(suiting):
                return suiting
    return None


def screws_in_bosses(
    joint_id: str, face: MatingFace, fit: Fit, standing: Standing, ground: Ground, cache: Cache, good: Good = any_will_do
) -> Joint | None:
    """Screws into inserts, in the least bosses in which three or two of them have room; None where there is no hollow."""
    wall = least_wall(standing.shape)
    if wall is None or not any(part.interiors for part in standing.shape.geoms):
        return None
    for size in BOSSED:
        for more in WIDER_MM:
            bare = ScrewJoint(id=joint_id, face=face.ref, fit=fit, count=3, size=size)
            thick = max(1.0, math.ceil(2 * (2 * bare.around_mm(standing) + more - wall[0])) / 2)
            joint = bare.model_copy(update={"boss_mm": thick})
            places = _places_in_collar(joint, face, standing, ground, cache)
            if places is None:
                break
            suiting = joint.model_copy(update={"count": len(places)})
            if len(places) >= 2 and good(suiting):
                return suiting
    return None


def thread_in_collar(
    joint_id: str, face: MatingFace, fit: Fit, standing: Standing, ground: Ground, cache: Cache, good: Good = any_will_do
) -> Joint | None:
    """A threaded ring in the wall of a round shell, made thick enough by a collar; None where there is no hollow for it."""
    for more in THREAD_COLLARS_MM:
        for diameter, pitch, bore in ring_threads(standing, more):
            for length in thread_lengths(diameter, pitch)[-2:]:
                joint = ThreadJoint(
                    id=joint_id, face=face.ref, fit=fit, diameter_mm=diameter, pitch_mm=pitch, bore_mm=bore, length_mm=length,
                    collar_mm=more,
                )  # fmt: skip
                if _places_in_collar(joint, face, standing, ground, cache) and good(joint):
                    return joint
    return None


def _places_in_collar(
    joint: JointBase, face: MatingFace, standing: Standing, ground: Ground, cache: Cache
) -> list[Place] | None:
    """Where a joint has room in the collar it asks for; None where there is no hollow for one."""
    wish = joint.collar(standing)
    grown = ground.collared(face, wish, cache) if wish else None
    return auto_places(joint, Depths(grown.face), replace(standing, shape=grown.face.shape))[0] if grown else None
