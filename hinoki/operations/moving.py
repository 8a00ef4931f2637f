"""Moving: what moves in a project tried through its travel; axes picked from bores."""

from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.errors import BadPlan
from hinoki.core.model.prepared_model import prepared
from hinoki.core.moving.axis_at import axis_at
from hinoki.core.moving.carve import path_carved
from hinoki.core.moving.movements.base import MovementId
from hinoki.core.moving.project import moving
from hinoki.core.parts.standing import standing_at
from hinoki.operations.context import Context
from hinoki.operations.edits import keep_edit
from hinoki.operations.parts import PartId, PartsEdited
from hinoki.operations.registry import Nothing, operation
from hinoki.present.assemble.moving import moving_view
from hinoki.present.bodies import vec
from hinoki.present.schemas.moving import MovingView
from hinoki.present.schemas.vectors import Vec3

InstanceName = Annotated[str, Field(pattern=r"^q[1-9][0-9]{0,3} #[1-9][0-9]{0,4}$")]


@operation("try-moving", "assemble", "Trying what moves", needs=("numbers",))
def try_moving(asked: Nothing, context: Context) -> MovingView:  # noqa: ARG001 - the plan says it all
    """Try every movement of the project through its whole travel, and every two at once."""
    built = context.project_built(tell=context.part(0.0, 0.3))
    found = moving(built, context.cache, context.part(0.3, 1.0))
    view, meshes = moving_view(context.plan, built, found)
    context.draw(meshes)
    return view


class CarvePath(BaseModel):
    """A driver, an instance that it moves, and one of another part that it touches (such as `q2 #1`)."""

    movement: MovementId
    moved: InstanceName
    other: InstanceName
    by_mm: Annotated[float, Field(ge=0.05, le=20, allow_inf_nan=False)] = 0.4


@operation("carve-path", "assemble", "Carving its path", needs=("numbers", "printed"), edits=True)
def carve_path(asked: CarvePath, context: Context) -> PartsEdited:
    """Carve what moves past a part out of it, with room round it."""
    space = context.workspace
    plan, said = path_carved(
        context.plan, asked.movement, asked.moved, asked.other, asked.by_mm, space.source, context.cache, context.part(0, 0.9)
    )
    return PartsEdited(label="Carved a path", touches=keep_edit(context, plan), said=said)


class AxisAsked(BaseModel):
    """A place on the wall of a bore or axle, where things stand in the project; or on that of a part, as it is drawn."""

    at_mm: Vec3
    part: PartId | None = Field(None, description="the part in whose own coordinates the place is; none: in the project's")


class AxisGiven(BaseModel):
    """An axis: a point of it in the middle of the wall it is of, its direction, and that wall's diameter and length."""

    at_mm: Vec3
    along: Vec3
    diameter_mm: float = Field(description="of the round wall")
    long_mm: float = Field(description="of the round wall, along the axis")


@operation("axis-at", "assemble", "Looking for the axis", lane="interactive")
def axis_of_bore(asked: AxisAsked, context: Context) -> AxisGiven:
    """Find the axis of the bore or axle at a place."""
    plan, at = context.plan, np.array(asked.at_mm)
    space = context.workspace
    tell = context.part(0.0, 0.5)
    if asked.part is not None:
        near = prepared(plan.working_on(asked.part), space.source, context.cache, tell).solid
        if near is None:
            raise BadPlan("The surface of this part is open. Make it right first.", "part")
    else:
        every = [(part, k) for part in plan.part_ids for k in range(len(plan.working_on(part).instances))]
        bodies = [standing_at(plan, part, k, space.source, context.cache, tell).value for part, k in every]
        near = min(bodies, key=lambda body: _off(body.bounds, at))
    found = axis_at(near, at)
    wide, long = round(found.diameter_mm, 3), round(found.long_mm, 3)
    return AxisGiven(at_mm=vec(found.at), along=vec(found.along, 6), diameter_mm=wide, long_mm=long)


def _off(bounds: tuple[np.ndarray, np.ndarray], at: np.ndarray) -> float:
    """How far a point lies outside a box; inside, less the deeper it lies."""
    low, high = bounds
    return float(np.maximum(low - at, at - high).max())
