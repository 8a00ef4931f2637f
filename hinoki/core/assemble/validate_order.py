"""An order that the maker pinned: tried step by step, each step that does not work with what it meets and where."""

import time
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hinoki.core.assemble.motion.moves import Moves
from hinoki.core.assemble.motion.screw_and_swing import screwed, unscrewed
from hinoki.core.assemble.planning import Order, Planner, Step
from hinoki.core.assemble.scene.parts import Ids
from hinoki.core.cache import Cache
from hinoki.core.findings import Params
from hinoki.core.geometry.slide_collision import WITHIN_MM
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import Direction
from hinoki.core.plan.assembly_settings import PinnedStep

INTO_MM = 2.0
"""how far past its first touch a move is followed to show where the bodies meet"""


@dataclass(frozen=True)
class Refusal:
    """Why a step does not work: what stands in its way, where, on which way off, and what of the two would share a place."""

    lead: str
    code: str
    params: Params
    met: tuple[str, ...] = ()
    at: tuple[float, float, float] | None = None
    way: Direction | None = None
    overlap: Solid | None = None
    overlap_mm3: float = 0.0


@dataclass(frozen=True)
class Followed:
    """The pinned order with what of it does not work, units it says nothing of, and what it names that is not there now."""

    order: Order
    refusals: dict[int, Refusal]
    """by the place of the step in the order"""
    added: list[str]
    gone: list[str]


