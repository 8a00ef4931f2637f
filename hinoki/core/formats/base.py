"""What every format gives: named objects in the file's own numbers, the unit if the file says it, what was left out."""

from dataclasses import dataclass

import numpy as np

from hinoki.core.errors import UnreadableModel
from hinoki.core.geometry.mesh import Faces, Mesh, Points, Unit, stacked

FARTHEST = 1e7
"""coordinates beyond this (10 km in millimetres) cannot be a model in any unit"""
MOST_TRIANGLES = 20_000_000
MOST_OBJECTS = 5000


@dataclass(frozen=True)
class NamedMesh:
    """One object of a file, where the file puts it."""

    name: str
    mesh: Mesh


@dataclass(frozen=True)
class ModelFile:
    """What a model file holds. `unit` is None where the format has none; `left_out` are sentences for the maker."""

    objects: tuple[NamedMesh, ...]
    unit: Unit | None = None
    left_out: tuple[str, ...] = ()

    @property
    def mesh(self) -> Mesh:
        """All objects as one mesh, one behind the other."""
        return stacked([o.mesh for o in self.objects])


def refuse_empty(data: bytes) -> None:
    """Raise UnreadableModel for a file of no bytes."""
    if not data:
        raise UnreadableModel("The file is empty (0 bytes). Export the model again and bring in the new file.", "byte 0")


def checked(name: str, vertices: Points, faces: Faces, what: str = "corner") -> NamedMesh:
    """An object whose numbers are finite, near, and whose faces refer to corners that are there.

    `vertices` (n, 3), `faces` (m, 3), both as read. Triangles that use a corner twice have no area and are left out.
    Raises UnreadableModel naming the first bad corner or face.
    """
    refuse_wild(vertices, what)
    return with_corners(name, vertices, faces)


def with_corners(name: str, vertices: Points, faces: Faces) -> NamedMesh:
    """An object of corners (n, 3) that were looked at already, as `checked` gives it. Raises UnreadableModel."""
    if len(faces) and (int(faces.min()) < 0 or int(faces.max()) >= len(vertices)):
        bad = (faces < 0).any(axis=1) | (faces >= len(vertices)).any(axis=1)
        at = int(np.argmax(bad))
        raise UnreadableModel(
            f"Face {at + 1:,} of {name or 'the model'} refers to corner {int(faces[at].max()) + 1:,}, but there are only "
            f"{len(vertices):,}. The file is damaged; export it again.",
            f"face {at + 1}",
        )
    keep = (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])
    return NamedMesh(name, Mesh(np.ascontiguousarray(vertices, dtype=np.float64), np.ascontiguousarray(faces[keep], np.int64)))


def refuse_wild(corners: "np.ndarray", what: str) -> None:
    """Raise UnreadableModel where rows of `corners` (n, …) are not finite or absurdly far away."""
    if len(corners) == 0:
        return
    flat = corners.reshape(len(corners), -1)
    bad = ~np.isfinite(flat).all(axis=1)
    if bad.any():
        at = int(np.argmax(bad))
        raise UnreadableModel(
            f"{what.capitalize()} {at + 1:,} has a coordinate that is not a number ({int(bad.sum()):,} such). "
            "Export the model again.",
            f"{what} {at + 1}",
        )
    wild = np.abs(flat).max(axis=1) > FARTHEST
    if wild.any():
        at = int(np.argmax(wild))
        raise UnreadableModel(
            f"{what.capitalize()} {at + 1:,} lies {float(np.abs(flat[at]).max()):.3g} units away from the origin, "
            "too far to be a model. Move the model to the origin and export it again.",
            f"{what} {at + 1}",
        )


def whole_file(objects: "list[NamedMesh]", unit: Unit | None, left_out: "list[str]", what: str) -> ModelFile:
    """The file, once it holds at least one triangle. Raises UnreadableModel otherwise."""
    full = tuple(o for o in objects if len(o.mesh.faces))
    if not full:
        left = f" It held only what Hinoki leaves out: {'; '.join(left_out)}." if left_out else ""
        text = f"There are no triangles in this {what} file.{left} Export the model as a mesh."
        raise UnreadableModel(text, "triangle count")
    refuse_many(len(full), sum(len(o.mesh.faces) for o in full))
    return ModelFile(full, unit, tuple(left_out))


def refuse_many(objects: int, triangles: int) -> None:
    """Raise UnreadableModel where a file holds more than can be worked with; told as soon as it is known."""
    if objects > MOST_OBJECTS:
        text = f"The file holds {objects:,} objects; {MOST_OBJECTS:,} is the most. Join some and export again."
        raise UnreadableModel(text, "objects")
    if triangles > MOST_TRIANGLES:
        text = f"The file holds over {MOST_TRIANGLES:,} triangles. Thin it out where it was drawn."
        raise UnreadableModel(text, "triangle count")


def fan(corners: "list[int]") -> "list[tuple[int, int, int]]":
    """A polygon's corners as triangles around its first one."""
    return [(corners[0], corners[k], corners[k + 1]) for k in range(1, len(corners) - 1)]


def fans(sizes: "np.ndarray", flat: "np.ndarray") -> Faces:
    """Polygons of `sizes` (n,) corners, listed one behind the other in `flat`, as triangles (m, 3)."""
    starts = np.concatenate([[0], np.cumsum(sizes)[:-1]]).astype(np.int64)
    per = np.maximum(sizes.astype(np.int64) - 2, 0)
    owner = np.repeat(starts, per)
    within = np.arange(int(per.sum())) - np.repeat(np.cumsum(per) - per, per)
    return np.asarray(np.column_stack([flat[owner], flat[owner + within + 1], flat[owner + within + 2]]), dtype=np.int64)
