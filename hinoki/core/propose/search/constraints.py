"""What the maker's marks ask of a division: what no plane may cross, and where a seam costs more or less."""

from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np
from shapely.geometry import MultiPolygon

from hinoki.core.divide.region_tracking import Marked, places_of
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Faces, Mesh, Points

SHOW, HIDDEN = 4.0, 0.25
"""what a millimetre of seam counts on show faces and on hidden ones"""
ON_MARK_MM = 0.5
STRADDLES_MM = 0.02
MOST_SAMPLES = 160


@dataclass(frozen=True)
class Kept:
    """One place to keep whole: its mark and its corners (n, 3)."""

    mark: str
    points: Points


@dataclass(frozen=True)
class Heed:
    """The marks as the search needs them."""

    kept: list[Kept] = field(default_factory=list)
    show: Mesh | None = None
    hidden: Mesh | None = None

    def crossed(self, frame: Frame, low: Points, high: Points) -> Kept | None:
        """The place to keep whole that a plane would cross within the box of a piece; none where it may cut."""
        for kept in self.kept:
            middle = kept.points.mean(axis=0)
            if ((middle < low - 1) | (middle > high + 1)).any():
                continue
            heights = frame.heights(kept.points)
            if heights.min() < -STRADDLES_MM and heights.max() > STRADDLES_MM:
                return kept
        return None

    def seam_cost(self, section: MultiPolygon, frame: Frame) -> float:
        """Length of a section's outlines, with what runs on show faces counted more and on hidden faces less."""
        import igl

        length = float(section.length)
        if (self.show is None and self.hidden is None) or length == 0:
            return length
        points = _samples(section, frame, length)
        weight = np.ones(len(points))
        for mesh, counts in ((self.show, SHOW), (self.hidden, HIDDEN)):
            if mesh is not None:
                squared = igl.point_mesh_squared_distance(points, mesh.vertices, mesh.faces)[0]
                weight[np.asarray(squared) < ON_MARK_MM**2] = counts
        return length * float(weight.mean())


def heeded(now: Marked, mesh: Mesh) -> Heed:
    """The marks of a prepared model as the search needs them."""
    out = Heed(show=_patch(mesh, now.of("show")), hidden=_patch(mesh, now.of("hidden")))
    for name, faces in now.faces.items():
        if now.kinds[name] != "keep":
            continue
        place = places_of(mesh, faces)
        for number in np.unique(place):
            corners = np.unique(mesh.faces[faces[place == number]])
            out.kept.append(Kept(name, mesh.vertices[corners]))
    return out


def _patch(mesh: Mesh, faces: Faces) -> Mesh | None:
    return mesh.only(faces) if len(faces) else None


def _samples(section: MultiPolygon, frame: Frame, length: float) -> Points:
    """Points (n, 3) along the outlines at equal distances."""
    out = []
    for part in section.geoms:
        for ring in (part.exterior, *part.interiors):
            count = max(4, round(MOST_SAMPLES * ring.length / length))
            out += [ring.interpolate(share, normalized=True).coords[0] for share in (np.arange(count) + 0.5) / count]
    return np.ascontiguousarray(frame.world(np.array(out)))


def angles_clear(kept: list[Kept], axis_at: Points, u: Points, v: Points, angles: list[float]) -> Kept | None:
    """The place to keep whole that half planes at these angles (degrees) around an axis would cross; none where none is."""
    turns = np.radians(np.asarray(angles))
    for one in kept:
        from_axis = one.points - axis_at
        x, y = from_axis @ u, from_axis @ v
        own = np.sort(np.arctan2(y, x))
        widest = max([*((b - a, b) for a, b in pairwise(own)), (own[0] + 2 * np.pi - own[-1], own[0])])
        start, span = widest[1], 2 * np.pi - widest[0]
        inside = (turns - start) % (2 * np.pi) < span
        if inside.any():
            return one
    return None
