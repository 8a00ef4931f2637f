"""Loose parts of all joints: dowels and keys by name, how many are needed and printed, and where each sits."""

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from hinoki.core.geometry.frames import inverted
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.shape_hash import shape_hash
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channel_cuts import Bored
from hinoki.core.join.contract.terms import LooseOnes
from hinoki.core.join.joints import SIDES
from hinoki.core.join.placed_joint import PlacedJoint, letter
from hinoki.core.stages import key_of

EASILY_LOST_MM2 = 300.0
"""a loose part that takes less of the bed comes loose from it, or gets lost (common practice): some are printed twice"""
MOST_SHAPES = 200
SAME_MM, SAME_SHARE = 0.01, 1e-3
"""loose parts whose boxes and volumes differ by less may be one kind"""
ONE_IN = 6
"""of so many small ones one is printed twice"""


@dataclass(frozen=True)
class Seat:
    """Where one body that comes to the pieces sits in the model: its joint, the numbers of the pieces, and the matrix (3, 4)
    from its own mesh to model coordinates."""

    joint: str
    pieces: tuple[int, int]
    matrix: Points


@dataclass(frozen=True)
class LoosePart:
    """A kind of loose part as it lies on the bed, how many the model needs, how many more are printed, and
    where they sit."""

    name: str
    count: int
    spares: int
    solid: Solid
    made_by: str
    shape: str
    seats: tuple[Seat, ...] = ()

    @property
    def size_mm(self) -> Points:
        """The size (3,) of its box."""
        return self.solid.size

    @property
    def printed(self) -> int:
        """How many are printed in all."""
        return self.count + self.spares


def loose_parts(
    placed: Sequence[PlacedJoint],
    ways: Sequence[Bored],
    tools: Sequence[LooseOnes],
    numbers: Mapping[str, int],
    copies: Mapping[str, int],
) -> tuple[LoosePart, ...]:
    """The kinds of loose part by name, and each as it lies on the bed: those of joints, what ways need beside them, tools to
    work with, keys of modules and of faces (`tools`). `copies` tells which pieces (by key) are printed more than once."""
    lying: dict[str, Solid] = {}
    places: dict[str, list[Seat]] = defaultdict(list)
    needed: dict[str, int] = defaultdict(int)
    typed: dict[str, int] = defaultdict(int)
    unsaid: dict[str, int] = defaultdict(int)
    for placed_joint in placed:
        name, spares = placed_joint.joint.loose_name(), placed_joint.joint.spares_wanted
        if name is None:
            continue
        often = max(copies.get(placed_joint.part(side).key, 1) for side in SIDES)
        typed[name] += spares or 0
        a, b = (numbers[placed_joint.part(side).key] for side in SIDES)
        for loose in placed_joint.tools.loose:
            printed = loose.printed
            lies = loose.solid.placed(printed)
            own = _alike(name, lies, lying)
            lying.setdefault(own, lies)
            places[own].append(Seat(placed_joint.joint.id, (a, b), inverted(printed)))
            needed[own] += often
            unsaid[own] += often if spares is None else 0
    for way in ways:
        for name, loose in way.way.loose(way.clearance_mm):
            own = name if name not in lying else f"{name}, {way.way.id}"
            lying[own] = loose.solid.placed(loose.printed)
            places[own] = []
            needed[own] = max((copies.get(key, 1) for key in way.pieces), default=1)
    for one in tools:
        own = _alike(one.name, one.body, lying)
        lying.setdefault(own, one.body)
        places.setdefault(own, [])
        needed[own] += one.count
    return tuple(_part(name, lying[name], places[name], needed[name], typed[name], unsaid[name]) for name in sorted(places))


def _alike(name: str, lies: Solid, lying: Mapping[str, Solid]) -> str:
    """The name under which a body is printed: that of those of its kind which have its shape, else one more of the kind. Those
    that follow a surface differ from place to place."""
    names = [name, *(f"{name}, {letter(k)}" for k in range(1, MOST_SHAPES))]
    same = next((n for n in names if n not in lying or _same_shape(lying[n], lies)), None)
    return same or names[-1]


def _same_shape(one: Solid, other: Solid) -> bool:
    if not np.allclose(one.size, other.size, atol=SAME_MM) or not np.isclose(one.volume_mm3, other.volume_mm3, rtol=SAME_SHARE):
        return False
    return shape_hash(one) == shape_hash(other) or one.minus([other]).volume_mm3 < SAME_SHARE * one.volume_mm3


def _part(name: str, lying: Solid, seats: Sequence[Seat], needed: int, typed: int, unsaid: int) -> LoosePart:
    x, y = (round(float(c), 3) for c in lying.size[:2])
    more = math.ceil(unsaid / ONE_IN) if x * y < EASILY_LOST_MM2 else 0
    return LoosePart(name, max(1, needed), typed + more, lying, key_of("loose", name), shape_hash(lying), tuple(seats))
