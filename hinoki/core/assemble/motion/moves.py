"""Moves: the ways in which some units can be taken off others, each with how far it is proved."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from hinoki.core.assemble.motion.blocking_graph import ALIKE, Blocking
from hinoki.core.assemble.motion.screw_and_swing import Turned, frame_of, screwed, swung_off, unscrewed
from hinoki.core.assemble.scene.parts import FASTENERS, Door, Ids, Thread, Unit
from hinoki.core.cache import Cache
from hinoki.core.geometry.mesh import Points, stacked
from hinoki.core.geometry.raycast import Rays
from hinoki.core.geometry.slide_collision import Form, Slide, slide
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import Direction, direction_of
from hinoki.core.stages import Keyed, stage

MotionKind = Literal["slide", "screw", "turn", "swing", "two slides", "pull"]
Proof = Literal["proved", "tried by sampling", "not checked"]
UP: Direction = (0.0, 0.0, 1.0)
DOWN: Direction = (0.0, 0.0, -1.0)
PLAIN: tuple[Direction, ...] = (UP, (1.0, 0.0, 0.0), (-1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, -1.0, 0.0), DOWN)
LEAST_LEG_MM = 1.0
LEGS = 10
"""places along a first slide from which a second one is tried"""
HAND_MM = 300.0
"""a wire's end can be got at from so far away: what is open that far is open"""

LEAST_MOVE_MM = 10.0
"""flat faces part with the least move; it is told and shown as so much"""

AT_PLANE_MM = 1.0
"""a unit that ends so near to the plane of a parting has a face there: it may go across it"""


@dataclass(frozen=True)
class Motion:
    """How units come off (`way` is the way off; assembly goes the other way round), and how sure that is.

    Two slides: first `way` by `first_mm`, then `then`. A screw turns by `turns` about its thread's axis as it comes
    off, a turn (of a bayonet) before it does. A swing opens
    `door` by `swing_deg`, then slides along `then`.
    """

    kind: MotionKind
    way: Direction
    proof: Proof
    distance_mm: float = 0.0
    first_mm: float = 0.0
    then: Direction | None = None
    thread: Thread | None = None
    door: Door | None = None
    swing_deg: float = 0.0

    @property
    def turns(self) -> float:
        """Of a screw, or of a bayonet."""
        return self.thread.by.turns if self.thread else 0.0


@dataclass(frozen=True)
class Off:
    """Units that can be taken off, the motion, and the fasteners that must be out first, each with its own motion."""

    units: Ids
    motion: Motion
    first: tuple[tuple[str, Motion], ...] = ()


