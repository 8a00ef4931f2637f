"""Taking a proposal: its partings become the project's own; the division so far is kept as a variant."""

from dataclasses import dataclass

from hinoki.core.assembling.assembled import assembled
from hinoki.core.cache import Cache
from hinoki.core.engine import Built, SourceOf, build
from hinoki.core.errors import BadPlan
from hinoki.core.joints.suggest import SuitKind
from hinoki.core.plan import PieceNote, Plan
from hinoki.core.progress import Tell, quiet
from hinoki.core.propose.proposals import Proposal, Proposals, Wishes, propose
from hinoki.core.suit import SuitWish, settled, suggested, suited

KEPT_FOR_PINS_MM = (0.0, 8.0, 16.0)
"""room kept in turn, where pins stand out of a face and a piece that just fits would not fit with them"""
MOST_FREED = 4
"""joints that are made otherwise so that pieces that lock each other can be put together"""
MOST_VARIANTS = 12


def taken(plan: Plan, wishes: Wishes, proposal: Proposal) -> Plan:
    """The plan with a proposal's partings. For the whole model they take the place of those there, which are kept as a variant
    with their joints; for one piece they are added. Raises BadPlan when a kept division finds no place."""
    notes = dict(plan.pieces)
    for key, printer in proposal.printers.items():
        note = notes.get(key, PieceNote())
        notes[key] = note.model_copy(update={"printer_id": printer})
    if wishes.piece is not None:
        return plan.model_copy(update={"partings": (*plan.partings, *proposal.partings), "pieces": notes})
    changes: dict[str, object] = {"partings": proposal.partings, "pieces": notes, "joints": (), "together": ()}
    if plan.partings:
        if len(plan.variants) >= MOST_VARIANTS:
            raise BadPlan(
                f"The division so far would be kept as a variant, but {MOST_VARIANTS} are kept. Drop one first.", "variants"
            )
        changes["variants"] = (*plan.variants, plan.as_variant(plan.division_name))
        changes["division_name"] = _free_name(plan, proposal.title)
    return plan.model_copy(update=changes)


@dataclass(frozen=True)
class Divided:
    """A plan with a proposal carried through, its build, the proposals, and why proposals before the one taken were not."""

    plan: Plan
    built: Built
    proposals: Proposals | None = None
    passed_over: tuple[str, ...] = ()


def divided(
    plan: Plan,
    source_of: SourceOf,
    cache: Cache,
    joints: SuitWish | None,
    wishes: Wishes,
    progress: Tell = quiet,
    seconds: dict[str, float] | None = None,
) -> Divided:
    """The plan with the first proposal that can be carried through: with joints on it every piece fits and nothing must be
    fixed. Where there is none, the one with the least against it.

    An open model is built as it is. Raises BadPlan where no division is found.
    """
    whole = build(plan, source_of, cache, for_screen=False, seconds=seconds)
    if whole.prepared is None or whole.prepared.solid is None:
        return Divided(plan, whole)
    best: tuple[tuple[int, int], Divided] | None = None
    for more in KEPT_FOR_PINS_MM:
        kept = wishes.kept_mm + more
        wish = wishes.model_copy(update={"kept_mm": kept})
        found = propose(plan, source_of, cache, wish, lambda f, p: progress(0.7 * f, p))
        passed: list[str] = []
        for number, proposal in enumerate(found.proposals, start=1):
            tried = taken(plan, wish, proposal)
            built = build(tried, source_of, cache, for_screen=False, seconds=seconds)
            if joints is not None and built.faces:
                tried = suggested(built, tried, joints.kind, joints.fit, seconds, joints.one_way)
                tried = settled(tried, build(tried, source_of, cache, for_screen=False, seconds=seconds))
                built = build(tried, source_of, cache, for_screen=False, seconds=seconds)
            locked = False
            if joints is not None:
                tried, built, locked = _freed(tried, built, source_of, cache)
            against = [f.message for f in built.view.findings if f.severity == "must-fix" and f.station != "model"]
            if locked:
                against.append("Its pieces lock each other.")
            over = sum(not piece.fits for piece in built.view.pieces)
            one = Divided(tried, built, found, tuple(passed))
            if not over and not against:
                return one
            if best is None or (over, len(against)) < best[0]:
                best = (over, len(against)), one
            passed.append(f"Proposal {number} ({proposal.title}) was passed over: {against[0] if against else 'not all fits.'}")
        if best is not None and not best[0][0]:
            break  # all fits: more room would not help
    if best is None:
        raise BadPlan("No division was proposed.", "proposal")
    return best[1]


def _freed(plan: Plan, built: Built, source_of: SourceOf, cache: Cache) -> tuple[Plan, Built, bool]:
    """The plan with other joints where its pieces lock each other, as pins all round a ring do: keys from outside where there
    is room for them, else glue; one after another until all can be put together, or until no more are tried. Then its build,
    and whether pieces still lock each other."""
    left = MOST_FREED
    while True:
        out = assembled(plan, built, cache)
        wanted = [one.joint for _, found in out.freed for one in found if one.joint is not None]
        face = next((j.face.id for j in plan.joints if wanted and j.id == wanted[0]), None)
        if not out.order.locked or face is None or not left:
            return plan, built, bool(out.order.locked)
        left -= 1
        rest = plan.model_copy(update={"joints": tuple(j for j in plan.joints if j.face.id != face)})
        bare = build(rest, source_of, cache, for_screen=False)
        kinds: tuple[SuitKind, ...] = ("key", "butt")
        made = next((j for k in kinds if (j := suited(bare, rest, SuitWish(kind=k, faces=[face])).joints)), [])
        plan = rest.model_copy(update={"joints": (*rest.joints, *made)})
        built = build(plan, source_of, cache, for_screen=False)


def _free_name(plan: Plan, title: str) -> str:
    names = {plan.division_name, *(v.name for v in plan.variants)}
    name, number = title, 2
    while name in names:
        name, number = f"{title} {number}", number + 1
    return name
