"""How joints of real pieces went together, and what that says about the fits."""

from collections.abc import Sequence

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.workshop.fit_ladder_answers import ANSWERS, FIT_OF, Answer, LadderEntry
from hinoki.core.workshop.fits import FITS, Fit

SECOND_TRY_MM = 0.1
"""how much more clearance on each side is tried after one that was too tight (common practice: 0.1 → 0.2 each side)"""
STEP_MM = 0.05


class FitAnswer(BaseModel):
    """How one joint of printed pieces went together, at the clearance it was printed with (each side)."""

    id: int = 0
    printer_id: str = Field(min_length=1, max_length=60)
    material_id: str = Field(min_length=1, max_length=60)
    joint: str = Field(min_length=1, max_length=160)
    fit: Fit
    clearance_mm: float = Field(ge=0, le=2)
    answer: Answer
    note: str = Field("", max_length=200)
    made_at: str = ""


class FitLesson(BaseModel):
    """A clearance that the answers call for, for one class of fit of a printer with a material, and what it rests on."""

    printer_id: str
    material_id: str
    fit: Fit
    now_mm: float
    better_mm: float
    why: str


def lessons(answers: Sequence[FitAnswer], ladders: Sequence[LadderEntry], now: dict[Fit, float]) -> list[FitLesson]:
    """What answers of one printer and material call for; the rungs of its ladders count as answers, too.

    Answers are evened out first so that they never get tighter where the clearance grows (isotonic regression). Where answers
    of the wished kind are known, the clearance is the middle of theirs; else it lies between what was too tight and too loose;
    with nothing on the other side, one step further.
    """
    from scipy.optimize import isotonic_regression

    if not answers:
        return []
    points = [(a.clearance_mm, ANSWERS.index(a.answer)) for a in answers]
    for ladder in ladders:
        pairs = zip(ladder.answers.clearances_mm, ladder.answers.answers, strict=True)
        points += [(c, ANSWERS.index(a)) for c, a in pairs]
    points.sort()
    gaps = np.array([c for c, _ in points])
    level = np.asarray(isotonic_regression(np.array([float(r) for _, r in points])).x)
    first = answers[0]
    found = []
    for fit in FITS:
        own = [a for a in answers if a.fit == fit]
        if not own:
            continue
        better, why = _better(FIT_OF[fit], gaps, level)
        if abs(better - now[fit]) >= 0.01:
            many = f"{len(own)} {'joint' if len(own) == 1 else 'joints'} of real pieces"
            many += f" and {len(ladders)} {'ladder' if len(ladders) == 1 else 'ladders'}" if ladders else ""
            found.append(
                FitLesson(
                    printer_id=first.printer_id,
                    material_id=first.material_id,
                    fit=fit,
                    now_mm=now[fit],
                    better_mm=round(better, 3),
                    why=f"{why}; {many}",
                )
            )
    return found


def _better(wished: Answer, gaps: np.ndarray, level: np.ndarray) -> tuple[float, str]:
    rank = ANSWERS.index(wished)
    own = gaps[np.abs(level - rank) < 0.5]
    if len(own):
        return float(own.min() + own.max()) / 2, f"went so at {own.min():g} to {own.max():g} mm"
    tight, wide = gaps[level <= rank - 0.5], gaps[level >= rank + 0.5]
    if len(tight) and len(wide):
        return float(tight.max() + wide.min()) / 2, f"tighter at {tight.max():g} mm, looser at {wide.min():g} mm"
    if len(tight):
        far = SECOND_TRY_MM if level.max() <= rank - 1.5 else STEP_MM
        return min(2.0, float(tight.max()) + far), f"too tight at {tight.max():g} mm each side: the usual second try"
    return max(0.0, float(wide.min()) - STEP_MM), f"too loose at {wide.min():g} mm each side"
