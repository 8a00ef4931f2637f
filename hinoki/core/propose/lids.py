"""A lid that shuts: on one face what lets it open, what lays it in its place, and what holds it shut, all beside each other.

It swings on a hinge and is held by magnets or a friction bump opposite; or it comes off, and clicks or locks.
"""

import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.join.apply import standing_on
from hinoki.core.join.contract.strength import Stuff
from hinoki.core.join.contract.terms import Standing
from hinoki.core.join.joint_edits import added
from hinoki.core.join.joints import Joint, LipJoint, MagnetJoint
from hinoki.core.join.joints.lip import THICKEST_MM
from hinoki.core.join.rims.snap_rim import BEAD_LAND_MM
from hinoki.core.join.sizing.collar_sizing import collar_for, discs_for_ears, has_room_inside
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.propose.lay_pieces import Rebuild
from hinoki.core.propose.recommend_joints import SuitWish, suited

Shuts = Literal[
    "suits", "hinge and magnets", "hinge and bump", "hinge and latch", "clicks", "hooks", "magnets", "bayonet", "latches"
]  # fmt: skip
"""how a lid opens and shuts; one that has no hinge comes off"""
Variants = Callable[[Joint, Standing, Stuff], Iterator[Joint]]

PLAIN_RIM = "The lip that is there has no bead. Give it one under “Ring snap”, or take it out and make the lid anew."
MOST_SMALLER = 3
"""sizes under the one that suits the face alone that are tried beside the others"""
LOW_MM = 3.0
"""height of the rim of a lid on a hinge, at the most"""
CATCHES_MM = (0.4, 0.3, 0.2, 0.15)
"""how far a bead catches that is tried, less the clearance"""
BUMPS = (0, 4, 2, 3)
"""a bead all round, or so many bumps, tried in turn: all round only where that is round"""
EASY_N, HARD_N = 40.0, 100.0
"""a lid that is pulled open with one hand, and one that takes both (common practice)"""


@dataclass(frozen=True)
class Lid:
    """The plan with a lid made to shut, and how; the names of the joints that were added, the kinds that are left out, and why
    the last of them is. Without a hinge where one is wished, or without what holds it, nothing is added."""

    plan: Plan
    shuts: Shuts = "suits"
    joints: tuple[str, ...] = ()
    left_out: tuple[str, ...] = ()
    why: str = ""


@dataclass(frozen=True)
class _Wish:
    """A kind of joint that a lid gets, in which variants what suits the face is tried, and whether it is to have a bead."""

    kind: str
    variants: Variants
    beaded: bool = False

    def met_by(self, joint: Joint) -> bool:
        """Whether a joint that is there is as wished: a rim with a bead, where it is to have one."""
        return not self.beaded or (isinstance(joint, LipJoint) and joint.bead_mm > 0)


@dataclass(frozen=True)
class _Tried:
    """A plan with some of a lid's joints, and its build; the kinds that have no room, and why the last of them has none."""

    plan: Plan
    built: Build
    left_out: tuple[str, ...] = ()
    why: str = ""


def made_to_shut(  # noqa: PLR0913 - what is asked, and what it is worked out with
    plan: Plan,
    built: Build,
    face_id: str,
    rebuild: Rebuild,
    cache: Cache,
    shuts: Shuts = "suits",
    tell: Tell = quiet,
) -> Lid:
    """A face with what such a lid needs, what it has of that already kept; each joint only where it leaves nothing to look at
    beside the others, a lid on a hinge swinging as far as that opens. As many of them as have room in one order or another.
    What suits is a hinge and magnets, else what clicks or locks."""
    if shuts != "suits":
        return _made(plan, built, face_id, rebuild, cache, shuts, tell)
    ways: tuple[Shuts, ...] = ("hinge and magnets", "clicks", "bayonet", "magnets")
    first: Lid | None = None
    for k, way in enumerate(ways):
        lid = _made(plan, built, face_id, rebuild, cache, way, part_of(tell, k / len(ways), (k + 1) / len(ways)))
        first = first or lid
        if lid.joints or not lid.left_out:  # some of it is there now, or all of it was
            return lid
    return first or Lid(plan)


