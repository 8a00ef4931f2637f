"""Pieces that would stand on a point whichever way they lie are parted once more, so that each part stands on its cut."""

from collections.abc import Callable, Sequence

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part, part_further
from hinoki.core.divide.mating_faces import mating_faces
from hinoki.core.divide.partings import FlatParting, PartingBase
from hinoki.core.divide.partings.flat import plane_fields
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.sections import FramedSolid
from hinoki.core.orient.resting.resting_faces import LEAST_CONTACT_MM2
from hinoki.core.propose.figures import best_rest
from hinoki.core.propose.search.constraints import Heed
from hinoki.core.propose.search.in_line import in_line
from hinoki.core.workshop.printers import Printer

SHARES, OFF_MIDDLE = (0.5, 0.35, 0.65), 1.3
"""where along a piece a cut is tried, and what a seam counts off the middle"""
MOST_PARTED = 12
"""pieces that are parted for a foot"""


def footless(
    parts: Sequence[Part], printer_of: Callable[[Part], Printer], cache: Cache, among: Sequence[Part] | None = None
) -> list[Part]:
    """The parts (or those `among` them) that fit no printer, or stand on a point or an edge at most, whichever way they lie;
    in resin all hang from supports."""
    faces = mating_faces(parts, cache)
    found = []
    for part in parts if among is None else among:
        printer = printer_of(part)
        rest = best_rest(part, faces, printer, cache)
        if not rest.fits or (printer.process == "filament" and rest.contact_mm2 < LEAST_CONTACT_MM2):
            found.append(part)
    return found


def with_feet(
    parts: Sequence[Part],
    first_number: int,
    printer_of: Callable[[Part], Printer],
    heed: Heed,
    whole: bool,
    cache: Cache,
) -> tuple[list[Part], list[PartingBase]]:
    """The parts with those that have no foot parted further, where that gives a foot to all of what comes of it, and the
    partings that do it, numbered from `first_number`. `whole`: whether the parts are all there are."""
    now, added = list(parts), list[PartingBase]()
    for part in footless(parts, printer_of, cache)[:MOST_PARTED]:
        best: tuple[tuple[int, float], list[Part], PartingBase] | None = None
        before = {p.key for p in now}
        for seam, wanted in _cuts(part, f"p{first_number + len(added)}", heed, whole and len(now) == 1):
            parting = in_line(now, part, wanted, heed)
            after = part_further(now, parting, cache)
            new = [p for p in after if p.key not in before]
            cost = len(after), seam
            better = best is None or cost < best[0]
            if len(new) > 1 and better and not footless(after, printer_of, cache, new):
                best = cost, after, parting
        if best is not None:
            now = best[1]
            added.append(best[2])
    return now, added


def _cuts(part: Part, name: str, heed: Heed, everything: bool) -> list[tuple[float, FlatParting]]:
    """Planes across a part, each with what its seam counts; none that crosses what is to stay whole."""
    low, high = part.solid.bounds
    found = []
    for axis in np.eye(3):
        framed = FramedSolid(part.solid, plane_frame(np.zeros(3), axis))
        for share in SHARES:
            at = low + share * (high - low)
            frame = plane_frame(at, axis)
            if heed.crossed(frame, low, high) is None:
                fields = {"id": name, **plane_fields(axis * (at @ axis), axis), "only": None if everything else (part.key,)}
                seam = float(framed.section(float(at @ axis)).length) * (1.0 if share == SHARES[0] else OFF_MIDDLE)
                found.append((seam, FlatParting.model_validate(fields)))
    return sorted(found, key=lambda one: one[0])
