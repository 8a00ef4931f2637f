"""Rods across seams: what a rod that runs from one piece into another bears of what bends them there."""

from collections.abc import Iterator, Sequence

import numpy as np
from shapely.geometry import Point

from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channel_cuts import Bored
from hinoki.core.join.channels.rod import RodWay
from hinoki.core.join.contract.strength import Bears, Stuff

NEARLY_ALONG = 1e-3
"""a rod that leans so little against a face, by its sine, runs along it"""
JUST_IN_MM = 0.05


def rods_across(face: MatingFace, ways: Sequence[Bored], stuff: Stuff) -> Iterator[Bears]:
    """What each rod through a face bears. A rod of a material that is not in the table is left out."""
    for one in ways:
        way = one.way
        if isinstance(way, RodWay) and one.joins(face) and way.bends_nmm is not None:
            held = embedded_mm(face, way)
            if held is not None:
                yield rod_bears(way, min(held), stuff)


def rod_bears(way: RodWay, held_mm: float, stuff: Stuff) -> Bears:
    """The moment that a rod bears, or that its bore bears where it is held on so short a length.

    A stiff bar pushed askew in a bore presses with p at either end, and less towards the middle: M = p · d · l²/6 (a linear
    spread of pressure, as for a rectangle in bending); p is taken as the strength of the plastic in tension.
    """
    by_rod = way.bends_nmm or 0.0
    by_bore = stuff.tension_mpa * way.diameter_mm * held_mm**2 / 6
    if by_bore < by_rod:
        return Bears(by_bore, f"{way.label()} in its bore, p·d·l²/6")
    return Bears(by_rod, f"{way.label()} in bending, σ·W")


def held_long_mm(nmm: float, diameter_mm: float, stuff: Stuff) -> float:
    """How far a rod must reach into a piece, so that its bore bears a moment: the same formula turned round."""
    return float(np.sqrt(6 * nmm / (stuff.tension_mpa * diameter_mm)))


def embedded_mm(face: MatingFace, way: RodWay) -> tuple[float, float] | None:
    """How long a rod is held in piece A and in piece B of a face, the pieces taken without bores; None where it does not go
    through the face."""
    start, end = np.asarray(way.start_mm), np.asarray(way.end_mm)
    along = (end - start) / np.linalg.norm(end - start)
    rise = float(along @ face.frame.n)
    if abs(rise) < NEARLY_ALONG:
        return None
    at = start + along * (-float(face.frame.heights(start[None])[0]) / rise)
    far = float((at - start) @ along), float((end - at) @ along)
    if min(far) <= 0 or not face.shape.buffer(way.diameter_mm / 2).intersects(Point(face.frame.flat(at[None])[0])):
        return None
    ends = (start, end) if rise > 0 else (end, start)  # piece B lies above the face
    return _within(face.a.solid, at, ends[0]), _within(face.b.solid, at, ends[1])


def _within(solid: Solid, at: Points, tip: Points) -> float:
    """How far a piece reaches along the way from its face to the end of a rod."""
    long = float(np.linalg.norm(tip - at))
    if long <= JUST_IN_MM:
        return 0.0
    way = (tip - at) / long
    out = solid.ray(at + way * JUST_IN_MM, tip)
    return long if len(out) == 0 else min(long, float(np.linalg.norm(out - at, axis=1).min()))
