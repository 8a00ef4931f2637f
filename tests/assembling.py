"""Assemblies for tests: of a build, and of plain bodies."""

from collections.abc import Mapping

from hinoki.core.assembling.assembled import Assembled, assembled
from hinoki.core.assembling.from_meshes import assembled_meshes
from hinoki.core.assembling.showing import assembly_view
from hinoki.core.assembling.view import AssemblyView
from hinoki.core.cache import Cache
from hinoki.core.engine import Built
from hinoki.core.plan import Plan
from hinoki.core.solid import Solid


def assembly(result: Built, plan: Plan | None = None, cache: Cache | None = None) -> AssemblyView:
    """The assembly of a build."""
    plan, cache = plan or Plan(), cache or Cache()
    return assembly_view(plan, result, assembled(plan, result, cache), cache)[0]


def of_bodies(bodies: Mapping[str, Solid], plan: Plan | None = None, seconds: float = 60.0) -> tuple[Assembled, AssemblyView]:
    """The assembly of bodies placed as assembled, with what was worked out."""
    plan, cache = plan or Plan(), Cache()
    out, built = assembled_meshes(list(bodies.items()), plan, cache, seconds)
    return out, assembly_view(plan, built, out, cache)[0]
