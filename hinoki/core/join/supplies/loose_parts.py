"""Loose parts of all joints: dowels and keys by name, how many are needed and printed, and where each sits."""

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence

from hinoki.core.cache import key_of
from hinoki.core.geometry.frames import inverted
from hinoki.core.geometry.shape_hash import shape_hash
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.apply import PlacedJoint
from hinoki.core.join.channel_cuts import Bored
from hinoki.core.join.joints import SIDES
from hinoki.present.schemas.build import LooseAt, LooseView

EASILY_LOST_MM2 = 300.0
"""a loose part that takes less of the bed comes loose from it, or gets lost (common practice): some are printed twice"""
ONE_IN = 6
"""of so many small ones one is printed twice"""


def loose_parts(
    placed: Sequence[PlacedJoint],
    ways: Sequence[Bored],
    tools: Sequence[tuple[str, Solid]],
    numbers: Mapping[str, int],
    copies: Mapping[str, int],
) -> tuple[list[LooseView], dict[str, Solid]]:
    """The kinds of loose part by name, and each as it lies on the bed: those of joints, what ways need beside them, and tools
    to work with (their names, and bodies as they print). `copies` tells which pieces (by key) are printed more than once."""
    lying: dict[str, Solid] = {}
    places: dict[str, list[LooseAt]] = defaultdict(list)
    needed: dict[str, int] = defaultdict(int)
    typed: dict[str, int] = defaultdict(int)
    unsaid: dict[str, int] = defaultdict(int)
    for one in placed:
        name, spares = one.joint.loose_name(), one.joint.spares_wanted
        if name is None:
            continue
        often = max(copies.get(one.part(side).key, 1) for side in SIDES)
        needed[name] += often * len(one.tools.loose)
        typed[name] += spares or 0
        unsaid[name] += often * len(one.tools.loose) if spares is None else 0
        a, b = (numbers[one.part(side).key] for side in SIDES)
        for loose in one.tools.loose:
            printed = loose.printed
            lying.setdefault(name, loose.solid.placed(printed))
            places[name].append(LooseAt(joint=one.joint.id, pieces=(a, b), matrix=inverted(printed).ravel().tolist()))
    for way in ways:
        for name, loose in way.way.loose(way.clearance_mm):
            own = name if name not in lying else f"{name}, {way.way.id}"
            lying[own] = loose.solid.placed(loose.printed)
            places[own] = []
            needed[own] = max((copies.get(key, 1) for key in way.pieces), default=1)
    for name, tool in tools:
        lying[name] = tool
        places[name] = []
    return [_view(name, lying[name], places[name], needed[name], typed[name], unsaid[name]) for name in sorted(places)], lying


def _view(name: str, lying: Solid, places: list[LooseAt], needed: int, typed: int, unsaid: int) -> LooseView:
    x, y, z = (round(float(c), 3) for c in lying.size)
    more = math.ceil(unsaid / ONE_IN) if x * y < EASILY_LOST_MM2 else 0
    mesh = key_of("loose", name)
    return LooseView(
        name=name,
        count=max(1, needed),
        spares=typed + more,
        size_mm=(x, y, z),
        mesh=mesh,
        places=places,
        shape=shape_hash(lying),
    )