def _made(  # noqa: PLR0913
    plan: Plan, built: Build, face_id: str, rebuild: Rebuild, cache: Cache, shuts: Shuts, tell: Tell
) -> Lid:
    trial = _Trial(face_id, rebuild, cache)
    start = _Tried(plan, built)
    hinged = shuts.startswith("hinge")
    if hinged:
        start = trial.put((_HINGE,), start, part_of(tell, 0.0, 0.3))
        if start.left_out:
            return Lid(plan, shuts, (), start.left_out, start.why)
    tried: list[_Tried] = []
    orders = _ORDERS[shuts]
    for k, order in enumerate(orders):
        low, high = ((0.3 + 0.7 * step / len(orders)) for step in (k, k + 1))
        tried.append(trial.put(order, start, part_of(tell, low, high)))
        if not tried[-1].left_out:
            break
    holding = {wish.kind for wish in orders[0] if wish.kind != "lip" or wish.beaded}
    best = min(tried, key=lambda one: (len(one.left_out), len(holding & set(one.left_out))))
    if not hinged and holding & set(best.left_out):
        return Lid(plan, shuts, (), best.left_out, best.why)
    why = best.why if best.left_out else ""
    return Lid(best.plan, shuts, tuple(joint.id for joint in best.plan.joints[len(plan.joints) :]), best.left_out, why)


class _Trial:
    """Tries joints of a lid on its face."""

    def __init__(self, face_id: str, rebuild: Rebuild, cache: Cache) -> None:
        self._face, self._rebuild, self._cache = face_id, rebuild, cache

    def put(self, wishes: Sequence[_Wish], before: _Tried, tell: Tell) -> _Tried:
        """One kind after the other is put on the face, where it has none of it."""
        now = before
        for step, wish in enumerate(wishes):
            within = part_of(tell, step / len(wishes), (step + 1) / len(wishes))
            there = [joint for joint in now.plan.joints if joint.kind == wish.kind and joint.face.id == self._face]
            if there:
                if not any(wish.met_by(joint) for joint in there):
                    now = _Tried(now.plan, now.built, (*now.left_out, wish.kind), PLAIN_RIM)
                continue
            found = suited(now.built, now.plan, SuitWish(kind=wish.kind, faces=[self._face]), within, self._cache)
            face = next(f for f in now.built.faces if f.ref.id == self._face)
            tried = (
                one
                for joint in found.joints
                for way in wish.variants(joint, standing_on(face, now.plan, joint.fit), Stuff.of(now.plan.material))
                for one in self._beside(way, now.plan)
            )
            after = next(tried, None)
            if after is not None:
                now = _Tried(*after, now.left_out, now.why)
            else:
                now = _Tried(now.plan, now.built, (*now.left_out, wish.kind), found.why.get(self._face, ""))
        return now

    def _beside(self, joint: Joint, plan: Plan) -> Iterator[tuple[Plan, Build]]:
        """The plan with a joint, or a smaller one, that leaves nothing to look at on its face."""
        one: Joint | None = joint
        once = isinstance(joint, LipJoint) and joint.bead_mm > 0  # smaller ones are tried anyway
        for _ in range(1 if once else MOST_SMALLER + 1):
            if one is None:
                return
            tried = added(plan, [one])
            built = self._rebuild(tried)
            on_face = {j.id for j in tried.joints if j.face.id == self._face}
            found = check(built, self._cache).findings
            if not any(f.severity != "note" and f.joint in on_face for f in found):
                yield tried, built
                return
            one = one.smaller()


def _plain(joint: Joint, standing: Standing, stuff: Stuff) -> Iterator[Joint]:  # noqa: ARG001
    """As it suits the face."""
    yield joint


def _rim(joint: Joint, standing: Standing, stuff: Stuff) -> Iterator[Joint]:  # noqa: ARG001
    """A rim as it suits the face; also along the outer side, where it keeps off what stands inside."""
    yield joint
    yield joint.model_copy(update={"runs": "outer"})


def _low_rim(joint: Joint, standing: Standing, stuff: Stuff) -> Iterator[Joint]:
    """The same no higher than a lid needs that comes round in an arc."""
    for rim in _rim(joint, standing, stuff):
        yield rim.model_copy(update={"height_mm": min(rim.height_mm, LOW_MM)}) if isinstance(rim, LipJoint) else rim


