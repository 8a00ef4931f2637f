"""Films: walls of no thickness in a piece, and edges where four faces meet. Neither can be printed.

A film is two faces back to back, nearer to each other than anything that can be printed. At least one of them was made by a cut
or a joint: what is wrong in the model itself is found when it is looked at.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.findings import Finding, Params
from hinoki.core.geometry.equal_rows import different
from hinoki.core.geometry.filmless_cut import FILM_MM
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.progress import Tell, along, quiet
from hinoki.core.stages import Keyed, stage

LEAST_FILM_MM2 = 0.05
"""a film of less area is a crumb of rounding"""
TURN_MM = 2.0
"""millimetres for a unit of normal: faces back to back are parallel to about FILM_MM / TURN_MM"""
SAME_CORNER_MM = 1e-6
FLAT_MM = 1e-4
"""height of a triangle that is no more than a line"""
LEAST_LINE_MM = 5.0
"""shorter lines at which four faces meet are nothing that anybody could see"""


@dataclass(frozen=True)
class Film:
    """A film: its area in mm² and a place (3,) on it."""

    area_mm2: float
    at_mm: tuple[float, float, float]


def film_findings(parts: Sequence[Part], numbers: Mapping[str, int], cache: Cache, tell: Tell = quiet) -> list[Finding]:
    """A finding for every piece that has a film, and for one that hangs together by a line."""
    found = []
    for part in along(parts, tell, "Looking for films"):
        here, line_mm = _looked_at(cache, part.body)
        number = numbers[part.key]
        if here:
            params: Params = {"area_mm2": sum(f.area_mm2 for f in here), "at_mm": list(here[0].at_mm)}
            found.append(Finding(severity="must-fix", code="film", station="check", piece=number, params=params))
        elif line_mm >= LEAST_LINE_MM:
            params = {"line_mm": line_mm}
            found.append(Finding(severity="note", code="film", station="check", piece=number, params=params))
    return found


@stage("films")
def _looked_at(body: Keyed[Solid]) -> tuple[list[Film], float]:
    """The films of a piece, and how long the lines are at which it hangs together."""
    lines = crowded_edges(body.value.mesh)
    return films(body.value), float(np.linalg.norm(lines[:, 1] - lines[:, 0], axis=1).sum())


def films(solid: Solid) -> list[Film]:
    """The films of a piece, the largest first."""
    mesh = solid.mesh
    if len(mesh.faces) == 0:
        return []
    made = solid.source_faces < 0
    pairs = _back_to_back(mesh, np.flatnonzero(made))
    found = []
    while len(pairs):
        first = pairs[0, 0]
        frame = plane_frame(mesh.vertices[mesh.faces[first, 0]], mesh.face_normals[first])
        inside = np.asarray(np.abs(frame.heights(mesh.vertices))[mesh.faces].max(axis=1) < FILM_MM)
        here = np.asarray(inside[pairs[:, 0]] & inside[pairs[:, 1]])
        here[0] = True
        faces = np.unique(pairs[here])
        ahead = mesh.face_normals[faces] @ frame.n > 0
        along, against = (_covered(mesh, faces[side], frame.flat(mesh.vertices)) for side in (ahead, ~ahead))
        film = as_multi(shapely.intersection(along, against), LEAST_FILM_MM2 / 10)
        if film.area >= LEAST_FILM_MM2:
            place = frame.world(np.array(max(film.geoms, key=lambda p: p.area).representative_point().coords[0]))[0]
            found.append(Film(float(film.area), (float(place[0]), float(place[1]), float(place[2]))))
        pairs = pairs[~here]
    return sorted(found, key=lambda f: -f.area_mm2)


def crowded_edges(mesh: Mesh) -> Points:
    """The edges (n, 2, 3) at which four or more faces meet: there a piece hangs together by a line."""
    places = different(np.round(mesh.vertices / SAME_CORNER_MM).astype(np.int64))
    here = mesh.vertices[places.first]
    faces = places.number[mesh.faces]
    whole = (faces != np.roll(faces, 1, axis=1)).all(axis=1) & (mesh.face_heights > FLAT_MM)  # a line counts on no side of it
    numbers, low, high = Mesh(here, faces[whole]).edge_table
    crowded = np.bincount(numbers, minlength=len(low)) > 2
    return np.stack([here[low[crowded]], here[high[crowded]]], axis=1)


def _back_to_back(mesh: Mesh, made: Faces) -> Faces:
    """Pairs (n, 2) of faces, the first of them in `made`, that look away from each other in all but the same plane, with what
    lies between them behind both."""
    from scipy.spatial import cKDTree

    areas = mesh.face_areas
    middle = (mesh.bounds[0] + mesh.bounds[1]) / 2
    flat = areas > 1e-9
    normals = mesh.face_normals
    heights = np.einsum("ij,ij->i", normals, mesh.vertices[mesh.faces[:, 0]] - middle)
    planes = np.column_stack([TURN_MM * normals, heights])
    made, every = made[flat[made]], np.flatnonzero(flat)
    if len(made) == 0:
        return np.zeros((0, 2), dtype=np.int64)
    near = cKDTree(planes[every]).query_ball_point(-planes[made], 2 * FILM_MM, return_sorted=True)
    counts = np.array([len(n) for n in near])
    if not counts.any():
        return np.zeros((0, 2), dtype=np.int64)
    first = np.repeat(made, counts)
    second = every[np.concatenate([np.asarray(n, dtype=np.int64) for n in near])]
    low, high = (f(mesh.vertices[mesh.faces], axis=1) for f in (np.min, np.max))
    meet = (low[first] <= high[second] + FILM_MM).all(axis=1) & (low[second] <= high[first] + FILM_MM).all(axis=1)
    return np.column_stack([first[meet], second[meet]])


def _covered(mesh: Mesh, faces: Faces, flat: Points) -> MultiPolygon:
    rings = flat[mesh.faces[faces]]
    return as_multi(shapely.union_all(shapely.polygons(np.concatenate([rings, rings[:, :1]], axis=1)), grid_size=1e-6))
