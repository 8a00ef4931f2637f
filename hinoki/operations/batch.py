"""Batches: all that is printed, estimated and laid out on beds; other settings side by side; one batch made ready to go out."""

from typing import Annotated

from pydantic import BaseModel, Field

from hinoki.core.batch.batches import Batches, batched
from hinoki.core.batch.print_items import Known
from hinoki.core.batch.scenarios import WhatIf
from hinoki.core.batch.scenarios import what_if as estimated
from hinoki.core.build import Build
from hinoki.core.printlog.dispatch import prepared_batch
from hinoki.core.printlog.records import PreparedBatch
from hinoki.operations.context import Context
from hinoki.operations.registry import operation
from hinoki.present.batches import BatchesView, WhatIfView, batches_view, what_if_view


class LayOut(BaseModel):
    """What is laid out: all that the plan prints, or, for a reprint, only so many of these, by key."""

    only: dict[Annotated[str, Field(max_length=8100)], Annotated[int, Field(ge=1, le=1000)]] | None = Field(
        None, max_length=5000
    )


def _laid_out(asked: LayOut, built: Build, context: Context, end: float) -> Batches:
    known: Known = context.known.model_copy(update={"only": asked.only})
    return batched(context.plan, built, context.cache, context.power_price, context.part(0.4, end), known)


@operation("batch", "batch", "Laying out the beds", needs=("numbers", "known", "power_price"))
def batch(asked: LayOut, context: Context) -> BatchesView:
    """Estimate all that is printed, or what is printed again, and lay it out on beds, as the plan says."""
    found = _laid_out(asked, context.project_built(), context, 1.0)
    for one in found.every:
        for body in one.thing.bodies if one.copy == 1 else ():
            context.workspace.draw(body.mesh, body.solid.mesh)
    return batches_view(found, context.plan)


@operation("what-if", "batch", "Estimating", needs=("numbers", "power_price"))
def what_if(asked: WhatIf, context: Context) -> WhatIfView:
    """Estimate all that is printed with other settings, materials or sizes, side by side."""
    built, tell = context.project_built(), context.part(0.4, 1.0)
    return what_if_view(estimated(context.plan, built, asked.options, context.power_price, context.cache, tell))


class SendAsked(LayOut):
    """Which batch goes out, of the plan's or of a reprint's."""

    batch: int = Field(ge=1, le=10_000)


@operation("prepare-batch", "batch", "Making the batch ready", needs=("numbers", "known", "power_price", "title", "revision"))
def prepare_batch(asked: SendAsked, context: Context) -> PreparedBatch:
    """Make a batch ready to be sent: its 3MF, and what the log must know of it."""
    built = context.project_built()
    found, file = _laid_out(asked, built, context, 0.9), f"{context.stem}.3mf"
    ready, content = prepared_batch(found, asked.batch, context.plan, built, context.title, context.revision, file)
    context.workspace.keep("exports", file, content)
    return ready
