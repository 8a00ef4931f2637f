"""Joints that lock pieces, as pins all round a ring do, are made otherwise, so that all can be put together."""

from collections.abc import Sequence

import numpy as np

from hinoki.core.assemble.assembled import ordered
from hinoki.core.assemble.interlocks import Freed
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.join.contract.sliding_profile import RunningJoint
from hinoki.core.join.joints import Joint
from hinoki.core.join.sizing.recommended_sizes import SuitKind
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.propose.lay_pieces import Rebuild
from hinoki.core.propose.recommend_joints import SuitView, SuitWish, suited
from hinoki.core.propose.slide_in import nothing_to_fix, run_along, slid_in

OTHERWISE = "Trying other joints"
MOST_FREED = 4
"""joints that are made otherwise"""


def suited_together(built: Build, plan: Plan, wish: SuitWish, rebuild: Rebuild, cache: Cache, tell: Tell = quiet) -> SuitView:
    """Joints that suit faces, and with which all can still be put together."""
    found = suited(built, plan, wish, part_of(tell, 0.0, 0.5), cache)
    if len(found.joints) < 2:
        return found
    tried = plan.model_copy(update={"joints": (*plan.joints, *found.joints)})
    after, _, _ = unlocked(tried, rebuild(tried), rebuild, cache, part_of(tell, 0.5, 1.0), plan.joints)
    kept = {joint.id for joint in plan.joints}
    return found.model_copy(update={"joints": [joint for joint in after.joints if joint.id not in kept]})


def unlocked(
    plan: Plan, built: Build, rebuild: Rebuild, cache: Cache, tell: Tell = quiet, kept: Sequence[Joint] = ()
) -> tuple[Plan, Build, bool]:
    """The plan with other joints where its pieces lock each other: dovetails and tongues turned, keys from outside where there
    is room for them, dovetails or tongues on all faces of a piece so that it slides in, else glue; one after another until all
    can be put together, or until no more are tried, and none of those that are `kept`. Then its build, and whether pieces still
    lock each other."""
    staying = {joint.id for joint in kept}
    slid: set[str] = set()
    for step in range(MOST_FREED + 1):
        within = part_of(tell, step / (MOST_FREED + 1), (step + 1) / (MOST_FREED + 1))
        out = ordered(plan, built, cache, part_of(within, 0.0, 0.4))
        ways = [one for _, found in out.freed for one in found if one.joint not in (None, *staying)]
        stuck = {unit.split(" ")[0] for locked, _ in out.freed for unit in locked}  # loose parts are named by their joint
        named = {ways[0].joint} if ways else stuck - staying
        joint = next((j for j in plan.joints if j.id in named), None)
        if not out.order.locked or joint is None or step == MOST_FREED:
            return plan, built, bool(out.order.locked)
        beside = [p for p in (joint.face.a, joint.face.b) if p not in slid]
        within(0.4, OTHERWISE)
        changed = _turned(plan, built, joint, ways, rebuild, cache)
        if changed is None:
            bare = _without(plan, joint, rebuild)
            changed = (
                _replaced(bare, joint, "key", rebuild, cache, part_of(within, 0.4, 0.5))
                or slid_in(plan, built, beside, staying, rebuild, cache, part_of(within, 0.5, 0.95))
                or _replaced(bare, joint, "butt", rebuild, cache, part_of(within, 0.95, 1.0))
                or bare
            )
        plan, built = changed
        slid |= {joint.face.a, joint.face.b}
    raise AssertionError("the last step returns")


def _turned(
    plan: Plan, built: Build, joint: Joint, ways: Sequence[Freed], rebuild: Rebuild, cache: Cache
) -> tuple[Plan, Build] | None:
    """The joint slid in along another way, where that frees its pieces and leaves nothing to fix about it."""
    way = next((w.direction for w in ways if w.way == "turn" and w.joint == joint.id), None)
    frame = next((f.frame for f in built.faces if f.ref.id == joint.face.id), None)
    if way is None or frame is None or not isinstance(joint, RunningJoint):
        return None
    for other in run_along(joint, frame, np.array(way)):
        tried = plan.model_copy(update={"joints": tuple(other if j.id == joint.id else j for j in plan.joints)})
        found = rebuild(tried)
        if nothing_to_fix(found, {joint.id}, cache):
            return tried, found
    return None


def _replaced(
    bare: tuple[Plan, Build], joint: Joint, kind: SuitKind, rebuild: Rebuild, cache: Cache, tell: Tell
) -> tuple[Plan, Build] | None:
    """A joint of another kind on the joint's face, `bare` without any: keys, which go in afterwards, or glue. None where it is
    one or has no room."""
    plan, built = bare
    if joint.kind == kind:
        return None
    made = suited(built, plan, SuitWish(kind=kind, faces=[joint.face.id]), tell, cache).joints
    if not made:
        return None
    plan = plan.model_copy(update={"joints": (*plan.joints, *made)})
    return plan, rebuild(plan)


def _without(plan: Plan, joint: Joint, rebuild: Rebuild) -> tuple[Plan, Build]:
    rest = plan.model_copy(update={"joints": tuple(j for j in plan.joints if j.face.id != joint.face.id)})
    return rest, rebuild(rest)
