"""Which reader takes which file, by its ending."""

import logging
from collections.abc import Callable
from pathlib import PurePath

import numpy as np

from hinoki.core.errors import HinokiError, UnreadableModel
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


LOG = logging.getLogger(__name__)
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


def _guarded(read: Callable[[bytes], ModelFile], data: bytes, what: str) -> ModelFile:
    """What a reader gives; whatever else goes wrong in it is a file that cannot be used. Raises UnreadableModel."""
    try:
        with np.errstate(all="ignore"):  # what is not a number is told by its place
            return read(data)
    except HinokiError:
        raise
    except MemoryError as error:
        text = f"There is not enough memory to read this {what} file. Thin the model out where it was drawn."
        raise UnreadableModel(text, "file") from error
    except Exception as error:
        LOG.exception("reading a %s file of %d bytes failed", what, len(data))
        text = f"This {what} file cannot be used: something in it is not as it should be. Copy or export it again."
        raise UnreadableModel(text, "file") from error


def read_file(data: bytes, file_name: str) -> ModelFile:
    """Read a model file by its ending. Objects without a name get the file's. Raises UnreadableModel."""
    path = PurePath(file_name)
    ending = path.suffix.lower()
    if ending not in READERS:
        known = ", ".join(sorted(e[1:].upper() for e in READERS))
        raise UnreadableModel(f"Files ending in {ending or 'nothing'} cannot be read; bring in one of {known}.", "file name")
    found = _guarded(READERS[ending], data, ending[1:].upper())
    names: dict[str, int] = {}
    objects = []
    for one in found.objects:
        name = one.name.strip() or path.stem[:80] or "model"
        names[name] = names.get(name, 0) + 1
        objects.append(NamedMesh(name if names[name] == 1 else f"{name} {names[name]}", one.mesh))
    return ModelFile(tuple(objects), found.unit, found.left_out)
