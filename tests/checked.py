"""Findings of builds."""

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.check.strength import strength_of
from hinoki.core.export.archive import export_files
from hinoki.core.findings import Finding
from hinoki.core.join.contract.strength import Strength
from tests.shapes import COMMON


def findings_of(build: Build, cache: Cache | None = None) -> list[Finding]:
    """Everything noticed about a build."""
    return list(check(build, COMMON if cache is None else cache).findings)


def strength(build: Build) -> Strength:
    """What the first joint of a build holds."""
    found = strength_of(build.placed[0], build.plan)
    assert found is not None
    return found


def files_of(build: Build) -> dict[str, bytes]:
    """What leaves Hinoki of a build, by path, without the report."""
    return dict(export_files(build.plan, build))
