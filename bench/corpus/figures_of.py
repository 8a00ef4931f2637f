"""What is measured of a model that Hinoki has divided, joined, laid and put together by itself."""

from dataclasses import dataclass, replace
from itertools import permutations
from math import ceil, prod

import numpy as np
from shapely.geometry import LineString

from bench.corpus.entry import Area, Wants
from hinoki.core.build import Build
from hinoki.core.check.bending import bent_seams
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.geometry.mesh import Points

STEP_MM = 2.0
SAME_SHARE = 0.02
"""pieces are mirror images of each other where size and place differ by less than this share of the model"""


@dataclass(frozen=True)
class Figures:
    """One model on one bed; `why` says what stopped it, if anything did."""

    family: str
    name: str
    bed_mm: float
    must_fix: int = 0
    look_at: int = 0
    pieces: int = 0
    bound: int = 0
    joined: float = 0.0
    """share of the length of its seams that is within reach of a joint; the barest seam's is `barest`"""
    barest: float = 1.0
    strength: float | None = None
    """the weakest seam: what its joint holds, in times the weight and the force at the far end; none where nothing tells"""
    support: float = 0.0
    """volume of support by that of the model"""
    tipping: int = 0
    seconds: float = 0.0
    missed: tuple[str, ...] = ()
    """what was wanted and is not so"""
    why: str = ""


def least_pieces(size: Points, room: Points) -> int:
    """Never fewer than this for a box of this size: whole rooms along every axis, turned as suits."""
    return min(
        prod(ceil(float(s) / float(r) - 1e-9) for s, r in zip(size, turned, strict=True)) for turned in permutations(room)
    )


def weakest(build: Build, carries_n: float) -> float | None:
    """What the weakest seam bears of bending, in times the weight of what hangs from it and a force at its far end."""
    pushed = replace(build, plan=build.plan.model_copy(update={"handling_n": carries_n}))
    return min((bent.times for bent in bent_seams(pushed) if build.placed), default=None)


def missed(build: Build, wants: Wants, bound: int) -> tuple[str, ...]:
    """What was wanted of the division and is not so."""
    found = []
    if len(build.pieces) > max(bound, ceil(wants.over_bound * bound)):
        found.append("pieces")
    if wants.mirror is not None and len(build.pieces) > 1 and not _mirrored(build, "xyz".index(wants.mirror)):
        found.append("symmetry")
    if any(_crosses(face, area) for face in build.faces for area in wants.clear):
        found.append("seam through what is to be whole")
    return tuple(found)


def _mirrored(build: Build, axis: int) -> bool:
    """Whether every piece has a mirror image among the pieces or is one itself, or more than two pieces are alike."""
    solids = [part.solid for part in build.before]  # what joints add and take is not a matter of the division
    low = np.min([s.bounds[0] for s in solids], axis=0)
    high = np.max([s.bounds[1] for s in solids], axis=0)
    size, middle = float((high - low).max()), float(low[axis] + high[axis]) / 2
    facts = [(s.centre_of_mass, s.volume_mm3) for s in solids]
    volumes = [v for _, v in facts]
    if len(volumes) > 2 and max(volumes) - min(volumes) < SAME_SHARE * max(volumes):
        return True  # equal parts
    for centre, volume in facts:
        there = centre.copy()
        there[axis] = 2 * middle - there[axis]
        near = [v for c, v in facts if np.linalg.norm(c - there) < SAME_SHARE * size]
        if not any(abs(v - volume) < SAME_SHARE * max(v, volume) for v in near):
            return False
    return True


def _crosses(face: MatingFace, area: Area) -> bool:
    """Whether a seam runs through a box."""
    low, high = np.array(area)
    for part in face.shape.geoms:
        line = LineString(part.exterior.coords)
        along = [line.interpolate(d) for d in np.arange(0.0, line.length, STEP_MM)]
        points = face.frame.world(np.array([[p.x, p.y] for p in along]))
        if ((points > low) & (points < high)).all(axis=1).any():
            return True
    return False
