"""Rays against a surface (embreex, single precision)."""

import numpy as np
from embreex import rtcore_scene
from embreex.mesh_construction import TriangleMesh

from hinoki.core.geometry.mesh import Faces, Mesh, Points

BLOCK = 500_000


class Rays:
    """A surface that rays can be cast against; building it takes about a second for a million triangles."""

    def __init__(self, mesh: Mesh) -> None:
        self._middle = (mesh.bounds[0] + mesh.bounds[1]) / 2
        self._scene = rtcore_scene.EmbreeScene()
        corners = (mesh.vertices - self._middle)[mesh.faces]
        self._kept = TriangleMesh(self._scene, np.ascontiguousarray(corners, dtype=np.float32))

    def first(self, starts: Points, directions: Points) -> tuple[Points, Faces]:
        """Distance to the first hit of each ray (n,) and the face hit; infinity and −1 where there is none."""
        distance = np.full(len(starts), np.inf)
        face = np.full(len(starts), -1, dtype=np.int64)
        for k in range(0, len(starts), BLOCK):
            part = slice(k, k + BLOCK)
            out = self._scene.run(
                np.ascontiguousarray(starts[part] - self._middle, dtype=np.float32),
                np.ascontiguousarray(directions[part], dtype=np.float32),
                query="INTERSECT",
                output=True,
            )
            hit = out["primID"] >= 0
            distance[part][hit] = out["tfar"][hit]
            face[part][hit] = out["primID"][hit]
        return distance, face