class Moves:
    """Finds motions for units among others."""

    def __init__(self, blocking: Blocking, cache: Cache) -> None:
        self.blocking, self.scene, self._cache = blocking, blocking.scene, cache
        self._ways: dict[str, tuple[Direction, ...]] = {}

    def ways_of(self, units: Ids, rest: Ids) -> list[Direction]:
        """The directions worth trying for units: those joints to the rest agree on; else up, those across their faces, level
        ones, down."""
        left: set[Direction] | None = None
        for held in self.blocking.joints_between(units, rest):
            if held.motions is not None:
                own = {m if held.a in units else direction_of(-np.array(m)) for m in held.motions}
                left = own if left is None else {w for w in left if any(np.dot(w, o) > ALIKE for o in own)}
        if left is not None:
            return sorted(left, key=lambda w: (-w[2], w))
        more: list[Direction] = []
        for name in sorted(units | rest):
            unit = self.scene.units[name]
            if name in units or unit.joins & units:  # what is on a rod or a dowel slides along it
                more += unit.ways
        for held in self.blocking.joints_between(units, rest):
            n = held.normal
            more.append(n if held.b in units else direction_of(-np.array(n)))
        for k, (normal, _) in enumerate(self.scene.planes):
            reach = [self.scene.reaches[u][k] for u in units if u in self.scene.reaches]
            if any(min(abs(low), abs(high)) < AT_PLANE_MM for low, high in reach):
                more += [normal, direction_of(-np.array(normal))]
        own_ways = [self.scene.off[u][1] for u in sorted(units) if u in self.scene.off]
        every = list(dict.fromkeys([*own_ways, *PLAIN, *more]))
        return sorted(every, key=lambda w: (w not in own_ways, -round(w[2], 3)))

    def off(self, units: Ids, rest: Ids, ways: Sequence[Direction] | None = None, with_fasteners: bool = True) -> Off | None:
        """A motion that takes `units` off `rest`; None where none was found. Fasteners between the two may come out first."""
        if not rest:
            return Off(units, Motion("slide", UP, "proved"))
        threads = self.blocking.threads_between(units, rest)
        if threads:
            return self._screw(units, rest, threads, with_fasteners)
        single = self._cable(units)
        if single is not None:
            motion = self.pulled(single, rest)
            return Off(units, motion) if motion else None
        for way in self.ways_of(units, rest) if ways is None else ways:
            found = self._slide(units, rest, way, with_fasteners)
            if found is not None:
                return found
        return self._swing(units, rest, with_fasteners)

    def _swing(self, units: Ids, rest: Ids, with_fasteners: bool) -> Off | None:
        """A door swung open and taken off its hinge, whose pin is out or comes out first."""
        between = [d for d in self.scene.doors if (d.door in units) != (d.frame in units) and {d.door, d.frame} <= units | rest]
        others = [h for h in self.blocking.joints_between(units, rest) if h.motions is not None and h.kind != "hinge"]
        if len(between) != 1 or others or between[0].door not in units:
            return None
        door, first = between[0], list[tuple[str, Motion]]()
        if door.pin in units | rest and door.pin is not None:
            motion = self._out(door.pin, units | rest) if with_fasteners else None
            if motion is None:
                return None
            first.append((door.pin, motion))
            units, rest = units - {door.pin}, rest - {door.pin}
        scene = self.scene.units
        still = [scene[r] for r in sorted(rest) if scene[r].kind != "cable"]
        swung = swung_off(door, [scene[u] for u in sorted(units)], still, self._cache)
        if swung is None:
            return None
        way = direction_of(door.axis.frame.u)
        motion = Motion(
            "swing", way, "tried by sampling", self.clear_mm(units, rest, swung.way), then=swung.way, door=door,
            swing_deg=swung.angle_deg,
        )  # fmt: skip
        return Off(units, motion, tuple(first))

    def _slide(self, units: Ids, rest: Ids, way: Direction, with_fasteners: bool) -> Off | None:
        first: list[tuple[str, Motion]] = []
        if not with_fasteners:
            if self.blocking.blockers(units, rest, way, most=1):
                return None
        else:
            for other in self.blocking.blockers(units, rest, way, to_piece=True):
                motion = self._out(other, units | rest)
                if motion is None:
                    return None
                first.append((other, motion))
        for cable in self._cables(units, rest):
            motion = self.pulled(cable, (units | rest) - {cable.id})
            if motion is not None:
                first.append((cable.id, motion))
        gone = frozenset(name for name, _ in first)
        return Off(units - gone, Motion("slide", way, "proved", self.clear_mm(units - gone, rest - gone, way)), tuple(first))

    def _out(self, fastener: str, whole: Ids) -> Motion | None:
        """How a loose part comes out while all the rest is in place; None for pieces, and where it does not."""
        unit = self.scene.units[fastener]
        if unit.is_piece:
            return None
        found = self.off(frozenset((fastener,)), whole - {fastener}, with_fasteners=False)
        return found.motion if found else None

    def _screw(self, units: Ids, rest: Ids, threads: Sequence[Thread], with_fasteners: bool) -> Off | None:
        thread = threads[0]
        flipped = thread.inner in units
        if flipped:
            back = direction_of(-np.array(thread.axis))
            thread = Thread(thread.joint, thread.outer, thread.inner, thread.at, back, thread.by)
        held = [h for h in self.blocking.joints_between(units, rest) if h.motions is not None]
        if len(threads) > 1 or held:
            return None
        first: list[tuple[str, Motion]] = []
        for cable in self._cables(units, rest):
            motion = self.pulled(cable, (units | rest) - {cable.id}) if with_fasteners else None
            if motion is None:
                return None
            first.append((cable.id, motion))
        gone = frozenset(name for name, _ in first)
        units, rest = units - gone, rest - gone
        turned = self._turned(thread, units, rest)
        while not turned.free and with_fasteners:
            motion = self._out(turned.met, units | rest)
            if motion is None:
                return None
            first.append((turned.met, motion))
            rest = rest - {turned.met}
            turned = self._turned(thread, units, rest)
        if not turned.free:
            return None
        frame = frame_of(thread)
        shift = frame.n * thread.by.turns * thread.by.lead_mm
        for other in sorted(rest):
            if self.scene.units[other].kind != "cable" and self._meets_after(units, other, thread, shift):
                return None
        distance = max(thread.by.length_mm, self.clear_mm(units, rest, thread.axis))
        kind: MotionKind = "screw" if thread.by.lead_mm else "turn"
        return Off(units, Motion(kind, thread.axis, "tried by sampling", distance, thread=thread), tuple(first))

    def _turned(self, thread: Thread, units: Ids, rest: Ids) -> Turned:
        """Units turned off the rest, with all bent that gives way."""
        moving, still = ([self.blocking.giving(u, other) for u in sorted(own)] for own, other in ((units, rest), (rest, units)))
        return unscrewed(thread, moving, still, self._cache)

    def _meets_after(self, units: Ids, other: str, thread: Thread, shift: Points) -> bool:
        whole = thread.by.turns
        if abs(whole - round(whole)) < 1e-6:
            stops = (self.blocking.stop(u, other, thread.axis, shift, by_shape=True) for u in sorted(units))
            return any(not s.free for s in stops)
        # turned by a part of a turn: the shapes as they then are
        matrix = screwed(thread, whole)
        against = self.blocking.giving(other, units)
        still = Keyed(against.form(self._cache), against.made_by)
        for name in sorted(units):
            unit = self.blocking.giving(name, (other,))
            if not _slid_turned(self._cache, unit.bodies, matrix, still, thread.axis).free:
                return True
        return False

    def two_slides(self, units: Ids, rest: Ids) -> Off | None:
        """A motion of two slides, one after the other, for units that no single one frees."""
        if self.blocking.threads_between(units, rest):
            return None
        near = sorted(rest)
        for way in self.ways_of(units, rest):
            stops = [self.blocking.stop(u, r, way) for u in sorted(units) for r in near]
            far = min((s.after_mm for s in stops if not s.free), default=math.inf)
            if not math.isfinite(far) or far < LEAST_LEG_MM:
                continue
            for k in range(LEGS, 0, -1):
                gone = far * k / LEGS - (0.05 if k == LEGS else 0.0)
                shift = gone * np.array(way)
                for then in PLAIN:
                    if abs(np.dot(then, way)) > ALIKE:
                        continue
                    if all(self.blocking.stop(u, r, then, shift, by_shape=True).free for u in sorted(units) for r in near):
                        distance = gone + self.clear_mm(units, rest, then)
                        return Off(units, Motion("two slides", way, "proved", distance, round(gone, 3), then))
        return None

    def pulled(self, cable: Unit, rest: Ids) -> Motion | None:
        """A wire pulled out of its tunnel, where a hand gets at both its ends among `rest`."""
        ends = [(np.array(cable.path[0]), np.array(cable.path[1])), (np.array(cable.path[-1]), np.array(cable.path[-2]))]
        for at, before in ends:
            out = (at - before) / np.linalg.norm(at - before)
            if not self._open(at + 0.5 * out, out, rest):
                return None
        out = ends[0][0] - ends[0][1]
        way = direction_of(out / np.linalg.norm(out))
        long = float(np.linalg.norm(np.diff(np.array(cable.path), axis=0), axis=1).sum())
        return Motion("pull", way, "tried by sampling", long)

    def _open(self, at: Points, out: Points, rest: Ids) -> bool:
        """Whether anything leads straight out of a place into the open, among rays over the half space `out` looks into."""
        pieces = [self.scene.units[r] for r in sorted(rest) if self.scene.units[r].kind != "cable"]
        if not pieces:
            return True
        return _leads_out(self._cache, [p.bodies for p in pieces], at, out)

    def _cable(self, units: Ids) -> Unit | None:
        if len(units) != 1:
            return None
        unit = self.scene.units[next(iter(units))]
        return unit if unit.kind == "cable" else None

    def _cables(self, units: Ids, rest: Ids) -> Iterator[Unit]:
        """Wires that run from some units into others."""
        for name in sorted(units | rest):
            unit = self.scene.units[name]
            if unit.kind == "cable" and unit.joins & units and unit.joins & rest:
                yield unit

    def clear_mm(self, units: Ids, rest: Ids, way: Direction) -> float:
        """How far units go until their boxes are clear of those of what they touch, or of all where they touch nothing."""
        d = np.array(way)
        far = 0.0
        touched = {n: [o for o in self.blocking.near(n) if o in rest] for n in sorted(units)}
        beside = [] if any(touched.values()) else sorted(rest)
        for name, others in touched.items():
            low, high = self.scene.units[name].box
            for other in others or beside:
                if self.scene.units[other].kind in FASTENERS:
                    continue
                least, most = self.scene.units[other].box
                with np.errstate(divide="ignore", invalid="ignore"):
                    leave = np.where(d > 1e-9, (most - low) / d, np.where(d < -1e-9, (least - high) / d, np.inf))
                far = max(far, float(leave.min()))
        return round(max(far, LEAST_MOVE_MM), 2)


