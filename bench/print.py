"""Figures of Orient and Batch: directions, support by rays, packing, estimates; each against a plain floor in the same run."""

import time
from collections.abc import Callable

import numpy as np

from bench.model import Line, as_table
from hinoki.core.batch.estimate.estimate import estimate
from hinoki.core.batch.packing.pack import Rules, pack
from hinoki.core.batch.packing.raster_bed import surface_of as bed_of
from hinoki.core.batch.packing.rectpack_backend import boxed
from hinoki.core.geometry.raycast import Rays
from hinoki.core.geometry.rotations import spread_over_sphere
from hinoki.core.geometry.solid import Solid
from hinoki.core.orient.fast_scores import quick
from hinoki.core.orient.ray_grid import walls_of
from hinoki.core.orient.resting.resting_faces import rest_on
from hinoki.core.orient.support import support_of
from hinoki.core.orient.surface import surface_of
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import Printer
from tests.core.batch.test_packing import blob
from tests.shapes import torus

ROUNDS = 3
TRIANGLES = (707, 354)
BED = Printer(bed_mm=(240, 240), height_mm=250)


def _best(work: Callable[[], object]) -> float:
    best = float("inf")
    for _ in range(ROUNDS):
        begun = time.perf_counter()
        work()
        best = min(best, time.perf_counter() - begun)
    return best


def _directions(solid: Solid) -> Line:
    """1 000 directions; the floor is plain numpy over all faces, a direction at a time, for one in ten of them."""
    downs = spread_over_sphere(1000)
    mesh = solid.mesh
    normals, areas = mesh.face_normals, np.linalg.norm(mesh.face_vectors, axis=1) / 2

    def floor() -> None:
        for down in downs[::10]:
            float(areas[normals @ down > 0.7].sum())

    ours = _best(lambda: quick(surface_of(solid), downs, 45.0))
    return Line("1 000 directions, 500 k triangles, normals gathered anew", ours, 10 * _best(floor), "under 2 s")


def _support(solid: Solid) -> Line:
    """Support of a dozen ways to lie, the scene built anew; the floor is embreex casting the same rays once each."""
    rests = [rest_on(solid, down, BED) for down in spread_over_sphere(12)]

    def ours() -> None:
        surface = surface_of(solid)
        for rest in rests:
            support_of(surface, rest.matrix, 45.0)

    surface = surface_of(solid)
    walls = [(walls_of(surface, r.matrix), r) for r in rests]

    def floor() -> None:
        rays = Rays(solid.mesh)
        for found, rest in walls:
            starts = np.column_stack([found.grid, np.full(len(found.grid), -1.0)])
            back = rest.matrix[:, :3].T
            starts = (starts - rest.matrix[:, 3]) @ rest.matrix[:, :3]
            rays.first(starts, np.broadcast_to(back[:, 2], starts.shape))

    return Line("support of the best 12, 500 k triangles", _best(ours), _best(floor), "under 3 s")


def _packing() -> Line:
    rng = np.random.default_rng(60)
    items = [blob(rng, f"{k}") for k in range(60)]
    bed = bed_of(BED)
    ours = _best(lambda: pack(items, bed, Rules()))
    floor = _best(lambda: boxed(items, bed, 4.0))
    return Line("60 pieces onto beds, by true outlines in 8 turns", ours, floor, "under 10 s")


def _estimate(solid: Solid) -> Line:
    """A piece of 160 mm: 800 layers of 0.2 mm; the floor is the kernel's bare sections at every layer."""
    low, high = solid.bounds
    matrix = np.column_stack([np.eye(3) * 160 / (high[2] - low[2]), [0.0, 0.0, -low[2] * 160 / (high[2] - low[2])]])
    lying = solid.placed(matrix)
    ours = _best(lambda: estimate(solid, matrix, 0.0, BED, Material(), PrintSettings()))

    def floor() -> None:
        for k in range(800):
            lying.slice(0.1 + 0.2 * k)

    return Line("estimate, 500 k triangles, 800 layers", ours, _best(floor), "under 3 s")


def rows() -> list[Line]:
    """All figures."""
    solid = Solid.from_mesh(torus(90, 20, *TRIANGLES, 1.5))
    return [_directions(solid), _support(solid), _packing(), _estimate(solid)]


def table() -> str:
    """All figures as a table."""
    return as_table(rows())
