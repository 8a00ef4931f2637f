"""A bed as cells: what is free, and where an outline can lie in it without touching what is there."""

from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from typing import Literal

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.batch.packing.item import ROUGH_MM, Item, Placement, turned
from hinoki.core.geometry.mesh import Points
from hinoki.core.workshop.printers import KeptFree, Printer

Rule = Literal["front", "corner"]
CELL_MM = 1.5
HAIR_MM = 1e-5
EDGE_MM = ROUGH_MM / 2 + 1e-3
"""so much of an outline, and a hair for its corners, may stand out over the usable bed"""
ALIKE = 1e-3
"""outlines that differ by less than this share are one"""
FREE = 0.5
"""below this a sum of whole numbers is none"""


@dataclass(frozen=True)
class Surface:
    """What of a printer's bed may be used: its outline about the middle less margins and forbidden areas, in mm."""

    room: MultiPolygon
    height_mm: float

    @property
    def size(self) -> tuple[float, float]:
        """Of the box around it."""
        x0, y0, x1, y1 = self.room.bounds
        return x1 - x0, y1 - y0

    @cached_property
    def origin(self) -> Points:
        """The corner its cells are counted from."""
        return np.array(self.room.bounds[:2])

    @cached_property
    def cells(self) -> tuple[int, int]:
        """How many cells it has each way."""
        x, y = self.size
        return max(1, int(np.floor(x / CELL_MM + 1e-6))), max(1, int(np.floor(y / CELL_MM + 1e-6)))

    def holds(self, outline: MultiPolygon) -> bool:
        """Whether an outline, drawn a little outwards as outlines are, lies wholly on what may be used."""
        return bool(shapely.covers(self.room.buffer(EDGE_MM, join_style="mitre"), outline))


def surface_of(printer: Printer) -> Surface:
    """The usable bed of a printer: its outline less the margin and the corners kept free."""
    x, y = float(printer.room_mm[0]), float(printer.room_mm[1])
    room: shapely.Geometry = (
        shapely.Point(0, 0).buffer(x / 2, quad_segs=32)
        if printer.bed_shape == "round"
        else shapely.box(-x / 2, -y / 2, x / 2, y / 2)
    )
    taken = [_corner(printer, kept) for kept in printer.kept_free]
    room = shapely.difference(room, shapely.union_all(taken)) if taken else room
    return Surface(MultiPolygon([p for p in shapely.get_parts(room) if p.geom_type == "Polygon"]), float(printer.room_mm[2]))


def _corner(printer: Printer, kept: KeptFree) -> Polygon:
    """A corner kept free, counted from the corner of the whole bed."""
    x, y = printer.bed_mm[0] / 2, printer.bed_mm[1] / 2
    right, back = "right" in kept.corner, "back" in kept.corner
    x0, x1 = (x - kept.size_mm[0], x) if right else (-x, kept.size_mm[0] - x)
    y0, y1 = (y - kept.size_mm[1], y) if back else (-y, kept.size_mm[1] - y)
    return shapely.box(x0, y0, x1, y1)


@dataclass
class Bed:
    """One bed being filled: its cells, true where something lies or nothing may, and what was laid so far."""

    surface: Surface
    gap_mm: float
    placed: list[Placement] = field(default_factory=list)
    outlines: list[MultiPolygon] = field(default_factory=list)
    own_minutes: float = 0.0
    height_minutes: float = 0.0
    stamps: dict[tuple[str, float], np.ndarray] = field(default_factory=dict)
    """waves of what items cover, by name and turn; beds of one size may have them in common"""
    _taken: np.ndarray | None = None
    _waves: np.ndarray | None = None

    @property
    def minutes(self) -> float:
        """How long it prints: what goes by height counts once."""
        return self.own_minutes + self.height_minutes

    def minutes_with(self, item: Item) -> float:
        """The same with one more item on it."""
        return self.own_minutes + item.minutes - item.height_minutes + max(self.height_minutes, item.height_minutes)

    @property
    def taken(self) -> np.ndarray:
        """Cells (nx, ny) that are not free."""
        if self._taken is None:
            self._taken = ~_room_cells(self.surface, self.shape)
        return self._taken

    @property
    def origin(self) -> Points:
        """The corner the cells are counted from."""
        return self.surface.origin

    @property
    def shape(self) -> tuple[int, int]:
        """How many cells each way."""
        return self.surface.cells

    def put(self, item: Item, placement: Placement) -> None:
        """Lay an item; its cells and the gap around it are taken."""
        outline = placement.outline(item)
        self.placed.append(placement)
        self.outlines.append(outline)
        self.own_minutes += item.minutes - item.height_minutes
        self.height_minutes = max(self.height_minutes, item.height_minutes)
        self._waves = None
        self._taken = self.taken | _covered(outline.buffer(self.gap_mm, quad_segs=4), self.origin, self.shape, inside=False)

    def free_for(self, item: Item, turns: Points, rule: Rule = "front") -> tuple[float, float, float] | None:
        """The best free place of an item over all `turns` (degrees): x, y, turn. `front`: where it reaches least far back,
        then leftmost; `corner`: where the middle of its area is nearest to the front left corner."""
        if item.height_mm > self.surface.height_mm + 1e-6 or self.surface.room.is_empty:
            return None
        if self.placed and item.area_mm2 > self.free_mm2:
            return None
        best: tuple[float, float, float, float] | None = None
        for way in _ways(item, tuple(float(t) for t in turns)):
            found = self._first(item.name, way, rule)
            if found is None:
                continue
            x, y = found
            far = y + way.high[1] if rule == "front" else x + way.middle[0] + y + way.middle[1]
            rank = round(far, 3), round(x + y, 3), way.turn
            if best is None or rank < (best[0], round(best[1] + best[2], 3), best[3]):
                best = rank[0], x, y, way.turn
        return None if best is None else (best[1], best[2], best[3])

    def _first(self, name: str, way: "Way", rule: Rule) -> tuple[float, float] | None:
        """The first free place of an outline by a rule: its middle."""
        if way.stamp.shape[0] > self.shape[0] or way.stamp.shape[1] > self.shape[1]:
            return self._exact(way.outline)
        free = self._hits(name, way) < FREE
        ranks = _ranks(free.shape, rule)
        at = int(np.argmin(np.where(free, ranks, ranks.size)))
        i, j = divmod(at, free.shape[1])
        if not free[i, j]:
            return self._exact(way.outline)
        return float(self.origin[0] + i * CELL_MM - way.low[0]), float(self.origin[1] + j * CELL_MM - way.low[1])

    @property
    def free_mm2(self) -> float:
        """What is left of it."""
        return float((~self.taken).sum()) * CELL_MM**2

    def _hits(self, name: str, way: "Way") -> Points:
        """How many taken cells a stamp would cover, for every place it can have: a convolution, by Fourier transforms. What
        wraps round falls on places at which the stamp would stand out, and those are not looked at."""
        from scipy.fft import irfft2, next_fast_len, rfft2

        nx, ny = self.shape
        size = [next_fast_len(nx, real=True), next_fast_len(ny, real=True)]
        if self._waves is None:
            self._waves = rfft2(self.taken.astype(np.float32), size)
        if (name, way.turn) not in self.stamps:
            self.stamps[name, way.turn] = rfft2(way.stamp[::-1, ::-1].astype(np.float32), size)
        sums = irfft2(self._waves * self.stamps[name, way.turn], size)
        a, b = way.stamp.shape
        return np.asarray(sums[a - 1 : nx, b - 1 : ny])

    def _exact(self, outline: MultiPolygon) -> tuple[float, float] | None:
        """On an empty bed an outline that fits to a hair lies in the middle."""
        if self.placed:
            return None
        x0, y0, x1, y1 = self.surface.room.bounds
        middle = (x0 + x1) / 2, (y0 + y1) / 2
        there = shapely.transform(outline, lambda p: p + np.array(middle))
        return middle if self.surface.holds(there) else None


