"""Sizes of threads and bayonets: on a full face, and of the ring of a shell, in its wall or in a collar inside it."""

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import shapely

from hinoki.core.geometry.sections import largest_circle
from hinoki.core.join.contract.base import SHARES
from hinoki.core.join.contract.terms import FaceRef, Standing
from hinoki.core.join.joints import SIDES, BayonetJoint, Joint, ThreadJoint
from hinoki.core.join.placing import Depths, auto_places
from hinoki.core.join.turning.bayonet_body import lug_high_mm
from hinoki.core.join.turning.screw_threads import minor_diameter_mm, thread_sizes
from hinoki.core.join.turning.turned_joint import CENTRED_MM, hollow_middles
from hinoki.core.workshop.fits import Fit

THREAD_LENGTHS = (0.6, 0.45)
"""engagement as a share of the diameter"""
LEAST_THREAD_MM = 8.0
"""finer coarse pitches do not print (common practice)"""
WIDEST_SHARE = 0.75
"""of the face's largest circle"""
RING_PITCHES_MM, NECK_PITCHES_MM = (3.0, 2.0, 1.5), (2.0, 1.5)
"""of rings in a wall; in a collar coarse ones would need a thick one"""
LEAST_BAYONET_MM = 12.0
"""slimmer ones have lugs too small to print"""
LUGS_MM = (2.5, 2.0, 1.5)
"""how far lugs stand out that are tried, large ones first"""
LEAST_LEDGE_MM = 2.0
"""what lugs catch behind"""
CLICK_MM = 0.2
SLIMMER_MM = (0.0, 1.0, 2.5)
"""what a ring is smaller by in radius, where the wall leans inwards further in"""
NECKS_MM = (*SLIMMER_MM, 4.0, 6.0, 8.0, 10.0)
"""the same of one in a collar, which is then a neck of its own within a wall that slopes"""
MOST_COLLAR_MM = 16.0
OFF_ROUND_MM = 0.1
"""a collar's outline is a little off that of the hollow"""

Turned = Callable[[str, FaceRef, Fit, Standing, bool], Iterator[ThreadJoint | BayonetJoint]]
"""the joints of a kind tried on a face, in its own material or in a collar, the best first"""


