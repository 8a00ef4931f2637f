"""Sizes of threads and bayonets: on a full face, and of the ring of a shell, in its wall or in a collar inside it."""

import itertools
import math
from collections.abc import Callable, Iterator, Sequence

import shapely

from hinoki.core.geometry.sections import largest_circle
from hinoki.core.join.contract.terms import FaceRef, Standing
from hinoki.core.join.joints import BayonetJoint, Joint, ThreadJoint
from hinoki.core.join.placing import Depths, auto_places
from hinoki.core.join.turning.screw_threads import minor_diameter_mm, thread_sizes
from hinoki.core.workshop.fits import Fit

THREAD_LENGTHS = (0.6, 0.45)
"""engagement as a share of the diameter"""
LEAST_THREAD_MM = 8.0
"""finer coarse pitches do not print (common practice)"""
WIDEST_SHARE = 0.75
"""of the face's largest circle"""
RING_PITCHES_MM = (3.0, 2.0, 1.5)
LEAST_BAYONET_MM = 12.0
"""slimmer ones have lugs too small to print"""
LUGS_MM = (2.5, 2.0, 1.5)
"""how far lugs stand out that are tried, large ones first"""
LEAST_LEDGE_MM = 2.0
"""what lugs catch behind"""
CLICK_MM = 0.2
SLIMMER_MM = (0.0, 1.0, 2.5)
"""what a ring is smaller by in radius, where the wall leans inwards further in"""
OFF_ROUND_MM = 0.1
"""a collar's outline is a little off that of the hollow"""

Turned = Callable[[str, FaceRef, Fit, Standing, float], Iterator[Joint]]
"""the joints of a kind tried on a face, with a collar so thick, the best first"""


def turned(kind: Turned) -> Callable[[str, Depths, Fit, Standing], Iterator[Joint]]:
    """Those of a kind for which a face has room without a collar."""

    def suiting(joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> Iterator[Joint]:
        for joint in kind(joint_id, depths.face.ref, fit, standing, 0.0):
            if auto_places(joint, depths, standing)[0]:
                yield joint

    return suiting


def threads(joint_id: str, face: FaceRef, fit: Fit, standing: Standing, collar_mm: float) -> Iterator[Joint]:
    """The largest coarse thread of ISO 261 on a full face; on a ring one of the ring's own diameter, hollow as it is."""
    full = () if collar_mm else _full_threads(standing)
    deep = [((pitch - minor_diameter_mm(pitch, pitch)) / 2, pitch) for pitch in RING_PITCHES_MM]
    for diameter, pitch, bore in (*full, *_rings(standing, collar_mm, deep)):
        lengths = thread_lengths(diameter, pitch)
        for length in lengths[-2:] if collar_mm else lengths:
            yield ThreadJoint(
                id=joint_id, face=face, fit=fit, diameter_mm=diameter, pitch_mm=pitch, bore_mm=bore, length_mm=length,
                collar_mm=collar_mm,
            )  # fmt: skip


def bayonets(joint_id: str, face: FaceRef, fit: Fit, standing: Standing, collar_mm: float) -> Iterator[Joint]:
    """The largest on a full face, without clicks, whose strain would not be known; on a ring one of the ring's own diameter."""

    def one(diameter: float, lug: float, bore: float) -> Joint:
        least = max(LEAST_LEDGE_MM, standing.least_wall_mm) + standing.clearance_mm
        long = math.ceil(2 * (BayonetJoint.high_with(lug) + least)) / 2
        return BayonetJoint(
            id=joint_id, face=face, fit=fit, diameter_mm=diameter, lug_mm=lug, bore_mm=bore, length_mm=long,
            collar_mm=collar_mm, click_mm=CLICK_MM if bore else 0.0,
        )  # fmt: skip

    widest = _widest(standing)
    for share in () if collar_mm else (1.0, 0.8, 0.65, 0.5):
        diameter = math.floor(2 * share * widest) / 2
        if diameter >= LEAST_BAYONET_MM:
            yield one(diameter, max(lug for lug in LUGS_MM if lug <= max(LUGS_MM[-1], diameter / 10)), 0.0)
    for diameter, lug, bore in _rings(standing, collar_mm, [(lug, lug) for lug in LUGS_MM]):
        yield one(diameter, lug, bore)


def thread_lengths(diameter_mm: float, pitch_mm: float) -> list[float]:
    """Engagements tried, in half millimetres: firm ones first, then three turns, which may wobble."""
    firm = [max(5.0, round(2 * share * diameter_mm) / 2) for share in THREAD_LENGTHS]
    short = max(6.0, math.ceil(6 * pitch_mm) / 2)
    return [*firm, short] if short < firm[-1] else firm


def _widest(standing: Standing) -> float:
    """The diameter for which a full face has room, with a good wall round it."""
    radius = largest_circle(standing.shape)[0]
    return float(min(2 * (radius - standing.clearance_mm - standing.least_wall_mm), WIDEST_SHARE * 2 * radius))


def _full_threads(standing: Standing) -> Iterator[tuple[float, float, float]]:
    widest = _widest(standing)
    for size in thread_sizes():
        if LEAST_THREAD_MM <= size.diameter_mm <= widest:
            yield size.diameter_mm, size.pitch_mm, 0.0


def _rings(standing: Standing, collar_mm: float, deep: Sequence[tuple[float, float]]) -> Iterator[tuple[float, float, float]]:
    """Diameter, measure and bore of rings in the wall of a round shell, with a collar inside it; `deep` tells how far each
    measure tried stands out of the core."""
    spare = standing.clearance_mm + standing.least_wall_mm
    for part in standing.shape.geoms:
        for ring in part.interiors:
            middle = shapely.Polygon(ring).centroid
            outer, inner = (float(line.distance(middle)) for line in (part.exterior, ring))
            for slimmer, (out, measure) in itertools.product(SLIMMER_MM, deep):
                diameter = math.floor(4 * (outer - spare - slimmer)) / 2
                bore = max(0.0, math.floor(4 * (diameter / 2 - out - spare)) / 2)
                # the ring must have material to stand on down to its core
                if bore >= 1 and inner - collar_mm <= bore / 2 - (OFF_ROUND_MM if collar_mm else 0.0):
                    yield diameter, measure, bore


TURNED: dict[str, Turned] = {"thread": threads, "bayonet": bayonets}
