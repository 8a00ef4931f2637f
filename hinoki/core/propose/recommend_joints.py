"""Joints that suit the mating faces of a build: for one face, for all that are bare, or copied from another face."""

import time
from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial
from typing import Literal

from pydantic import BaseModel, Field

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.joints import joint_findings
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.join.apply import falls_apart, place_joints, standing_on
from hinoki.core.join.contract.pegs import PegJoint
from hinoki.core.join.joint_edits import last_number
from hinoki.core.join.joints import ButtJoint, Joint, Standing
from hinoki.core.join.placing import Depths
from hinoki.core.join.reinforcement import Ground
from hinoki.core.join.sizing.collar_sizing import (
    hooks_in_collar,
    magnets_in_ears,
    pegs_in_collar,
    screws_in_bosses,
    turned_in_collar,
)
from hinoki.core.join.sizing.recommended_sizes import Good, SuitKind, suggest, usual_fit, why_not
from hinoki.core.join.sizing.turned_sizing import TURNED
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, along, part_of, quiet
from hinoki.core.workshop.fits import Fit

PARALLEL = 0.99


class SuitWish(BaseModel):
    """What kind of joint is wanted, and on which faces (their ids); none for all that have no joint."""

    kind: SuitKind
    fit: Fit | None = Field(None, description="none: the usual one of the kind")
    one_way: bool = Field(False, description="pegs so that pieces cannot be put together turned")
    faces: list[str] | None = Field(None, max_length=5000)


class SuitView(BaseModel):
    """The joints that suit, and the faces (their ids) with no room for one."""

    joints: list[Joint]
    without: list[str]
    why: dict[str, str] = Field({}, description="of those without, why a joint that has room is not put there")


def suited(built: Build, plan: Plan, wish: SuitWish, tell: Tell = quiet, cache: Cache | None = None) -> SuitView:
    """Joints with the measures that suit each face asked for, under free names."""
    have = {joint.face.id for joint in plan.joints}
    chosen = [f for f in built.faces if (f.ref.id not in have if wish.faces is None else f.ref.id in wish.faces)]
    number = last_number(plan)
    ground, cache = built.ground, cache or Cache()
    found, trials = SuitView(joints=[], without=[]), _Trials(built, plan, cache)
    for face in along(chosen, tell, lambda k: f"Looking at face {k + 1} of {len(chosen)}"):
        fit = wish.fit or usual_fit(wish.kind)
        good = partial(trials.leave_nothing_to_fix, face, found.joints)
        standing = replace(
            standing_on(face, plan, fit), corner=_at_an_angle(face, built.faces), first="a" if face.a.key < face.b.key else "b"
        )
        joint = _suiting(f"j{number + 1}", face, standing, wish.kind, fit, ground, cache, good)
        if joint is None:
            found.without.append(face.ref.id)
            if why := why_not(wish.kind, Depths(face), fit, standing):
                found.why[face.ref.id] = why
        else:
            number, joint = number + 1, joint.as_chosen
            found.joints.append(
                joint.model_copy(update={"one_way": True}) if wish.one_way and isinstance(joint, PegJoint) else joint
            )
    return found


def _at_an_angle(face: MatingFace, faces: Sequence[MatingFace]) -> bool:
    """Whether one of its pieces meets another piece at a face that is not parallel to it."""
    pieces = {face.a.key, face.b.key}
    others = [f for f in faces if f is not face and {f.a.key, f.b.key} & pieces]
    return any(abs(float(other.frame.n @ face.frame.n)) < PARALLEL for other in others)


