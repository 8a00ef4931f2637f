"""Builds looked at: their findings, what reports and screens see of them, and their exports."""

from collections.abc import Mapping

from hinoki.core.assemble.assembled import Assembled, assembled
from hinoki.core.assemble.from_meshes import assembled_meshes
from hinoki.core.batch.print_plan import Printing
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check, check_all
from hinoki.core.export.archive import ExportWish, export_files
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.plan import Plan
from hinoki.present.assemble.view import assembly_view
from hinoki.present.build import described, present
from hinoki.present.export import outgoing_of
from hinoki.present.schemas.assemble import AssemblyView
from hinoki.present.schemas.build import BuildView
from tests.shapes import COMMON


def view_of(build: Build) -> BuildView:
    """A build as reports see it, without drawings."""
    return described(build, check(build, COMMON))


def shown(build: Build) -> BuildView:
    """A build as screens see it, with drawings."""
    cache = COMMON
    return present(build, check(build, cache), cache).view


def exported(build: Build, printing: Printing | None = None, title: str = "", revision: int | None = None) -> dict[str, bytes]:
    """All files of an export of a build, by path."""
    checked = check_all(build, COMMON)
    outgoing = outgoing_of(build, checked, ExportWish(), printing, title=title, revision=revision)
    return dict(export_files(build.plan, build, outgoing=outgoing))


def assembly_seen(result: Build, plan: Plan, cache: Cache | None = None) -> tuple[Assembled, AssemblyView]:
    """The assembly of a build as it is, and as screens see it."""
    cache = COMMON if cache is None else cache
    out = assembled(plan, result, cache)
    return out, assembly_view(plan, result, out, cache)[0]


def bodies_seen(bodies: Mapping[str, Solid], plan: Plan | None = None, seconds: float = 60.0) -> tuple[Assembled, AssemblyView]:
    """The assembly of bodies placed as assembled, and as screens see it."""
    plan, cache = plan or Plan(), COMMON
    out, result = assembled_meshes(list(bodies.items()), plan, cache, seconds)
    return out, assembly_view(plan, result, out, cache)[0]
