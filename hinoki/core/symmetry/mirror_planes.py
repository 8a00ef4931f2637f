"""Planes that a surface is mirrored by, more or less.

Podolak, Shilane, Golovinskiy, Rusinkiewicz & Funkhouser 2006, ACM Trans. Graph. 25(3), "A planar-reflective symmetry transform
for 3D shapes": samples of the surface vote for the planes that would mirror one onto the other, and the best are moved to where
most samples match. A plane that mirrors a surface goes through its centre, so that votes are for directions alone.
"""

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.rotations import spread_over_sphere

if TYPE_CHECKING:
    from scipy.spatial import cKDTree

SAMPLES, VOTERS, CROWD = 700, 320, 6000
"""points of the surface that are matched, that vote, and among which they are matched while a plane is moved"""
ROUNDS, LEAST_MATCHED, STILL = 15, 12, 1e-6
NEAR = 0.01
"""a sample matches when its mirror image lies so near the surface, as a share of the surface's size"""
LEAST_SHARE, LESS = 0.97, 0.006
"""of the samples that must match, and by how much fewer may match than at the best plane"""
SAME_DISTANCE = 0.02
"""of two samples from the centre, as a share of the size, for a vote"""
FACING = 0.95
"""cosine between a normal and the mirror image of the other, for a vote"""
ALIKE = 0.5
"""cosine between the mirror image of a normal and that of the point it is matched with"""
BALLOT = 2400
"""directions that are voted for, all round"""
MOST_TRIED, MOST = 16, 4
APART, NEIGHBOUR = float(np.cos(np.radians(8.0))), float(np.cos(np.radians(4.0)))
"""of planes that are two; of ballots that lend each other their votes"""
SQUARE = float(np.cos(np.radians(0.5)))
"""a plane this near to being square to X, Y or Z is taken to be"""


@dataclass(frozen=True)
class MirrorPlane:
    """A plane through the points p with normal · p = `offset_mm`, the normal (3,) of length 1; `share` of the samples match."""

    normal: Points
    offset_mm: float
    share: float

    def image(self, points: Points) -> Points:
        """Points (n, 3) or (3,) on the other side."""
        away = points @ self.normal - self.offset_mm
        return np.asarray(points - 2 * away[..., None] * self.normal)


def mirror_planes(mesh: Mesh) -> list[MirrorPlane]:
    """The planes a surface is mirrored by, the best first, at most MOST; of a round one a few of the many."""
    from scipy.spatial import cKDTree

    size = float(np.linalg.norm(np.ptp(mesh.vertices, axis=0)))
    if size == 0:
        return []
    points, normals, centre = _samples(mesh, SAMPLES)
    there, facing, _ = _samples(mesh, CROWD)
    crowd = _Crowd(there - centre, facing, cKDTree(there - centre))
    found: list[MirrorPlane] = []
    for way in _wanted(points, normals, centre, size):
        settled = _settled(points - centre, normals, crowd, MirrorPlane(way, 0.0, 0.0), size)
        plane = _square(settled.normal, centre + settled.normal * settled.offset_mm)
        if any(abs(float(plane.normal @ p.normal)) > APART for p in found):
            continue
        plane = _measured(mesh, points, plane, size)
        if plane.share >= LEAST_SHARE:
            found.append(plane)
        if len(found) == MOST:
            break
    best = max((p.share for p in found), default=0.0)
    return [p for p in sorted(found, key=lambda p: -round(p.share, 2)) if p.share >= best - LESS]


def _samples(mesh: Mesh, count: int) -> tuple[Points, Points, Points]:
    """Points spread over a surface by area, their normals, and the centre of the surface; the same every time."""
    areas = mesh.face_areas
    ends = np.cumsum(areas)
    random = np.random.default_rng(1)
    faces = np.searchsorted(ends, (np.arange(count) + random.random(count)) / count * ends[-1]).clip(0, len(ends) - 1)
    u, v = np.sqrt(random.random(count)), random.random(count)
    corners = mesh.vertices[mesh.faces[faces]]
    weights = np.stack([1 - u, u * (1 - v), u * v], axis=1)
    middles = mesh.vertices[mesh.faces].mean(axis=1)
    return np.einsum("nk,nkj->nj", weights, corners), mesh.face_normals[faces], np.average(middles, axis=0, weights=areas)