@dataclass(frozen=True)
class Way:
    """An item turned: its outline, the cells it covers, the corners of the box around it, and the middle of its area."""

    turn: float
    outline: MultiPolygon
    stamp: np.ndarray
    low: tuple[float, float]
    high: tuple[float, float]
    middle: tuple[float, float]


@lru_cache(maxsize=4096)
def _ways(item: Item, turns: tuple[float, ...]) -> list[Way]:
    """An item at each turn, those left out that look like an earlier one."""
    found: list[Way] = []
    for turn in turns:
        outline = turned(item.outline, turn)
        if any(outline.symmetric_difference(other.outline).area <= ALIKE * item.area_mm2 for other in found):
            continue
        x0, y0, x1, y1 = outline.bounds
        cells = int(np.ceil((x1 - x0) / CELL_MM - 1e-6)), int(np.ceil((y1 - y0) / CELL_MM - 1e-6))
        stamp = _covered(outline, np.array([x0, y0]), cells, inside=False)
        middle = outline.centroid
        found.append(Way(turn, outline, stamp, (x0, y0), (x1, y1), (middle.x, middle.y)))
    return found


@lru_cache(maxsize=256)
def _ranks(count: tuple[int, int], rule: Rule) -> np.ndarray:
    """In which order cells (count) are taken: from the front, or from the front left corner, then from the left."""
    i, j = np.indices(count)
    order = np.lexsort((i.ravel(), (j if rule == "front" else i + j).ravel()))
    ranks = np.empty(i.size, dtype=np.int64)
    ranks[order] = np.arange(i.size)
    return ranks.reshape(count)


@lru_cache(maxsize=64)
def _room_cells(surface: Surface, count: tuple[int, int]) -> np.ndarray:
    """The cells of an empty bed that lie wholly in its usable room."""
    x0, y0, _, _ = surface.room.bounds
    return _covered(surface.room, np.array([x0, y0]), count, inside=True)


@lru_cache(maxsize=2)
def _grid(side: int) -> np.ndarray:
    """Cells (side, side) as boxes, a cell being 1."""
    low_x, low_y = np.meshgrid(np.arange(side), np.arange(side), indexing="ij")
    return np.asarray(shapely.box(low_x, low_y, low_x + 1, low_y + 1))


def _covered(shape: shapely.Geometry, origin: Points, count: tuple[int, int], inside: bool) -> np.ndarray:
    """Cells (count) that lie wholly `inside` a shape, or that it reaches into; touching along an edge is not enough."""
    out = np.zeros(count, dtype=bool)
    # a hair more, or less, than the shape: cells that end exactly where it does count as inside, and as not reached
    shape = shape.buffer(HAIR_MM if inside else -HAIR_MM, join_style="mitre")
    if shape.is_empty:
        return out
    low = np.maximum(np.floor((np.array(shape.bounds[:2]) - origin) / CELL_MM).astype(int), 0)
    high = np.minimum(np.ceil((np.array(shape.bounds[2:]) - origin) / CELL_MM).astype(int), count)
    if (high <= low).any():
        return out
    side = 1 << int(max(high) - 1).bit_length()
    boxes = _grid(max(128, side))[low[0] : high[0], low[1] : high[1]]
    shape = shapely.transform(shape, lambda p: (p - origin) / CELL_MM)
    shapely.prepare(shape)
    found = shapely.covers(shape, boxes) if inside else shapely.intersects(shape, boxes)
    out[low[0] : high[0], low[1] : high[1]] = found
    return out
