"""A piece's surface as orientation sees it: each face by what it is for, normals gathered so that many directions are quick."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.geometry.raycast import Rays
from hinoki.core.geometry.solid import Solid

PLAIN, SHOW, MATING, JOINT = range(4)
"""what a face is for: nothing in particular, to be seen, to meet another piece, part of a joint or a mark"""
KINDS = 4
ON_PLANE_MM = 0.02
STEPS = 64
"""normals are gathered in bins of about a degree"""


@dataclass(frozen=True)
class Surface:
    """A mesh, what each of its faces is for (m,), and its hull."""

    mesh: Mesh
    kinds: Faces
    hull: Mesh
    centre: Points
    """centre of mass (3,)"""
    volume_mm3: float

    @property
    def areas(self) -> Points:
        """Of the faces, (m,)."""
        return self.mesh.face_areas

    @cached_property
    def rays(self) -> Rays:
        """For rays against it."""
        return Rays(self.mesh)

    @cached_property
    def bins(self) -> tuple[Points, Points]:
        """Directions (b, 3) and the area of the faces that look so, by kind (b, KINDS)."""
        keep = self.areas > 0
        normals = self.mesh.face_normals[keep]
        grid = np.round(normals * STEPS).astype(np.int64) + STEPS
        code = (grid[:, 0] * (2 * STEPS + 1) + grid[:, 1]) * (2 * STEPS + 1) + grid[:, 2]
        codes, inverse = np.unique(code, return_inverse=True)
        areas = np.zeros((len(codes), KINDS))
        np.add.at(areas, (inverse, self.kinds[keep]), self.areas[keep])
        means = np.zeros((len(codes), 3))
        np.add.at(means, inverse, normals * self.areas[keep, None])
        lengths = np.linalg.norm(means, axis=1, keepdims=True)
        return means / np.maximum(lengths, 1e-12), areas

    @property
    def has_show(self) -> bool:
        """Whether anything of it is to be seen."""
        return bool((self.kinds == SHOW).any())


def surface_of(solid: Solid, planes: Sequence[Frame] = (), shown: Faces | None = None) -> Surface:
    """A finished piece with what its faces are for: those in `planes` meet others, those cut otherwise are of joints.

    Of the model's own faces those in `shown` (their numbers) are to be seen.
    """
    mesh, sources = solid.mesh, solid.source_faces
    kinds = np.full(len(mesh.faces), PLAIN, dtype=np.int64)
    own = sources >= 0
    if shown is not None and len(shown):
        kinds[own & np.isin(sources, shown)] = SHOW
    cut = ~own if own.any() else np.zeros(len(kinds), dtype=bool)
    kinds[cut] = JOINT
    corners = mesh.vertices[mesh.faces]
    for frame in planes:
        flat = (np.abs((corners - frame.origin) @ frame.n) < ON_PLANE_MM).all(axis=1)
        kinds[cut & flat] = MATING
    return Surface(mesh, kinds, solid.hull.mesh, solid.centre_of_mass, solid.volume_mm3)
