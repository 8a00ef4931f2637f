"""A job as its overview shows it: what was decided at each station, and what was noticed there."""

from collections.abc import Sequence

from pydantic import BaseModel, Field

from hinoki.core.findings import Finding, Station
from hinoki.core.plan.plan import Plan
from hinoki.core.whole_job.overview import StationOverview
from hinoki.core.whole_job.planned import Planned
from hinoki.present.findings import finding_views
from hinoki.present.schemas.findings import FindingView
from hinoki.present.words import sentence
from hinoki.present.words.overview import OVERVIEW, PASSED_OVER, REPAIRED, TAKEN
from hinoki.present.words.wording import say


class OverviewLine(BaseModel):
    """One thing that was decided, in words, and by its code."""

    code: str
    says: str


class StationView(BaseModel):
    """A station: what was decided there, and what was noticed and not accepted, the worst first."""

    station: Station
    lines: list[OverviewLine]
    findings: list[FindingView]


class OverviewView(BaseModel):
    """A job, station by station."""

    stations: list[StationView]
    must_fix: int = Field(description="findings of all stations that must be fixed")
    look_at: int


def overview_view(stations: Sequence[StationOverview], plan: Plan) -> OverviewView:
    """An overview in words; what was accepted is left out."""
    views = [
        StationView(
            station=one.station,
            lines=[OverviewLine(code=line.code, says=say(OVERVIEW[line.code], line.params)) for line in one.lines],
            findings=[f for f in finding_views(one.findings, plan) if f.accepted is None],
        )
        for one in stations
    ]
    told = [f.severity for one in views for f in one.findings]
    return OverviewView(stations=views, must_fix=told.count("must-fix"), look_at=told.count("look-at"))


def reasons(made: Planned, named: bool = False) -> list[str]:
    """Why the plan became what it is: the repair, the proposal taken, and what was against those before it; each `named` by its
    part where there are several."""
    said = _reasons(made)
    label = made.plan.label
    return [f"{label}: {sentence[:1].lower()}{sentence[1:]}" for sentence in said] if named else said


def _reasons(made: Planned) -> list[str]:
    said = []
    if made.repaired is not None:
        said.append(say(REPAIRED, {"how": made.repaired.label()}))
    if made.proposals is not None:
        number = len(made.passed_over)
        if number < len(made.proposals.proposals):
            title = made.proposals.proposals[number].title
            said.append(say(TAKEN, {"title": title, "count": len(made.proposals.proposals)}))
        said += [_passed_over(one.title, one.against) for one in made.passed_over]
    return said


def _passed_over(title: str, against: Finding) -> str:
    return say(PASSED_OVER, {"title": title, "why": sentence(against)})
