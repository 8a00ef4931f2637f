"""The strong means: pymeshfix's full repair, and a surface rebuilt from winding numbers at a chosen fineness."""

import numpy as np

from hinoki.core.errors import StepRefused
from hinoki.core.health.through import hushed
from hinoki.core.mesh import Mesh, Points
from hinoki.core.progress import Tell

MOST_CELLS = 60_000_000
BLOCK = 200_000


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
    import igl
    from skimage.measure import marching_cubes

    low, high = mesh.bounds
    low, high = low - 2 * fineness_mm, high + 2 * fineness_mm
    counts = np.ceil((high - low) / fineness_mm).astype(int) + 1
    if int(np.prod(counts)) > MOST_CELLS:
        raise StepRefused(f"A fineness of {fineness_mm:g} mm is too fine for a model of this size. Use a coarser one.")
    total = int(np.prod(counts))
    values = np.empty(total, dtype=np.float32)
    for k in range(0, total, BLOCK):
        tell(0.9 * k / total, "Rebuilding the surface")
        at = np.column_stack(np.unravel_index(np.arange(k, min(total, k + BLOCK)), tuple(counts)))
        values[k : k + BLOCK] = igl.fast_winding_number(mesh.vertices, mesh.faces, low + fineness_mm * at)
    field = values.reshape(tuple(counts))
    if field.max() < 0.5:
        raise StepRefused("Nothing of the model is solid enough to rebuild a surface around. Fill its holes first.")
    vertices, faces, _, _ = marching_cubes(field, 0.5, spacing=(fineness_mm,) * 3, gradient_direction="ascent")  # type: ignore[no-untyped-call]
    out = Mesh(_onto(mesh, vertices.astype(np.float64) + low, fineness_mm), np.ascontiguousarray(faces, dtype=np.int64))
    return out if out.volume_mm3 > 0 else Mesh(out.vertices, np.ascontiguousarray(out.faces[:, ::-1]))


def _onto(mesh: Mesh, vertices: Points, fineness_mm: float) -> Points:
    """Vertices near the old surface are drawn onto it; those that bridge a hole stay."""
    import igl

    tree = igl.AABB()
    tree.init(mesh.vertices, mesh.faces)
    squared, _, nearest = tree.squared_distance(mesh.vertices, mesh.faces, np.ascontiguousarray(vertices))
    near = np.sqrt(squared) < 0.5 * fineness_mm
    return np.where(near[:, None], nearest, vertices)
