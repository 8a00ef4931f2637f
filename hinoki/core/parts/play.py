"""The play between two bodies where they stand: the least and the greatest gap between faces that look at each other, and where
they run into each other."""

from dataclasses import dataclass

import numpy as np

from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.raycast import Rays
from hinoki.core.geometry.solid import Solid
from hinoki.core.progress import Tell, quiet

OFF_MM = 1e-4
"""rays begin so far inside the face they come from, so that what touches it is seen"""
ON_SIDE_MM = 1e-6
SHARE = 1e-9
"""of the smaller body: what two bodies share by rounding alone"""
STEPS, FINEST_MM = 60, 0.25
"""faces are divided until no edge is longer than this share of where the two are near each other, or than so much"""


@dataclass(frozen=True)
class Play:
    """What lies between two bodies. Lengths in mm, areas in mm², volumes in mm³.

    `least_mm` is exact; None where they are farther apart than was looked. `gaps` (n,) tells for every face of `surface` (the
    first body, finely divided) how far the second lies before it: negative where it lies inside the second, infinity where
    nothing looks at it.
    """

    least_mm: float | None
    least_at_mm: Points | None
    greatest_mm: float | None
    greatest_at_mm: Points | None
    mean_mm: float | None
    facing_mm2: float
    overlap_mm3: float
    overlap_at_mm: Points | None
    deepest_mm: float
    surface: Mesh
    gaps: Points


def play_between(first: Solid, second: Solid, within_mm: float, tell: Tell = quiet) -> Play:
    """The play of one body in another, looked for within so far, both where they stand.

    Gaps are measured square to the faces of the first body: of concentric cylinders the difference of the radii, of parallel
    planes their distance.
    """
    tell(0.0, "Looking for what they share")
    shared = first.common(second) if first.box_meets(second) else Solid.nothing()
    overlap = 0.0 if shared.empty else shared.volume_mm3
    overlaps = overlap > SHARE * min(first.volume_mm3, second.volume_mm3)
    tell(0.3, "Measuring the play")
    surface = _near(first, second, within_mm)
    gaps = _gaps(surface, second.mesh, within_mm) if len(surface.faces) else np.zeros(0)
    middles = surface.vertices[surface.faces].mean(axis=1) if len(surface.faces) else np.zeros((0, 3))
    faces = np.isfinite(gaps) & (gaps >= 0)
    exact = 0.0 if overlaps else first.gap(second, within_mm)
    meets = overlaps or exact < within_mm
    area = surface.face_areas
    least_at = _nearest(first, second, middles, gaps) if meets else None
    most = int(np.argmax(np.where(faces, gaps, -1.0))) if faces.any() else None
    return Play(
        least_mm=exact if meets else None,
        least_at_mm=least_at,
        greatest_mm=None if most is None else float(gaps[most]),
        greatest_at_mm=None if most is None else middles[most],
        mean_mm=float((gaps[faces] * area[faces]).sum() / area[faces].sum()) if faces.any() else None,
        facing_mm2=float(area[faces].sum()),
        overlap_mm3=overlap if overlaps else 0.0,
        overlap_at_mm=shared.centre_of_mass if overlaps else None,
        deepest_mm=float(-np.min(gaps, initial=0.0)) + 0.0,
        surface=surface,
        gaps=gaps,
    )


def _near(first: Solid, second: Solid, within_mm: float) -> Mesh:
    """The surface of the first body where it comes near the second one's box, finely divided."""
    low, high = second.bounds[0] - within_mm, second.bounds[1] + within_mm
    least, most = np.maximum(first.bounds[0], low), np.minimum(first.bounds[1], high)
    if np.any(least > most):
        return Mesh(np.zeros((0, 3)), np.zeros((0, 3), dtype=np.int64))
    whole = bool((first.bounds[0] >= low).all() and (first.bounds[1] <= high).all())
    near = first if whole else first.common(Solid.box(low.tolist(), high.tolist()))
    mesh = near.refined(max(float(np.max(most - least)) / STEPS, FINEST_MM)).mesh
    if whole:
        return mesh
    corners = mesh.vertices[mesh.faces]  # those that lie in a side of the box are not of the body
    sides = np.concatenate([np.abs(corners - low), np.abs(corners - high)], axis=2)
    return mesh.only(np.flatnonzero(sides.max(axis=1).min(axis=1) > ON_SIDE_MM))


def _gaps(surface: Mesh, other: Mesh, within_mm: float) -> Points:
    import igl

    normals, middles = surface.face_normals, surface.vertices[surface.faces].mean(axis=1)
    far, hit = Rays(other).first(middles - OFF_MM * normals, normals)
    far = far - OFF_MM
    met = hit >= 0
    facing = np.zeros(len(far))
    facing[met] = np.einsum("ij,ij->i", normals[met], other.face_normals[hit[met]])
    gaps = np.where(met & (facing < 0) & (far <= within_mm), np.maximum(far, 0.0), np.inf)
    inside = met & (facing > 0) & (far > OFF_MM)
    if inside.any():
        at = np.ascontiguousarray(middles[inside])
        squared = igl.point_mesh_squared_distance(at, other.vertices, other.faces)[0]
        gaps[inside] = -np.sqrt(np.maximum(squared, 0.0))
    return gaps


def _nearest(first: Solid, second: Solid, middles: Points, gaps: Points) -> Points:
    """Where the two come nearest: the corner or the face of one that is nearest to the other."""
    import igl

    found: list[tuple[float, Points]] = []
    for one, two in ((first.mesh, second.mesh), (second.mesh, first.mesh)):
        squared, _, nearest = igl.point_mesh_squared_distance(np.ascontiguousarray(one.vertices), two.vertices, two.faces)
        k = int(np.argmin(squared))
        found.append((float(np.sqrt(squared[k])), np.asarray((one.vertices[k] + nearest[k]) / 2)))
    if len(gaps) and np.isfinite(gaps).any():
        k = int(np.argmin(np.abs(gaps)))
        found.append((float(abs(gaps[k])), middles[k]))
    return min(found, key=lambda one: one[0])[1]
