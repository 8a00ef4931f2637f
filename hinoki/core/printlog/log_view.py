"""The log as screens show it."""

from pydantic import BaseModel

from hinoki.core.printlog.fit_answers import FitAnswer, FitLesson
from hinoki.core.printlog.learning import Lessons
from hinoki.core.printlog.records import Print
from hinoki.core.printlog.standing import Standing


class DayDone(BaseModel):
    """How many pieces were printed by the end of a day, and how many grams and hours that took."""

    day: str
    pieces: int
    failed: int
    grams: float
    hours: float


class LogView(BaseModel):
    """A project's log: its prints, how it stands (none while it is being built), and what was learned."""

    revision: int
    prints: list[Print]
    standing: Standing | None
    learned: Lessons
    days: list[DayDone]
    answers: list[FitAnswer]
    lessons: list[FitLesson]


def days_of(prints: list[Print]) -> list[DayDone]:
    """Progress over time, day by day, added up; failed pieces are told apart."""
    found: list[DayDone] = []
    pieces = failed = 0
    grams = hours = 0.0
    for one in sorted((p for p in prints if p.ended_at), key=lambda p: p.ended_at or ""):
        bad = sum(i.state == "failed" for i in one.items)
        pieces += sum(i.state not in ("not printed", "failed") for i in one.items)
        failed += bad
        grams += one.grams or 0.0
        hours += (one.minutes or 0.0) / 60
        day = DayDone(day=(one.ended_at or "")[:10], pieces=pieces, failed=failed, grams=round(grams, 1), hours=round(hours, 2))
        if found and found[-1].day == day.day:
            found[-1] = day
        else:
            found.append(day)
    return found
