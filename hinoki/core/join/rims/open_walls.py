"""Rims along open walls, as those of a bowl cut in two: where they run, and where the wall is too thin for them."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal, NamedTuple

import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.enclosed import enclosed
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import usual_wall
from hinoki.core.join.contract.terms import SideName, Standing

Runs = Literal["inner", "outer", "middle"]
SPANS = 0.2
"""a place that is too thin is more than the corner of an outline: so much of the square of what is needed"""
SHORTEST_MM = 5.0
"""of a stretch of a rim"""
DEPTHS = (0.02, 0.5, 1.0)
"""where a rim is looked at, in times its height"""
ARC, COARSE_MM = 4, 0.01
"""pieces to a quarter turn, and how far outlines may be off, where it is only looked at what is too thin"""
A_HAIR = 0.99
"""what is as thick as it must be is not too thin by a rounding"""


class Along(NamedTuple):
    """The flat areas in which all that the other piece has becomes rim, and in which it is cut away from that piece."""

    rim: MultiPolygon
    rebate: MultiPolygon


@dataclass(frozen=True)
class OpenRim:
    """A rim along walls that end somewhere, its measures in mm; `land_mm` is what one in the middle leaves on either side.

    One along a side of the wall leaves its rebate longer at both ends by its height: the pieces go together straight, and at up
    to 45° from the side on which the rebate is open, as the last piece of a shell parted crosswise must.
    """

    runs: Runs
    thick_mm: float
    high_mm: float
    land_mm: float | None
    stop_mm: float
    female: SideName

    def along(self, standing: Standing) -> Along | None:
        """Where it runs; None where the walls are closed, or the rim runs in a room that is not there."""
        shape = as_multi(shapely.simplify(standing.shape, 0.003))
        whole = self._whole(shape, standing)
        if whole is None:
            return None
        area, ends = whole
        across = self.thick_mm + standing.clearance_mm + 2 * standing.line_mm
        gone = shapely.union_all([*ends, *(part.buffer(across) for part in self._too_thin(area, standing))])
        area = as_multi(shapely.difference(area, gone), 1e-3)
        longer = 0.0 if self.runs == "middle" else self.high_mm
        rim = as_multi(shapely.difference(area, gone.buffer(longer)), 1e-3)
        stretches = as_multi(shapely.intersection(rim, shape), 1e-3).geoms
        short = [part.buffer(standing.line_mm) for part in stretches if part.area < SHORTEST_MM * self.thick_mm]
        without = shapely.union_all(short)
        return Along(as_multi(shapely.difference(rim, without), 1e-3), as_multi(shapely.difference(area, without), 1e-3))

    def _whole(self, shape: MultiPolygon, standing: Standing) -> tuple[MultiPolygon, list[shapely.Geometry]] | None:
        """The area as it would be if the wall were thick enough everywhere, and what of it lies at the ends."""
        room, mouths = enclosed(shape)
        ends = [mouths.buffer(self.stop_mm), standing.crossed.buffer(self.stop_mm + self.high_mm + 2 * standing.line_mm)]
        if self.runs == "middle" and self.land_mm is not None:
            return _opened(as_multi(shape.buffer(-self.land_mm)), A_HAIR * 2 * standing.line_mm), ends
        if self.runs == "middle" or mouths.is_empty:
            return None
        if self.runs == "inner":
            area = room.buffer(self.thick_mm)
        else:
            far = self.high_mm + 5.0
            beside = max(0.0, (usual_wall(shape) or self.thick_mm) - self.thick_mm)
            area = shapely.difference(shape.buffer(far), room.buffer(beside))
        return as_multi(area, 1e-3), ends

    def _too_thin(self, area: MultiPolygon, standing: Standing) -> Iterator[shapely.Geometry]:
        """Places where the rim, or the wall beside it, is less than two printed lines thick anywhere over its height."""
        least = A_HAIR * 2 * standing.line_mm
        pieces = standing.sections
        rebate = area.buffer(standing.clearance_mm)
        for share in DEPTHS:
            section = standing.shape if pieces is None else pieces.section(self.female, share * self.high_mm)
            there = as_multi(shapely.simplify(section, COARSE_MM))
            for shape in (shapely.intersection(there, area), shapely.difference(_opened(there, least), rebate)):
                flat = as_multi(shape, 1e-3)
                thin = as_multi(shapely.difference(flat, _opened(flat, least).buffer(1e-6)))
                yield from (part for part in thin.geoms if part.area > SPANS * least**2)


def _opened(shape: MultiPolygon, wide_mm: float) -> MultiPolygon:
    """A shape without what is less than so wide."""
    return as_multi(shape.buffer(-wide_mm / 2, quad_segs=ARC).buffer(wide_mm / 2, quad_segs=ARC), 1e-3)
