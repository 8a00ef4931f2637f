"""The strong means: pymeshfix's full repair, and a surface rebuilt from winding numbers at a chosen fineness."""

from collections.abc import Iterator

import numpy as np

from hinoki.core.errors import StepRefused
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.model.health.self_intersections import hushed
from hinoki.core.progress import Tell

MOST_CELLS = 60_000_000
BLOCK = 200_000
COARSE = 4
"""cells between the corners that are looked at first"""
CLEARLY = 0.2
"""a winding number this far from one half is clearly inside or outside"""


def fixed(mesh: Mesh) -> Mesh:
    """pymeshfix's repair: one closed surface without faces through one another; smaller lumps are kept and joined on."""
    import pymeshfix

    with hushed():
        vertices, faces = pymeshfix.clean_from_arrays(
            np.ascontiguousarray(mesh.vertices), np.ascontiguousarray(mesh.faces, dtype=np.int32), verbose=False, joincomp=False
        )
    return Mesh(np.asarray(vertices, dtype=np.float64), np.asarray(faces, dtype=np.int64))


def rebuilt(mesh: Mesh, fineness_mm: float, tell: Tell) -> Mesh:
    """The surface around everything whose winding number is over one half (Jacobson et al. 2013; Barill et al. 2018).

    Works on any soup of triangles that mostly look outwards. Corners are rounded by up to half a cell. Raises StepRefused.
    """
    from skimage.measure import marching_cubes

    low, high = mesh.bounds
    low, high = low - 2 * fineness_mm, high + 2 * fineness_mm
    counts = np.ceil((high - low) / fineness_mm).astype(int) + 1
    if int(np.prod(counts)) > MOST_CELLS:
        raise StepRefused(f"A fineness of {fineness_mm:g} mm is too fine for a model of this size. Use a coarser one.")
    field = _winding(mesh, low, fineness_mm, counts, tell)
    if field.max() < 0.5:
        raise StepRefused("Nothing of the model is solid enough to rebuild a surface around. Fill its holes first.")
    vertices, faces, _, _ = marching_cubes(field, 0.5, spacing=(fineness_mm,) * 3, gradient_direction="ascent")  # type: ignore[no-untyped-call]
    out = Mesh(_onto(mesh, vertices.astype(np.float64) + low, fineness_mm), np.ascontiguousarray(faces, dtype=np.int64))
    return out if out.volume_mm3 > 0 else Mesh(out.vertices, np.ascontiguousarray(out.faces[:, ::-1]))


def _winding(mesh: Mesh, low: Points, fineness_mm: float, counts: Faces, tell: Tell) -> "np.ndarray":
    """Winding numbers (nx, ny, nz) at the corners of cells; exact wherever the surface that is sought may run.

    Away from the triangles the winding number is harmonic, so it takes its extremes at the triangles. Of every COARSE-th
    corner it is worked out first; where no triangle is near and the coarse ones around are all clearly on one side of one half,
    the corners between are given the nearest coarse one's.
    """
    import igl
    from scipy.ndimage import maximum_filter, minimum_filter

    tree = igl.AABB()
    tree.init(mesh.vertices, mesh.faces)
    few, step = tuple((counts - 1) // COARSE + 1), COARSE * fineness_mm
    coarse = np.empty(few, dtype=np.float32)
    near = np.empty(few, dtype=bool)
    for corners, share in _blocks(np.arange(coarse.size)):
        tell(0.2 * share, "Rebuilding the surface")
        points = low + step * np.column_stack(np.unravel_index(corners, few))
        coarse.flat[corners] = igl.fast_winding_number(mesh.vertices, mesh.faces, points)
        squared, _, _ = tree.squared_distance(mesh.vertices, mesh.faces, points)
        near.flat[corners] = np.sqrt(squared) < np.sqrt(3) * (step + fineness_mm)
    least, most = minimum_filter(coarse, 3, mode="nearest"), maximum_filter(coarse, 3, mode="nearest")
    near |= (most > 0.5 - CLEARLY) & (least < 0.5 + CLEARLY)
    field, wanted = (_spread(of)[: counts[0], : counts[1], : counts[2]] for of in (coarse, near))
    for corners, share in _blocks(np.flatnonzero(wanted)):
        tell(0.2 + 0.7 * share, "Rebuilding the surface")
        at = np.unravel_index(corners, tuple(counts))
        field[at] = igl.fast_winding_number(mesh.vertices, mesh.faces, low + fineness_mm * np.column_stack(at))
    return np.ascontiguousarray(field)


def _blocks(corners: Faces) -> Iterator[tuple[Faces, float]]:
    """Numbers of corners, not too many at once, each with the share of those before."""
    for begin in range(0, len(corners), BLOCK):
        yield corners[begin : begin + BLOCK], begin / len(corners)


def _spread(coarse: "np.ndarray") -> "np.ndarray":
    """Values (nx, ny, nz) each COARSE times along every axis."""
    for axis in range(3):
        coarse = np.repeat(coarse, COARSE, axis=axis)
    return coarse


def _onto(mesh: Mesh, vertices: Points, fineness_mm: float) -> Points:
    """Vertices near the old surface are drawn onto it; those that bridge a hole stay."""
    import igl

    tree = igl.AABB()
    tree.init(mesh.vertices, mesh.faces)
    squared, _, nearest = tree.squared_distance(mesh.vertices, mesh.faces, np.ascontiguousarray(vertices))
    near = np.sqrt(squared) < 0.5 * fineness_mm
    return np.where(near[:, None], nearest, vertices)
