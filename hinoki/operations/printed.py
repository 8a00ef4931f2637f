"""What prints of a piece as it lies, and of the model before and after a step: in layers and lines, what is lost coloured."""

from typing import Annotated

from pydantic import BaseModel, Field

from hinoki.core.errors import BadPlan
from hinoki.core.geometry.solid import Solid
from hinoki.core.stages import Keyed
from hinoki.operations.context import Context
from hinoki.operations.registry import operation
from hinoki.present.printed.view import lines_view, printed_view
from hinoki.present.schemas.printed import PrintedView, ReliefPrintedView

LayerMm = Annotated[float, Field(gt=0, ge=0.02, le=2, allow_inf_nan=False)]
LineMm = Annotated[float, Field(gt=0, ge=0.05, le=5, allow_inf_nan=False)]


class WhatPrints(BaseModel):
    """A piece by its key, and the layer and line to look with; none: those it prints with. `timed`: also draw every line."""

    piece: str = Field(max_length=8000)
    layer_mm: LayerMm | None = None
    line_mm: LineMm | None = None
    timed: bool = False


@operation("what-prints", "orient", "Looking at its layers", needs=("numbers",))
def what_prints(asked: WhatPrints, context: Context) -> PrintedView:
    """Offset every layer of a piece inwards by half a line and out again, and show what is lost."""
    plan, built = context.plan, context.built()
    piece = next((one for one in built.pieces if one.key == asked.piece), None)
    if piece is None:
        raise BadPlan("There is no such piece any more. Choose another one.", "piece")
    if not isinstance(piece.body, Solid):
        raise BadPlan("The surface of this piece is open: it has no layers. Make the model right first.", "piece")
    printer, settings = plan.printer_of(piece.key), plan.printing_of(piece.key)
    if asked.timed and printer.process == "resin":
        raise BadPlan("Resin prints no lines; its time is that of its layers.", "timed")
    layer, line = asked.layer_mm or settings.layer_mm(printer), asked.line_mm or printer.line_mm
    lying = Keyed(piece.body.placed(piece.rest.matrix), [piece.made_by, piece.rest.matrix])
    view, meshes = printed_view(lying, layer, line, context.cache, context.part(0.4, 0.6 if asked.timed else 0.95))
    context.draw(meshes)
    if asked.timed:
        own = printer.model_copy(update={"layers_mm": (layer,) * 3, "line_mm": line})
        view.lines = lines_view(lying.value, own, plan.material_of(piece.key), settings, context.part(0.6, 0.95))
    return view


class StepPrints(BaseModel):
    """A step of the open part, and the layer and line to look with; none: those of the project."""

    step: str = Field(pattern=r"^s[1-9][0-9]{0,3}$")
    layer_mm: LayerMm | None = None
    line_mm: LineMm | None = None


@operation("step-prints", "model", "Looking at its layers")
def step_prints(asked: StepPrints, context: Context) -> ReliefPrintedView:
    """What prints of the model before a step and after it, as it stands."""
    plan, ready = context.plan, context.prepared()
    done = next((one for one in ready.done if one.step.id == asked.step), None)
    if done is None:
        raise BadPlan("There is no such step any more, or it is switched off.", "step")
    before, after = done.before.solid, done.after.solid
    if before is None or after is None:
        raise BadPlan("The surface is open before or after this step: it has no layers. Put a repair before it.", "step")
    layer, line = asked.layer_mm or plan.printing.layer_mm(plan.printer), asked.line_mm or plan.printer.line_mm
    views = []
    for body, name, part in ((before, "before", (0.2, 0.6)), (after, "after", (0.6, 0.95))):
        standing = body.moved(0.0, 0.0, -float(body.bounds[0][2]))
        view, meshes = printed_view(
            Keyed(standing, [done.before_key, asked.step, name, ready.key]), layer, line, context.cache, context.part(*part)
        )
        context.draw(meshes)
        views.append(view)
    return ReliefPrintedView(before=views[0], after=views[1])
