"""Findings: what Hinoki noticed, in words a maker can act on."""

from typing import Literal

from pydantic import BaseModel

Severity = Literal["must-fix", "look-at", "note"]
Station = Literal["model", "divide", "join", "check", "orient", "batch", "assemble", "log"]


class Fix(BaseModel, frozen=True):
    """Something that puts a finding right with one click."""

    kind: Literal["together"]
    label: str
    pieces: tuple[str, ...] = ()


class Finding(BaseModel):
    """One thing noticed: what, where, how much, what to do."""

    severity: Severity
    code: str
    message: str
    station: Station = "check"
    piece: int | None = None
    face: str | None = None
    joint: str | None = None
    parting: str | None = None
    step: str | None = None
    at_mm: tuple[float, float, float] | None = None
    fix: Fix | None = None


def mm(value: float) -> str:
    """A length as the interface writes it: one decimal, two below half a millimetre."""
    return f"{value:.2f} mm" if abs(value) < 0.5 else f"{value:.1f} mm"
