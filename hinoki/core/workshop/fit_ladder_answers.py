"""What a printed ladder tells: from how each rung went together, the clearance for every class of fit."""

from typing import Literal, get_args

import numpy as np
from pydantic import BaseModel, Field, model_validator

from hinoki.core.workshop.fits import FITS, Fit

Answer = Literal["no", "force", "hand", "slides", "rattles"]
ANSWERS: tuple[Answer, ...] = get_args(Answer)
"""does not go in, goes in with force, by hand, slides, rattles"""
FIT_OF: dict[Fit, Answer] = {"press": "force", "snug": "hand", "sliding": "slides", "loose": "rattles"}


class Answers(BaseModel):
    """How the rungs of a ladder went together: clearances on each side, in mm, and an answer for each."""

    clearances_mm: list[float] = Field(min_length=3, max_length=9)
    answers: list[Answer] = Field(min_length=3, max_length=9)

    @model_validator(mode="after")
    def _match(self) -> "Answers":
        if len(self.answers) != len(self.clearances_mm):
            raise ValueError("every rung needs one answer")
        if any(b <= a for a, b in zip(self.clearances_mm, self.clearances_mm[1:], strict=False)):
            raise ValueError("the clearances of a ladder rise from rung to rung")
        return self


class Learned(BaseModel):
    """The clearance found for a class of fit, in mm on each side, or none, and what it rests on."""

    fit: Fit
    clearance_mm: float | None
    why: str


class LadderEntry(BaseModel):
    """An answered ladder: printer, material, layer height and joint it was printed with, the answers, and what they tell."""

    id: int = 0
    printer_id: str = Field(min_length=1, max_length=60)
    material_id: str = Field(min_length=1, max_length=60)
    layer_mm: float = Field(gt=0, le=5)
    joint: str = Field(min_length=1, max_length=120)
    answers: Answers
    note: str = Field("", max_length=200)
    made_at: str = Field("", max_length=40)
    learned: list[Learned] = []


def learned(given: Answers) -> list[Learned]:
    """For every class of fit the middle of the clearances that belong to it.

    Answers that go down where the clearance grows are evened out first, each as little as can be (isotonic regression). A class
    no rung belongs to lies between the rungs around it, where there are some on both sides.
    """
    from scipy.optimize import isotonic_regression

    ranks = np.array([ANSWERS.index(a) for a in given.answers], dtype=np.float64)
    level = np.asarray(isotonic_regression(ranks).x)
    steps = np.array(given.clearances_mm)
    return [_one(fit, level, steps) for fit in FITS]


def _one(fit: Fit, level: np.ndarray, steps: np.ndarray) -> Learned:
    rank = ANSWERS.index(FIT_OF[fit])
    own = np.flatnonzero(np.abs(level - rank) < 0.5)
    below, above = np.flatnonzero(level <= rank - 0.5), np.flatnonzero(level >= rank + 0.5)
    if len(own):
        # the loosest class begins where it first rattles
        value = float(steps[own[0]]) if fit == "loose" else float((steps[own[0]] + steps[own[-1]]) / 2)
        rungs = f"rung {own[0] + 1}" if len(own) == 1 else f"rungs {own[0] + 1} to {own[-1] + 1}"
        return Learned(fit=fit, clearance_mm=round(value, 4), why=f"{rungs} went so")
    if len(below) and len(above):
        value = float((steps[below[-1]] + steps[above[0]]) / 2)
        return Learned(fit=fit, clearance_mm=round(value, 4), why=f"between rungs {below[-1] + 1} and {above[0] + 1}")
    side = "tighter than the first rung" if len(above) else "looser than the last rung"
    return Learned(fit=fit, clearance_mm=None, why=side)