def turned(kind: Turned) -> Callable[[str, Depths, Fit, Standing], Iterator[Joint]]:
    """Those of a kind for which a face has room without a collar."""

    def suiting(joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> Iterator[Joint]:
        for joint in kind(joint_id, depths.face.ref, fit, standing, False):
            if auto_places(joint, depths, standing)[0]:
                yield joint

    return suiting


def threads(joint_id: str, face: FaceRef, fit: Fit, standing: Standing, collared: bool) -> Iterator[ThreadJoint | BayonetJoint]:
    """The largest coarse thread of ISO 261 on a full face; on a ring one of the ring's own diameter, hollow as it is."""
    full = () if collared else _full_threads(standing)
    deep = [
        ((pitch - minor_diameter_mm(pitch, pitch)) / 2, pitch) for pitch in (NECK_PITCHES_MM if collared else RING_PITCHES_MM)
    ]
    for ring in (*full, *_rings(standing, collared, deep)):
        lengths = thread_lengths(ring.diameter_mm, ring.measure)
        for on, length in itertools.product(ring.on, lengths[-1:] if collared else lengths):
            yield ThreadJoint(
                id=joint_id, face=face, fit=fit, diameter_mm=ring.diameter_mm, pitch_mm=ring.measure, bore_mm=ring.bore_mm,
                length_mm=length, collar_mm=ring.collar_mm, on=on,
            )  # fmt: skip


def bayonets(
    joint_id: str, face: FaceRef, fit: Fit, standing: Standing, collared: bool
) -> Iterator[ThreadJoint | BayonetJoint]:
    """The largest on a full face, without clicks, whose strain would not be known; on a ring one of the ring's own diameter."""
    least = max(LEAST_LEDGE_MM, standing.least_wall_mm) + standing.clearance_mm
    full = () if collared else _full_bayonets(standing)
    for ring in (*full, *_rings(standing, collared, [(lug, lug) for lug in sorted(LUGS_MM, reverse=not collared)])):
        long = math.ceil(2 * (lug_high_mm(ring.measure) + least)) / 2
        for on in ring.on:
            yield BayonetJoint(
                id=joint_id, face=face, fit=fit, diameter_mm=ring.diameter_mm, lug_mm=ring.measure, bore_mm=ring.bore_mm,
                length_mm=long, collar_mm=ring.collar_mm, click_mm=CLICK_MM if ring.bore_mm else 0.0, on=on,
            )  # fmt: skip


def within_outside(joint: ThreadJoint | BayonetJoint, depths: Depths, standing: Standing) -> bool:
    """Whether a ring and its socket lie within the outside of both pieces as deep as they go, whatever a collar adds."""
    around = joint.diameter_mm / 2 + standing.clearance_mm + standing.least_wall_mm
    outlines = [standing.shape]
    for side in SIDES:
        if reach := joint.reach_mm(side):
            deep = reach + standing.end_gap_mm + standing.least_wall_mm
            outlines += [depths.section(side, share * deep) for share in SHARES]
    filled = [shapely.union_all([shapely.Polygon(part.exterior) for part in outline.geoms]) for outline in outlines]
    return any(
        all(shapely.covers(one, middle.buffer(around - CENTRED_MM)) for one in filled)
        for middle in hollow_middles(standing.shape)
    )


def thread_lengths(diameter_mm: float, pitch_mm: float) -> list[float]:
    """Engagements tried, in half millimetres: firm ones first, then three turns, which may wobble."""
    firm = [max(5.0, round(2 * share * diameter_mm) / 2) for share in THREAD_LENGTHS]
    short = max(6.0, math.ceil(6 * pitch_mm) / 2)
    return [*firm, short] if short < firm[-1] else firm


def _widest(standing: Standing) -> float:
    """The diameter for which a full face has room, with a good wall round it."""
    radius = largest_circle(standing.shape)[0]
    return float(min(2 * (radius - standing.clearance_mm - standing.least_wall_mm), WIDEST_SHARE * 2 * radius))


def _full_threads(standing: Standing) -> Iterator["_Ring"]:
    widest = _widest(standing)
    for size in thread_sizes():
        if LEAST_THREAD_MM <= size.diameter_mm <= widest:
            yield _Ring(size.diameter_mm, size.pitch_mm)


def _full_bayonets(standing: Standing) -> Iterator["_Ring"]:
    widest = _widest(standing)
    for share in (1.0, 0.8, 0.65, 0.5):
        diameter = math.floor(2 * share * widest) / 2
        if diameter >= LEAST_BAYONET_MM:
            yield _Ring(diameter, max(lug for lug in LUGS_MM if lug <= max(LUGS_MM[-1], diameter / 10)))


@dataclass(frozen=True)
class _Ring:
    """A plug or a ring that is tried: its pitch, or how far its lugs stand out, is its `measure`; lengths in mm."""

    diameter_mm: float
    measure: float
    bore_mm: float = 0.0
    collar_mm: float = 0.0

    @property
    def on(self) -> tuple[Literal["auto", "b"], ...]:
        """The pieces on which it may stand: where a wall slopes one has room for its socket, the other has not."""
        return ("auto", "b") if self.collar_mm else ("auto",)


def _rings(standing: Standing, collared: bool, deep: Sequence[tuple[float, float]]) -> Iterator[_Ring]:
    """Rings in the wall of a round shell, or in a collar inside it, no thicker than they need; `deep` tells how far each
    measure tried stands out of the core."""
    spare = standing.clearance_mm + standing.least_wall_mm
    for part in standing.shape.geoms:
        for ring in part.interiors:
            middle = shapely.Polygon(ring).centroid
            outer, inner = (float(line.distance(middle)) for line in (part.exterior, ring))
            for slimmer, (out, measure) in itertools.product(
                NECKS_MM if collared else SLIMMER_MM, deep[::-1] if collared else deep
            ):
                diameter = math.floor(4 * (outer - spare - slimmer)) / 2
                bore = max(0.0, math.floor(4 * (diameter / 2 - out - spare)) / 2)
                # the ring must have material to stand on down to its core
                lacks = inner - bore / 2
                collar = math.ceil(2 * (lacks + OFF_ROUND_MM)) / 2 if lacks > 0 else 0.0
                if bore >= 1 and (0 < collar <= MOST_COLLAR_MM if collared else lacks <= 0):
                    yield _Ring(diameter, measure, bore, collar)


TURNED: dict[str, Turned] = {"thread": threads, "bayonet": bayonets}
