"""Answers about a model's surface as data for the screens: the survey, a repair tried out, suggested drain holes."""

from pydantic import BaseModel

from hinoki.core.findings import Severity
from hinoki.core.model.health.diagnostics import Survey
from hinoki.core.model.health.report import Issue
from hinoki.core.model.prepared_model import Prepared
from hinoki.core.model.repair.compare import Comparison
from hinoki.core.model.steps.hollow import Drain
from hinoki.core.model.steps.repair import RepairStep
from hinoki.present.words import issue_sentence

Vec3 = tuple[float, float, float]


class PlaceView(BaseModel):
    """Somewhere an issue stands; `line` are pairs of points, three numbers each, one after the other."""

    at_mm: Vec3
    reach_mm: float
    text: str
    line: list[float]


class IssueView(BaseModel):
    """One kind of trouble with the surface."""

    code: str
    severity: Severity
    count: int
    message: str
    places: list[PlaceView]


class SurveyView(BaseModel):
    """The survey of the prepared model, and the mesh its thickness map belongs to."""

    mesh: str
    issues: list[IssueView]


class TrialView(BaseModel):
    """A repair tried out; no step where there is nothing to repair."""

    step: RepairStep | None
    said: list[str]
    comparison: Comparison | None
    before_mesh: str
    after_mesh: str | None


class DrainsView(BaseModel):
    """Suggested drain holes."""

    drains: list[Drain]


def issue_view(issue: Issue) -> IssueView:
    """An issue as data, rounded to a thousandth of a millimetre."""
    places = [
        PlaceView(
            at_mm=(round(float(p.at[0]), 3), round(float(p.at[1]), 3), round(float(p.at[2]), 3)),
            reach_mm=round(p.reach_mm, 3),
            text=p.text,
            line=[round(float(c), 3) for c in p.line.ravel()] if p.line is not None else [],
        )
        for p in issue.places
    ]
    return IssueView(code=issue.code, severity=issue.severity, count=issue.count, message=issue_sentence(issue), places=places)


def survey_view(found: Survey, ready: Prepared) -> SurveyView:
    """The survey as data."""
    return SurveyView(mesh=ready.key, issues=[issue_view(i) for i in found.issues])
