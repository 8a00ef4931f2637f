"""The log as screens show it."""

from pydantic import BaseModel

from hinoki.core.printlog.fit_answers import FitAnswer, FitLesson
from hinoki.core.printlog.learning import Lessons
from hinoki.core.printlog.records import Print
from hinoki.core.printlog.standing import BatchLeft, Standing


class Done(BaseModel):
    """How many pieces were printed by the end of a print, how many failed, and how many grams and hours that took, in all."""

    at: str
    pieces: int
    failed: int
    grams: float
    hours: float


class LogView(BaseModel):
    """A project's log: its prints, how it stands (none while it is being built), and what was learned."""

    revision: int
    prints: list[Print]
    standing: Standing | None
    left: list[BatchLeft]
    learned: Lessons
    done: list[Done]
    answers: list[FitAnswer]
    lessons: list[FitLesson]


def done_by(prints: list[Print]) -> list[Done]:
    """Progress over time, print by print, added up; failed pieces are told apart."""
    found: list[Done] = []
    pieces = failed = 0
    grams = hours = 0.0
    for one in sorted((p for p in prints if p.ended_at), key=lambda p: p.ended_at or ""):
        bad = sum(i.state == "failed" for i in one.items)
        pieces += sum(i.state not in ("not printed", "failed") for i in one.items)
        failed += bad
        grams += one.grams or 0.0
        hours += (one.minutes or 0.0) / 60
        at = one.ended_at or ""
        found.append(Done(at=at, pieces=pieces, failed=failed, grams=round(grams, 1), hours=round(hours, 2)))
    return found
