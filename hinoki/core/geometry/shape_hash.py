"""A name for a shape that depends on the shape alone: not on the order of triangles, nor on how flat areas are divided."""

import hashlib
from typing import Any

import numpy as np

from hinoki.core.geometry.mesh import Mesh, row_codes
from hinoki.core.geometry.shape import mesh_of
from hinoki.core.geometry.solid import Solid

STEP_MM = 1e-4
"""corners nearer than this are the same; what is printed differs by far more"""


def shape_hash(body: Solid | Mesh) -> str:
    """Hash of a body's corners (in steps of STEP_MM), volume and surface: equal for equal shapes, 32 hex digits.

    Corners count as a set: each is mixed to a number of 64 bits (the finalizer of splitmix64, Steele et al. 2014), and these
    are added up, once as they are and once mixed again.
    """
    mesh = mesh_of(body)
    if not len(mesh.faces):
        return hashlib.blake2b(b"nothing", digest_size=16).hexdigest()
    corners = np.round(mesh.vertices / STEP_MM).astype(np.int64).view(np.uint64)
    with np.errstate(over="ignore"):
        mixed = _mixed(row_codes(corners))
        sums = mixed.sum(dtype=np.uint64), _mixed(mixed).sum(dtype=np.uint64)
    area = float(mesh.face_areas.sum())
    figures = [len(corners), int(sums[0]), int(sums[1]), round(mesh.volume_mm3, 2) + 0.0, round(area, 2)]
    return hashlib.blake2b(repr(figures).encode(), digest_size=16).hexdigest()


def _mixed(values: Any) -> Any:
    one = (values ^ (values >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    two = (one ^ (one >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return two ^ (two >> np.uint64(31))
