"""What was printed with each version of a joint: pieces of the log whose revision had those figures, and how they came out."""

from collections.abc import Sequence

from pydantic import BaseModel, Field

from hinoki.core.join.joints import Joint
from hinoki.core.plan.parts import project_key
from hinoki.core.plan.plan import Plan
from hinoki.core.printlog.records import Item, Print
from hinoki.core.printlog.states import PieceState, Reason, Result


class PrintedWith(BaseModel):
    """A piece that was printed with a version of a joint."""

    print_id: str
    number: int = Field(description="of the print")
    revision: int
    name: str
    state: PieceState
    result: Result | None = None
    reason: Reason | None = None
    note: str = ""


class JointVersions(BaseModel):
    """What was printed with the tries of a joint, by their ids, and with the joint as it is now, where it is none of them."""

    tries: dict[str, list[PrintedWith]]
    now: list[PrintedWith]


def effective_mm(plan: Plan, joint: Joint) -> float:
    """A joint's clearance on each side: its own, else that of its fit."""
    own = joint.clearance_mm
    return own if own is not None else plan.clearance_mm(joint.fit, joint.face.a, joint.face.b)


def joint_versions(plan: Plan, joint: Joint, printed: Sequence[tuple[Print, Plan]]) -> JointVersions:
    """Share the prints of a joint of the open part out among its versions; each comes with the plan of its revision."""
    own = [one for one in plan.joint_tries if one.belongs_to(joint)]
    found: dict[str, list[PrintedWith]] = {one.id: [] for one in own}
    now: list[PrintedWith] = []
    for one, its_plan in printed:
        if plan.part_id not in its_plan.part_ids:
            continue
        then = its_plan.working_on(plan.part_id)
        was = next((j for j in then.joints if (j.id, j.face) == (joint.id, joint.face)), None)
        if was is None:
            continue
        pieces = {project_key(plan.part_id, key) for key in (was.face.a, was.face.b)}
        came = [_came(one, item) for item in one.items if item.key in pieces]
        clearance = effective_mm(then, was)
        mine = next((version for version in own if version.same_as(was, clearance)), None)
        if mine is not None:
            found[mine.id] += came
        elif was == joint and abs(clearance - effective_mm(plan, joint)) < 1e-6:
            now += came
    return JointVersions(tries=found, now=now)


def _came(one: Print, item: Item) -> PrintedWith:
    return PrintedWith(
        print_id=one.id, number=one.number, revision=one.revision, name=item.name, state=item.state, result=item.result,
        reason=item.reason, note=item.note,
    )  # fmt: skip
