"""Taking a proposal: its partings become the project's own; the division so far is kept as a variant."""

from hinoki.core.errors import BadPlan
from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.proposals import Proposal, Wishes

MOST_VARIANTS = 12


def taken(plan: Plan, wishes: Wishes, proposal: Proposal) -> Plan:
    """The plan with a proposal's partings. For the whole model they take the place of those there, which are kept as a variant
    with their joints and what was set for their pieces; for one piece they are added. Raises BadPlan when a kept division
    finds no place."""
    anew = wishes.piece is None and bool(plan.partings)
    notes = {} if anew else dict(plan.pieces)  # pieces of the same key are other pieces now
    for key, printer in proposal.printers.items():
        note = notes.get(key, PieceNote())
        notes[key] = note.model_copy(update={"printer_id": printer})
    if wishes.piece is not None:
        return plan.model_copy(update={"partings": (*plan.partings, *proposal.partings), "pieces": notes})
    changes: dict[str, object] = {"partings": proposal.partings, "pieces": notes, "joints": (), "together": ()}
    if anew:
        if len(plan.variants) >= MOST_VARIANTS:
            raise BadPlan(
                f"The division so far would be kept as a variant, but {MOST_VARIANTS} are kept. Drop one first.", "variants"
            )
        changes["variants"] = (*plan.variants, plan.as_variant(plan.division_name))
        changes["division_name"] = _free_name(plan, proposal.title)
    return plan.model_copy(update=changes)


def _free_name(plan: Plan, title: str) -> str:
    names = {plan.division_name, *(v.name for v in plan.variants)}
    name, number = title, 2
    while name in names:
        name, number = f"{title} {number}", number + 1
    return name