def _sphere(count: int = 400) -> Points:
    """Directions spread evenly (a Fibonacci sphere)."""
    k = np.arange(count) + 0.5
    polar, turn = np.arccos(1 - 2 * k / count), np.pi * (1 + 5**0.5) * k
    return np.column_stack([np.cos(turn) * np.sin(polar), np.sin(turn) * np.sin(polar), np.cos(polar)])


@stage("after")
def _slid_turned(bodies: Keyed[tuple[Solid, ...]], matrix: Points, still: Keyed[Form], way: Direction) -> Slide:
    """How far bodies turned by a matrix (3, 4) slide past a form."""
    return slide(Form(stacked([s.placed(matrix).mesh for s in bodies.value])), still.value, np.array(way))


@stage("open")
def _leads_out(pieces: Sequence[Keyed[tuple[Solid, ...]]], at: Points, out: Points) -> bool:
    """Whether enough rays from a place (3,), over the half space `out` (3,) looks into, meet no piece within a hand's reach."""
    ways = _sphere()
    ways = ways[ways @ out > 0.1]
    rays = Rays(stacked([s.mesh for p in pieces for s in p.value]))
    distance, _ = rays.first(np.broadcast_to(at, ways.shape), ways)
    return bool((distance > HAND_MM).mean() > 0.02)
