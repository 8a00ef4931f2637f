"""Filling holes: flat, or smooth so that the patch carries on the surface around it."""

import numpy as np

from hinoki.core.errors import HinokiError
from hinoki.core.geometry.lumps import directed_edges
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.geometry.solid import triangulated
from hinoki.core.model.health.self_intersections import hushed, loaded

LONGEST_LOOP = 50_000


def filled(mesh: Mesh, smooth: bool) -> tuple[Mesh, int]:
    """The mesh with its holes closed, and how many were closed. Needs faces that agree on their way round."""
    loops = border_loops(mesh)
    if not loops:
        return mesh, 0
    if smooth:
        return _smooth(mesh, len(loops))
    patches = [_flat_patch(mesh.vertices, loop) for loop in loops if 3 <= len(loop) <= LONGEST_LOOP]
    good = [p for p in patches if len(p)]
    if not good:
        return mesh, 0
    return Mesh(mesh.vertices, np.concatenate([mesh.faces, *good])), len(good)


def border_loops(mesh: Mesh) -> list[Faces]:
    """Rings of vertex numbers along which faces are missing, running as the missing faces would."""
    numbers, low, _ = mesh.edge_table
    start, end, _ = directed_edges(mesh.faces)
    once = (np.bincount(numbers, minlength=len(low)) == 1)[numbers]
    after: dict[int, list[int]] = {}
    for one, two in zip(end[once].tolist(), start[once].tolist(), strict=True):
        after.setdefault(one, []).append(two)
    found = []
    for first in sorted(after):
        while after.get(first):
            ring, at = [first], after[first].pop()
            while at != first and after.get(at):
                if at in ring:  # the border touches itself: the small ring is a hole of its own
                    cut = ring.index(at)
                    found.append(np.array(ring[cut:]))
                    ring = ring[:cut]
                ring.append(at)
                at = after[at].pop()
            if at == first and len(ring) >= 3:
                found.append(np.array(ring))
    return [r for r in found if len(r) >= 3]


def _flat_patch(vertices: Points, loop: Faces) -> Faces:
    """Triangles over a ring, laid out in the plane that suits it best."""
    points = vertices[loop]
    following = np.roll(points, -1, axis=0)
    normal = np.cross(points - points.mean(axis=0), following - points.mean(axis=0)).sum(axis=0)
    length = float(np.linalg.norm(normal))
    if length < 1e-12:
        return np.array([[loop[0], loop[k], loop[k + 1]] for k in range(1, len(loop) - 1)], dtype=np.int64)
    normal /= length
    u = np.cross(normal, np.eye(3)[int(np.argmin(np.abs(normal)))])
    u /= np.linalg.norm(u)
    flat = np.column_stack([points @ u, points @ np.cross(normal, u)])
    faces = triangulated(flat)
    if len(faces) != len(loop) - 2:  # the ring crosses itself in the plane: a fan closes it all the same
        faces = np.array([[0, k, k + 1] for k in range(1, len(loop) - 1)], dtype=np.int64)
    return np.asarray(loop[faces], dtype=np.int64)


def _smooth(mesh: Mesh, count: int) -> tuple[Mesh, int]:
    """pymeshfix's patches, refined and fitted to the surface around them."""
    with hushed():
        tool = loaded(mesh)
        tool.fill_small_boundaries(0, True)
        vertices, faces = tool.return_arrays()
    if len(faces) == 0:
        raise HinokiError("Filling the holes smoothly left nothing of the surface. Fill them flat, or rebuild it.", "repair")
    return Mesh(np.asarray(vertices, dtype=np.float64), np.asarray(faces, dtype=np.int64)), count
