"""What dovetails and tongues share: one section that runs along a straight line of the mating face."""

from abc import abstractmethod
from dataclasses import dataclass
from typing import Annotated

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.base import JointBase, Small
from hinoki.core.join.contract.terms import JUST_INSIDE_MM, Direction, Place, Problem, SideName, Standing, direction_of

Angle = Annotated[float, Field(ge=-180, le=180, allow_inf_nan=False)]


LEVELS = 41
"""lines tried across the room where the one wanted does not lie in it"""
SHARP = Problem("joint-sharp-edge")


@dataclass(frozen=True)
class Run:
    """Where one element runs: from `start` to `end` along its direction from its place (mm), and how far a tool may go on
    beyond either end without meeting another part of the face."""

    start: float
    end: float
    before: float
    after: float

    @property
    def length(self) -> float:
        """How long it is within the face."""
        return self.end - self.start


class RunningJoint(JointBase, frozen=True):
    """A section that runs along `along_deg`, counted in the face from its u direction."""

    count: int = Field(1, ge=1, le=12, title="Count", description="side by side")
    height_mm: Measure = Field(3.0, title="Height", description="how far it stands out, mm")
    along_deg: Angle = Field(0.0, title="Along", description="direction in the face, degrees")
    on: SideName = Field("a", title="Stands on")
    edge_mm: Small = Field(0.2, title="Broken edges", description="so that no corner meets a corner, mm")
    stop_mm: Measure = Field(5.0, title="Stops before the edge", description="mm")

    @property
    @abstractmethod
    def half_mm(self) -> float:
        """Half its greatest width."""

    @property
    def wanted(self) -> int:
        """The count, or as many as were placed by hand."""
        return self.count if self.places is None else len(self.places)

    @property
    def apart_mm(self) -> float:
        """Two side by side do not touch."""
        return 2 * self.half_mm

    @property
    def leaves_crumbs(self) -> bool:
        """Where a groove leaves the piece at a slant, beside its mouth."""
        return True

    @property
    def stands_on(self) -> SideName | None:
        """The side chosen."""
        return self.on

    @property
    def female(self) -> SideName:
        """The side with the groove."""
        return "b" if self.on == "a" else "a"

    def reach_mm(self, side: SideName) -> float:
        """The depth on the side of the groove, nothing on the other."""
        return self.height_mm if side == self.female else 0.0

    @property
    def along(self) -> Points:
        """The direction in plane coordinates, (2,)."""
        angle = np.radians(self.along_deg)
        return np.array([np.cos(angle), np.sin(angle)])

    @property
    def across(self) -> Points:
        """The direction square to it in plane coordinates, (2,)."""
        x, y = self.along
        return np.array([-y, x])

    def way(self, frame: Frame) -> Points:
        """The direction in the world, (3,)."""
        u, v = self.along
        return np.asarray(u * frame.u + v * frame.v)

    def matrix(self, frame: Frame, place: Place) -> Points:
        """The (3, 4) matrix from (across, height out of the male side, along) to the world."""
        up = frame.n if self.on == "a" else -frame.n
        way = self.way(frame)
        return np.column_stack([np.cross(up, way), up, way, frame.world(np.array([place]))[0]])

    @abstractmethod
    def stops(self) -> tuple[bool, bool]:
        """Whether it stops within the face at its start and at its end."""

    def run(self, standing: Standing, place: Place) -> Run | None:
        """Where the element at `place` runs; None where its line misses the face."""
        return run_along(standing.shape, place, self.along, self.stops(), self.stop_mm, 2 * self.height_mm + 5.0)

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """The strip it takes of the face."""
        run = self.run(standing, place)
        if run is None:
            return MultiPolygon()
        across = self.across * self.half_mm
        ends = [np.array(place) + s * self.along for s in (run.start, run.end)]
        strip = shapely.Polygon([ends[0] - across, ends[1] - across, ends[1] + across, ends[0] + across])
        return as_multi(shapely.intersection(strip, standing.shape))

    def eroded(self, standing: Standing, section: MultiPolygon) -> shapely.Geometry:
        """Where of `section` the middle line may pass: width, clearance and least wall inside it on either side."""
        half = self.half_mm + standing.clearance_mm + standing.least_wall_mm
        moves = [share * half * self.across for share in (-1.0, -0.5, 0.5, 1.0)]
        if any(self.stops()):  # its middle, between both ends
            moves += [share * self.stop_mm * self.along for share in (-1.0, 1.0)]
        room: shapely.Geometry = section
        for x, y in moves:
            room = shapely.intersection(room, shapely.transform(section, lambda p, x=x, y=y: p + np.array([x, y])))
        return room

    def kept_off(self, standing: Standing, shadow: shapely.Geometry) -> shapely.Geometry:
        """The whole strip of lines that would come too near."""
        if shadow.is_empty:
            return shadow
        across = self.across
        sideways = shapely.get_coordinates(shadow) @ across
        half = self.half_mm + standing.clearance_mm + standing.least_wall_mm
        low, high, far = sideways.min() - half, sideways.max() + half, 1e4
        corners = [(-far, low), (far, low), (far, high), (-far, high)]
        return shapely.Polygon([x * self.along + y * across for x, y in corners])

    def spread(self, room: MultiPolygon, apart_mm: float) -> list[Place]:
        """Side by side over the room, each in the middle of its line."""
        if room.is_empty:
            return []
        across = self.across
        sideways = shapely.get_coordinates(room) @ across
        low, high = float(sideways.min()), float(sideways.max())
        count = self.count
        while count > 1 and (high - low) / (count - 1) < apart_mm:
            count -= 1
        # not at the very rim of the room, but with equal strips
        inset = (high - low) / 2 if count == 1 else max(0.0, ((high - low) - (count - 1) * apart_mm) / (2 * count))
        wanted = np.linspace(low + inset, high - inset, count)
        # through the middle of every part of it, too, however slim that is
        seen = [shapely.get_coordinates(part) @ across for part in room.geoms]
        levels = [*np.linspace(low, high, LEVELS), *((float(s.min()) + float(s.max())) / 2 for s in seen)]
        there = [level for level in levels if self._middle(room, level * across) is not None]
        chosen: list[float] = []
        for level in wanted:  # where the room has a gap, beside it
            if self._middle(room, level * across) is None:
                free = [t for t in there if all(abs(t - c) >= apart_mm for c in chosen)]
                if not free:
                    continue
                level = min(free, key=lambda t: (round(abs(t - level), 6), t))
            chosen.append(float(level))
        return [p for level in chosen if (p := self._middle(room, level * across)) is not None]

    def _middle(self, room: MultiPolygon, at: Points) -> Place | None:
        runs = _pieces_of_line(room, at, self.along)
        if not runs:
            return None
        start, end = max(runs, key=lambda r: (round(r[1] - r[0], 3), -abs(r[0] + r[1])))
        x, y = at + (start + end) / 2 * self.along
        return round(float(x), 2) + 0.0, round(float(y), 2) + 0.0

    def motions(self, standing: Standing) -> tuple[Direction, ...]:
        """Along the line: both ways where it is open at both ends."""
        way = self.way(standing.frame)
        return direction_of(way), direction_of(-way)

    def body(self, ring: Points, start: float, end: float, matrix: Points) -> Solid:
        """A section ring (n, 2) drawn out along the line."""
        return Solid.drawn_ring(ring, start, end).placed(matrix)

    def inner(self, run: Run, standing: Standing) -> tuple[float, float]:
        """The part of the line over which walls are looked at: open ends leave the piece on purpose."""
        trim = self.height_mm + standing.clearance_mm + standing.least_wall_mm
        first, last = self.stops()
        start, end = run.start + (0.0 if first else trim), run.end - (0.0 if last else trim)
        middle = (run.start + run.end) / 2
        return (start, end) if end - start > JUST_INSIDE_MM else (middle - 0.1, middle + 0.1)


