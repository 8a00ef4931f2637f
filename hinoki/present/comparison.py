"""Two revisions side by side: what of the plan changed, and, where both are built, what became of the pieces."""

from pydantic import BaseModel

from hinoki.core.plan.diff import How, PlanChange, differences
from hinoki.core.plan.plan import Plan
from hinoki.present.schemas.build import BuildView, PieceView

SAME_MM3 = 0.05


class PieceChange(BaseModel):
    """A piece that is not as it was."""

    number: int
    name: str
    how: How
    told: str = ""


class PlanComparison(BaseModel):
    """All changes; those of the pieces where both revisions are built."""

    changes: list[PlanChange]
    pieces: list[PieceChange] | None


def compared(before: Plan, after: Plan, was: BuildView | None = None, now: BuildView | None = None) -> PlanComparison:
    """What changed from one plan to another, and between their builds."""
    pieces = _pieces(was, now) if was is not None and now is not None else None
    return PlanComparison(changes=differences(before, after), pieces=pieces)


def _pieces(was: BuildView, now: BuildView) -> list[PieceChange]:
    before, after = {p.key: p for p in was.pieces}, {p.key: p for p in now.pieces}
    found = [
        _piece(before.get(key), piece) for key, piece in after.items() if key not in before or before[key].shape != piece.shape
    ]
    found += [PieceChange(number=p.number, name=p.name, how="taken out") for key, p in before.items() if key not in after]
    return sorted(found, key=lambda c: c.number)


def _piece(before: PieceView | None, piece: PieceView) -> PieceChange:
    if before is None:
        return PieceChange(number=piece.number, name=piece.name, how="added", told=_size(piece))
    told = []
    if before.size_mm != piece.size_mm:
        told.append(f"{_size(before)} → {_size(piece)}")
    more = piece.volume_mm3 - before.volume_mm3
    told.append(f"{more / 1000:+.2f} cm³".replace("-", "−") if abs(more) > SAME_MM3 else "of the same volume")
    return PieceChange(number=piece.number, name=piece.name, how="changed", told=", ".join(told))


def _size(piece: PieceView) -> str:
    return " × ".join(f"{v:.1f}" for v in piece.size_mm) + " mm"
