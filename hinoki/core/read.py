"""The read and prepare stages: a model file becomes a mesh in millimetres, standing on the bed, and a solid if it closes."""

from dataclasses import dataclass
from pathlib import PurePath

import numpy as np

from hinoki.core.errors import OpenSurface, UnreadableModel
from hinoki.core.findings import Finding
from hinoki.core.formats.stl import read_stl
from hinoki.core.health import surface_findings
from hinoki.core.mesh import MM_PER_UNIT, Mesh, Unit
from hinoki.core.solid import Solid

READERS = {".stl": read_stl}


@dataclass(frozen=True)
class Prepared:
    """A model as it stands on the bed; `solid` is None where the surface does not close."""

    mesh: Mesh
    solid: Solid | None
    findings: list[Finding]

    @property
    def weight(self) -> int:
        """Size for the cache."""
        return len(self.mesh.faces)


def read_model(data: bytes, file_name: str) -> Mesh:
    """Read a model file by its ending. Raises UnreadableModel."""
    ending = PurePath(file_name).suffix.lower()
    if ending not in READERS:
        raise UnreadableModel(f"Files ending in {ending or 'nothing'} cannot be read yet; bring in an STL file.", "file name")
    return READERS[ending](data)


def prepare(raw: Mesh, unit: Unit) -> Prepared:
    """Scale to millimetres, centre over the bed's origin, stand at Z 0, and close to a solid where possible."""
    vertices = raw.vertices * MM_PER_UNIT[unit]
    low, high = vertices.min(axis=0), vertices.max(axis=0)
    vertices = vertices - np.array([(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2]])
    mesh = Mesh(vertices, raw.faces)
    try:
        solid: Solid | None = Solid.from_mesh(mesh)
    except OpenSurface:
        solid = None
    findings = surface_findings(mesh, solid)
    usable = solid if solid is not None and solid.volume_mm3 > 0 else None
    return Prepared(mesh, usable, findings)