def run_along(
    shape: MultiPolygon, place: Place, along: Points, stops: tuple[bool, bool], stop_mm: float, margin: float
) -> Run | None:
    """The piece of the line through `place` along `along` (2,) that lies in `shape`, the one nearest to the place."""
    runs = _pieces_of_line(shape, np.array(place), along)
    if not runs:
        return None
    start, end = min(runs, key=lambda r: max(r[0], -r[1], 0.0))
    before = min([margin, *((start - e) / 2 for _, e in runs if e < start)])
    after = min([margin, *((s - end) / 2 for s, _ in runs if s > end)])
    most = max(0.0, (end - start) / 2 - 0.25)
    first, last = stops
    return Run(
        start + (min(stop_mm, most) if first else 0.0),
        end - (min(stop_mm, most) if last else 0.0),
        0.0 if first else before,
        0.0 if last else after,
    )


def _pieces_of_line(shape: MultiPolygon, at: Points, along: Points) -> list[tuple[float, float]]:
    """Stretches (from, to) of the line through `at` that lie in `shape`, as distances along it, in order."""
    if shape.is_empty:
        return []
    far = float(np.abs(shapely.get_coordinates(shape) - at).max()) * 2 + 10
    line = shapely.LineString([at - far * along, at + far * along])
    found = shapely.get_parts(shapely.intersection(line, shape))
    spans = []
    for part in found:
        if part.geom_type != "LineString" or part.length < 1e-6:
            continue
        s = (shapely.get_coordinates(part) - at) @ along
        spans.append((float(s.min()), float(s.max())))
    return sorted(spans)


def jams(length_mm: float, width_mm: float) -> bool:
    """Whether a slide is so short for its width that it tips and jams."""
    return length_mm < 1.5 * width_mm
