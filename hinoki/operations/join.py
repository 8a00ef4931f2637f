"""Joining: joints that suit mating faces, and ladders to try a fit."""

from typing import Annotated

from pydantic import BaseModel, Field

from hinoki.core.build import Build
from hinoki.core.divide.mating_faces import MatingFace, face_label
from hinoki.core.errors import HinokiError
from hinoki.core.forms import named_kind
from hinoki.core.join.joint_edits import added, cleared, copies, exchanged, in_place_of, renewed
from hinoki.core.join.joints import Joint
from hinoki.core.join.ladders.fit_ladder import Tried, clearances, ladder, least_for
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.lay_pieces import still_fitting
from hinoki.core.propose.lids import Shuts, made_to_shut
from hinoki.core.propose.put_rods import with_rod
from hinoki.core.propose.recommend_joints import SuitView, SuitWish
from hinoki.core.propose.unlock_joints import suited_together
from hinoki.operations.context import Context
from hinoki.operations.edits import Edited, keep_edit
from hinoki.operations.registry import operation

LeastClearance = Annotated[float, Field(ge=-0.5, le=2, allow_inf_nan=False)]
MostClearance = Annotated[float, Field(ge=0, le=2, allow_inf_nan=False)]


@operation("suggest-joints", "join", "Looking for joints that suit", needs=("numbers",))
def suggest_joints(asked: SuitWish, context: Context) -> SuitView:
    """Work out joints that suit mating faces, with measures from each face."""
    built = context.built(tell=context.part(0.0, 0.5))
    return suited_together(
        built,
        context.plan,
        asked,
        lambda plan: context.built(plan, context.part(0.75, 0.75)),
        context.cache,
        context.part(0.5, 1.0),
    )


class AddJoints(SuitWish):
    """What kind of joint is wanted, and on which faces; where one is made into another kind, its name."""

    instead_of: str | None = Field(None, max_length=10, description="the joint it takes the place of, by its name")
    anew: bool = Field(False, description="joints that stand on the faces make room; where none suits they stay")


class JointsEdited(Edited):
    """Joints that were added, by their names, and the faces (their ids) with no room for one."""

    joints: list[str] = Field([])
    without: list[str] = Field([])
    why: dict[str, str] = Field({}, description="of those without, why a joint that has room is not put there")
    laid: list[int] = Field([], description="pieces, by number, laid otherwise, since with the joints they would not fit")


def _known_joint(joint: str | None, plan: Plan) -> Joint:
    found = next((j for j in plan.joints if j.id == joint), None)
    if found is None:
        raise HinokiError("This joint is not in the plan any more. Choose one that is.", "joint")
    return found


def _known_face(face: str, built: Build) -> MatingFace:
    found = next((f for f in built.faces if f.ref.id == face), None)
    if found is None:
        raise HinokiError("This face is not there any more. Choose one that is.", "face")
    return found


def _refuse_unknown(asked: AddJoints, plan: Plan) -> None:
    if asked.instead_of is not None:
        _known_joint(asked.instead_of, plan)


@operation(
    "add-joints", "join", "Looking for joints that suit", needs=("numbers", "printed"), refuse=_refuse_unknown, edits=True
)
def add_joints(asked: AddJoints, context: Context) -> JointsEdited:
    """Put joints that suit on mating faces, with measures from each face, or one of another kind in the place of a joint."""
    plan, faces = context.plan, asked.faces or []
    ground = cleared(plan, faces) if asked.anew else plan
    built = context.built(ground, tell=context.part(0.0, 0.3))
    found = suited_together(
        built, ground, asked, lambda p: context.built(p, context.part(0.6, 0.6)), context.cache, context.part(0.3, 0.8)
    )
    name = "a joint" if asked.kind == "auto" else named_kind(Joint, asked.kind).form.name.lower()
    labels = {f.ref.id: face_label(f, built.numbers) for f in built.faces}
    where = labels.get(faces[0], "") if len(faces) == 1 else f"{len(faces)} faces" if faces else ""
    if asked.instead_of is not None and found.joints:
        after = exchanged(plan, in_place_of(_known_joint(asked.instead_of, plan), found.joints[0]))
        label = f"Kind of joint on {where}" if where else "Kind of joint"
    elif asked.anew:
        after, label = renewed(plan, faces, found.joints), f"{name.capitalize()} on {where}"
    else:
        after = added(plan, found.joints if asked.instead_of is None else ())
        label = f"Added {name} on {where}" if where else "Joints on all bare faces"
    after, laid = still_fitting(after, built, lambda p: context.built(p, context.part(0.8, 0.8)), context.cache)
    return JointsEdited(
        label=label,
        changed=after != plan,
        touches=keep_edit(context, after),
        joints=[j.id for j in after.joints if j not in plan.joints],
        without=found.without,
        why=found.why,
        laid=sorted(built.numbers[key] for key in laid),
    )


class MakeLid(BaseModel):
    """The face at which a lid comes off, by its id, and how it is to open and shut."""

    face: str = Field(max_length=20_000)
    shuts: Shuts = "suits"


class LidMade(JointsEdited):
    """What was put on the face, and how the lid shuts; what had no room on it, by kind."""

    shuts: Shuts = "suits"
    left_out: list[str] = Field([])


