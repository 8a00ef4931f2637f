"""How thick the walls are: from points of the surface straight inwards to the opposite side (rays)."""

import numpy as np

from hinoki.core.findings import Params
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.raycast import Rays
from hinoki.core.model.health.report import Issue, face_places
from hinoki.core.progress import Tell, quiet

SKIN_MM = 2e-4
FACING = -0.25
"""cosine: a hit counts as the opposite side only where that looks away from ours (over about 105°)"""
FEW_MM2 = 0.05


def thickness(mesh: Mesh, at: Points, normals: Points, rays: Rays | None = None) -> Points:
    """Material under each point (n,), in mm, along its inward normal; infinity where nothing faces it.

    `at` (n, 3) lie on the surface, `normals` (n, 3) are outward unit vectors.
    """
    cast = rays or Rays(mesh)
    distance, face = cast.first(at - SKIN_MM * normals, -normals)
    facing = np.einsum("ij,ij->i", mesh.face_normals[face], normals)
    return np.where((face >= 0) & (facing < FACING), distance + SKIN_MM, np.inf)


def face_thickness(mesh: Mesh, rays: Rays | None = None) -> Points:
    """Thickness under the middle of every face, (m,)."""
    return thickness(mesh, mesh.vertices[mesh.faces].mean(axis=1), mesh.face_normals, rays)


def wall_issues(mesh: Mesh, least_wall_mm: float, line_mm: float, tell: Tell = quiet) -> tuple[list[Issue], Points]:
    """Findings about walls and details that are too thin, and the thickness under every face.

    Below the line width nothing prints; between it and the least wall things print, but weakly (common practice).
    """
    tell(0.1, "Measuring the walls")
    rays = Rays(mesh)
    under = face_thickness(mesh, rays)
    areas = mesh.face_areas
    total = float(areas.sum())
    found: list[Issue] = []
    lost = under < line_mm
    if float(areas[lost].sum()) > FEW_MM2:
        found.append(_issue("details-lost", "look-at", mesh, areas, lost, under, total, line_mm))
    thin = (under >= line_mm) & (under < least_wall_mm)
    if float(areas[thin].sum()) > max(FEW_MM2, 1e-5 * total):
        found.append(_issue("walls-thin", "look-at", mesh, areas, thin, under, total, least_wall_mm))
    return found, under


def _issue(  # noqa: PLR0913 - arrays over the same faces
    code: str, severity: str, mesh: Mesh, areas: Points, which: "np.ndarray", under: Points, total: float, limit: float
) -> Issue:
    faces = np.flatnonzero(which)
    area = float(areas[faces].sum())
    least = float(under[faces].min())
    params: Params = {"area_mm2": area, "percent": 100 * area / total, "limit_mm": limit, "least_mm": least}
    places = face_places(mesh, faces)
    return Issue(code, "look-at" if severity == "look-at" else "must-fix", len(faces), params, places)
