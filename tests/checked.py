"""Findings of builds."""

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.findings import Finding


def findings_of(build: Build, cache: Cache | None = None) -> list[Finding]:
    """Everything noticed about a build."""
    return list(check(build, cache or Cache()).findings)
