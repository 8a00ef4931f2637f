"""Findings: what Hinoki noticed, in words a maker can act on."""

import hashlib
import json
from collections.abc import Iterable, Mapping
from typing import Any, Literal

from pydantic import BaseModel, Field

Severity = Literal["must-fix", "look-at", "note"]
Station = Literal["model", "divide", "join", "check", "orient", "batch", "assemble", "log"]


class Fix(BaseModel, frozen=True):
    """Something that puts a finding right with one click: pieces joined again, a joint changed or added,
    a parting shifted, a piece laid otherwise."""

    kind: Literal["together", "joint", "add-joint", "shift", "rest"]
    label: str
    pieces: tuple[str, ...] = ()
    joint: dict[str, Any] | None = Field(None, description="the joint as it would be")
    parting: str | None = None
    by_mm: float = Field(0.0, description="how far the parting is shifted along its normal")
    down: tuple[float, float, float] | None = Field(None, description="the way the piece is to look down on the bed")


class Accepted(BaseModel, frozen=True):
    """Why a finding may stay, and what it said then."""

    reason: str = Field(min_length=1, max_length=200)
    message: str = Field("", max_length=1000)


class Finding(BaseModel):
    """One thing noticed: what, where, how much, what to do. Its id changes when what it says does."""

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
    fixes: tuple[Fix, ...] = ()
    id: str = ""
    accepted: str | None = Field(None, description="the reason why it may stay")


def name_findings(findings: Iterable[Finding], accepted: Mapping[str, Accepted]) -> None:
    """Give every finding its id, and the reason why it may stay where there is one.

    The id is a hash of all it says, so a finding that was accepted comes back when the thing changes.
    """
    for f in findings:
        said = json.dumps([f.code, f.piece, f.face, f.joint, f.parting, f.step, f.message])
        f.id = hashlib.sha256(said.encode()).hexdigest()[:16]
        known = accepted.get(f.id)
        f.accepted = known.reason if known else None


def counted(number: int, one: str, more: str) -> str:
    """Such as “1 face is” or “1,204 faces are”."""
    return f"{number:,} {one if number == 1 else more}"


def mm(value: float) -> str:
    """A length as the interface writes it: one decimal, two below half a millimetre."""
    return f"{value:.2f} mm" if abs(value) < 0.5 else f"{value:.1f} mm"
