"""Spares proposed: for what has a small footprint and may come loose, and for what is easily lost."""

from collections.abc import Sequence

from pydantic import BaseModel

from hinoki.core.batch.print_items import Printable

SMALL_FOOT_MM2 = 60.0
"""with less than this on the bed a thing may come loose (common practice: small footprints come loose)"""
TINY_MM = 15.0
"""what is no longer than this is easily lost (common practice: tiny parts get lost)"""


class SpareView(BaseModel):
    """A thing of which one more should be printed, and why."""

    key: str
    name: str
    why: str
    wanted: int


def spares(every: Sequence[Printable]) -> list[SpareView]:
    """One line for each kind of thing at risk of which only as many are printed as the model needs."""
    found = []
    for one in every:
        thing = one.thing
        if one.copy > 1 or (thing.numbers and thing.wanted > 1):
            continue
        x0, y0, x1, y1 = one.item.outline.bounds
        longest = max(x1 - x0, y1 - y0, one.item.height_mm)
        if longest <= TINY_MM:
            why = f"only {longest:.0f} mm long: easily lost"
        elif thing.foot_mm2 < SMALL_FOOT_MM2 and one.item.height_mm > 1:
            why = f"stands on {thing.foot_mm2:.0f} mm²: may come loose"
        else:
            continue
        found.append(SpareView(key=thing.key, name=thing.name, why=why, wanted=thing.wanted))
    return found
