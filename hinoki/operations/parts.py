"""Parts: taken apart, opened, placed in rows and rings; the play between two of them."""

from typing import Annotated

from pydantic import BaseModel, Field

from hinoki.core.errors import BadPlan
from hinoki.core.parts.arrange import Arrangement, arranged
from hinoki.core.parts.play import play_between
from hinoki.core.parts.standing import standing_at
from hinoki.core.parts.take_apart import taken_apart
from hinoki.core.plan.parts import PART_ID, part_label
from hinoki.core.stages import key_of
from hinoki.operations.context import Context
from hinoki.operations.edits import Edited, keep_edit
from hinoki.operations.registry import operation
from hinoki.present.parts.play import PlayView, play_view

PartId = Annotated[str, Field(pattern=PART_ID)]
Which = Annotated[int, Field(ge=0, le=100_000)]


class TakeApart(BaseModel):
    """Whether bodies that are copies of one another become instances of one part."""

    copies_as_one: bool = True


class PartsEdited(Edited):
    """What became of the parts, in words."""

    said: str = ""


@operation("take-apart", "model", "Taking it apart", needs=("numbers", "printed"), edits=True)
def take_apart(asked: TakeApart, context: Context) -> PartsEdited:
    """Make a part of each separate body of the open part, copies of one being instances of it."""
    found = taken_apart(context.plan, context.workspace.source, context.cache, context.part(0.0, 0.8), asked.copies_as_one)
    copies = sum(found.counts)
    said = f"{len(found.counts)} parts" + (f", {copies} in all" if copies > len(found.counts) else "")
    return PartsEdited(label="Took the objects apart", touches=keep_edit(context, found.plan), said=said)


class OpenPart(BaseModel):
    """The part to work on."""

    part: PartId


@operation("open-part", "model", "Opening a part", lane="interactive", needs=("numbers", "printed"), edits=True)
def open_part(asked: OpenPart, context: Context) -> PartsEdited:
    """Work on another part: all stations then show it."""
    plan = context.plan.working_on(asked.part)
    name = part_label(plan.part_id, plan.part_name, plan)
    return PartsEdited(
        label=f"Opened {name}"[:120], changed=plan is not context.plan, touches=keep_edit(context, plan), said=name
    )


class Arrange(BaseModel):
    """Which instance of the open part (from 0) is placed again, and how."""

    which: Which = 0
    how: Arrangement


@operation("arrange-part", "model", "Placing it", needs=("numbers", "printed"), edits=True)
def arrange_part(asked: Arrange, context: Context) -> PartsEdited:
    """Place the open part more often: in a row, over a field, in a ring, mirrored."""
    plan = context.plan
    now = arranged(plan.instances, asked.which, asked.how)
    said = f"it stands {len(now)} times"
    return PartsEdited(
        label="Placed a part more often",
        changed=len(now) > len(plan.instances),
        touches=keep_edit(context, plan.model_copy(update={"instances": now})),
        said=said,
    )


class PlayAsked(BaseModel):
    """Two instances, by their part and number (from 0), and how far is looked."""

    first: PartId
    first_instance: Which = 0
    second: PartId
    second_instance: Which = 0
    within_mm: Annotated[float, Field(gt=0, le=50, allow_inf_nan=False)] = 2.0


@operation("play", "check", "Measuring the play")
def play(asked: PlayAsked, context: Context) -> PlayView:
    """Measure the play of one instance in another, where they stand; the gaps become a drawing."""
    if (asked.first, asked.first_instance) == (asked.second, asked.second_instance):
        raise BadPlan("This is one and the same; choose another one to measure the play to.", "second")
    space, tell = context.workspace, context.part(0.0, 0.4)
    one, two = (
        standing_at(context.plan, part, which, space.source, context.cache, tell)
        for part, which in ((asked.first, asked.first_instance), (asked.second, asked.second_instance))
    )
    found = play_between(one.value, two.value, asked.within_mm, context.part(0.4, 1.0))
    name = key_of("play", one.fingerprint, two.fingerprint, asked.within_mm)
    space.draw_gaps(name, found.surface, found.gaps)
    return play_view(found, name)
