"""Findings about the model as prepared: its surface, and what the steps before it said."""

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.findings import Finding
from hinoki.core.model.health.diagnostics import as_finding, ordered, quick_issues
from hinoki.core.model.health.report import Issue
from hinoki.core.model.prepared_model import Prepared
from hinoki.core.stages import stage


def model_findings(build: Build, cache: Cache) -> list[Finding]:
    """What is wrong with the surface, worst first, then what the prepare steps found."""
    ready = build.prepared
    if build.not_made:
        return [Finding(severity="must-fix", code="not-made", station="model", params={"why": build.not_made})]
    if ready is None:
        return []
    found = [as_finding(i) for i in _issues(cache, ready)]
    if ready.solid is None and not any(f.severity == "must-fix" for f in found):
        found.insert(0, Finding(severity="must-fix", code="surface-open", station="model"))
    if build.plan.made is not None:
        found += build.plan.made.problems(build.plan.material)
    return [*found, *(f for done in ready.done for f in done.findings)]


@stage("issues")
def _issues(ready: Prepared) -> list[Issue]:
    """What is wrong with the surface, worst first."""
    return ordered(quick_issues(ready.mesh, ready.solid))
