"""What an edit does to pieces that are printed: which it touches, what printing them anew costs, and whether they can stay."""

from collections.abc import Callable, Mapping, Sequence

from pydantic import BaseModel, Field

from hinoki.core.build import Build
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.model.steps import ClearPathStep
from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.parts import MIRRORED, own_keys
from hinoki.core.plan.plan import Plan
from hinoki.core.printlog.records import Print
from hinoki.core.printlog.states import LIVE
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.project import project_shapes

SAME_MM = 1e-6


class PrintedPiece(BaseModel, frozen=True):
    """A printed piece that is of the plan's shape now, and what it took."""

    key: str
    number: int | None = None
    name: str
    shape: str
    grams: float = 0.0
    minutes: float = 0.0
    cost: float = 0.0


class Touched(BaseModel):
    """A printed piece that an edit would put out of date."""

    key: str
    number: int | None
    name: str
    gone: bool = Field(description="whether the piece would be no more")
    can_stay: bool
    why: str = Field(description="how it can stay, or why it cannot")
    grams: float
    minutes: float
    cost: float


class Touches(BaseModel):
    """What an edit touches; the plan with which those that can stay do stay, where there is one."""

    touched: list[Touched] = []
    kept: Plan | None = None
    grams: float = 0.0
    minutes: float = 0.0
    cost: float = 0.0


APART = {
    "batching",
    "assembling",
    "accepted",
    "own_printing",
    "groups",
    "pictures",
    "joint_tries",
    "project_accepted",
    "movements",
    "printing",
    "variants",
    "division_name",
    "marks",
    "part_name",
    "project_assembling",
}
"""fields of a plan that shape no piece"""


def shapes_may_change(before: Plan, after: Plan) -> bool:
    """Whether an edit can change the shape of any piece at all."""
    if before.part_ids != after.part_ids:
        return True
    if before.movements != after.movements and _carved(after):
        return True
    return any(_may_change(before.alone(part), after.alone(part)) for part in after.part_ids)


def _carved(plan: Plan) -> bool:
    """Whether the path of something that moves is carved out of any part."""
    every = (plan.prepare, *(part.prepare for part in plan.parts))
    return any(isinstance(step, ClearPathStep) for steps in every for step in steps)


def _may_change(before: Plan, after: Plan) -> bool:
    """As `shapes_may_change`, of one part."""
    if _shared(before) != _shared(after):
        return True
    if _lying(before) != _lying(after):  # which side a male part stands on may lean on how a piece lies
        return True
    apart = APART | {"pieces"}
    return before.model_dump(exclude=apart) != after.model_dump(exclude=apart)


def _shared(plan: Plan) -> list[object]:
    """The printers and materials that parts and groups name, whose clearances their pieces have."""
    named = [(one.pieces, one.printing.printer_id, one.printing.material_id) for one in plan.groups]
    own = plan.own_printing
    return [own.printer_id, own.material_id, [one for one in named if one[1] or one[2]]]


def _lying(plan: Plan) -> dict[str, dict[str, object]]:
    """How pieces lie and are printed, where something was set for them."""
    plain, apart = PieceNote().model_dump(), {"name", "number", "locked", "printing"}
    notes = {k: n.model_dump(exclude=apart) for k, n in plan.pieces.items()}
    return {k: n for k, n in notes.items() if any(n[f] != plain[f] for f in n)}


def printed_now(prints: Sequence[Print], shapes: Mapping[str, str]) -> list[PrintedPiece]:
    """Pieces that are printed (or under way) and of the shape the plan has now, each once with what its print took: measured by
    its share where that is known, else estimated."""
    found: dict[str, PrintedPiece] = {}
    for one in prints:
        grams = one.grams / one.batch.grams if one.grams and one.batch.grams > 0 and one.state == "done" else 1.0
        minutes = one.minutes / one.batch.minutes if one.minutes and one.batch.minutes > 0 and one.state == "done" else 1.0
        for item in one.items:
            if item.state in LIVE and item.number is not None and shapes.get(item.key) == item.shape and item.key not in found:
                share = item.minutes / one.batch.minutes if one.batch.minutes > 0 else 0.0
                found[item.key] = PrintedPiece(
                    key=item.key, number=item.number, name=item.name, shape=item.shape, grams=round(grams * item.grams, 1),
                    minutes=round(minutes * item.minutes, 1), cost=round(share * one.batch.cost, 2),
                )  # fmt: skip
    return list(found.values())


