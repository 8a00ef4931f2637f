"""Which writer makes which file, by its ending."""

from collections.abc import Callable, Sequence
from pathlib import PurePath

import numpy as np

from hinoki.core.errors import BadPlan
from hinoki.core.formats.base import NamedMesh
from hinoki.core.formats.gltf import write_glb
from hinoki.core.formats.obj import write_obj
from hinoki.core.formats.ply import write_ply
from hinoki.core.formats.stl import write_stl
from hinoki.core.formats.threemf_write import Placed, write_3mf
from hinoki.core.geometry.mesh import rounded_to_single, stacked


def _one_stl(objects: Sequence[NamedMesh]) -> bytes:
    return write_stl(stacked([o.mesh for o in objects]))


def _one_ply(objects: Sequence[NamedMesh]) -> bytes:
    return write_ply(stacked([o.mesh for o in objects]))


def _3mf(objects: Sequence[NamedMesh]) -> bytes:
    return write_3mf([Placed(o.name, o.mesh, "", np.zeros(3)) for o in objects])


WRITERS: dict[str, Callable[[Sequence[NamedMesh]], bytes]] = {
    ".stl": _one_stl,
    ".3mf": _3mf,
    ".obj": write_obj,
    ".ply": _one_ply,
    ".glb": write_glb,
}


def write_file(objects: Sequence[NamedMesh], file_name: str) -> bytes:
    """The objects, in millimetres, in the format of the file's ending. STL and PLY hold them as one. Raises BadPlan."""
    ending = PurePath(file_name).suffix.lower()
    if ending not in WRITERS:
        known = ", ".join(e[1:].upper() for e in WRITERS)
        raise BadPlan(f"Files ending in {ending or 'nothing'} cannot be written; choose one of {known}.", "file name")
    return WRITERS[ending]([NamedMesh(o.name, rounded_to_single(o.mesh)) for o in objects])
