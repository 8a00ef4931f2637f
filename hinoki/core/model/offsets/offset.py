"""The surface a wanted distance inside a solid: exact distances on a grid, only where they matter, then marching cubes."""

import numpy as np

from hinoki.core.errors import StepRefused
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.progress import Tell

COARSE, MIDDLE = 6, 2
"""fine cells along a cell of the coarse and of the middle grid"""
HALF_DIAGONAL = 3**0.5 / 2
MOST_CELLS = 90_000_000
BLOCK = 60_000


def inner_offset(mesh: Mesh, depth_mm: float, cell_mm: float, tell: Tell) -> Mesh | None:
    """The surface `depth_mm` inside a closed `mesh`, looking outwards, or None where nothing is that deep.

    Distances are exact (libigl) at every grid point within two cells of the wanted depth; farther off only their side of
    it matters. After marching cubes the corners are moved along the distance's slope once, which takes off the rest.
    Raises StepRefused when the grid would be too fine for the model.
    """
    from skimage.measure import marching_cubes

    low, high = mesh.bounds
    counts = np.ceil((high - low) / cell_mm / COARSE).astype(int) + 1
    if int(np.prod(counts * COARSE + 1)) > MOST_CELLS:
        raise StepRefused(f"A fineness of {cell_mm:g} mm is too fine for a model of this size. Use a coarser one.")
    tree = Distances(mesh)
    values = _field(tree, low, counts, depth_mm, cell_mm, tell)
    if values.max() <= 0:
        return None
    tell(0.85, "Drawing the inner surface")
    values[[0, -1], :, :] = values[:, [0, -1], :] = values[:, :, [0, -1]] = np.minimum(values[[0], :, :].min(), -cell_mm)
    vertices, faces, _, _ = marching_cubes(values, 0.0, spacing=(cell_mm,) * 3, gradient_direction="ascent")  # type: ignore[no-untyped-call]
    vertices = vertices.astype(np.float64) + low
    vertices = _drawn_to(tree, vertices, depth_mm, cell_mm)
    inner = Mesh(vertices, np.ascontiguousarray(faces, dtype=np.int64))
    return inner if inner.volume_mm3 > 0 else Mesh(vertices, np.ascontiguousarray(inner.faces[:, ::-1]))


def walled(mesh: Mesh, wall_mm: float, cell_mm: float, tell: Tell) -> Mesh:
    """The surface half of `wall_mm` off an open sheet on either side, closed around its rims, looking outwards.

    Raises StepRefused when the grid would be too fine for the model.
    """
    from skimage.measure import marching_cubes

    half, room = wall_mm / 2, wall_mm + 2 * COARSE * cell_mm
    low, high = mesh.bounds[0] - room, mesh.bounds[1] + room
    counts = np.ceil((high - low) / cell_mm / COARSE).astype(int) + 1
    if int(np.prod(counts * COARSE + 1)) > MOST_CELLS:
        raise StepRefused(f"A fineness of {cell_mm:g} mm is too fine for a model of this size. Use a thicker wall.")
    tree = _OfSheet(mesh)
    values = -_field(tree, low, counts, half, cell_mm, tell)
    tell(0.85, "Drawing the wall")
    vertices, faces, _, _ = marching_cubes(values, 0.0, spacing=(cell_mm,) * 3, gradient_direction="ascent")  # type: ignore[no-untyped-call]
    vertices = _drawn_to(tree, vertices.astype(np.float64) + low, half, cell_mm)
    out = Mesh(vertices, np.ascontiguousarray(faces, dtype=np.int64))
    return out if out.volume_mm3 > 0 else Mesh(vertices, np.ascontiguousarray(out.faces[:, ::-1]))


class Distances:
    """Distances to a surface, and which points are inside it."""

    def __init__(self, mesh: Mesh) -> None:
        import igl

        self.mesh = mesh
        self._tree = igl.AABB()
        self._tree.init(mesh.vertices, mesh.faces)

    def nearest(self, points: Points) -> tuple[Points, Points]:
        """Distance (n,) and nearest point (n, 3)."""
        squared, _, nearest = self._tree.squared_distance(self.mesh.vertices, self.mesh.faces, np.ascontiguousarray(points))
        return np.sqrt(np.maximum(squared, 0)), np.asarray(nearest)

    def inside(self, points: Points) -> "np.ndarray":
        """Which points are inside, by their winding number (Barill et al. 2018)."""
        import igl

        winding = igl.fast_winding_number(self.mesh.vertices, self.mesh.faces, np.ascontiguousarray(points))
        return np.asarray(winding) > 0.5


