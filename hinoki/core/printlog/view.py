"""The log as screens show it."""

from pydantic import BaseModel, Field

from hinoki.core.printlog.fit_answers import FitAnswer, FitLesson
from hinoki.core.printlog.learning import Lessons
from hinoki.core.printlog.project_status import BatchLeft, Standing
from hinoki.core.printlog.records import Print
from hinoki.core.printlog.states import PieceState


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
    prints: list[Print] = Field(description="the newest ones")
    older: int = Field(description="how many more there are")
    standing: Standing | None
    left: list[BatchLeft]
    learned: Lessons
    done: list[Done]
    answers: list[FitAnswer]
    steps: dict[PieceState, list[PieceState]] = Field(description="what a person may say next of a piece, by its state")
    lessons: list[FitLesson]
