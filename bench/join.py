"""Join's figures: a joint moved on two large pieces, all joints of many pieces, and places for many faces."""

import time
from collections.abc import Sequence

from bench.model import Line, as_table
from hinoki.core.build import Build, build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.divide.cut import Part
from hinoki.core.divide.partings import EvenParting, FlatParting, WedgesParting
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import (
    SIDES,
    DovetailJoint,
    DowelJoint,
    FaceRef,
    HingeJoint,
    Joint,
    KeyJoint,
    LipJoint,
    MagnetJoint,
    PinJoint,
    ThreadJoint,
    TongueJoint,
)
from hinoki.core.join.ladders.fit_ladder import clearances, ladder
from hinoki.core.join.ladders.hole_ladder import Hole
from hinoki.core.propose.recommend_joints import SuitWish, suited
from tests.shapes import plan_for, torus

ROUNDS = 5
ANY = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


def _bare(built: Build) -> float:
    """Seconds of the kernel's own batched operations for all joints of a build, nothing else."""
    before = {part.key: part.solid for part in built.before}
    work: list[tuple[Solid, list[Solid], list[Solid]]] = []
    for key, solid in before.items():
        tools = [t for p in built.placed for s in SIDES if p.part(s).key == key for t in p.tools.of(s)]
        work.append((solid, [t.add for t in tools if t.add is not None], [t.cut for t in tools if t.cut is not None]))
    best = float("inf")
    for _ in range(ROUNDS):
        begun = time.perf_counter()
        for solid, adds, cuts in work:
            _ = solid.plus(adds).minus(cuts).triangles
        best = min(best, time.perf_counter() - begun)
    return best


class _FirstTold:
    """Seconds from `begun` until pieces are handed out."""

    def __init__(self) -> None:
        self.begun, self.seconds = time.perf_counter(), float("inf")

    def __call__(self, _parts: Sequence[Part]) -> None:
        self.seconds = min(self.seconds, time.perf_counter() - self.begun)


def moving() -> list[Line]:
    """A pin moved, and a thread of ten turns, between two halves of a million triangles, with all else remembered."""
    pins = [PinJoint(id="j1", face=ANY, count=1, diameter_mm=6, length_mm=8, on="a")] * (ROUNDS + 1)
    screw = ThreadJoint(id="j1", face=ANY, diameter_mm=12, pitch_mm=1.5, length_mm=15, on="a")
    return [*_changed("a pin moved", pins), _changed("a thread of ten turns moved", [screw] * (ROUNDS + 1))[0]]


def _changed(what: str, joints: Sequence[Joint]) -> list[Line]:
    """A joint at ever other places."""
    data = write_stl(torus(90, 20, 1000, 500, 1.5))
    parting = FlatParting(id="p1", axis="x", at_mm=1.7)
    cache = Cache()
    ref = build(plan_for(data, parting), lambda _: data, cache).faces[0].ref
    best, whole, last = float("inf"), float("inf"), None
    for step, joint in enumerate(joints):
        placed = joint.model_copy(update={"face": ref, "places": ((88.0 + step, 20.0),)})
        plan = plan_for(data, parting, joints=(placed,))
        told = _FirstTold()
        last = build(plan, lambda _: data, cache, on_pieces=told)
        check(last, cache)
        if step:
            best = min(best, told.seconds)
            whole = min(whole, time.perf_counter() - told.begun)
    assert last is not None
    return [
        Line(f"{what}, two pieces of 500 k triangles: until they are handed out", best, _bare(last), "at most 1.5"),
        Line("of the same: until findings and resting faces are there too", whole, None, ""),
    ]


def everything() -> Line:
    """All joints of twelve wedges of a million triangles: the time of the join stage."""
    data = write_stl(torus(90, 20, 1000, 500, 1.5))
    plan = plan_for(data, WedgesParting(id="p1", count=12))
    cache = Cache()
    built = build(plan, lambda _: data, cache)
    joints = suited(built, plan, SuitWish(kind="pin")).joints
    best = float("inf")
    for step in range(ROUNDS):  # each time other pins, so that nothing is remembered but the pieces
        thinner = tuple(
            j.model_copy(update={"diameter_mm": j.diameter_mm - 0.01 * step}) for j in joints if isinstance(j, PinJoint)
        )
        told = _FirstTold()
        built = build(plan.model_copy(update={"joints": thinner}), lambda _: data, cache, on_pieces=told)
        best = min(best, told.seconds)
    return Line(f"joints on {len(built.faces)} faces of 12 pieces, 1 M triangles", best, _bare(built), "at most 1.4")


LADDERED = (
    PinJoint, DowelJoint, DovetailJoint, KeyJoint, LipJoint, TongueJoint, ThreadJoint, MagnetJoint, HingeJoint,
)  # fmt: skip


def rungs() -> Line:
    """The slowest ladder of nine rungs of any kind."""
    kinds: list[Joint] = [kind(id="j1", face=ANY) for kind in LADDERED]
    tried: list[Joint | Hole] = [*kinds, HingeJoint(id="j1", face=ANY, pin="in place"), Hole()]
    slowest = 0.0
    for joint in tried:
        begun = time.perf_counter()
        ladder(joint, clearances(0.05, 0.3, 9), 1.6, 0.45)
        slowest = max(slowest, time.perf_counter() - begun)
    return Line("a fit ladder of nine rungs, the slowest kind", slowest, None, "under 3 s")


def placing() -> Line:
    """What suits thirty faces, measures and places."""
    data = write_stl(torus(90, 20, 400, 200, 1.5))
    plan = plan_for(data, EvenParting(id="p1", axis="x", parts=16))
    built = build(plan, lambda _: data, Cache())
    begun = time.perf_counter()
    suited(built, plan, SuitWish(kind="auto"))
    return Line(f"what suits {len(built.faces)} faces", time.perf_counter() - begun, None, "under 2 s")


def table() -> str:
    """All figures as a table."""
    return as_table([*moving(), everything(), placing(), rungs()])
