"""Parts: taken apart, opened, placed in rows and rings; the play between two of them."""

from typing import Annotated

from pydantic import BaseModel, Field

from hinoki.core.errors import BadPlan
from hinoki.core.make import Maker
from hinoki.core.make.openings import openings
from hinoki.core.model.prepared_model import prepared
from hinoki.core.parts.arrange import Arrangement, arranged
from hinoki.core.parts.lay_against import LayAgainst, laid_against
from hinoki.core.parts.make_part import Place, with_figures, with_made
from hinoki.core.parts.meet import met_by
from hinoki.core.parts.play import play_between
from hinoki.core.parts.same_interface import with_interface_of
from hinoki.core.parts.standing import standing_at
from hinoki.core.parts.take_apart import taken_apart
from hinoki.core.plan.parts import PART_ID
from hinoki.core.stages import key_of
from hinoki.operations.context import Context
from hinoki.operations.edits import Edited, keep_edit
from hinoki.operations.registry import operation
from hinoki.present.bodies import vec
from hinoki.present.parts.play import PlayView, play_view
from hinoki.present.schemas.vectors import Vec3

MOST_OPENINGS = 40
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


class FoundOpening(BaseModel):
    """An opening of a part with a flat rim: a point of its rim, its size in the rim's plane, how deep it is, and the way
    it looks."""

    at_mm: Vec3
    size_mm: tuple[float, float]
    deep_mm: float
    facing: Vec3


class FoundOpenings(BaseModel):
    """The largest first."""

    openings: list[FoundOpening]


class OpeningsAsked(BaseModel):
    """The part to look at; none for the open one."""

    part: PartId | None = None


@operation("openings", "model", "Looking for openings")
def openings_of_part(asked: OpeningsAsked, context: Context) -> FoundOpenings:
    """Find the openings of a part that lids, drawers and plugs can be made for."""
    plan, space = context.plan, context.workspace
    part = plan.working_on(asked.part or plan.part_id)
    within = frozenset({plan.part_id} - {part.part_id})  # as it is without grooves for the part that is worked on
    ready = prepared(part, space.source, context.cache, context.part(0.0, 0.7), within)
    found = openings(ready.solid)[:MOST_OPENINGS] if ready.solid is not None else []
    return FoundOpenings(
        openings=[
            FoundOpening(
                at_mm=vec(one.rim_point),
                size_mm=(round(one.size_mm[0], 2), round(one.size_mm[1], 2)),
                deep_mm=round(one.depth_mm, 2),
                facing=vec(one.frame.n),
            )
            for one in found
        ]
    )


class MakePart(BaseModel):
    """What is made for the open part; where it is not fitted to an opening or a corner, the places it is put to."""

    maker: Maker
    places: tuple[Place, ...] = Field((), max_length=200)


@operation("make-part", "model", "Making a part", needs=("numbers", "printed"), edits=True)
def make_part(asked: MakePart, context: Context) -> PartsEdited:
    """Make a part for the open one and work on it."""
    space = context.workspace
    made = with_made(context.plan, asked.maker, asked.places, space.source, context.cache, context.part(0.0, 0.9))
    plan = made.plan.working_on(made.part_id)
    name = asked.maker.form.name
    return PartsEdited(
        label=f"Made a part: {name}"[:120], touches=keep_edit(context, plan), said="; ".join(made.said) or f"{name} made"
    )


class MeetOnFace(BaseModel):
    """A step of the open part that puts something on a face, and the part that meets it."""

    step: str = Field(pattern=r"^s[1-9][0-9]{0,3}$")
    part: PartId


@operation("meet-on-face", "model", "Joining two parts", needs=("numbers", "printed"), edits=True)
def meet_on_face(asked: MeetOnFace, context: Context) -> PartsEdited:
    """Give another part the other side of what stands on a face of the open one."""
    space = context.workspace
    plan, said = met_by(context.plan, asked.step, asked.part, space.source, context.cache, context.part(0.0, 0.9))
    name = plan.working_on(asked.part).label
    return PartsEdited(label=f"Joined {name}"[:120], touches=keep_edit(context, plan), said="; ".join(said))


class ChangeMade(BaseModel):
    """Other figures for the open part, which is made."""

    maker: Maker
    label: str = Field("", max_length=120, description="what the edit is called")


@operation("change-made", "model", "Changing its figures", lane="interactive", needs=("numbers", "printed"), edits=True)
def change_made(asked: ChangeMade, context: Context) -> PartsEdited:
    """Give the open part other figures; grooves in the part it is made for follow."""
    plan = with_figures(context.plan, asked.maker)
    label = asked.label or f"Changed {plan.label}"[:120]
    return PartsEdited(label=label, changed=plan != context.plan, touches=keep_edit(context, plan), said=plan.label)


class SameModules(BaseModel):
    """The part whose modules' sides the open one gets."""

    part: PartId


@operation("same-modules", "join", "Giving it the same sides", needs=("numbers", "printed"), edits=True)
def same_modules(asked: SameModules, context: Context) -> PartsEdited:
    """Give the open part the sides of another part's modules, so that the two meet."""
    space = context.workspace
    plan, said = with_interface_of(context.plan, asked.part, space.source, context.cache, context.part(0.0, 0.9))
    return PartsEdited(label="Gave it the sides of modules", touches=keep_edit(context, plan), said="; ".join(said))


class OpenPart(BaseModel):
    """The part to work on."""

    part: PartId


@operation("open-part", "model", "Opening a part", lane="interactive", needs=("numbers", "printed"), edits=True)
def open_part(asked: OpenPart, context: Context) -> PartsEdited:
    """Work on another part: all stations then show it."""
    plan = context.plan.working_on(asked.part)
    name = plan.label
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


class LayPart(BaseModel):
    """Which instance of the open part (from 0) is laid against another, and where."""

    which: Which = 0
    how: LayAgainst


@operation("lay-against", "model", "Laying it against the other", needs=("numbers", "printed"), edits=True)
def lay_against(asked: LayPart, context: Context) -> PartsEdited:
    """Lay a face of the open part onto a face of another, their holes and middles onto each other."""
    space = context.workspace
    plan, said = laid_against(context.plan, asked.which, asked.how, space.source, context.cache, context.part(0.0, 0.9))
    return PartsEdited(label="Laid a part against another", touches=keep_edit(context, plan), said=said)


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
