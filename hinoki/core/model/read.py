"""Model files become one shape: named bodies in millimetres, standing on the bed."""

from hinoki.core.formats.base import ModelFile
from hinoki.core.geometry.mesh import MM_PER_UNIT, Mesh, Unit
from hinoki.core.geometry.shape import Body, Shape


def brought_in(files: "list[tuple[ModelFile, Unit]]") -> Shape:
    """What several files hold, in millimetres, each where its file puts it, together settled on the bed."""
    bodies = [
        Body(o.name, Mesh(o.mesh.vertices * MM_PER_UNIT[unit], o.mesh.faces)) for file, unit in files for o in file.objects
    ]
    return Shape(tuple(bodies)).settled()
