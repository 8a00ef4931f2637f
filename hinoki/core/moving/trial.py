"""Movements tried: each driver through its whole travel, everything that goes along with it against everything else."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from hinoki.core.geometry.mesh import Points
from hinoki.core.moving.bodies import Body
from hinoki.core.moving.mechanism import Mechanism, OutOfReach
from hinoki.core.moving.movements import Movement, Travel, TurnMovement
from hinoki.core.moving.nearness import FAR_MM, Nearness
from hinoki.core.moving.search import Near, Nearest, nearest
from hinoki.core.progress import Tell, part_of, quiet

SAMPLES = 48
"""positions by which it is played, and at which what rests on something is tried by what both share"""
SHARED_MM3 = 0.02
"""what two bodies that slide on each other share by rounding"""
BEFORE_MM = 0.05
"""so far before they touch it is told where"""
STEADY, STEADY_MM = 0.1, 0.01
"""a gap that changes by no more than this share of it, and so much, is the same all along: that of a bearing or guide"""
MOST_PLAY_MM = 0.6
"""more is no bearing"""
LOOKS = 9
"""positions at which that is seen"""
SAFE = 1.5
"""how much faster what a rod pulls may go between two positions than from one to the next"""


@dataclass(frozen=True)
class Pair:
    """Two bodies through a travel. `least_mm`: the least gap, at `value` of the driver, near `at` (3,); `touch`: the value at
    which they touch first, None where they do not; `rests`: they touch where they are at rest, so it was tried at positions
    what both share. `proved`: that nothing between the positions tried is nearer than `nowhere_less_mm`."""

    one: str
    other: str
    least_mm: float
    nowhere_less_mm: float
    value: float
    at: Points | None
    touch: float | None
    rests: bool
    proved: bool
    positions: int
    steady: bool = False
    """whether the gap is the same all along"""


@dataclass(frozen=True)
class Tried:
    """A driver tried: its pairs that come near, the nearest first; where it is drawn; `breaks`: the value at which a rod does
    not reach any more, and what cannot follow then."""

    movement: str
    values: tuple[float, ...]
    followers: Mapping[str, tuple[float, ...]]
    """values of all that it drives, itself too, at those of its own"""
    places: Mapping[str, tuple[Points, ...]]
    pairs: tuple[Pair, ...] = ()
    breaks: tuple[float, str] | None = None
    moved: tuple[str, ...] = ()
    """what goes along"""

    @property
    def touches(self) -> list[Pair]:
        """Pairs that touch, the first on its way first."""
        return sorted((p for p in self.pairs if p.touch is not None), key=lambda p: p.touch or 0.0)

    @property
    def proved(self) -> bool:
        """Whether nothing touches between the positions either: known of every pair that comes near, and none rests."""
        return self.breaks is None and all(p.proved and p.nowhere_less_mm > 0 for p in self.pairs)

    @property
    def bearing(self) -> Pair | None:
        """The pair whose gap is the play it moves with: the least that is the same all along; None where none is so small."""
        steady = [p for p in self.clear if p.steady and p.least_mm <= MOST_PLAY_MM]
        return min(steady, key=lambda p: p.least_mm, default=None)

    @property
    def clear(self) -> list[Pair]:
        """Pairs that come near and do not touch; those that rest on each other are none."""
        return [p for p in self.pairs if p.touch is None and not p.rests]


def tried(mechanism: Mechanism, bodies: Sequence[Body], tell: Tell = quiet) -> list[Tried]:
    """Every driver through its whole travel, all others at rest."""
    near, drivers = Nearness(), mechanism.drivers
    out = []
    for k, driver in enumerate(drivers):
        out.append(Travels(mechanism, bodies, driver, near).tried(part_of(tell, k / len(drivers), (k + 1) / len(drivers))))
    return out


class Travels:
    """One driver's travel: where all is on its way, and how fast two bodies can come nearer."""

    def __init__(self, mechanism: Mechanism, bodies: Sequence[Body], driver: Travel, near: Nearness) -> None:
        self.mechanism, self.bodies, self.driver, self.near = mechanism, bodies, driver, near
        self._known: dict[float, dict[str, Points]] = {}

    def value(self, share: float) -> float:
        """Of the driver at a share of its way."""
        return self.driver.begin + share * (self.driver.end - self.driver.begin)

    @cached_property
    def rest(self) -> dict[str, Points]:
        """Where all movements are while nothing drives them."""
        return self.mechanism.state({})[1]

    def places(self, share: float) -> dict[str, Points]:
        """Of all movements at a share of its way."""
        if share not in self._known:
            self._known[share] = self.mechanism.state({self.driver.id: self.value(share)})[1]
        return self._known[share]

    def tried(self, tell: Tell) -> Tried:
        """The whole of it."""
        shares = np.linspace(0.0, 1.0, SAMPLES + 1)
        values, states, breaks = [], [], None
        for share in shares:
            try:
                own, places = self.mechanism.state({self.driver.id: self.value(float(share))})
            except OutOfReach as error:
                breaks = (self.value(float(share)), error.movement)
                break
            self._known[float(share)] = places
            values.append(self.value(float(share)))
            states.append((own, places))
        moved = moved_by(self.mechanism, self.driver)
        found = Tried(
            movement=self.driver.id,
            values=tuple(values),
            followers={m: tuple(own[m] for own, _ in states) for m in (states[0][0] if states else ()) if m in moved},
            places={m: tuple(places[m] for _, places in states) for m in moved},
            breaks=breaks,
            moved=tuple(b.label for b in self.bodies if b.movement in moved),
        )
        if breaks is not None:
            return found
        pairs = sorted(self._pairs(moved, tell), key=lambda p: (p.touch is None, p.least_mm))
        return replace(found, pairs=tuple(pairs))

    def _pairs(self, moved: frozenset[str], tell: Tell) -> list[Pair]:
        movers = [b for b in self.bodies if b.movement in moved]
        found: list[Pair] = []
        for k, one in enumerate(movers):
            others = [b for b in self.bodies if b.movement not in moved] + movers[k + 1 :]
            for other in others:
                if one.movement == other.movement:
                    continue
                pair = self._pair(one, other)
                if pair is not None:
                    found.append(pair)
            tell((k + 1) / len(movers), f"Moving {self.driver.label}")
        return found

    def _pair(self, one: Body, other: Body) -> Pair | None:
        if self.near.gap(one, other, self.rest).mm <= 0:
            return self._rests(one, other)
        proved = self._by_formulas(one, other)
        parts = (
            [(part, self.speed(part, other)[0]) for part in self._patches(one)]
            if proved
            else [(one, self.speed(one, other)[0])]
        )

        def near_at(share: float) -> Near:
            places = self.places(share)
            return [(self.near.gap(part, other, places), speed) for part, speed in parts]

        steady = self._steady([self.near.gap(one, other, self.places(k / (LOOKS - 1))).mm for k in range(LOOKS)])
        found: Nearest = nearest(near_at, steady)
        if found.first_touch is None and found.gap.mm > FAR_MM - 1:
            return None
        at = found.gap.at
        if found.first_touch is not None:
            before = found.first_touch - BEFORE_MM / max(speed for _, speed in parts)
            at = self.near.gap(one, other, self.places(max(0.0, before))).at
        return Pair(
            one=one.label,
            other=other.label,
            least_mm=found.gap.mm,
            nowhere_less_mm=found.nowhere_less_mm,
            value=self.value(found.share),
            at=at,
            touch=None if found.first_touch is None else self.value(found.first_touch),
            rests=False,
            proved=proved,
            positions=found.positions,
            steady=steady and found.first_touch is None,
        )

    @staticmethod
    def _steady(gaps: Sequence[float]) -> bool:
        return max(gaps) - min(gaps) <= STEADY * min(gaps) + STEADY_MM

    def _rests(self, one: Body, other: Body) -> Pair:
        """What touch at rest: tried at positions, by what they share."""
        at, touch = None, None
        for share in np.linspace(0.0, 1.0, SAMPLES + 1):
            places = self.places(float(share))
            a, b = (body.solid.placed(places[body.movement]) if body.movement else body.solid for body in (one, other))
            shared = a.common(b) if a.box_meets(b) else None
            if shared is not None and not shared.empty and shared.volume_mm3 > SHARED_MM3:
                at, touch = shared.centre_of_mass, self.value(float(share))
                break
        return Pair(one.label, other.label, 0.0, 0.0, touch or 0.0, at, touch, True, False, SAMPLES + 1)

    def _by_formulas(self, one: Body, other: Body) -> bool:
        return all(self.mechanism.by_formula(body.movement) for body in (one, other))

    def _patches(self, body: Body) -> list[Body]:
        """What turns, in parts by how far they are from its axis: those near it go slowly."""
        turns = next((m for m in self.mechanism.chain(body.movement) if isinstance(m, TurnMovement)), None)
        if turns is None:
            return [body]
        seen = turns.frame.seen(body.mesh.vertices)
        return body.patches(np.hypot(seen[:, 0], seen[:, 1]))

    def speed(self, one: Body, other: Body) -> tuple[float, bool]:
        """By how much their gap can change over the whole travel, and whether that is sure."""
        chains = [self.mechanism.chain(body.movement) for body in (one, other)]
        common = {m.id for m in chains[0]} & {m.id for m in chains[1]}
        if self._by_formulas(one, other):
            own = [
                self._by_formula(body, [m for m in chain if m.id not in common])
                for body, chain in zip((one, other), chains, strict=True)
            ]
            return max(sum(own), 1e-9), True
        return max(SAFE * sum(self._by_positions(body) for body in (one, other)), 1e-9), False

    def _by_formula(self, body: Body, chain: Sequence[object]) -> float:
        far = self.driver.end - self.driver.begin
        gone = 0.0
        for movement in chain:
            if not isinstance(movement, Travel):
                continue
            reach = movement.far_from(body.mesh.vertices) + gone
            gone += abs(self.mechanism.rate(movement, self.driver.id)) * movement.speed(reach) * far
        return gone

    def _by_positions(self, body: Body) -> float:
        """The fastest of its corners from one position to the next, as if all the way."""
        if body.movement is None:
            return 0.0
        corners = _corners(body)
        shares = np.linspace(0.0, 1.0, SAMPLES + 1)
        paths = np.array([corners @ m[:, :3].T + m[:, 3] for m in (self.places(float(s))[body.movement] for s in shares)])
        return float(np.linalg.norm(np.diff(paths, axis=0), axis=2).max()) * SAMPLES


def moved_by(mechanism: Mechanism, driver: Travel) -> frozenset[str]:
    """What a driver moves, itself too: what rides on it, is driven by it, or is a rod on it."""
    found = {driver.id}
    while more := {one.id for one in mechanism.by_id.values() if one.id not in found and found & _needs(one)}:
        found |= more
    return frozenset(found)


def _needs(one: Movement) -> set[str]:
    return set(one.follows)


def _corners(body: Body) -> Points:
    low, high = body.mesh.vertices.min(axis=0), body.mesh.vertices.max(axis=0)
    return np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