def _suiting(  # noqa: PLR0913 - what every rule of sizing takes
    joint_id: str,
    face: MatingFace,
    standing: Standing,
    wanted: SuitKind,
    fit: Fit,
    ground: Ground | None,
    cache: Cache,
    good: Good,
) -> Joint | None:
    """What suits one face; in a collar where its wall is too thin for what was asked."""
    joint = suggest(wanted, joint_id, Depths(face), fit, standing, good)
    thin = joint is None or (wanted == "auto" and isinstance(joint, ButtJoint))
    if ground is None or not thin or wanted not in ("auto", "pin", "dowel", "screw", "magnet", "hook", *TURNED):
        return joint
    if wanted in TURNED:
        return turned_in_collar(TURNED[wanted], joint_id, face, fit, standing, ground, cache, good)
    if wanted == "screw":
        return screws_in_bosses(joint_id, face, fit, standing, ground, cache, good)
    if wanted == "hook":
        return hooks_in_collar(joint_id, face, fit, standing, ground, cache, good)
    if wanted == "magnet":
        return magnets_in_ears(joint_id, face, fit, standing, ground, cache, good)
    kind: Literal["pin", "dowel"] = "dowel" if wanted == "dowel" else "pin"
    found = pegs_in_collar(kind, joint_id, face, fit, standing, ground, cache, good)
    if found is None and wanted == "auto":  # plates inside hold more than glue alone
        found = suggest("splice", joint_id, Depths(face), fit, standing, good)
    return found or joint


class _Trials:
    """Joints tried on the faces of a build beside those that are there. Where a joint stands is worked out once."""

    def __init__(self, built: Build, plan: Plan, cache: Cache) -> None:
        self._built, self._plan, self._cache = built, plan, cache
        placed = {one.joint.id: one for one in built.placed}
        self._known = {j: placed[j.id] for j in built.plan.joints if j.id in placed}

    def leave_nothing_to_fix(self, face: MatingFace, chosen: Sequence[Joint], joint: Joint) -> bool:
        """Whether a joint on a face, beside those that its two pieces have already, breaks none of the rules of joints."""
        ground, faces = self._built.ground, self._built.faces
        if ground is None:
            return True
        pieces = {face.a.key, face.b.key}
        others = (*self._plan.joints, *chosen)
        near = [j for j in others if {j.face.a, j.face.b} & pieces and j.face.id != joint.face.id]
        there = [j for j in near if j in self._known and j.placed_after <= joint.placed_after]
        alone = self._plan.model_copy(update={"joints": (*(j for j in near if j not in there), joint)})
        placed, _ = place_joints(alone, faces, ground, self._cache, quiet, [self._known[j] for j in there])
        own = next(one for one in placed if one.joint.id == joint.id)
        found = joint_findings(own, placed, self._built.numbers, alone)
        self._known[joint.as_chosen] = own  # as it is beside the next ones
        meets = any(joint.id == other for placed_joint in placed for _, other, _ in placed_joint.clashes)
        if meets or any(f.severity == "must-fix" for f in found):
            return False
        parts = [part for part in ground.parts if part.key in pieces]
        return not any(falls_apart(part, [own], self._cache) for part in parts)


def suggested(
    built: Build, plan: Plan, kind: SuitKind, fit: Fit | None, seconds: dict[str, float] | None = None, one_way: bool = False
) -> Plan:
    """The plan with suggested joints of `kind` on every face that has none; the time goes to `seconds`."""
    begun = time.perf_counter()
    new = suited(built, plan, SuitWish(kind=kind, fit=fit, one_way=one_way)).joints
    if seconds is not None:
        seconds["join"] = seconds.get("join", 0.0) + time.perf_counter() - begun
    return plan.model_copy(update={"joints": (*plan.joints, *new)})


def joined(
    built: Build,
    plan: Plan,
    wish: SuitWish,
    make: Callable[[Plan, Tell], Build],
    tell: Tell = quiet,
    seconds: dict[str, float] | None = None,
) -> tuple[Plan, Build]:
    """The plan with suggested joints on every face that has none, as many as have room, and its build."""
    plan = suggested(built, plan, wish.kind, wish.fit, seconds, wish.one_way)
    plan = settled(plan, make(plan, part_of(tell, 0.0, 0.5)))
    return plan, make(plan, part_of(tell, 0.5, 1.0))


def settled(plan: Plan, built: Build) -> Plan:
    """The plan without what its spread joints could not have: fewer pegs where there was less room, none where none."""
    counts = {p.joint.id: len(p.places) for p in built.placed}
    joints = []
    for joint in plan.joints:
        count = counts.get(joint.id, joint.wanted)
        if joint.places is not None or count == joint.wanted:
            joints.append(joint)
        elif count:
            joints.append(joint.model_copy(update={"count": count}))
    return plan.model_copy(update={"joints": tuple(joints)})
