"""What proposals say: how they divide, what was heeded, and why none was found."""

from collections.abc import Sequence

import numpy as np

from hinoki.core.divide.cut import Part
from hinoki.core.divide.partings import DetachParting, EvenParting, PartingBase, WedgesParting
from hinoki.core.findings import Finding, Param
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.search.beam_search import Search
from hinoki.core.workshop.printers import Printer


def says_how(partings: Sequence[PartingBase]) -> str:
    """How it divides, in a few words."""
    if not partings:
        return "Nothing is cut"
    rows: dict[str, int] = {}
    limbs = sum(isinstance(parting, DetachParting) for parting in partings)
    if limbs:
        rows[f"{limbs} {'limb comes' if limbs == 1 else 'limbs come'} off"] = 0
    for parting in (one for one in partings if not isinstance(one, DetachParting)):
        if isinstance(parting, WedgesParting):
            rows[f"{len(parting.angles)} wedges around {parting.axis.upper()}"] = 0
        else:
            axis = getattr(parting, "axis", "")
            slanted = " tilted" if any(getattr(parting, "tilt_deg", ())) else ""
            name = f"across {str(axis).upper()}{slanted}"
            rows[name] = (
                rows.get(name, 0) + (parting.parts or 2) - 1 if isinstance(parting, EvenParting) else rows.get(name, 0) + 1
            )
    return ", ".join(f"{n} {'cut' if n == 1 else 'cuts'} {name}" if n else name for name, n in rows.items())


def remarks_on(pieces: Sequence[int], plan: Plan, wish: int | None, search: Search, bound: int) -> list[Finding]:
    """What is said beside proposals of so many pieces."""
    said = []
    fewest = min(pieces)
    if wish is not None and fewest > wish:
        said.append(remark("proposals-too-many", wish=wish, least=fewest, bound=bound))
    if search.blocked:
        names = [m.label() for m in plan.marks if m.id in search.blocked]
        said.append(remark("proposals-kept-whole", marks=names))
    if len(pieces) < 3:
        said.append(remark("proposals-few", count=len(pieces)))
    if search.cut_short:
        said.append(remark("proposals-time", seconds=search.seconds))
    return said


def remark(code: str, **params: Param) -> Finding:
    """Something to be said beside proposals."""
    return Finding(severity="note", code=code, station="divide", params=params)


def why_not(plan: Plan, search: Search, target: Part, printers: Sequence[Printer]) -> str:
    """Which feature cannot fit, and why."""
    beds = " or ".join(" × ".join(f"{v:g}" for v in p.room_mm) for p in printers)
    largest = search.room.largest
    for kept in search.heed.kept:
        size = np.ptp(kept.points, axis=0)
        if search.room.needed_by(kept.points) > 1:
            label = next((m.label() for m in plan.marks if m.id == kept.mark), kept.mark)
            return (
                f"“{label}” is {' × '.join(f'{v:.0f}' for v in size)} mm and is to stay whole, but a bed of {beds} mm does not "
                "hold it. Make the mark smaller, or use a larger printer."
            )
    if search.blocked:
        labels = [m.label() for m in plan.marks if m.id in search.blocked]
        return (
            f"Every plane that would make the pieces fit crosses what is to stay whole ({', '.join(labels)}). Make those marks "
            "smaller, or use a larger printer."
        )
    size_text = " × ".join(f"{v:.0f}" for v in target.solid.size)
    return (
        f"No way was found to divide {size_text} mm into pieces for a bed of {' × '.join(f'{v:g}' for v in largest)} mm. "
        "Use a larger printer or a smaller scale."
    )
