"""Stays together: what holds every piece in each direction, and what falls in an attitude of the model."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from hinoki.core.assemble.motion.blocking_graph import ALIKE, Blocking
from hinoki.core.assemble.scene.parts import Held, Ids
from hinoki.core.assemble.scene.weights import Weight
from hinoki.core.join.contract.terms import Direction
from hinoki.core.plan.assembly_settings import Attitude
from hinoki.core.workshop.materials import GRAVITY

HoldKind = Literal["shape", "thread", "glue", "magnet", "friction", "weight", "nothing"]
WAYS: tuple[tuple[str, Direction], ...] = (
    ("up", (0.0, 0.0, 1.0)), ("down", (0.0, 0.0, -1.0)), ("left", (-1.0, 0.0, 0.0)), ("right", (1.0, 0.0, 0.0)),
    ("front", (0.0, -1.0, 0.0)), ("back", (0.0, 1.0, 0.0)),
)  # fmt: skip
DOWN_IN: Mapping[Attitude, Direction] = {
    "standing": (0.0, 0.0, -1.0), "hung": (0.0, 0.0, -1.0), "upside down": (0.0, 0.0, 1.0),
}  # fmt: skip
ALONG = 0.3
"""a way that rises by more than this (its cosine) is against the weight"""
ON_FLOOR_MM = 0.5


@dataclass(frozen=True)
class Hold:
    """What holds a unit in a direction, the units that do, and with how many newtons where that is known."""

    kind: HoldKind
    by: tuple[str, ...] = ()
    newtons: float | None = None


@dataclass(frozen=True)
class Falls:
    """Units that fall, or are held by magnets only: what they weigh, and what pulls them."""

    units: Ids
    weight_n: float
    pull_n: float
    falls: bool
    by: tuple[str, ...] = ()


class Holding:
    """Answers about what holds what."""

    def __init__(self, blocking: Blocking, weights: Mapping[str, Weight], glued: Sequence[tuple[str, str]]) -> None:
        self.blocking, self.scene, self.weights = blocking, blocking.scene, weights
        self._glued = {frozenset(p) for p in glued}

    def of(self, unit: str, way: Direction, attitude: Attitude) -> Hold:
        """What holds a unit against being moved along a way, all others in place: the surest of it."""
        rest = frozenset(self.scene.units) - {unit}
        one = frozenset((unit,))
        threads = self.blocking.threads_between(one, rest)
        screwed = {t.inner if t.outer == unit else t.outer for t in threads}
        beside = set(self.blocking.near(unit)) & rest - screwed
        touching = self.blocking.blockers(one, beside, way)
        further = [] if touching else self.blocking.blockers(one, rest - beside - screwed, way, most=1)
        if touching or further:
            return Hold("shape", tuple(touching or further))
        if threads:
            return Hold("thread", tuple(sorted(screwed)))
        glue = sorted(o for p in self._glued if unit in p for o in p - {unit})
        if glue:
            return Hold("glue", tuple(glue))
        joints = self.blocking.joints_between(one, rest)
        magnets = [h for h in joints if h.pull_n > 0 and self._pulls(h, unit, way)]
        if magnets:
            return Hold("magnet", tuple(_other(h, unit) for h in magnets), round(sum(h.pull_n for h in magnets), 1))
        press = [h for h in joints if h.press]
        if press:
            return Hold("friction", tuple(_other(h, unit) for h in press))
        if float(np.dot(way, DOWN_IN[attitude])) < -ALONG:
            return Hold("weight", (), round(self.weights[unit].grams / 1000 * GRAVITY, 2))
        return Hold("nothing")

    def _pulls(self, held: Held, unit: str, way: Direction) -> bool:
        """Whether a joint's magnets pull against a way: it leads off the face, not along it."""
        off = np.array(held.normal) if held.b == unit else -np.array(held.normal)
        return float(off @ np.array(way)) > ALONG

    def falls(self, attitude: Attitude, hangs: Ids, base: str) -> list[Falls]:
        """What falls in an attitude, and what only magnets hold there, with weights and pulls.

        Standing, what reaches the floor is held; hung, what the points are in; upside down, the unit it is held by, its base.
        """
        units, down = self.scene.units, DOWN_IN[attitude]
        if attitude == "standing":
            floor = min(float(u.box[0][2]) for u in units.values() if u.kind != "cable")
            held = {i for i, u in units.items() if float(u.box[0][2]) < floor + ON_FLOOR_MM}
        else:
            held = set(hangs) or {base}
        loose = {i for i, u in units.items() if u.kind in ("cable", "screw", "pin")}
        held |= loose
        found: list[Falls] = []
        self._spread(held, down)
        while len(held) < len(units):
            link = self._magnet_link(held)
            if link is None:
                break
            magnets, hanging = link
            weight = sum(self.weights[u].grams for u in hanging) / 1000 * GRAVITY
            pull = sum(h.pull_n for h in magnets)
            by = tuple(sorted({_inside(h, held) for h in magnets}))
            found.append(Falls(hanging, round(weight, 2), round(pull, 1), pull < weight, by))
            held |= hanging
            self._spread(held, down)
        left = set(units) - held
        while left:
            group = self._together(next(iter(sorted(left))), left)
            weight = sum(self.weights[u].grams for u in group) / 1000 * GRAVITY
            found.append(Falls(group, round(weight, 2), 0.0, True))
            left -= group
        return found

    def _spread(self, held: set[str], down: Direction) -> None:
        """Add what rests on, is screwed, glued or pressed to, or is caught by the shape of what is held."""
        grown = True
        while grown:
            grown = False
            for unit in sorted(set(self.scene.units) - held):
                if any(self._bears(unit, other, down) for other in self.blocking.near(unit) if other in held):
                    held.add(unit)
                    grown = True

    def _bears(self, unit: str, other: str, down: Direction) -> bool:
        pair = frozenset((unit, other))
        if pair in self._glued or any({t.inner, t.outer} == pair for t in self.scene.threads):
            return True
        joints = [h for h in self.scene.held if {h.a, h.b} == pair]
        if any(h.press for h in joints):
            return True
        return not self.blocking.free(unit, other, down)

    def _magnet_link(self, held: set[str]) -> tuple[list[Held], Ids] | None:
        """The magnets between what is held and what is not, and what hangs on them."""
        for one in self.scene.held:
            if one.pull_n > 0 and (one.a in held) != (one.b in held):
                outside = one.b if one.a in held else one.a
                hanging = self._together(outside, set(self.scene.units) - held)
                links = [
                    h for h in self.scene.held
                    if h.pull_n > 0 and ((h.a in held and h.b in hanging) or (h.b in held and h.a in hanging))
                ]  # fmt: skip
                return links, hanging
        return None

    def _together(self, unit: str, among: set[str]) -> Ids:
        seen, todo = {unit}, [unit]
        while todo:
            for other in self.blocking.near(todo.pop()):
                if other in among and other not in seen:
                    seen.add(other)
                    todo.append(other)
        return frozenset(seen)


