"""A joint across two parts: what stands on a face of the open part gets its other side in another part that looks at it."""

from collections.abc import Callable

from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan
from hinoki.core.model.prepared_model import prepared
from hinoki.core.model.steps import MeetsStep, OnFaceStep, PrepareStep
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, quiet


def met_by(
    plan: Plan, step_id: str, part_id: str, source_of: Callable[[str], bytes], cache: Cache, tell: Tell = quiet
) -> tuple[Plan, tuple[str, ...]]:
    """The plan with the other side of a step of the open part in another part, and what was told about it.

    The screws are then those of the other side. Raises BadPlan where there is no such step, or the other part does not look at
    it where it stands; nothing is added then.
    """
    own = next((step for step in plan.prepare if step.id == step_id), None)
    if not isinstance(own, OnFaceStep) or not own.on:
        raise BadPlan(f"This part has nothing on a face under {step_id} that another part could meet.", "step")
    if part_id == plan.part_id:
        raise BadPlan("A part does not meet itself; choose another one.", "part")
    if own.joint.kind == "screw" and own.half == "stands":
        raise BadPlan("A screw's head is let into the part that meets it: let this part have what takes the screw.", "half")
    other = plan.working_on(part_id)
    if any(isinstance(step, MeetsStep) and (step.part, step.step) == (plan.part_id, step_id) for step in other.prepare):
        raise BadPlan(f"{other.label} meets it already.", "part")
    both = other.with_step(MeetsStep(id="s1", part=plan.part_id, step=step_id)).working_on(plan.part_id)
    if own.joint.kind == "screw":
        both = both.model_copy(update={"prepare": tuple(_counted_there(step, step_id) for step in both.prepare)})
    done = prepared(both.working_on(part_id), source_of, cache, tell).done[-1]
    if done.refused:
        raise BadPlan(str(done.findings[0].params["why"]), "part")
    return both, done.said


def _counted_there(step: PrepareStep, step_id: str) -> PrepareStep:
    return step.model_copy(update={"other_mm": 0.0}) if step.id == step_id else step
