"""Projects with several parts, for tests."""

import hashlib
from collections.abc import Mapping

import numpy as np

from hinoki.core.build import Build, build_all
from hinoki.core.cache import Cache
from hinoki.core.formats.base import NamedMesh
from hinoki.core.formats.write import write_file
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.contents import ModelUse
from hinoki.core.plan.parts import Instance, KeptPart
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.printers import Printer
from tests.shapes import COMMON, stl_of

FILES: dict[str, bytes] = {}
"""model files of tests, by their hash"""


def use_of(data: bytes, name: str = "made.stl") -> ModelUse:
    """A file that is kept for the test, as a plan names it."""
    digest = hashlib.sha256(data).hexdigest()
    FILES[digest] = data
    return ModelUse(source=digest, file_name=name)


def source(sha256: str) -> bytes:
    """A file that was kept."""
    return FILES[sha256]


def objects_file(bodies: Mapping[str, Solid], name: str = "set.3mf") -> ModelUse:
    """A file of several objects."""
    return use_of(write_file([NamedMesh(n, b.mesh) for n, b in bodies.items()], name), name)


def plan_of(use: ModelUse, **more: object) -> Plan:
    """A plan for a file."""
    return Plan(model=use, printer=Printer(bed_mm=(220, 220), height_mm=250), **more)  # type: ignore[arg-type]


def part(number: int, solid: Solid, *instances: Instance, **more: object) -> KeptPart:
    """A further part."""
    use = use_of(stl_of(solid), f"part {number}.stl")
    return KeptPart(id=f"q{number}", model=use, instances=instances or (Instance(),), **more)  # type: ignore[arg-type]


def everything(plan: Plan, cache: Cache | None = None, numbers: Mapping[str, int] | None = None) -> Build:
    """All parts built."""
    return build_all(plan, source, COMMON if cache is None else cache, numbers=numbers or {})


def placed(solid: Solid, matrix: Points) -> Solid:
    """A body under a (3, 4) matrix."""
    return solid.placed(np.asarray(matrix))
