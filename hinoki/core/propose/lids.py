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

ORDERS = (("hinge", "lip", "magnet"), ("hinge", "magnet", "lip"))
"""what a lid gets: in a thick wall magnets find room beside a rim, in a thin one a rim beside the ears that magnets stand in"""
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
    best: Lid | None = None
    for k, order in enumerate(ORDERS):
        lid = _made(order, plan, built, face_id, rebuild, cache, part_of(tell, k / len(ORDERS), (k + 1) / len(ORDERS)))
        if best is None or len(lid.left_out) < len(best.left_out):
            best = lid
        if not best.left_out or not best.joints:
            break
    assert best is not None
    return best


def _made(  # noqa: PLR0913 - all that a lid is made of
    order: Sequence[str], plan: Plan, built: Build, face_id: str, rebuild: Rebuild, cache: Cache, tell: Tell
) -> Lid:
    own: list[str] = []
    left_out: list[str] = []
    first = plan
    for step, kind in enumerate(order):
        within = part_of(tell, step / len(order), (step + 1) / len(order))
        if any(joint.kind == kind and joint.face.id == face_id for joint in plan.joints):
            continue
        found = suited(built, plan, SuitWish(kind=kind, faces=[face_id]), within, cache)
        tried = (one for joint in found.joints for way in _ways(joint) for one in _beside(way, plan, face_id, rebuild, cache))
        now = next(tried, None)
        if now is not None:
            plan, built = now
            own.append(plan.joints[-1].id)
        elif kind == order[0]:
            return Lid(first, (), (kind,), found.why.get(face_id, ""))
        else:
            left_out.append(kind)
    return Lid(plan, tuple(own), tuple(left_out))


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
