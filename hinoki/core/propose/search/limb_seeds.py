"""Divisions that begin with limbs which come off at their roots."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np

from hinoki.core.divide.cut import Part, part_further
from hinoki.core.divide.partings import DetachParting
from hinoki.core.divide.partings.base import spot
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.limbs.limbs import Limb
from hinoki.core.propose.search.beam_search import Search, State
from hinoki.core.propose.search.begun_with import begun_with
from hinoki.core.propose.search.constraints import Heed
from hinoki.core.symmetry.mirror_planes import MirrorPlane

ALIKE = 1.2
"""limbs of one kind are at most so many times as long, and as wide, as each other"""
LEAST_SHARE, MOST_SHARE = 0.001, 0.4
"""of the volume of a body that a limb is"""
NEAR = 2.0
"""a limb is the mirror image of another whose root lies no farther from its own than so many times its half width"""
SAME_WAY = 0.8
MOST_STARTS = 3
FARTHER_OUT = (0.0, 0.35, 0.7)
"""tried in turn: limbs whose roots meet would leave chips between them"""
LEAST_ROOM_MM = 0.8
"""radius of the largest circle on a root: a peg has no hold on less"""


def that_come_off(thin: Part, limbs: Sequence[Limb], search: Search) -> list[Limb]:
    """The limbs of a body that come off alone, mirrored as it is."""
    return [limb for limb in mirrored(limbs, search.mirrors) if _comes_off(thin, limb, search)]


def limbed_starts(thin: Part, search: Search) -> list[State]:
    """Divisions that begin with limbs that come off: the longest ones and those like them, then shorter ones as well."""
    starts: list[State] = []
    taken: list[Limb] = []
    for kind in _kinds(search.limbs):
        taken += kind
        tried = (_detached(thin, [_farther_out(limb, share) for limb in taken], search) for share in FARTHER_OUT)
        state = next((one for one in tried if one is not None), None)
        if state is not None:
            starts.append(state)
        if len(starts) == MOST_STARTS:
            break
    return starts


def mirrored(limbs: Sequence[Limb], mirrors: Sequence[MirrorPlane]) -> list[Limb]:
    """The same limbs, those that are mirror images of each other or of themselves by one of the planes exactly so, and images
    of those that have none: of what was found on one side only."""
    out = list(limbs)
    for mirror in mirrors:
        done: set[int] = set()
        known = list(out)
        for k, limb in enumerate(known):
            if k in done:
                continue
            image = _image(limb, mirror)
            twin = next((n for n, other in enumerate(known) if n not in done and _same(image, other)), None)
            if twin == k:
                out[k] = _between(limb, image)
            elif twin is not None:
                out[twin] = image
                done.add(twin)
            else:
                out.append(image)
    return out


def _farther_out(limb: Limb, share: float) -> Limb:
    """The same limb from a root that is farther out by a share of its half width."""
    return replace(limb, root=limb.root + share * limb.half_mm * limb.out)


def _image(limb: Limb, mirror: MirrorPlane) -> Limb:
    out = limb.out - 2 * float(limb.out @ mirror.normal) * mirror.normal
    return Limb(mirror.image(limb.root), out, mirror.image(limb.tip), limb.length_mm, limb.half_mm)


def _between(limb: Limb, image: Limb) -> Limb:
    """The limb moved into the plane that mirrors it."""
    out = limb.out + image.out
    return Limb((limb.root + image.root) / 2, out / np.linalg.norm(out), limb.tip, limb.length_mm, limb.half_mm)


def _same(limb: Limb, other: Limb) -> bool:
    near = float(np.linalg.norm(limb.root - other.root)) < NEAR * limb.half_mm
    return near and float(limb.out @ other.out) > SAME_WAY


def _kinds(limbs: Sequence[Limb]) -> Iterator[list[Limb]]:
    """Limbs that are about as long and as wide as each other, long ones first."""
    left = sorted(limbs, key=lambda limb: -limb.length_mm)
    while left:
        first = left[0]
        own = [one for one in left if _alike(first.length_mm, one.length_mm) and _alike(first.half_mm, one.half_mm)]
        left = [one for one in left if one not in own]
        yield own


def _alike(a: float, b: float) -> bool:
    return max(a, b) <= ALIKE * min(a, b)


def _parting(limb: Limb, number: int, key: str | None) -> DetachParting:
    only = None if key is None else (key,)
    through, normal = spot(np.round(limb.root, 2)), spot(np.round(limb.out, 4))
    return DetachParting(id=f"p{number}", through_mm=through, normal=normal, only=only)


def _comes_off(thin: Part, limb: Limb, search: Search) -> bool:
    """Whether a limb comes off alone, is no more and no less of the body than a limb, and nothing runs through what stays
    whole."""
    parting = _parting(limb, 1, None)
    cuts = parting.cut(thin.solid, parting.members_for()).cuts
    if len(cuts) != 2:
        return False
    feature = next(cut.solid for cut in cuts if cut.side == "+")
    share = feature.volume_mm3 / thin.solid.volume_mm3
    return LEAST_SHARE < share < MOST_SHARE and not _crosses_kept(limb, search.heed)


def _crosses_kept(limb: Limb, heed: Heed) -> bool:
    """Whether the loop at its root would run through what stays whole."""
    frame, reach = plane_frame(limb.root, limb.out), 2 * limb.half_mm
    for kept in heed.kept:
        low, high = kept.points.min(axis=0) - reach, kept.points.max(axis=0) + reach
        heights = frame.heights(kept.points)
        if (limb.root > low).all() and (limb.root < high).all() and heights.min() < 0 < heights.max():
            return True
    return False


def _detached(thin: Part, limbs: Sequence[Limb], search: Search) -> State | None:
    """The division in which these limbs come off, one after another; None where one of them does not, or a chip is left."""
    parts, rest = [thin], thin
    partings: list[DetachParting] = []
    least = LEAST_SHARE * thin.solid.volume_mm3
    for number, limb in enumerate(limbs, start=search.first_number):
        whole = search.all_pieces and len(parts) == 1
        parting = _parting(limb, number, None if whole else rest.key)
        before = {part.key for part in parts}
        parts = part_further(parts, parting, search.cache)
        new = [part for part in parts if part.key not in before]
        if len(new) < 2 or any(part.solid.volume_mm3 < least for part in new):  # more than two where it came in lumps
            return None
        rest = max(new, key=lambda part: part.solid.volume_mm3)
        partings.append(parting)
    return begun_with(parts, partings, search, least_room_mm=LEAST_ROOM_MM)