def touches(
    before: Build, plan: Plan, build_of: Callable[[Plan, Tell], Build], printed: Sequence[PrintedPiece], tell: Tell = quiet
) -> Touches:
    """What `plan` would do to printed pieces of the build `before`. `build_of` builds a plan."""
    after = build_of(plan, part_of(tell, 0.0, 0.5))
    now = shapes_of(after)
    hit = sorted((p for p in printed if now.get(p.key) != p.shape), key=lambda p: (p.number or 0, p.key))
    if not hit:
        return Touches()
    kept, how = keep_cuts(before, after, plan, {p.key for p in hit})
    stays: dict[str, str] = {}
    if kept is not None:
        shapes = shapes_of(build_of(kept, part_of(tell, 0.5, 1.0)))
        stays = {p.key: how.get(p.key, "it stays") for p in hit if shapes.get(p.key) == p.shape}
    return Touches(
        touched=[_touched(p, p.key not in now, stays) for p in hit],
        kept=kept if stays else None,
        grams=round(sum(p.grams for p in hit), 1),
        minutes=round(sum(p.minutes for p in hit), 1),
        cost=round(sum(p.cost for p in hit), 2),
    )


def shapes_of(built: Build) -> dict[str, str]:
    """The hash of every piece's shape, by key."""
    return project_shapes(built)


def _touched(printed_piece: PrintedPiece, gone: bool, stays: dict[str, str]) -> Touched:
    why = stays.get(printed_piece.key) or (
        "it would be no more"
        if gone
        else "a cut, a joint's place or a measure of its own would change: only printing it anew helps"
    )
    return Touched(
        key=printed_piece.key,
        number=printed_piece.number,
        name=printed_piece.name,
        gone=gone,
        can_stay=printed_piece.key in stays,
        why=why,
        grams=printed_piece.grams,
        minutes=printed_piece.minutes,
        cost=printed_piece.cost,
    )


def keep_cuts(before: Build, after: Build, plan: Plan, printed: set[str]) -> tuple[Plan | None, dict[str, str]]:
    """The plan with joints of the open part changed so that `printed` pieces (their keys in the project) stay, and how each
    does; None where no joint can.

    A joint whose clearance alone changed keeps its places; where the side that is cut is printed, that cut stays, and the male
    side is made thinner by the difference.
    """
    if before.plan.part_id != plan.part_id:
        return None, {}
    printed = {key.removesuffix(MIRRORED) for key in own_keys(plan.part_id, dict.fromkeys(printed, 0))}
    was = {p.joint.id: p for p in before.placed}
    joints = list(plan.joints)
    how: dict[str, str] = {}
    changed = False
    for placed_joint in after.placed:
        old = was.get(placed_joint.joint.id)
        sides = {placed_joint.part(side).key for side in ("a", "b")} & printed
        if old is None or not sides or not _only_clearance(old, placed_joint):
            continue
        index = next(k for k, j in enumerate(joints) if j.id == placed_joint.joint.id)
        update: dict[str, object] = {"places": tuple(old.places)} if placed_joint.joint.wanted else {}
        # the side it was on stays, even where Hinoki chose it
        if old.joint.stands_on is not None:
            update["on"] = old.joint.stands_on
        more = placed_joint.clearance_mm - old.clearance_mm
        if abs(more) <= SAME_MM and placed_joint.places == old.places:
            continue
        cut = {t.side for t in placed_joint.tools.each if t.cut is not None}
        printed_cut = any(placed_joint.part(side).key in printed for side in cut)
        if printed_cut and abs(more) > SAME_MM:
            if placed_joint.joint.thinner(more) is None:
                continue
            update["cut_as_printed_mm"] = old.clearance_mm
        for key in sides:
            how[after.project_key(key)] = _how(placed_joint, more, any(placed_joint.part(side).key == key for side in cut))
        joints[index] = joints[index].model_copy(update=update)
        changed = True
    return (plan.model_copy(update={"joints": tuple(joints)}) if changed else None), how


def _how(placed_joint: PlacedJoint, more: float, on_cut: bool) -> str:
    """How a piece beside a joint stays, in words."""
    what = placed_joint.joint.elements
    if not on_cut:
        return f"only the cut for the {what} on the other side changes"
    which = f"a loose {what}" if placed_joint.tools.loose else f"the {what} on the other side"
    return f"{which} is made {abs(more):.2f} mm {'thinner' if more > 0 else 'thicker'} on each side instead"


def _only_clearance(old: PlacedJoint, new: PlacedJoint) -> bool:
    """Whether nothing but the fit or the clearance of a joint changed, and its face is the same."""
    apart = {"fit", "clearance_mm", "places", "cut_as_printed_mm", "typed"}
    same = old.joint.model_dump(exclude=apart) == new.joint.model_dump(exclude=apart)
    moved = new.joint.places is not None and new.joint.places != tuple(old.places)
    return same and not moved and old.joint.cut_as_printed_mm is None and old.face.made_by == new.face.made_by