class _OfSheet(Distances):
    """Distances to a sheet, which has no inside: all count as they are."""

    def inside(self, points: Points) -> "np.ndarray":
        """Every point: nothing is below zero."""
        return np.ones(len(points), dtype=bool)


def _field(tree: Distances, low: Points, counts: Points, depth: float, cell: float, tell: Tell) -> "np.ndarray":
    """Depth below the surface minus `depth`, on a grid with `counts` coarse cells; exact near zero.

    Three grids, each only where the one before leaves the wanted depth possible: a distance changes by at most what one moves.
    """
    coarse, middle = cell * COARSE, cell * MIDDLE
    shape = tuple(int(c) for c in counts)
    every = np.argwhere(np.ones(shape, dtype=bool))
    rough = _depths(tree, low + coarse * (every + 0.5), np.inf, tell, (0.0, 0.2)) - depth
    near = every[np.abs(rough) < coarse * HALF_DIAGONAL + (HALF_DIAGONAL + 1) * middle]
    third = COARSE // MIDDLE
    within = np.argwhere(np.ones((third,) * 3, dtype=bool))
    cells = (near[:, None, :] * third + within[None]).reshape(-1, 3)
    fair = _depths(tree, low + middle * (cells + 0.5), np.inf, tell, (0.2, 0.45)) - depth
    values = np.repeat(np.repeat(np.repeat(rough.reshape(shape), third, 0), third, 1), third, 2).astype(np.float32)
    values[cells[:, 0], cells[:, 1], cells[:, 2]] = fair
    reach = middle * HALF_DIAGONAL + 1.75 * cell
    cells = cells[np.abs(fair) < reach]
    values = np.repeat(np.repeat(np.repeat(values, MIDDLE, 0), MIDDLE, 1), MIDDLE, 2)
    values = np.pad(values, ((0, 1),) * 3, mode="edge")
    corners = np.argwhere(np.ones((MIDDLE + 1,) * 3, dtype=bool))
    wanted = np.zeros(values.shape, dtype=bool)
    for k in range(0, len(cells), 20_000):
        at = (cells[k : k + 20_000, None, :] * MIDDLE + corners[None]).reshape(-1, 3)
        wanted[at[:, 0], at[:, 1], at[:, 2]] = True
    points = np.argwhere(wanted)
    # a point of such a cell is outside only when it is this close to the surface
    doubt = reach + HALF_DIAGONAL * middle - depth
    values[wanted] = _depths(tree, low + cell * points, doubt, tell, (0.45, 0.85)) - depth
    return values


def _depths(tree: Distances, points: Points, doubt: float, tell: Tell, share: tuple[float, float]) -> Points:
    """Depth of points below the surface, negative outside; points further than `doubt` from it are known to be inside."""
    out = np.empty(len(points))
    for k in range(0, len(points), BLOCK):
        tell(share[0] + (share[1] - share[0]) * k / len(points), "Measuring depths")
        part = np.ascontiguousarray(points[k : k + BLOCK], dtype=np.float64)
        distance, _ = tree.nearest(part)
        close = np.flatnonzero(distance < doubt)
        outside = close[~tree.inside(part[close])] if len(close) else close
        distance[outside] *= -1
        out[k : k + BLOCK] = distance
    return out


def _drawn_to(tree: Distances, vertices: Points, depth: float, cell: float) -> Points:
    """Vertices moved straight away from (or towards) the nearest surface until they are `depth` deep.

    Where the nearest point jumps (at creases of the inner surface) a vertex stays within a quarter of a cell.
    """
    distance, nearest = tree.nearest(vertices)
    way = vertices - nearest
    length = np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-12)
    shift = np.clip(depth - distance, -cell / 4, cell / 4)
    return np.asarray(vertices + way / length * shift[:, None])


def cavity_of(solid: Solid, wall_mm: float, cell_mm: float, tell: Tell) -> Solid | None:
    """The cavity that leaves a wall of `wall_mm`, or None where the solid is nowhere thick enough."""
    inner = inner_offset(solid.mesh, wall_mm, cell_mm, tell)
    if inner is None:
        return None
    cavity = Solid.from_mesh(inner)
    lumps = [lump for lump in cavity.lumps() if lump.volume_mm3 > (2 * cell_mm) ** 3]
    return Solid.united(lumps) if lumps else None