def stays_put(holding: Holding, moving: Ids, there: Ids, way_in: Direction | None, over: bool) -> bool:
    """Whether units stay where they were put by themselves: screwed, glued or pressed on, drawn on by magnets, standing on the
    table, or resting on what is there with their centre of mass over it. `over` tells that all is turned over."""
    blocking, scene = holding.blocking, holding.scene
    if blocking.threads_between(moving, there):
        return True
    joints = blocking.joints_between(moving, there)
    if any(h.press or h.glued for h in joints):
        return True
    weight = sum(holding.weights[u].grams for u in moving) / 1000 * GRAVITY
    if sum(h.pull_n for h in joints) > weight:
        return True
    down: Direction = (0.0, 0.0, 1.0 if over else -1.0)
    end = 1 if over else 0
    lowest = (max if over else min)(float(scene.units[u].box[end][2]) for u in there if scene.units[u].kind != "cable")
    own_low = (max if over else min)(float(scene.units[u].box[end][2]) for u in moving)
    if (lowest - own_low) * down[2] < ON_FLOOR_MM:
        return True
    under = blocking.blockers(moving, there, down)
    if not under:
        return False
    caught = [h for h in joints if h.motions is not None and not any(np.dot(m, down) > ALIKE for m in h.motions)]
    if caught and way_in is not None and abs(way_in[2]) < ALONG:
        return True  # pins or a tongue across: it cannot tip out
    centre = np.array(sum((holding.weights[u].centre * holding.weights[u].grams for u in sorted(moving)), np.zeros(3)))
    centre = centre / max(1e-9, sum(holding.weights[u].grams for u in moving))
    boxes = [scene.units[u].box for u in under if u in {n for m in moving for n in blocking.near(m)}] or [
        scene.units[u].box for u in under
    ]
    own = [scene.units[u].box for u in moving]
    low = np.maximum(np.min([b[0] for b in boxes], axis=0), np.min([b[0] for b in own], axis=0))[:2]
    high = np.minimum(np.max([b[1] for b in boxes], axis=0), np.max([b[1] for b in own], axis=0))[:2]
    return bool((centre[:2] >= low - 1e-6).all() and (centre[:2] <= high + 1e-6).all())


def _other(held: Held, unit: str) -> str:
    return held.b if held.a == unit else held.a


def _inside(held: Held, units: set[str]) -> str:
    return held.a if held.a in units else held.b
