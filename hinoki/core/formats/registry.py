"""Which reader takes which file, by its ending."""

from collections.abc import Callable
from pathlib import PurePath

from hinoki.core.errors import UnreadableModel
from hinoki.core.formats.base import ModelFile, NamedMesh
from hinoki.core.formats.gltf import read_glb, read_gltf
from hinoki.core.formats.obj import read_obj
from hinoki.core.formats.off import read_off
from hinoki.core.formats.ply import read_ply
from hinoki.core.formats.step import read_step
from hinoki.core.formats.stl import read_stl
from hinoki.core.formats.threemf_read import read_3mf


def _stl(data: bytes) -> ModelFile:
    return ModelFile((NamedMesh("", read_stl(data)),))


READERS: dict[str, Callable[[bytes], ModelFile]] = {
    ".stl": _stl,
    ".3mf": read_3mf,
    ".obj": read_obj,
    ".ply": read_ply,
    ".off": read_off,
    ".glb": read_glb,
    ".gltf": read_gltf,
    ".step": read_step,
    ".stp": read_step,
}


def read_file(data: bytes, file_name: str) -> ModelFile:
    """Read a model file by its ending. Objects without a name get the file's. Raises UnreadableModel."""
    path = PurePath(file_name)
    ending = path.suffix.lower()
    if ending not in READERS:
        known = ", ".join(sorted(e[1:].upper() for e in READERS))
        raise UnreadableModel(f"Files ending in {ending or 'nothing'} cannot be read; bring in one of {known}.", "file name")
    found = READERS[ending](data)
    names: dict[str, int] = {}
    objects = []
    for one in found.objects:
        name = one.name.strip() or path.stem[:80] or "model"
        names[name] = names.get(name, 0) + 1
        objects.append(NamedMesh(name if names[name] == 1 else f"{name} {names[name]}", one.mesh))
    return ModelFile(tuple(objects), found.unit, found.left_out)
