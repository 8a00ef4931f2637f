"""Builds looked at: their findings, what reports and screens see of them, and their exports."""

from hinoki.core.batch.print_plan import Printing
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.export.archive import ExportWish, export_files
from hinoki.present.build import described, present
from hinoki.present.export import outgoing_of
from hinoki.present.schemas.build import BuildView


def view_of(build: Build) -> BuildView:
    """A build as reports see it, without drawings."""
    return described(build, check(build, Cache()))


def shown(build: Build) -> BuildView:
    """A build as screens see it, with drawings."""
    cache = Cache()
    return present(build, check(build, cache), cache).view


def exported(build: Build, printing: Printing | None = None, title: str = "", revision: int | None = None) -> dict[str, bytes]:
    """All files of an export of a build, by path."""
    checked = check(build, Cache())
    outgoing = outgoing_of(build, checked, ExportWish(), printing, title=title, revision=revision)
    return dict(export_files(build.plan, build, outgoing=outgoing))
