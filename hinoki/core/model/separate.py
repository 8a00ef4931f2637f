"""The separate things in a model file: its objects, or, where it holds a single one, the bodies of it that do not touch."""

import numpy as np

from hinoki.core.formats.base import ModelFile, NamedMesh
from hinoki.core.geometry.lumps import lumps_of
from hinoki.core.geometry.mesh import Faces, Mesh


def separate_bodies(file: ModelFile) -> tuple[NamedMesh, ...]:
    """What of a file can be a part of its own, in the file's own numbers.

    Objects where the file names several, in their order. Else the lumps of its surface, the largest first, each with the
    cavities in it: a surface that looks inwards belongs to the smallest body whose box holds it.
    """
    if len(file.objects) != 1:
        return file.objects
    whole = file.objects[0]
    count, lump = lumps_of(whole.mesh)
    if count < 2:
        return file.objects
    surfaces = [whole.mesh.only(np.flatnonzero(lump == k)) for k in range(count)]
    owners = _owners(surfaces)
    bodies = sorted((k for k in range(count) if owners[k] == k), key=lambda k: (-round(surfaces[k].volume_mm3, 3), k))
    name = whole.name or "Body"
    return tuple(
        NamedMesh(f"{name} {n}", whole.mesh.only(np.flatnonzero(np.isin(lump, np.flatnonzero(owners == k)))))
        for n, k in enumerate(bodies, 1)
    )


def _owners(surfaces: list[Mesh]) -> Faces:
    """Of every surface the body it is of, (n,): itself, or for a cavity the smallest body round it."""
    boxes = np.array([np.concatenate(s.bounds) for s in surfaces])
    volumes = np.array([s.volume_mm3 for s in surfaces])
    owners = np.arange(len(surfaces))
    for k in np.flatnonzero(volumes < 0):
        round_it = (boxes[:, :3] <= boxes[k, :3]).all(axis=1) & (boxes[:, 3:] >= boxes[k, 3:]).all(axis=1)
        holds = np.flatnonzero(round_it & (volumes > -volumes[k]))
        if len(holds):
            owners[k] = holds[np.argmin(volumes[holds])]
    return owners
