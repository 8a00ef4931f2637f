"""The whole survey of a surface: quick findings for every build, the slow ones when someone looks closely."""

from dataclasses import dataclass, field

import numpy as np

from hinoki.core.findings import Finding
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.health.bores import bore_issue, find_bores, meant_round
from hinoki.core.model.health.components import lump_issues, split_lumps
from hinoki.core.model.health.edges import crowded_issue, duplicate_issue, flipped_issue, open_issue, sliver_issue
from hinoki.core.model.health.report import Issue
from hinoki.core.model.health.self_intersections import through_issue
from hinoki.core.model.health.thickness import wall_issues
from hinoki.core.progress import Tell, quiet

TINY_MM = 10.0
HUGE_MM = 5000.0


@dataclass(frozen=True)
class Survey:
    """All issues of a surface, worst first, and the thickness under every face when it was measured."""

    issues: list[Issue] = field(default_factory=list)
    under_mm: Points | None = None

    @property
    def codes(self) -> set[str]:
        """The codes that were found."""
        return {issue.code for issue in self.issues}


def quick_issues(mesh: Mesh, solid: Solid | None = None) -> list[Issue]:
    """What every build says: edges, faces, lumps, size.

    A surface that closes to a `solid` has no open, crowded or turned edges.
    """
    checks = [] if solid is not None else [open_issue, crowded_issue, flipped_issue, duplicate_issue]
    found = [f(mesh) for f in (*checks, sliver_issue)]
    issues = [i for i in found if i is not None]
    issues += lump_issues(split_lumps(mesh))
    bores = bore_issue(meant_round(find_bores(mesh)))
    issues += [bores] if bores else []
    low, high = mesh.bounds
    size = float(np.max(high - low))
    if size < TINY_MM or size > HUGE_MM:
        issues.append(Issue("size-unusual", "look-at", 1, {"across_mm": size, "small": size < TINY_MM}))
    return issues


def survey(mesh: Mesh, least_wall_mm: float, line_mm: float, tell: Tell = quiet) -> Survey:
    """Everything, with the slow parts: faces through one another, walls, details."""
    tell(0.0, "Looking at edges and lumps")
    issues = quick_issues(mesh)
    tell(0.35, "Looking for faces through one another")
    through = through_issue(mesh)
    issues += [through] if through else []
    walls, under = wall_issues(mesh, least_wall_mm, line_mm, lambda f, p: tell(0.6 + 0.4 * f, p))
    return Survey(ordered(issues + walls), under)


def ordered(issues: list[Issue]) -> list[Issue]:
    """Worst first."""
    rank = {"must-fix": 0, "look-at": 1, "note": 2}
    return sorted(issues, key=lambda i: rank[i.severity])


def as_finding(issue: Issue) -> Finding:
    """The issue as a finding, at its largest place."""
    at = issue.places[0].at if issue.places else None
    return Finding(
        severity=issue.severity,
        code=issue.code,
        station="model",
        params=issue.figures,
        at_mm=(round(float(at[0]), 2), round(float(at[1]), 2), round(float(at[2]), 2)) if at is not None else None,
    )
