"""Packing: large ones first, each where it reaches least far back, on the first bed that has room."""

import itertools
import math
import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
import rectpack
import shapely

from hinoki.core.packing.bed import Bed, Surface
from hinoki.core.packing.item import Item, Placement
from hinoki.core.progress import Tell, quiet

TURN_DEG = 45.0
"""steps in which things are turned"""
SECONDS = 60.0


@dataclass
class Packed:
    """The beds of one group, what fits none, and whether time ran out before all ways were tried."""

    beds: list[Bed]
    left_over: list[Item] = field(default_factory=list)
    cut_short: bool = False


def pack(
    items: Sequence[Item],
    surface: Surface,
    gap_mm: float = 4.0,
    turn_deg: float = TURN_DEG,
    most_minutes: float | None = None,
    pinned: Mapping[str, Placement] | None = None,
    tell: Tell = quiet,
    clock: Callable[[], float] = time.monotonic,
    seconds: float = SECONDS,
) -> Packed:
    """As few beds as can be found. Several orders are tried: by area, by length, by height, tall with tall; and, for boxes,
    a library's (rectpack); the one with the fewest beds counts, of equals the first. `pinned` placements stay as they are.

    A bed takes no more than `most_minutes` of printing, unless one item alone takes longer.
    """
    turns = np.arange(0.0, 360.0, turn_deg) if turn_deg > 0 else np.zeros(1)
    began = clock()
    orders: list[Callable[[Item], tuple[float, ...]]] = [
        lambda i: (-i.area_mm2,),
        lambda i: (-i.longest_mm, -i.area_mm2),
        lambda i: (-round(i.height_mm / 20), -i.area_mm2),
    ]
    least = math.ceil(sum(i.area_mm2 for i in items) / max(1e-9, surface.room.area) - 1e-9)
    best: Packed | None = None
    for k, order in enumerate(orders):
        tell(k / (len(orders) + 1), f"Laying out, try {k + 1}")
        if best is not None and clock() - began > seconds:
            best.cut_short = True
            break
        found = _in_order(sorted(items, key=lambda i: (*order(i), i.name)), surface, gap_mm, turns, most_minutes, pinned or {})
        if best is None or _rank(found) < _rank(best):
            best = found
        if not found.left_over and len(found.beds) <= least:
            return found
    if not pinned and most_minutes is None:
        boxed = _boxed(items, surface, gap_mm)
        if boxed is not None and best is not None and _rank(boxed) < _rank(best):
            best = boxed
    return best or Packed([])


def _rank(packed: Packed) -> tuple[int, int]:
    return len(packed.left_over), len(packed.beds)


def _in_order(
    items: Sequence[Item],
    surface: Surface,
    gap_mm: float,
    turns: np.ndarray,
    most_minutes: float | None,
    pinned: Mapping[str, Placement],
) -> Packed:
    found = Packed([])
    by_name = {i.name: i for i in items}
    for name, placement in sorted(pinned.items()):
        if name in by_name:
            while len(found.beds) <= placement.bed:
                found.beds.append(Bed(surface, gap_mm))
            found.beds[placement.bed].put(by_name[name], placement)
    for item in items:
        if item.name in pinned:
            continue
        for number in itertools.count():
            fresh = number >= len(found.beds)
            bed = Bed(surface, gap_mm) if fresh else found.beds[number]
            full = most_minutes is not None and bool(bed.placed) and bed.minutes + item.minutes > most_minutes
            place = None if full else bed.free_for(item, turns)
            if place is not None:
                if fresh:
                    found.beds.append(bed)
                bed.put(item, Placement(item.name, number, place[2], place[0], place[1]))
                break
            if fresh:
                found.left_over.append(item)
                break
    return found


def _boxed(items: Sequence[Item], surface: Surface, gap_mm: float) -> Packed | None:
    """The layout of a well-known library for the boxes around all items, where the bed is a rectangle."""
    x0, y0, x1, y1 = surface.room.bounds
    wide, deep = x1 - x0, y1 - y0
    if abs(surface.room.area - wide * deep) > 1e-3 or any(i.height_mm > surface.height_mm + 1e-6 for i in items):
        return None
    packer = rectpack.newPacker(rotation=True, sort_algo=rectpack.SORT_AREA)
    sizes = {i.name: (i.outline.bounds[2] - i.outline.bounds[0], i.outline.bounds[3] - i.outline.bounds[1]) for i in items}
    for item in sorted(items, key=lambda i: i.name):
        x, y = sizes[item.name]
        packer.add_rect(_whole(x + gap_mm), _whole(y + gap_mm), item.name)
    for _ in items:
        packer.add_bin(_whole(wide + gap_mm, up=False), _whole(deep + gap_mm, up=False))
    packer.pack()
    rects = packer.rect_list()
    if len(rects) < len(items):
        return None
    by_name = {i.name: i for i in items}
    beds: dict[int, Bed] = {}
    for number, x, y, w, _, name in sorted(rects, key=lambda r: (r[0], r[5])):
        item = by_name[name]
        turned = w != _whole(sizes[name][0] + gap_mm)
        half = np.array(sizes[name][::-1] if turned else sizes[name]) / 2
        at = np.array([x0, y0]) + np.array([x, y]) / SCALE + half
        bed = beds.setdefault(number, Bed(surface, gap_mm))
        bed.put(item, Placement(name, number, 90.0 if turned else 0.0, float(at[0]), float(at[1])))
    return Packed([beds[k] for k in sorted(beds)])


SCALE = 1000
"""the library wants whole numbers: thousandths of a millimetre"""


def _whole(value: float, up: bool = True) -> int:
    return int(np.ceil(value * SCALE - 1e-6) if up else np.floor(value * SCALE + 1e-6))


def overlaps(beds: Sequence[Bed], gap_mm: float = 0.0) -> list[tuple[str, str]]:
    """Pairs of items on one bed that lie nearer to each other than the gap, or that stand out of the bed (with “bed”)."""
    found = []
    for bed in beds:
        for (p, one), (q, two) in itertools.combinations(zip(bed.placed, bed.outlines, strict=True), 2):
            if shapely.distance(one, two) < gap_mm - 1e-6 or shapely.intersection(one, two).area > 1e-6:
                found.append((p.item, q.item))
        found += [
            (p.item, "bed")
            for p, one in zip(bed.placed, bed.outlines, strict=True)
            if not shapely.covers(bed.surface.room.buffer(1e-4), one)
        ]
    return found
