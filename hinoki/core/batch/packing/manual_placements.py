"""What was laid by hand: which of it can stay where it is, and why the rest cannot."""

from collections.abc import Mapping, Sequence

import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.batch.packing.item import Item, Placement
from hinoki.core.batch.packing.raster_bed import Surface
from hinoki.core.plan.batch_settings import Laid

OVER_MM2 = 0.5
"""outlines are a little rough: so much of an overlap is none"""


def placement(name: str, laid: Laid) -> Placement:
    """As packing counts: beds from 0."""
    return Placement(name, laid.bed - 1, laid.turn_deg, laid.x_mm, laid.y_mm, laid.pinned)


def meets(surface: Surface, item: Item, place: Placement, others: Sequence[tuple[str, MultiPolygon]]) -> str | None:
    """What stands against an item at a place, as the end of a sentence; None where nothing does."""
    if item.height_mm > surface.height_mm + 1e-6:
        return f"is {item.height_mm:.0f} mm high and the printer {surface.height_mm:.0f} mm"
    outline = place.outline(item)
    if not surface.holds(outline):
        return "stands out over the usable bed"
    for name, other in others:
        if shapely.intersection(outline, other).area > OVER_MM2:
            return f"overlaps {name}"
    return None


def held(
    surface: Surface, items: Mapping[str, Item], laid: Mapping[str, Laid], names: Mapping[str, str]
) -> tuple[dict[str, Placement], list[tuple[str, str]]]:
    """The placements that can stay, by key, those pinned first; and the pinned others with what stands against them.

    `names` tells how things are called.
    """
    stays: dict[str, Placement] = {}
    refused: list[tuple[str, str]] = []
    on_bed: dict[int, list[tuple[str, MultiPolygon]]] = {}
    for key, one in sorted(laid.items(), key=lambda kv: (not kv[1].pinned, kv[0])):
        if key not in items:
            continue
        place = placement(key, one)
        beside = on_bed.setdefault(place.bed, [])
        against = meets(surface, items[key], place, beside)
        if against is None:
            stays[key] = place
            beside.append((names[key], place.outline(items[key])))
        elif one.pinned:
            refused.append((key, against))
    return stays, refused
