"""Partings from what is picked in the view: planes through points, faces and edge loops, and loops around a feature."""

import math
from typing import Any, Literal

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.divide.feature_loops import narrowest_loop, on_surface
from hinoki.core.divide.partings import Parting
from hinoki.core.divide.partings.base import Spot
from hinoki.core.divide.partings.flat import plane_fields
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.lumps import directed_edges
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.progress import Tell

FEATURE_DEG = 30.0
"""faces that meet at a greater angle meet in an edge"""
MOST_EDGES = 12_000


class Picked(BaseModel, frozen=True):
    """What was picked: for a plane its kind and the points, for a detached feature one point on it."""

    what: Literal["points", "face", "loop", "feature"]
    at_mm: tuple[Spot, ...] = Field(min_length=1, max_length=3)
    offset_mm: float = Field(0.0, ge=-1e4, le=1e4, description="from a picked face, outwards")


class PickedPlane(BaseModel):
    """The parting that was picked, without a name of its own, and what is to be said."""

    parting: Parting
    said: list[str] = []


class EdgeLines(BaseModel):
    """Sharp edges of the model, the longest ones: six numbers each, start and end."""

    lines: list[tuple[float, float, float, float, float, float]]


def sharp_edges(mesh: Mesh) -> list[tuple[float, float, float, float, float, float]]:
    """The longest MOST_EDGES edges where faces meet at more than FEATURE_DEG."""
    a, b = _edges(mesh)
    length = np.linalg.norm(mesh.vertices[a] - mesh.vertices[b], axis=1)
    longest = np.argsort(-length, kind="stable")[:MOST_EDGES]
    rows = np.round(np.hstack([mesh.vertices[a[longest]], mesh.vertices[b[longest]]]), 3).tolist()
    return [(r[0], r[1], r[2], r[3], r[4], r[5]) for r in rows]


def picked_parting(picked: Picked, solid: Solid, mesh: Mesh, tell: Tell) -> PickedPlane:
    """The parting for what was picked on the prepared model. Raises BadPlan where that makes no plane."""
    points = np.array(picked.at_mm)
    if picked.what == "points":
        return _flat(*_three(points))
    if picked.what == "face":
        return _flat(*_of_face(mesh, points[0], picked.offset_mm))
    if picked.what == "loop":
        middle, normal, off = _of_loop(mesh, points[0])
        said = [f"The edge loop is off its plane by up to {off:.2f} mm."] if off > 0.05 else []
        return _flat(middle, normal, said)
    detach = narrowest_loop(solid, mesh, points[0], tell)
    return PickedPlane(parting=detach)


def _flat(point: Points, normal: Points, said: list[str] | None = None) -> PickedPlane:
    fields: dict[str, Any] = {"kind": "flat", "id": "p1", **plane_fields(point, normal)}
    return PickedPlane.model_validate({"parting": fields, "said": said or []})


def _three(points: Points) -> tuple[Points, Points]:
    if len(points) != 3:
        raise BadPlan("A plane through points needs three of them.", "at_mm")
    normal = np.cross(points[1] - points[0], points[2] - points[0])
    longest = max(float(np.linalg.norm(points[a] - points[b])) for a, b in ((0, 1), (0, 2), (1, 2)))
    if np.linalg.norm(normal) < 1e-3 * longest**2 or longest < 1e-3:
        raise BadPlan("The three points lie on one line, which gives no plane. Pick the third one beside it.", "at_mm")
    return points.mean(axis=0), normal


def _of_face(mesh: Mesh, at: Points, offset: float) -> tuple[Points, Points]:
    face, _ = on_surface(mesh, at)
    normal = mesh.face_normals[face]
    return mesh.vertices[mesh.faces[face]].mean(axis=0) + normal * offset, normal


def _of_loop(mesh: Mesh, at: Points) -> tuple[Points, Points, float]:
    """A point and the normal of the plane through the edge loop nearest to `at`, and how far the loop is off it."""
    a, b = _edges(mesh)
    if len(a) == 0:
        raise BadPlan("The model has no sharp edges, so there is no edge loop to pick. Pick three points instead.", "at_mm")
    start, way = mesh.vertices[a], mesh.vertices[b] - mesh.vertices[a]
    share = np.clip(np.einsum("ij,ij->i", at - start, way) / np.maximum((way**2).sum(axis=1), 1e-12), 0, 1)
    nearest = int(np.argmin(np.linalg.norm(start + share[:, None] * way - at, axis=1)))
    ring = _ring(mesh, a, b, nearest)
    if ring is None:
        raise BadPlan("The edge nearest to the pick closes to no loop. Pick another one, or three points.", "at_mm")
    points = mesh.vertices[ring]
    middle = points.mean(axis=0)
    _, lengths, axes = np.linalg.svd(points - middle)
    if lengths[1] < 1e-6 * lengths[0]:
        raise BadPlan("The edge loop lies on one line, which gives no plane. Pick another one.", "at_mm")
    return middle, axes[2], float(np.abs((points - middle) @ axes[2]).max())


def _edges(mesh: Mesh) -> tuple[Faces, Faces]:
    """Low and high vertex of every edge where faces meet at more than FEATURE_DEG."""
    numbers, low, high = mesh.edge_table
    _, _, face = directed_edges(mesh.faces)
    order = np.argsort(numbers, kind="stable")
    numbers, face = numbers[order], face[order]
    pair = np.flatnonzero(numbers[1:] == numbers[:-1])
    normals = mesh.face_normals
    facing = np.einsum("ij,ij->i", normals[face[pair]], normals[face[pair + 1]])
    sharp = numbers[pair[facing < math.cos(math.radians(FEATURE_DEG))]]
    return low[sharp], high[sharp]


def _ring(mesh: Mesh, a: Faces, b: Faces, first: int) -> Faces | None:
    """The closed chain of edges through edge `first`, straight on where edges branch; none where it ends."""
    beside: dict[int, list[int]] = {}
    for one, two in zip(a.tolist(), b.tolist(), strict=True):
        beside.setdefault(one, []).append(two)
        beside.setdefault(two, []).append(one)
    ring = [int(a[first]), int(b[first])]
    plane: Points | None = None
    for _ in range(len(a)):
        here, before = ring[-1], ring[-2]
        onward = [v for v in beside[here] if v != before]
        if not onward:
            return None
        if ring[0] in onward and len(ring) > 2:
            return np.array(ring)
        way = mesh.vertices[here] - mesh.vertices[before]
        best = min(onward, key=lambda v: _bend(way, mesh.vertices[v] - mesh.vertices[here], plane))
        turn = np.cross(way, mesh.vertices[best] - mesh.vertices[here])
        if plane is None and np.linalg.norm(turn) > 1e-6 * float(way @ way):
            plane = turn / np.linalg.norm(turn)
        if best in ring:
            return np.array(ring[ring.index(best) :])
        ring.append(best)
    return None


def _bend(way: Points, onward: Points, plane: Points | None) -> float:
    """How much going onward leaves the loop's plane, or bends where there is no plane yet."""
    length = float(np.linalg.norm(onward)) or 1.0
    if plane is not None:
        return abs(float(plane @ onward)) / length
    return -float(way @ onward) / (length * (float(np.linalg.norm(way)) or 1.0))
