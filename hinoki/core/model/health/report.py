"""What a survey of a surface gives: issues with counts, places one can fly to, and lines to draw in the view."""

from dataclasses import dataclass, field

import numpy as np

from hinoki.core.findings import Params, Severity
from hinoki.core.geometry.mesh import Faces, Mesh, Points

MOST_PLACES = 24
MOST_LINE_POINTS = 4000


@dataclass(frozen=True)
class Place:
    """Somewhere an issue stands: a point, how far it reaches around it, and a line to draw (n, 3) if there is one."""

    at: Points
    reach_mm: float
    line: Points | None = None
    text: str = ""


@dataclass(frozen=True)
class Issue:
    """One kind of trouble with a surface. `count` is of all, `places` are the largest of them, `params` its other figures."""

    code: str
    severity: Severity
    count: int
    params: Params = field(default_factory=dict)
    places: list[Place] = field(default_factory=list)

    @property
    def figures(self) -> Params:
        """All its figures, with the count."""
        return {"count": self.count, **self.params}


def face_places(mesh: Mesh, faces: Faces, apart_mm: float | None = None) -> list[Place]:
    """Places for a set of faces: faces close together count as one place; the line runs around each of them.

    `apart_mm` is how far apart two places are at least; a fortieth of the model's size by default.
    """
    if len(faces) == 0:
        return []
    low, high = mesh.bounds
    step = apart_mm or max(1e-6, float((high - low).max()) / 40)
    corners = mesh.vertices[mesh.faces[faces]]
    centres = corners.mean(axis=1)
    cell = np.floor((centres - low) / step).astype(np.int64)
    code = (cell[:, 0] * 100_003 + cell[:, 1]) * 100_003 + cell[:, 2]
    _, inverse, counts = np.unique(code, return_inverse=True, return_counts=True)
    places = []
    for k in np.argsort(-counts, kind="stable")[:MOST_PLACES]:
        own = corners[inverse == k]
        middle = own.reshape(-1, 3).mean(axis=0)
        reach = float(np.linalg.norm(own.reshape(-1, 3) - middle, axis=1).max())
        places.append(Place(middle, max(reach, step / 8), edges_line(own[: MOST_LINE_POINTS // 6])))
    return places


def edges_line(corners: Points) -> Points:
    """Triangles (k, 3, 3) as pairs of points (6k, 3) to be drawn as separate segments."""
    return np.asarray(corners[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 3))
