"""The print log as screens show it, and what it asks of a build and of its batches, from what screens see of them."""

from pydantic import BaseModel, Field

from hinoki.core.printlog.fit_answers import FitAnswer, FitLesson
from hinoki.core.printlog.learning import Lessons, Remedy
from hinoki.core.printlog.project_status import BatchLeft, BatchNeeds, Needed, Standing
from hinoki.core.printlog.records import Print
from hinoki.core.printlog.running_totals import Done
from hinoki.core.printlog.shape_diff import Difference
from hinoki.core.printlog.states import PieceState
from hinoki.present.batches import BatchesView
from hinoki.present.schemas.build import BuildView
from hinoki.present.words.printlog import difference_says, remedy_says


class RemedyView(Remedy):
    """What may help against a cause that repeats, in words, too."""

    says: str


class LessonsView(Lessons):
    """All that the log teaches, remedies in words."""

    remedies: list[RemedyView]  # type: ignore[assignment]


class LogView(BaseModel):
    """A project's log: its prints, how it stands (none while it is being built), and what was learned."""

    revision: int
    prints: list[Print] = Field(description="the newest ones")
    older: int = Field(description="how many more there are")
    standing: Standing | None
    left: list[BatchLeft]
    learned: LessonsView
    done: list[Done]
    answers: list[FitAnswer]
    steps: dict[PieceState, list[PieceState]] = Field(description="what a person may say next of a piece, by its state")
    lessons: list[FitLesson]


class DifferenceView(Difference):
    """A printed piece beside the plan's, in words, with drawings of what it has more and of what it lacks."""

    says: str
    more_mesh: str | None = Field(None, description="drawing of what it has more")
    less_mesh: str | None = Field(None, description="drawing of what it lacks")


def lessons_view(learned: Lessons) -> LessonsView:
    """What the log teaches, with words."""
    remedies = [RemedyView(**vars(one), says=remedy_says(one)) for one in learned.remedies]
    return LessonsView(**{**vars(learned), "remedies": remedies})


def difference_view(found: Difference, more_mesh: str | None, less_mesh: str | None) -> DifferenceView:
    """What differs, with words and the names of the drawings."""
    return DifferenceView(**vars(found), says=difference_says(found), more_mesh=more_mesh, less_mesh=less_mesh)


def needed_of(view: BuildView) -> list[Needed]:
    """All that the project is put together from: pieces part by part, then loose parts."""
    return [Needed(one.key, one.number, one.name, one.count, one.shape) for one in view.needed]


def batch_needs(view: BatchesView) -> list[BatchNeeds]:
    """The batches in order."""
    return [
        BatchNeeds(batch.number, batch.material, batch.took.mass_g, [(t.key, t.pieces) for t in batch.things])
        for batch in view.batches
    ]
