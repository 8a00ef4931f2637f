"""What came as one model taken apart into parts: each separate body a part of its own, copies of one as instances of it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan
from hinoki.core.formats.registry import read_file
from hinoki.core.geometry.frames import composed, shifted
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.shape import Body, Shape
from hinoki.core.model.prepared_model import prepared
from hinoki.core.model.separate import separate_bodies
from hinoki.core.parts.equal_bodies import Kind, kinds_of
from hinoki.core.plan.contents import CONTENTS, ModelUse
from hinoki.core.plan.parts import FIRST, Instance, KeptPart
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet

MOST_PARTS = 200
SAME_MM = 0.01
DIVIDED = {"partings": "divided", "joints": "joined", "marks": "marked", "ways": "bored for rods or cables"}
"""what is done to a part as a whole, and would mean nothing for the bodies one by one"""


@dataclass(frozen=True)
class TakenApart:
    """A plan with a part for each kind of body; `counts` tells how often each of them stands, part by part."""

    plan: Plan
    counts: tuple[int, ...]


def taken_apart(
    plan: Plan, source_of: Callable[[str], bytes], cache: Cache, tell: Tell = quiet, copies_as_one: bool = True
) -> TakenApart:
    """The open part taken apart: everything stays where it is. Prepare steps go along with every body.

    Where `copies_as_one`, bodies that are copies of one another (mirror images included) become instances of one part.
    Raises BadPlan where there is only one body, where the part is divided already, or where a step does something else to
    a body alone than to all of them together.
    """
    refuse_divided(plan)
    named = _named_one_by_one(plan, source_of)
    whole = prepared(named, source_of, cache, part_of(tell, 0.0, 0.4))
    uses = [use for use in named.model_files for _ in use.objects or ()]
    bodies, numbers = whole.shape.bodies, [n for use in named.model_files for n in use.objects or ()]
    if len(bodies) < 2:
        raise BadPlan("There is only one body in this part; there is nothing to take apart.", "part")
    if len(bodies) != len(uses):
        raise BadPlan(
            "A prepare step makes more or fewer bodies than the file has. Switch it off to take them apart.", "prepare"
        )
    tell(0.5, "Looking for copies")
    unmoved = shifted(0.0, 0.0, 0.0)
    kinds = kinds_of(bodies) if copies_as_one else [Kind(((k, unmoved),)) for k in range(len(bodies))]
    if len(kinds) + len(plan.parts) > MOST_PARTS:
        raise BadPlan(
            f"There are {len(kinds)} different bodies; a project holds {MOST_PARTS} parts. Unite what belongs together first.",
            "part",
        )
    made = [_part(plan, kind, bodies, uses[kind.first], numbers[kind.first]) for kind in kinds]
    ids = [plan.part_id, *free_ids(plan, len(made) - 1)]
    own = [part.model_copy(update={"id": i}) for part, i in zip(made, ids, strict=True)]
    first = own[0]
    opened = {name: getattr(first, name) for name in CONTENTS}
    apart = plan.model_copy(
        update=opened | {"part_name": first.name, "instances": first.instances, "parts": (*plan.parts, *own[1:])}
    )
    for k, kind in enumerate(kinds):
        share = part_of(tell, 0.6 + 0.4 * k / len(kinds), 0.6 + 0.4 * (k + 1) / len(kinds))
        _refuse_changed(apart.working_on(ids[k]), bodies[kind.first], source_of, cache, share)
    return TakenApart(apart, tuple(len(part.instances) for part in own))


def refuse_divided(plan: Plan) -> None:
    """Raise BadPlan where something was done to the open part as a whole."""
    for field, done in DIVIDED.items():
        if getattr(plan, field):
            raise BadPlan(
                f"This part is {done} already, and that is of the whole. Take it apart before, or undo until it is not.", field
            )


def with_part(plan: Plan, part: KeptPart) -> Plan:
    """The plan with one more part, under an id that is free. Raises BadPlan where there are too many."""
    if len(plan.parts) + 2 > MOST_PARTS:
        raise BadPlan(f"A project holds {MOST_PARTS} parts; take one out before another is added.", "part")
    (part_id,) = free_ids(plan, 1)
    return plan.model_copy(update={"parts": (*plan.parts, part.model_copy(update={"id": part_id}))})


def free_ids(plan: Plan, count: int) -> list[str]:
    """Ids for new parts."""
    last = max(int(i[1:]) for i in (FIRST, *plan.part_ids))
    return [f"q{last + k}" for k in range(1, count + 1)]


def _named_one_by_one(plan: Plan, source_of: Callable[[str], bytes]) -> Plan:
    """The plan with every body of its files named by its number."""
    uses = []
    for use in plan.model_files:
        if use.objects is None:
            every = range(len(separate_bodies(read_file(source_of(use.source), use.file_name))))
            use = use.model_copy(update={"objects": tuple(every)})
        uses.append(use)
    if not uses:
        raise BadPlan("There is no model yet to take apart. Bring one in first.", "model")
    return plan.model_copy(update={"model": uses[0], "also": tuple(uses[1:])})


def _part(plan: Plan, kind: Kind, bodies: Sequence[Body], use: ModelUse, number: int) -> KeptPart:
    """A part of one kind of body; wherever the whole stood, its copies stand where they were."""
    first = bodies[kind.first]
    back = -Shape((first,)).settling
    there = [composed(matrix, shifted(*back.tolist())) for _, matrix in kind.copies]
    instances = tuple(Instance.of(composed(whole.matrix, matrix)) for whole in plan.instances for matrix in there)
    return KeptPart(
        id=FIRST,
        name=first.name[:80],
        instances=instances,
        model=use.model_copy(update={"objects": (number,)}),
        prepare=plan.prepare,
    )


def _refuse_changed(plan: Plan, body: Body, source_of: Callable[[str], bytes], cache: Cache, tell: Tell) -> None:
    """Raise BadPlan where a body, prepared alone, is not what it is prepared with all others."""
    own = prepared(plan, source_of, cache, tell).shape
    was, now = _figures(Shape((body,))), _figures(own)
    if np.abs(was - now).max() > SAME_MM:
        steps = ", ".join(f"“{step.label()}”" for step in plan.prepare if step.on)
        raise BadPlan(
            f"Prepared alone, {body.name} becomes another than with the rest ({steps}). Take them apart first and prepare each "
            "part by itself.",
            "prepare",
        )


def _figures(shape: Shape) -> Points:
    """Size of the box (3,), and the cube root of the volume, mm."""
    low, high = shape.bounds
    return np.array([*(high - low), np.cbrt(shape.volume_mm3)])
