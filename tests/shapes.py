"""Shapes and plans that several tests use."""

import hashlib

import numpy as np

from hinoki.core.build import Build, build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting, Parting
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.contents import ModelUse
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.printers import Printer


def box(x: float, y: float, z: float) -> Solid:
    """A box centred over the origin, standing at Z 0."""
    return Solid.box([-x / 2, -y / 2, 0], [x / 2, y / 2, z])


def tube(outer: float, inner: float, height: float) -> Solid:
    """An upright tube, by radii."""
    return Solid.cylinder(outer, 0, height).minus([Solid.cylinder(inner, -1, height + 1)])


def torus(major: float, minor: float, around: int, section: int, wave: float = 0.0) -> Mesh:
    """A torus of 2·around·section triangles; `wave` roughens it."""
    a = np.linspace(0, 2 * np.pi, around, endpoint=False)
    b = np.linspace(0, 2 * np.pi, section, endpoint=False)
    across, along = np.meshgrid(b, a)
    r = minor + wave * np.sin(9 * along) * np.cos(5 * across)
    ring = major + r * np.cos(across)
    points = np.stack([ring * np.cos(along), ring * np.sin(along), r * np.sin(across)], -1).reshape(-1, 3)
    i, j = np.meshgrid(np.arange(around), np.arange(section), indexing="ij")
    i2, j2 = (i + 1) % around, (j + 1) % section
    q = [(x * section + y).ravel() for x, y in ((i, j), (i2, j), (i2, j2), (i, j2))]
    faces = np.concatenate([np.stack([q[0], q[1], q[2]], 1), np.stack([q[0], q[2], q[3]], 1)])
    return Mesh(points, faces)


def plan_for(data: bytes, *partings: Parting, bed: tuple[float, float, float] = (220, 220, 250), **more: object) -> Plan:
    """A plan for an STL file."""
    printer = Printer(bed_mm=(bed[0], bed[1]), height_mm=bed[2])
    use = ModelUse(source=hashlib.sha256(data).hexdigest(), file_name="made.stl")
    return Plan(model=use, printer=printer, partings=partings, **more)  # type: ignore[arg-type]


def stl_of(solid: Solid) -> bytes:
    """The STL file of a solid."""
    return write_stl(solid.mesh)


COMMON = Cache(15_000_000)
"""what tests of one process have worked out already: as workers do, they keep what they made"""


def built(data: bytes, plan: Plan, cache: Cache | None = None) -> Build:
    """The build of a plan for `data`."""
    return build(plan, lambda _: data, COMMON if cache is None else cache)


def level(number: int, at: float, only: tuple[str, ...] | None = None) -> FlatParting:
    """A level flat parting."""
    return FlatParting(id=f"p{number}", axis="z", at_mm=at, only=only)


def across(number: int, axis: str, at: float, only: tuple[str, ...] | None = None) -> FlatParting:
    """An upright flat parting."""
    return FlatParting(id=f"p{number}", axis=axis, at_mm=at, only=only)  # type: ignore[arg-type]


def leaning_tube(low: tuple[float, float], high: tuple[float, float], height: float) -> Solid:
    """An upright tube whose outer and inner radii change from `low` to `high`."""
    return Solid.cone(low[0], high[0], 0, height).minus([Solid.cone(low[1], high[1], -0.001, height + 0.001)])


def ellipsoid(x: float, y: float, z: float, around: int = 96) -> Solid:
    """An ellipsoid about the origin, by its half axes."""
    a = np.linspace(0, 2 * np.pi, around, endpoint=False)
    b = np.linspace(-np.pi / 2, np.pi / 2, around // 2 + 1)
    points = np.array([[x * np.cos(t) * np.cos(s), y * np.cos(t) * np.sin(s), z * np.sin(t)] for t in b for s in a])
    return Solid.hull_of(points)


def shell_of(x: float, y: float, z: float, wall: float) -> Solid:
    """A closed ellipsoid shell with a cavity."""
    return ellipsoid(x, y, z).minus([ellipsoid(x - wall, y - wall, z - wall)])
