"""Rays against a surface (embreex, single precision)."""

import os
import threading
from concurrent.futures import ThreadPoolExecutor
from functools import cache

import numpy as np
from embreex import rtcore_scene
from embreex.mesh_construction import TriangleMesh

from hinoki.core.geometry.mesh import Faces, Mesh, Points

BLOCK = 50_000
"""rays cast at once, by one thread"""


class Rays:
    """A surface that rays can be cast against; building it takes about a second for a million triangles."""

    def __init__(self, mesh: Mesh) -> None:
        self._middle = (mesh.bounds[0] + mesh.bounds[1]) / 2
        self._scene = rtcore_scene.EmbreeScene()
        self._settled, self._settling = False, threading.Lock()
        corners = (mesh.vertices - self._middle)[mesh.faces]
        self._kept = TriangleMesh(self._scene, np.ascontiguousarray(corners, dtype=np.float32))

    def first(self, starts: Points, directions: Points) -> tuple[Points, Faces]:
        """Distance to the first hit of each ray (n,) and the face hit; infinity and −1 where there is none."""
        distance = np.full(len(starts), np.inf)
        face = np.full(len(starts), -1, dtype=np.int64)

        def cast(part: slice) -> None:
            out = self._scene.run(
                np.ascontiguousarray(starts[part] - self._middle, dtype=np.float32),
                np.ascontiguousarray(directions[part], dtype=np.float32),
                query="INTERSECT",
                output=True,
            )
            hit = out["primID"] >= 0
            distance[part][hit] = out["tfar"][hit]
            face[part][hit] = out["primID"][hit]

        parts = [slice(k, k + BLOCK) for k in range(0, len(starts), BLOCK)]
        with self._settling:
            if parts and not self._settled:
                cast(parts.pop(0))  # the first to ask has the scene put in order, which only one may do
                self._settled = True
        if len(parts) > 1:
            list(_hands().map(cast, parts))
        elif parts:
            cast(parts[0])
        return distance, face


@cache
def _hands() -> ThreadPoolExecutor:
    """As many threads as there are cores: embree lets go of Python's lock while it casts, and no ray knows of another."""
    return ThreadPoolExecutor(os.cpu_count(), thread_name_prefix="rays")
