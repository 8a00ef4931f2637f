"""Model files become one shape: named bodies in millimetres, standing on the bed."""

from collections.abc import Sequence

from hinoki.core.errors import UnreadableModel
from hinoki.core.formats.base import ModelFile, NamedMesh
from hinoki.core.geometry.mesh import MM_PER_UNIT, Mesh, Unit
from hinoki.core.geometry.shape import Body, Shape
from hinoki.core.model.separate import separate_bodies

FileUsed = tuple[ModelFile, Unit, Sequence[int] | None]
"""a file, the unit of its numbers, and which of its separate bodies are used; None for all"""


def brought_in(files: Sequence[FileUsed]) -> Shape:
    """What several files hold, in millimetres, each where its file puts it, together settled on the bed.

    Raises UnreadableModel where a file has fewer bodies than are asked for.
    """
    return as_filed(files).settled()


def as_filed(files: Sequence[FileUsed]) -> Shape:
    """What several files hold, in millimetres, each where its file puts it. Raises UnreadableModel."""
    return Shape(
        tuple(
            Body(o.name, Mesh(o.mesh.vertices * MM_PER_UNIT[unit], o.mesh.faces))
            for file, unit, objects in files
            for o in _used(file, objects)
        )
    )


def _used(file: ModelFile, objects: Sequence[int] | None) -> Sequence[NamedMesh]:
    if objects is None:
        return file.objects
    every = separate_bodies(file)
    if max(objects) >= len(every):
        raise UnreadableModel(
            f"The plan asks for body {max(objects) + 1} of the file, which holds {len(every)}. Bring in the file it was made "
            "for."
        )
    return [every[k] for k in objects]