@operation("make-lid", "join", "Making it a lid that shuts", needs=("numbers", "printed"), edits=True)
def make_lid(asked: MakeLid, context: Context) -> LidMade:
    """Put what a lid needs on a face, so that the piece on it becomes a lid that shuts: on a hinge, or one that comes off."""
    built, plan = context.built(tell=context.part(0.0, 0.2)), context.plan
    label = face_label(_known_face(asked.face, built), built.numbers)
    lid = made_to_shut(
        plan, built, asked.face, lambda p: context.built(p, context.part(0.5, 0.5)), context.cache, asked.shuts,
        context.part(0.2, 0.9),
    )  # fmt: skip
    after, laid = still_fitting(lid.plan, built, lambda p: context.built(p, context.part(0.9, 0.9)), context.cache)
    return LidMade(
        label=f"Lid that shuts on {label}",
        changed=after != plan,
        touches=keep_edit(context, after),
        joints=list(lid.joints),
        laid=sorted(built.numbers[key] for key in laid),
        without=[] if lid.joints or not lid.left_out else [asked.face],
        why={asked.face: lid.why} if lid.why else {},
        shuts=lid.shuts,
        left_out=list(lid.left_out),
    )


class PutRod(BaseModel):
    """The face through which a rod is to go, by its id."""

    face: str = Field(max_length=20_000)


class RodPut(Edited):
    """The rod, by its name; joints that made room for it; how often the seam bears what bends it now; why there is none."""

    rod: str | None = None
    given_up: list[str] = Field([], description="joints that were taken out or made fewer, by their names before")
    times: float = 0.0
    why: str = ""


@operation("put-rod", "join", "Looking for a rod", needs=("numbers", "printed"), edits=True)
def put_rod(asked: PutRod, context: Context) -> RodPut:
    """Put a rod through a seam that bends, as thick and long as it needs, and on through others that lie along its line."""
    built, plan = context.built(tell=context.part(0.0, 0.2)), context.plan
    label = face_label(_known_face(asked.face, built), built.numbers)
    found = with_rod(
        plan, built, asked.face, lambda p: context.built(p, context.part(0.5, 0.5)), context.cache, context.part(0.3, 0.9)
    )
    return RodPut(
        label=f"Rod through {label}",
        changed=found.plan != plan,
        touches=keep_edit(context, found.plan),
        rod=found.rod or None,
        given_up=list(found.given_up),
        times=found.times,
        why=found.why,
    )


class CopyJoint(BaseModel):
    """The joint that is copied, by its name."""

    joint: str = Field(max_length=10)


def _refuse_gone(asked: CopyJoint, plan: Plan) -> None:
    _known_joint(asked.joint, plan)


@operation(
    "copy-joint",
    "join",
    "Copying the joint",
    needs=("numbers", "printed"),
    refuse=_refuse_gone,
    edits=True,
)
def copy_joint(asked: CopyJoint, context: Context) -> JointsEdited:
    """Put a joint on every other face of its parting that has none of its kind."""
    built, plan = context.built(tell=context.part(0.0, 0.7)), context.plan
    joint = _known_joint(asked.joint, plan)
    more = copies(plan, joint, built.faces)
    after, laid = still_fitting(added(plan, more), built, lambda p: context.built(p, context.part(0.8, 0.8)), context.cache)
    count = f"{len(more)} {'face' if len(more) == 1 else 'faces'}"
    return JointsEdited(
        label=f"Copied {named_kind(Joint, joint.kind).form.name.lower()} to {count}",
        changed=bool(more),
        touches=keep_edit(context, after),
        joints=[j.id for j in after.joints if j.id not in {had.id for had in plan.joints}],
        laid=sorted(built.numbers[key] for key in laid),
    )


class LadderAsked(BaseModel):
    """A ladder of a joint of the plan, or of what is given, and at which clearances."""

    joint: str | None = Field(None, max_length=10, description="of the plan, by its name")
    of: Tried | None = Field(None, description="what to try where it is no joint of the plan")
    from_mm: LeastClearance = 0.05
    to_mm: MostClearance = 0.3
    rungs: int = Field(6, ge=3, le=9)

    def tried(self, plan: Plan) -> "Tried | None":
        """What is tried; None where the plan has no such joint."""
        return self.of if self.of is not None else next((j for j in plan.joints if j.id == self.joint), None)


class LadderView(BaseModel):
    """A ladder that was made: its clearances, how many pieces, and estimates of mass and time."""

    label: str
    clearances_mm: list[float]
    pieces: list[str]
    mass_g: float
    minutes: float
    file: str


def _sensible(asked: LadderAsked, plan: Plan) -> None:
    tried = asked.tried(plan)
    clearances(asked.from_mm, asked.to_mm, asked.rungs, least_for(tried) if tried is not None else 0.0)


@operation("ladder", "join", "Making the ladder", refuse=_sensible)
def make_ladder(asked: LadderAsked, context: Context) -> LadderView:
    """Make a fit ladder, as a 3MF and as a ZIP of STL files."""
    plan = context.plan
    tried = asked.tried(plan)
    if tried is None:
        raise HinokiError("This joint is not in the plan any more. Choose one that is.", "joint")
    context.progress(0.2, "Making the ladder")
    steps = clearances(asked.from_mm, asked.to_mm, asked.rungs, least_for(tried))
    made = ladder(tried, steps, plan.least_wall_mm, plan.printer.line_mm, float(plan.printer.room_mm[0]))
    context.workspace.keep("exports", f"{context.stem}.3mf", made.file())
    context.workspace.keep("exports", f"{context.stem}.zip", made.stl_files())
    return LadderView(
        label=tried.label(),
        clearances_mm=list(steps),
        pieces=[p.name for p in made.pieces],
        mass_g=round(made.mass_g(plan.material), 1),
        minutes=round(made.minutes(plan.printer), 0),
        file=context.stem,
    )
