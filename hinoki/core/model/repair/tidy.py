"""Mild repairs: merging corners, dropping duplicates and slivers, turning faces round, dropping specks."""

import numpy as np

from hinoki.core.geometry.equal_rows import different
from hinoki.core.geometry.lumps import lumps_of
from hinoki.core.geometry.mesh import Faces, Mesh
from hinoki.core.model.health.components import inside_out, specks_of, split_lumps
from hinoki.core.model.health.edges import duplicate_faces


def merged(mesh: Mesh, within_mm: float) -> Mesh:
    """Vertices closer than about `within_mm` become one; faces that collapse are gone."""
    grid = np.round(mesh.vertices / within_mm).astype(np.int64)
    places = different(grid)
    return compact(Mesh(mesh.vertices[places.first], _whole(places.number[mesh.faces])))


def without_duplicates(mesh: Mesh) -> Mesh:
    """Faces on the same three corners: the second is dropped, and both where they face each other."""
    sets = different(np.sort(mesh.faces, axis=1))
    if (sets.counts == 1).all():
        return mesh
    keep = np.ones(len(mesh.faces), dtype=bool)
    keep[duplicate_faces(mesh.faces)] = False
    lead = np.argmin(mesh.faces, axis=1)
    turned = mesh.faces[np.arange(len(lead)), (lead + 1) % 3] > mesh.faces[np.arange(len(lead)), (lead + 2) % 3]
    one_way = np.bincount(sets.number, weights=np.where(turned, 1, -1))
    keep &= ~((sets.counts == 2) & (one_way == 0))[sets.number]
    return compact(Mesh(mesh.vertices, mesh.faces[keep]))


def without_slivers(mesh: Mesh, height_mm: float) -> Mesh:
    """Slivers with a side shorter than `height_mm` go by merging that side's ends."""
    corners = mesh.vertices[mesh.faces]
    sides = np.linalg.norm(np.roll(corners, -1, axis=1) - corners, axis=2)
    short = np.argwhere(sides < height_mm)
    if len(short) == 0:
        return mesh
    a = mesh.faces[short[:, 0], short[:, 1]]
    b = mesh.faces[short[:, 0], (short[:, 1] + 1) % 3]
    target = np.arange(len(mesh.vertices))
    for _ in range(8):  # chains of short sides gather at their lowest vertex
        low = np.minimum(target[a], target[b])
        np.minimum.at(target, a, low)
        np.minimum.at(target, b, low)
        target = target[target]
    return compact(Mesh(mesh.vertices, _whole(target[mesh.faces])))


def oriented(mesh: Mesh) -> Mesh:
    """All faces of a lump look the same way, closed lumps outwards; a cavity inside another lump looks inwards."""
    import igl

    faces, _ = igl.bfs_orient(mesh.faces)
    faces = np.ascontiguousarray(faces, dtype=np.int64)
    count, own = lumps_of(Mesh(mesh.vertices, faces))
    corner = mesh.vertices[faces[:, 0]] - mesh.vertices.mean(axis=0)
    cross = Mesh(mesh.vertices, faces).face_vectors
    volumes = np.bincount(own, weights=np.einsum("ij,ij->i", corner, cross) / 6, minlength=count)
    turned = volumes[own] < 0
    faces[turned] = faces[turned][:, ::-1]
    out = Mesh(mesh.vertices, faces)
    return out if count == 1 else _cavities_turned(out, mesh)


def _cavities_turned(out: Mesh, before: Mesh) -> Mesh:
    """Lumps that were cavities before (inside another lump and looking inwards) look inwards again."""
    lumps = split_lumps(before)
    wrong = set(inside_out(lumps))
    cavities = {k for k, lump in enumerate(lumps) if lump.closed and lump.volume_mm3 < 0} - wrong
    if not cavities:
        return out
    _, own = lumps_of(out)
    back = np.isin(own, sorted(cavities))
    faces = out.faces.copy()
    faces[back] = faces[back][:, ::-1]
    return Mesh(out.vertices, faces)


def without_specks(mesh: Mesh) -> tuple[Mesh, int]:
    """The mesh without tiny loose lumps, and how many went."""
    lumps = split_lumps(mesh)
    specks = specks_of(lumps)
    if not specks:
        return mesh, 0
    _, own = lumps_of(mesh)
    return compact(Mesh(mesh.vertices, mesh.faces[~np.isin(own, specks)])), len(specks)


def compact(mesh: Mesh) -> Mesh:
    """The mesh with only the vertices it uses."""
    used, inverse = np.unique(mesh.faces, return_inverse=True)
    return Mesh(mesh.vertices[used], inverse.reshape(-1, 3).astype(np.int64))


def _whole(faces: Faces) -> Faces:
    keep = (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])
    return np.ascontiguousarray(faces[keep], dtype=np.int64)
