"""Where a printed piece differs from the plan now, by how much, and whether it still goes together with its neighbours."""

from collections.abc import Mapping
from typing import Literal

import numpy as np
import shapely
from pydantic import BaseModel, Field

from hinoki.core.build import Build
from hinoki.core.divide.mating_faces import face_label
from hinoki.core.divide.seams import outer_faces
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.solid import Solid

NOTHING_MM3 = 0.01
NEAR_MM = 0.05
"""what differs by less than that is not told from rounding"""
MEETS_MM3 = 0.05
"""overlaps below that are rounding"""
SEEN = 4000
"""points of what differs that are looked at"""
Where = Literal["nothing", "inside", "joint", "outside"]


class Meets(BaseModel):
    """A neighbour that the printed piece no longer leaves room for."""

    number: int
    mm3: float


class Difference(BaseModel):
    """A printed piece beside the plan's: what it has more and less, and what that means."""

    key: str
    number: int | None
    where: list[Where] = Field(description="nothing, only its inside, a joint or mating face, its outside")
    faces: list[str] = Field([], description="mating faces and joints at which it differs")
    more_mm3: float = Field(description="what the printed one has that the plan's has not")
    less_mm3: float = Field(description="what it lacks")
    most_mm: float = Field(description="the largest distance between the two surfaces")
    meets: list[Meets] = Field([], description="neighbours it would overlap")
    mates: bool
    leaves_gap: bool = Field(False, description="it lacks something at a joint")
    at_mm: tuple[float, float, float] | None = Field(None, description="the middle of what differs")
    reach_mm: float = Field(0.0, description="how far around it that lies")


def difference(
    was: Build, now: Build, key: str, printed: Mapping[str, Solid] | None = None
) -> tuple[Difference, Solid | None, Solid | None]:
    """The piece `key` as it was printed in the build `was`, beside that of the build `now`; with the bodies of what it has more
    and of what it lacks. `printed` gives neighbours that are printed, as they are, by key; others are as planned now.

    Raises KeyError where either build has no such piece.
    """
    old = next(p for p in was.parts if p.key == key).solid
    new = next(p for p in now.parts if p.key == key).solid
    number = now.numbers.get(key)
    more, less = old.minus([new]), new.minus([old])
    most = max(_farthest(more, new), _farthest(less, old))
    if more.volume_mm3 < NOTHING_MM3 and less.volume_mm3 < NOTHING_MM3 and most < NEAR_MM:
        return _told(key, number, ["nothing"], [], more, less, 0.0, []), None, None
    points = np.vstack([_points(more), _points(less)])
    faces = sorted({*_faces_hit(points, now, key), *_faces_hit(points, was, key)})
    middles = np.vstack([_middles(more), _middles(less)])
    outside = _on_outside(middles, now) or _on_outside(middles, was)
    where: list[Where] = []
    if faces:
        where.append("joint")
    if outside:
        where.append("outside")
    meets = _met(old, key, now, printed or {})
    low, high = points.min(axis=0), points.max(axis=0)
    place = {
        "at_mm": tuple(round(float(v), 3) + 0.0 for v in (low + high) / 2),
        "reach_mm": round(float(np.linalg.norm(high - low)) / 2, 2),
    }
    return (
        _told(key, number, where or ["inside"], faces, more, less, most, meets).model_copy(update=place),
        more if more.volume_mm3 >= NOTHING_MM3 else None,
        less if less.volume_mm3 >= NOTHING_MM3 else None,
    )


def _told(  # noqa: PLR0913 - a difference's own parts
    key: str,
    number: int | None,
    where: list[Where],
    faces: list[str],
    more: Solid,
    less: Solid,
    most: float,
    meets: list[Meets],
) -> Difference:
    return Difference(
        key=key, number=number, where=where, faces=faces, more_mm3=round(more.volume_mm3, 2),
        less_mm3=round(less.volume_mm3, 2), most_mm=round(most, 3), meets=meets, mates=not meets,
        leaves_gap="joint" in where and less.volume_mm3 > NOTHING_MM3,
    )  # fmt: skip


def _points(body: Solid) -> Points:
    """Corners and middles of the triangles of a body, (n, 3), at most about SEEN."""
    every = np.vstack([body.mesh.vertices, _middles(body)])
    return np.asarray(every[:: max(1, len(every) // SEEN)])


def _middles(body: Solid) -> Points:
    """Middles of the triangles of a body, (n, 3)."""
    mesh = body.mesh
    every = mesh.vertices[mesh.faces].mean(axis=1) if len(mesh.faces) else np.zeros((0, 3))
    return np.asarray(every[:: max(1, len(every) // SEEN)])


def _farthest(what: Solid, other: Solid) -> float:
    """How far what differs reaches from the surface of a piece."""
    points = _points(what)
    return float(_away(points, other.mesh).max()) if len(points) else 0.0


def _away(points: Points, mesh: Mesh) -> Points:
    import igl

    squared = igl.point_mesh_squared_distance(np.ascontiguousarray(points), mesh.vertices, mesh.faces)[0]
    return np.asarray(np.sqrt(np.maximum(0.0, np.asarray(squared))), dtype=np.float64)


def _faces_hit(points: Points, built: Build, key: str) -> set[str]:
    """Mating faces of a piece, by label, that points lie in or at a joint of which they lie."""
    found = set()
    for face in built.faces:
        if key not in (face.a.key, face.b.key):
            continue
        near = face.frame.flat(points[np.abs(face.frame.heights(points)) < NEAR_MM])
        if len(near) and shapely.contains_xy(face.shape.buffer(NEAR_MM), near[:, 0], near[:, 1]).any():
            found.add(face_label(face, built.numbers))
    for placed_joint in built.placed:
        label = face_label(placed_joint.face, built.numbers)
        for tool in placed_joint.tools.each:
            if placed_joint.part(tool.side).key == key and any(_on(points, body) for body in (tool.add, tool.cut) if body):
                found.add(label)
    return found


def _on(points: Points, body: Solid) -> bool:
    """Whether any point lies on the surface of a body."""
    low, high = body.bounds
    near = points[((points >= low - NEAR_MM) & (points <= high + NEAR_MM)).all(axis=1)]
    return bool(len(near) and (_away(near, body.mesh) < NEAR_MM / 10).any())


def _on_outside(points: Points, built: Build) -> bool:
    """Whether any of the points lies on the outside of the model as prepared."""
    ready = built.prepared
    if ready is None or not len(points):
        return False
    outer = ready.mesh.only(outer_faces(ready.mesh))
    return bool((_away(points, outer) < NEAR_MM).any())


def _met(old: Solid, key: str, now: Build, printed: Mapping[str, Solid]) -> list[Meets]:
    """Neighbours that the printed piece would overlap more than the planned one does."""
    view = next(p for p in now.pieces if p.key == key)
    new = next(p for p in now.parts if p.key == key).solid
    found = []
    for part in now.parts:
        number = now.numbers[part.key]
        if number not in view.neighbours:
            continue
        other = printed.get(part.key, part.solid)
        if not old.box_meets(other):
            continue
        more = old.common(other).volume_mm3 - new.common(part.solid).volume_mm3
        if more > MEETS_MM3:
            found.append(Meets(number=number, mm3=round(more, 2)))
    return found