class Follower:
    """Tries pinned steps on a scene."""

    def __init__(self, moves: Moves, cache: Cache, seconds: float = 120.0) -> None:
        self.moves, self.scene, self.blocking = moves, moves.scene, moves.blocking
        self._cache, self._until = cache, time.monotonic() + seconds
        self._planner = Planner(moves)

    def follow(self, pinned: Sequence[PinnedStep], natural: Order) -> Followed:
        """The steps as pinned; units without a step are added at the end, in the natural order."""
        units = self.scene.units
        gone = [p.unit for p in pinned if p.unit not in units]
        known = [p for p in pinned if p.unit in units]
        named = {p.unit for p in known}
        added = [s for s in natural.steps if s.lead not in named]
        wanted = [*known, *(PinnedStep(unit=s.lead, onto=s.onto) for s in added)]
        out = Followed(Order(), {}, [s.lead for s in added], gone)
        self._down: list[str] = []
        group: dict[str, Ids] = {u: frozenset((u,)) for u in units}
        for k, step in enumerate(wanted):
            if k == 0:
                out.order.steps.append(Step(step.unit, group[step.unit], None, None))
                continue
            if time.monotonic() > self._until:
                out.order.cut_short = True
                break
            self._step(step, group, wanted, out)
        return out

    def _step(self, step: PinnedStep, group: dict[str, Ids], wanted: Sequence[PinnedStep], out: Followed) -> None:
        units = self.scene.units
        moving = group[step.unit]
        onto = step.onto if step.onto in units else None
        if onto is None or onto in moving:
            placed = group[wanted[0].unit]
            if step.onto is None and not self._touched(moving, self._there(wanted[0].unit, group)):
                out.order.steps.append(Step(step.unit, moving, None, None))
                self._down.append(step.unit)
                return
            if wanted[0].unit in moving:
                out.refusals[len(out.order.steps)] = Refusal(step.unit, "twice", {"what": self.scene.named([step.unit])})
                out.order.steps.append(Step(step.unit, frozenset((step.unit,)), onto, None))
                return
            onto = self._planner.onto(moving, placed) or wanted[0].unit
        there = group[onto]
        for other in self._down:  # what was set down beside, and is touched now, too
            if self._touched(moving, group[other]):
                there = (there | group[other]) - moving
        found = self.moves.off(moving, there, with_fasteners=False)
        if found is None and len(moving | there) <= 12:
            found = self.moves.two_slides(moving, there)
        out.order.steps.append(Step(step.unit, moving, onto, found.motion if found else None, into=there))
        if found is None:
            out.refusals[len(out.order.steps) - 1] = self.refusal(step.unit, moving, there)
        merged = moving | there
        group |= dict.fromkeys(merged, merged)

    def _there(self, base: str, group: dict[str, Ids]) -> Ids:
        """All that has been set down, with what was joined to it."""
        return group[base].union(*(group[other] for other in self._down))

    def _touched(self, moving: Ids, there: Ids) -> bool:
        return any(other in there for one in moving for other in self._planner.touching.beside(one))

    def refusal(self, lead: str, moving: Ids, there: Ids) -> Refusal:
        """What stands in the way of a step: on the way that has the least against it."""
        scene = self.scene
        things = 1 if len(moving) == 1 and len(scene.units[lead].numbers) <= 1 else 2
        params: Params = {"what": scene.named(sorted(moving)), "things": things}
        threads = self.blocking.threads_between(moving, there)
        if threads:
            return self._thread_refusal(lead, moving, there, params)
        cable = next((scene.units[u] for u in sorted(moving) if scene.units[u].kind == "cable"), None)
        if cable is not None and len(moving) == 1:
            return Refusal(lead, "wire-closed", params, tuple(sorted(cable.joins & there)))
        ranked = self.blocking.least_against(moving, there, self.moves.ways_of(moving, there))
        if not ranked:
            return Refusal(lead, "no-way", params, tuple(sorted(there)))
        way, met = ranked[0]
        meeting = self._meeting(moving, met, way)
        params |= {"met": scene.named(met)}
        if meeting is None:
            return Refusal(lead, "held", params, tuple(met), way=way)
        at, overlap = meeting
        return Refusal(lead, "meets", params, tuple(met), at, way, overlap, round(overlap.volume_mm3, 2))

    def _thread_refusal(self, lead: str, moving: Ids, there: Ids, params: Params) -> Refusal:
        scene = self.scene.units
        threads = self.blocking.threads_between(moving, there)
        if len(threads) > 1:
            return Refusal(lead, "two-threads", params)
        cables = [u for u in sorted(moving | there) if scene[u].kind == "cable"]
        crossing = [u for u in cables if scene[u].joins & moving and scene[u].joins & there]
        if crossing:
            return Refusal(lead, "twists-wire", params, (crossing[0],))
        thread = threads[0]
        turns_the_rest = thread.inner in moving
        if turns_the_rest:
            moving, there = there, moving
        still = [scene[u] for u in sorted(there)]
        turned = unscrewed(thread, [scene[u] for u in sorted(moving)], still, self._cache)
        if turned.free:
            return Refusal(lead, "kept-from-turning", params, tuple(sorted(there)))
        matrix = screwed(thread, turned.angle_deg / 360)
        shared = {u: scene[u].solid.placed(matrix).common(scene[turned.met].solid) for u in sorted(moving)}
        met = max(shared, key=lambda u: shared[u].volume_mm3) if turns_the_rest else turned.met
        params |= {"met": self.scene.named([met])}
        overlap = Solid.united(shared.values())
        return Refusal(lead, "meets-turning", params, (met,), turned.at, thread.axis, overlap, turned.volume_mm3)

    def _meeting(self, moving: Ids, met: Sequence[str], way: Direction) -> tuple[tuple[float, float, float], Solid] | None:
        """Where a move first meets one of `met`, and what the two share a little further on."""
        best: tuple[float, str, str, tuple[float, float, float]] | None = None
        for one in sorted(moving):
            for other in met:
                stop = self.blocking.stop(one, other, way, by_shape=True)
                if not stop.free and stop.at is not None and (best is None or stop.after_mm < best[0]):
                    best = stop.after_mm, one, other, stop.at
        if best is None:
            return None
        after, one, other, at = best
        for into in (INTO_MM, INTO_MM / 4, 2 * WITHIN_MM):
            shift = (after + into) * np.array(way)
            overlap = self.scene.units[one].solid.moved(*shift.tolist()).common(self.scene.units[other].solid)
            if not overlap.empty and overlap.volume_mm3 > 1e-6:
                return at, overlap
        return None


def pinned_steps(order: Order) -> tuple[PinnedStep, ...]:
    """An order as it is pinned in a plan."""
    return tuple(PinnedStep(unit=s.lead, onto=s.onto) for s in order.steps if not s.locked)