def _magnets(joint: Joint, standing: Standing, stuff: Stuff) -> Iterator[Joint]:  # noqa: ARG001
    """Magnets as they suit the face; where those are in a rim's way, discs in ears beside it."""
    yield joint
    if isinstance(joint, MagnetJoint) and not joint.collar_mm and has_room_inside(standing):
        for diameter, thick in discs_for_ears():
            ears = {"collar_mm": collar_for(diameter, standing), "collar_runs": "ears", "count": 2}
            yield joint.model_copy(update={"diameter_mm": diameter, "thick_mm": thick, **ears, "shape": "disc"})


def _latches(joint: Joint, standing: Standing, stuff: Stuff) -> Iterator[Joint]:  # noqa: ARG001
    """Two latches, far from each other; one, where there is room for no more."""
    yield joint.model_copy(update={"count": 2})
    yield joint


def _clicking(joint: Joint, standing: Standing, stuff: Stuff) -> Iterator[Joint]:
    """A rim with a bead, or with bumps, of which is known how far they strain it."""
    tried = [one for runs in ("inner", "outer") for bumps in BUMPS for one in _beads(joint, runs, bumps, standing)]
    yield from _by_hand((one for one in tried if one.flexes(standing) is not None), standing, stuff)


def _one_bump(joint: Joint, standing: Standing, stuff: Stuff) -> Iterator[Joint]:
    """A rim with one bump, which stands opposite the hinge."""
    tried = (one for runs in ("inner", "outer") for one in _beads(joint, runs, 1, standing))
    yield from _by_hand(tried, standing, stuff)


def _by_hand(rims: Iterable[LipJoint], standing: Standing, stuff: Stuff) -> Iterator[LipJoint]:
    """Those that a hand pulls open: of the easy ones what catches most comes first, then the hard ones, the easiest first."""
    known = [(sum(n for _, n in rim.catches(standing, (), stuff)), rim) for rim in rims]
    easy = sorted((one for one in known if one[0] <= EASY_N), key=lambda one: -one[1].snap_mm)
    hard = sorted((one for one in known if EASY_N < one[0] <= HARD_N), key=lambda one: one[0])
    yield from (rim for _, rim in (*easy, *hard))


def _beads(joint: Joint, runs: str, bumps: int, standing: Standing) -> Iterator[LipJoint]:
    """A rim as high as a bead needs, since it may come round in an arc, and thin enough for what it leaves beside it, with ever
    smaller ones."""
    if not isinstance(joint, LipJoint):
        return
    gap, least = standing.clearance_mm, 2 * standing.line_mm
    half = joint.thick_mm(standing)
    for catch in CATCHES_MM:
        bead = math.ceil(20 * (gap + catch) - 1e-6) / 20
        thick = min(half, math.floor(20 * (half - (gap + bead) / 2) + 1e-6) / 20) if half < THICKEST_MM else half
        high = math.ceil(2 * (2 * (bead + gap) + BEAD_LAND_MM + joint.tip_mm) - 1e-6) / 2
        if thick >= least - 1e-6:
            wish = {"runs": runs, "snap_mm": bead, "bumps": bumps, "height_mm": high, "thickness_mm": thick}
            yield joint.model_copy(update=wish)


_HINGE, _RIM, _LOW = _Wish("hinge", _plain), _Wish("lip", _rim), _Wish("lip", _low_rim)
_MAGNETS, _HOOKS = _Wish("magnet", _magnets), _Wish("hook", _plain)
_LATCH, _LATCHES = _Wish("latch", _plain), _Wish("latch", _latches)
_ORDERS: dict[Shuts, tuple[tuple[_Wish, ...], ...]] = {
    # in a thick wall magnets find room beside a rim, in a thin one a rim beside the ears that magnets stand in
    "hinge and magnets": ((_LOW, _MAGNETS), (_MAGNETS, _LOW)),
    "hinge and bump": ((_Wish("lip", _one_bump, beaded=True),),),
    "hinge and latch": ((_LATCH,),),
    "clicks": ((_Wish("lip", _clicking, beaded=True),),),
    "hooks": ((_RIM, _HOOKS), (_HOOKS, _RIM)),
    "magnets": ((_RIM, _MAGNETS), (_MAGNETS, _RIM)),
    "bayonet": ((_Wish("bayonet", _plain),),),
    "latches": ((_RIM, _LATCHES), (_LATCHES, _RIM)),
}
"""what a lid gets beside its hinge, in the orders that are tried"""
