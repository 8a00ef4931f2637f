"""Faces that go through one another (pymeshfix's exact triangle tests)."""

import contextlib
import os
import sys
from collections.abc import Iterator
from typing import TYPE_CHECKING

import numpy as np

from hinoki.core.geometry.mesh import Faces, Mesh
from hinoki.core.model.health.report import Issue, face_places

if TYPE_CHECKING:
    import pymeshfix

MOST_FACES = 3_000_000


@contextlib.contextmanager
def hushed() -> Iterator[None]:
    """The library writes its progress to the process's output; that goes nowhere while inside."""
    sys.stdout.flush()
    sys.stderr.flush()
    kept = os.dup(1), os.dup(2)
    nowhere = os.open(os.devnull, os.O_WRONLY)
    try:
        os.dup2(nowhere, 1)
        os.dup2(nowhere, 2)
        yield
    finally:
        os.dup2(kept[0], 1)
        os.dup2(kept[1], 2)
        for handle in (*kept, nowhere):
            os.close(handle)


def loaded(mesh: Mesh) -> "pymeshfix.PyTMesh":
    """The mesh in the library's own form."""
    import pymeshfix

    tool = pymeshfix.PyTMesh()
    tool.set_quiet(True)
    tool.load_array(np.ascontiguousarray(mesh.vertices), np.ascontiguousarray(mesh.faces, dtype=np.int32))
    return tool


def through_faces(mesh: Mesh) -> Faces:
    """Indices of faces that cut another face; none where the library cannot take the mesh as it is."""
    with hushed():
        tool = loaded(mesh)
        if tool.n_faces != len(mesh.faces):  # it has cut the surface up to make sense of it, so numbers no longer match
            return _by_corners(mesh, tool)
        found = _selected(tool)
    return np.unique(found)


def _selected(tool: "pymeshfix.PyTMesh") -> Faces:
    """The library gives one number a row, though in an array three wide; only the first so many are filled."""
    rows = np.asarray(tool.select_intersecting_triangles(justproper=True), dtype=np.int64)
    return rows.ravel()[: len(rows)]


def _by_corners(mesh: Mesh, tool: "pymeshfix.PyTMesh") -> Faces:
    from scipy.spatial import cKDTree

    found = _selected(tool)
    if len(found) == 0:
        return np.zeros(0, np.int64)
    points, faces = tool.return_arrays()
    middles = points[faces[found]].mean(axis=1)
    _, nearest = cKDTree(mesh.vertices[mesh.faces].mean(axis=1)).query(middles)
    return np.unique(nearest)


def through_issue(mesh: Mesh) -> Issue | None:
    """Faces through one another as a finding."""
    if len(mesh.faces) > MOST_FACES:
        return None
    faces = through_faces(mesh)
    if len(faces) == 0:
        return None
    return Issue(
        "faces-through",
        "look-at",
        len(faces),
        {},
        face_places(mesh, faces),
    )
