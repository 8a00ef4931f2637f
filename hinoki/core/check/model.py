"""Findings about the model as prepared: its surface, and what the steps before it said."""

from hinoki.core.build import Build
from hinoki.core.cache import Cache, key_of
from hinoki.core.findings import Finding
from hinoki.core.model.health.diagnostics import as_finding, ordered, quick_issues


def model_findings(build: Build, cache: Cache) -> list[Finding]:
    """What is wrong with the surface, worst first, then what the prepare steps found."""
    ready = build.prepared
    if ready is None:
        return []
    issues = cache.get(key_of("issues", ready.key), lambda: ordered(quick_issues(ready.mesh, ready.solid)))
    found = [as_finding(i) for i in issues]
    if ready.solid is None and not any(f.severity == "must-fix" for f in found):
        found.insert(0, Finding(severity="must-fix", code="surface-open", station="model"))
    return [*found, *(f for done in ready.done for f in done.findings)]
