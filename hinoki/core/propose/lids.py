"""A lid that shuts: on one face a hinge at an edge, a rim that leaves it out, and magnets opposite that hold it shut."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.join.joint_edits import added
from hinoki.core.join.joints import Joint, LipJoint
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.propose.lay_pieces import Rebuild
from hinoki.core.propose.recommend_joints import SuitWish, suited

ORDERS = (("lip", "magnet"), ("magnet", "lip"))
"""what a lid gets beside its hinge: in a thick wall magnets find room beside a rim, in a thin one a rim beside the ears that
magnets stand in"""
MOST_SMALLER = 3
"""sizes under the one that suits the face alone that are tried beside the others"""


@dataclass(frozen=True)
class Lid:
    """The plan with a lid made to shut, the names of the joints that were added, the kinds that have no room, and why there
    is no hinge where there is none: then nothing is added."""

    plan: Plan
    joints: tuple[str, ...] = ()
    left_out: tuple[str, ...] = ()
    why: str = ""


def made_to_shut(plan: Plan, built: Build, face_id: str, rebuild: Rebuild, cache: Cache, tell: Tell = quiet) -> Lid:
    """A face with a hinge, a rim and magnets, those that it has already kept; each only where it leaves nothing to look at
    beside the others, the lid swinging as far as its hinge opens. As many of them as have room in one order or the other."""
    hinged = _with(("hinge",), _Tried(plan, built), face_id, rebuild, cache, part_of(tell, 0.0, 0.3))
    if hinged.left_out:
        return Lid(plan, (), hinged.left_out, hinged.why)
    tried: list[_Tried] = []
    for k, order in enumerate(ORDERS):
        tried.append(_with(order, hinged, face_id, rebuild, cache, part_of(tell, 0.3 + 0.35 * k, 0.65 + 0.35 * k)))
        if not tried[-1].left_out:
            break
    best = min(tried, key=lambda one: len(one.left_out))
    return Lid(best.plan, tuple(joint.id for joint in best.plan.joints[len(plan.joints) :]), best.left_out)


@dataclass(frozen=True)
class _Tried:
    """A plan with some of a lid's joints, and its build; the kinds that have no room, and why the last of them has none."""

    plan: Plan
    built: Build
    left_out: tuple[str, ...] = ()
    why: str = ""


def _with(kinds: Sequence[str], before: _Tried, face_id: str, rebuild: Rebuild, cache: Cache, tell: Tell) -> _Tried:
    """One kind after the other is put on the face, where it has none of it."""
    now = before
    for step, kind in enumerate(kinds):
        within = part_of(tell, step / len(kinds), (step + 1) / len(kinds))
        if any(joint.kind == kind and joint.face.id == face_id for joint in now.plan.joints):
            continue
        found = suited(now.built, now.plan, SuitWish(kind=kind, faces=[face_id]), within, cache)
        tried = (
            one for joint in found.joints for way in _ways(joint) for one in _beside(way, now.plan, face_id, rebuild, cache)
        )
        after = next(tried, None)
        if after is not None:
            now = _Tried(*after, now.left_out, now.why)
        else:
            now = _Tried(now.plan, now.built, (*now.left_out, kind), found.why.get(face_id, ""))
    return now


def _ways(joint: Joint) -> tuple[Joint, ...]:
    """A joint as it suits the face; a rim also along the outer side, where it keeps off what stands inside."""
    return (joint, joint.model_copy(update={"runs": "outer"})) if isinstance(joint, LipJoint) else (joint,)


def _beside(joint: Joint, plan: Plan, face_id: str, rebuild: Rebuild, cache: Cache) -> Iterator[tuple[Plan, Build]]:
    """The plan with a joint, or a smaller one, that leaves nothing to look at on its face."""
    one: Joint | None = joint
    for _ in range(MOST_SMALLER + 1):
        if one is None:
            return
        tried = added(plan, [one])
        built = rebuild(tried)
        on_face = {j.id for j in tried.joints if j.face.id == face_id}
        found = check(built, cache).findings
        if not any(f.severity != "note" and f.joint in on_face for f in found):
            yield tried, built
            return
        one = one.smaller()
