"""Boxes around things laid out by a well-known library (rectpack): quick, and good where things are boxes."""

from collections.abc import Sequence

import numpy as np

from hinoki.core.batch.packing.item import Item, Placement
from hinoki.core.batch.packing.raster_bed import Bed, Surface

SCALE = 1000
"""the library wants whole numbers: thousandths of a millimetre"""


def boxed(items: Sequence[Item], surface: Surface, gap_mm: float) -> list[Bed] | None:
    """Beds with all items by the boxes around them; None where the bed is no rectangle, or something fits none."""
    import rectpack

    if surface.room.is_empty:
        return None
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
    return [beds[k] for k in sorted(beds)]


def _whole(value: float, up: bool = True) -> int:
    return int(np.ceil(value * SCALE - 1e-6) if up else np.floor(value * SCALE + 1e-6))
