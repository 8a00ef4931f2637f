"""A model made right, divided, joined and laid without asking, as a maker would who takes what is proposed."""

from collections.abc import Callable
from dataclasses import dataclass

from pydantic import BaseModel, Field

from hinoki.core.build import Build, SourceOf, build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.model.prepared_model import prepared
from hinoki.core.model.steps.repair import RepairStep, recommended
from hinoki.core.orient.pieces import OrientWish
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.propose import Wishes, divided
from hinoki.core.propose.divide import Divided, PassedOver
from hinoki.core.propose.lay_pieces import laid
from hinoki.core.propose.proposals import Proposals
from hinoki.core.propose.recommend_joints import SuitWish, joined


class WholeJobWish(BaseModel):
    """How the whole job is to be planned; what is not said goes by the usual."""

    repair: bool = Field(True, description="make the surface right first, by the mildest means that do, where it is not")
    divide: bool = Field(True, description="divide anew; off: by the partings there are, with joints where there are none")
    wishes: Wishes = Field(Wishes(), description="what the division is to be like")
    joints: SuitWish | None = Field(SuitWish(kind="auto"), description="what joints; none for bare faces")
    lay: OrientWish = Field(OrientWish(), description="what counts when pieces are laid")
    all_parts: bool = Field(True, description="all parts of the project, one after the other; off: the one worked on")


@dataclass(frozen=True)
class Planned:
    """The plan with all that was decided, its build, and why: the repair that was needed, the proposals there were, and what
    was against those before the one taken."""

    plan: Plan
    built: Build
    repaired: RepairStep | None = None
    proposals: Proposals | None = None
    passed_over: tuple[PassedOver, ...] = ()


def planned(
    plan: Plan,
    source_of: SourceOf,
    cache: Cache,
    wish: WholeJobWish,
    tell: Tell = quiet,
    seconds: dict[str, float] | None = None,
) -> Planned:
    """Repair where it is needed, divide, join and lay; the division so far is kept as a variant where it is divided anew.

    Pieces that are locked, or whose side was chosen, stay as they lie. An open surface that no repair closes is built as it is.
    Raises BadPlan where no division is found, or the division so far finds no place among the variants.
    """
    tell(0.0, "Looking at the surface")
    repaired = _repair(plan, source_of, cache, part_of(tell, 0.0, 0.1)) if wish.repair else None
    if repaired is not None:
        plan = plan.model_copy(update={"prepare": (repaired, *plan.prepare)})
    dividing = part_of(tell, 0.1, 0.75)

    def make(asked: Plan, told: Tell = quiet) -> Build:
        return build(asked, source_of, cache, told, seconds=seconds)

    if wish.divide:
        made = divided(plan, source_of, cache, wish.joints, wish.wishes, dividing, seconds)
    else:
        built = make(plan, part_of(dividing, 0.0, 0.3))
        if not plan.joints and wish.joints is not None:
            plan, built = joined(built, plan, wish.joints, make, part_of(dividing, 0.3, 1.0), seconds)
        made = Divided(plan, built)
    dowels = wish.joints is not None and wish.joints.kind == "auto"
    laying = part_of(tell, 0.75, 1.0)
    lies = laid(made.plan, made.built, make, wish.lay, cache, laying, also_chosen=False, dowels=dowels)
    plan, built = _with_room(lies.plan, lies.built, wish.joints, make, cache)
    return Planned(plan, built, repaired, made.proposals, made.passed_over)


def all_planned(
    plan: Plan,
    source_of: SourceOf,
    cache: Cache,
    wish: WholeJobWish,
    tell: Tell = quiet,
    seconds: dict[str, float] | None = None,
) -> tuple[dict[str, Planned], Plan]:
    """Every part planned (`planned`), or the open one where that is wished, by its id, and the plan with all of it, in which
    the same part is open. Raises BadPlan."""
    ids = plan.part_ids if wish.all_parts else (plan.part_id,)
    first, made = plan.part_id, {}
    for k, part_id in enumerate(ids):
        share = part_of(tell, k / len(ids), (k + 1) / len(ids))
        made[part_id] = planned(plan.working_on(part_id), source_of, cache, wish, share, seconds)
        plan = made[part_id].plan
    return made, plan.working_on(first)


def _with_room(
    plan: Plan, built: Build, joints: SuitWish | None, make: Callable[[Plan, Tell], Build], cache: Cache
) -> tuple[Plan, Build]:
    """The plan with other joints where some lost their room as pieces were laid and pins went to the other side; the same where
    there are none, or where that leaves as much to fix."""
    before = check(built, cache).must_fix
    lost = {finding.joint for finding in before if finding.code == "joint-no-room"}
    if joints is None or not lost:
        return plan, built
    bare = plan.model_copy(update={"joints": tuple(joint for joint in plan.joints if joint.id not in lost)})
    other, after = joined(make(bare, quiet), bare, joints, make)
    return (other, after) if len(check(after, cache).must_fix) < len(before) else (plan, built)


def _repair(plan: Plan, source_of: SourceOf, cache: Cache, tell: Tell) -> RepairStep | None:
    """The mildest repair that the file needs; none where it needs none, or where the plan has one."""
    if any(isinstance(step, RepairStep) for step in plan.prepare):
        return None
    number = 1 + max((int(step.id[1:]) for step in plan.prepare), default=0)
    bare = plan.model_copy(update={"prepare": ()})
    return recommended(prepared(bare, source_of, cache, part_of(tell, 0.0, 0.5)).mesh, f"s{number}", part_of(tell, 0.5, 1.0))
