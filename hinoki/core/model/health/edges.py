"""Open edges by loop, crowded edges, faces turned over, duplicates and slivers."""

import numpy as np

from hinoki.core.geometry.equal_rows import different
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.model.health.report import MOST_LINE_POINTS, MOST_PLACES, Issue, Place, face_places

SLIVER = 2e-4
"""a face whose height is below this share of its longest side, or below SLIVER_MM"""
SLIVER_MM = 1e-4


def open_loops(mesh: Mesh) -> list[Points]:
    """The borders of the surface, each a ring of points (n, 3), longest first."""
    numbers, low, high = mesh.edge_table
    uses = np.bincount(numbers, minlength=len(low))
    once = uses % 2 == 1
    a, b = low[once], high[once]
    if len(a) == 0:
        return []
    rings = _rings(a, b)
    points = [mesh.vertices[r] for r in rings]
    return sorted(points, key=lambda p: -loop_length(p))


def loop_length(ring: Points) -> float:
    """Length of a closed ring (n, 3)."""
    return float(np.linalg.norm(np.roll(ring, -1, axis=0) - ring, axis=1).sum())


def _rings(a: Faces, b: Faces) -> list[Faces]:
    """Chain undirected edges into rings (or open runs) of vertex numbers, in a fixed order."""
    near: dict[int, list[int]] = {}
    for one, two in zip(a.tolist(), b.tolist(), strict=True):
        near.setdefault(one, []).append(two)
        near.setdefault(two, []).append(one)
    found = []
    for first in sorted(near):
        while near[first]:
            ring, place, at = [first], {first: 0}, first
            while near[at]:
                after = near[at].pop()
                near[after].remove(at)
                if after == first:
                    break
                if after in place:  # the border touches itself: the small ring is a hole of its own
                    found.append(np.array(ring[place[after] :]))
                    for gone in ring[place[after] + 1 :]:
                        del place[gone]
                    ring = ring[: place[after] + 1]
                else:
                    place[after] = len(ring)
                    ring.append(after)
                at = after
            found.append(np.array(ring))
    return [r for r in found if len(r) >= 2]


def open_issue(mesh: Mesh) -> Issue | None:
    """Open edges, by loop."""
    loops = open_loops(mesh)
    if not loops:
        return None
    places = []
    for ring in loops[:MOST_PLACES]:
        middle = ring.mean(axis=0)
        length = loop_length(ring)
        line = np.stack([ring, np.roll(ring, -1, axis=0)], axis=1).reshape(-1, 3)[:MOST_LINE_POINTS]
        reach = float(np.linalg.norm(ring - middle, axis=1).max())
        places.append(Place(middle, reach, line, f"{len(ring)} edges, {length:.1f} mm around"))
    edges = sum(len(r) for r in loops)
    return Issue(
        "surface-open",
        "must-fix",
        len(loops),
        {"edges": edges, "around_mm": float(loop_length(loops[0]))},
        places,
    )


def crowded_issue(mesh: Mesh) -> Issue | None:
    """Edges shared by more than two faces."""
    numbers, low, _ = mesh.edge_table
    uses = np.bincount(numbers, minlength=len(low))
    crowded = uses > 2
    if not crowded.any():
        return None
    faces = np.unique(np.repeat(np.arange(len(mesh.faces)), 3)[crowded[numbers]])
    closed = mesh.edges.closed
    return Issue(
        "edges-crowded",
        "note" if closed else "must-fix",
        int(crowded.sum()),
        {"closed": bool(closed)},
        face_places(mesh, faces),
    )


def flipped_faces(faces: Faces) -> Faces:
    """Indices of faces turned over against the most of their neighbours."""
    import igl

    if len(faces) == 0:
        return np.zeros(0, np.int64)
    oriented, patch = igl.bfs_orient(faces)
    turned = (oriented[:, 0] != faces[:, 0]) | (oriented[:, 1] != faces[:, 1])
    each = np.bincount(patch, minlength=int(patch.max()) + 1)
    own = np.bincount(patch, weights=turned, minlength=len(each))
    minority = np.where((own > each / 2)[patch], ~turned, turned)
    return np.flatnonzero(minority)


def flipped_issue(mesh: Mesh) -> Issue | None:
    """Faces turned over against their neighbours."""
    if mesh.edges.turned == 0:
        return None
    faces = flipped_faces(mesh.faces)
    return Issue(
        "faces-flipped",
        "must-fix",
        len(faces),
        {},
        face_places(mesh, faces),
    )


def duplicate_faces(faces: Faces) -> Faces:
    """Indices of faces that use the same three corners as an earlier one."""
    keep = np.zeros(len(faces), dtype=bool)
    keep[different(np.sort(faces, axis=1)).first] = True
    return np.flatnonzero(~keep)


def duplicate_issue(mesh: Mesh) -> Issue | None:
    """Faces that are there more than once."""
    numbers, low, _ = mesh.edge_table
    if not (np.bincount(numbers, minlength=len(low)) > 2).any():
        return None  # a duplicate face crowds its edges
    faces = duplicate_faces(mesh.faces)
    if len(faces) == 0:
        return None
    return Issue(
        "faces-duplicate",
        "look-at",
        len(faces),
        {},
        face_places(mesh, faces),
    )


def sliver_faces(mesh: Mesh) -> Faces:
    """Indices of faces that are all but a line."""
    return np.flatnonzero(mesh.face_heights < np.maximum(SLIVER * mesh.longest_sides, SLIVER_MM))


def sliver_issue(mesh: Mesh) -> Issue | None:
    """Faces that are all but a line."""
    faces = sliver_faces(mesh)
    if len(faces) == 0:
        return None
    return Issue(
        "faces-sliver",
        "note",
        len(faces),
        {},
        face_places(mesh, faces),
    )