def _wanted(points: Points, normals: Points, centre: Points, size: float) -> list[Points]:
    """Directions worth a closer look: X, Y and Z, then those with the most votes."""
    few = np.random.default_rng(2).permutation(len(points))[:VOTERS]
    at, facing = points[few] - centre, normals[few]
    far = np.linalg.norm(at, axis=1)
    a, b = np.triu_indices(len(few), 1)
    alike = np.abs(far[a] - far[b]) < SAME_DISTANCE * size
    way = at[a[alike]] - at[b[alike]]
    length = np.linalg.norm(way, axis=1)
    a, b, way, length = (
        a[alike][length > NEAR * size],
        b[alike][length > NEAR * size],
        way[length > NEAR * size],
        length[length > NEAR * size],
    )
    way = way / length[:, None]
    image = facing[a] - 2 * np.einsum("ij,ij->i", facing[a], way)[:, None] * way
    way = way[np.einsum("ij,ij->i", image, facing[b]) > FACING]
    ballot = spread_over_sphere(BALLOT)
    ballot = ballot[ballot[:, 2] >= 0]
    votes = np.zeros(len(ballot))
    if len(way):
        close = np.abs(way @ ballot.T)
        np.add.at(votes, close.argmax(axis=1), 1.0)
        votes = (np.abs(ballot @ ballot.T) > NEIGHBOUR) @ votes  # neighbours lend each other their votes
    out = [np.eye(3)[k] for k in range(3)]
    for k in np.argsort(-votes, kind="stable"):
        if len(out) == 3 + MOST_TRIED or votes[k] == 0:
            break
        if not any(abs(float(ballot[k] @ other)) > APART for other in out):
            out.append(ballot[k])
    return out


@dataclass(frozen=True)
class _Crowd:
    """Points of a surface (n, 3) with their normals, and a tree to find the nearest."""

    points: Points
    normals: Points
    tree: "cKDTree"


def _settled(points: Points, normals: Points, crowd: _Crowd, plane: MirrorPlane, size: float) -> MirrorPlane:
    """A plane moved to where the mirrored points lie nearest to the surface, looked at as the planes through the crowd (Chen &
    Medioni 1992: distances along the normals), by least squares, step by step."""
    reach = 10 * NEAR * size
    for _ in range(ROUNDS):
        n = plane.normal
        away, number = crowd.tree.query(plane.image(points))
        m = crowd.normals[number]
        facing = normals - 2 * (normals @ n)[:, None] * n
        near = (away < reach) & (np.einsum("ij,ij->i", facing, m) > ALIKE)
        if near.sum() < LEAST_MATCHED:
            break
        p, q, m = points[near], crowd.points[number[near]], m[near]
        ways = plane_frame(np.zeros(3), n)
        across, high = np.array([ways.u, ways.v]), p @ n - plane.offset_mm
        off = np.einsum("ij,ij->i", plane.image(p) - q, m)
        turning = -2 * ((p @ across.T) * (m @ n)[:, None] + high[:, None] * (m @ across.T))
        step = np.linalg.lstsq(np.column_stack([turning, 2 * (m @ n)]), -off, rcond=None)[0]
        normal = n + step[:2] @ across
        length = float(np.linalg.norm(normal))
        plane = MirrorPlane(normal / length, (plane.offset_mm + float(step[2])) / length, 0.0)
        reach = max(2 * NEAR * size, 0.7 * reach)
        if np.abs(step[:2]).max() < STILL and abs(float(step[2])) < STILL * size:
            break
    return plane


def _square(normal: Points, through: Points) -> MirrorPlane:
    """The plane square to X, Y or Z where it nearly is; its normal looks along its longest component."""
    k = int(np.argmax(np.abs(normal)))
    if abs(float(normal[k])) > SQUARE:
        normal = np.eye(3)[k]
    normal = normal * np.sign(normal[k])
    return MirrorPlane(normal, float(normal @ through), 0.0)


def _measured(mesh: Mesh, points: Points, plane: MirrorPlane, size: float) -> MirrorPlane:
    """The plane with the share of the samples that match, moved by half of what those are off along it on the average."""
    import igl

    def away(one: MirrorPlane) -> tuple[Points, Points]:
        image = np.ascontiguousarray(one.image(points))
        squared, _, there = igl.point_mesh_squared_distance(image, mesh.vertices, mesh.faces)[:3]
        return np.sqrt(np.asarray(squared)), (np.asarray(there) - image) @ one.normal

    off, along = away(plane)
    near = off < NEAR * size
    if near.any():
        plane = MirrorPlane(plane.normal, plane.offset_mm + float(along[near].mean()) / 2, 0.0)
        off, _ = away(plane)
    return MirrorPlane(plane.normal, plane.offset_mm, float((off < NEAR * size).mean()))
