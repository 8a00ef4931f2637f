"""What stands inside a hollow: a lattice of struts, or formers (cross walls) with lightening holes and a rod bore."""

import numpy as np
import shapely

from hinoki.core.errors import StepRefused
from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import FramedSolid, largest_circle
from hinoki.core.geometry.solid import Solid
from hinoki.core.progress import Tell, quiet

MOST_STRUTS = 4000
OVERLAP_MM = 0.05


def lattice(cavity: Solid, spacing_mm: float, strut_mm: float) -> Solid:
    """Struts along the edges of cubes that stand on a corner, so that each prints without support; clipped to the cavity."""
    if spacing_mm < 2 * strut_mm:
        raise StepRefused(f"A lattice of {spacing_mm:g} mm with struts of {strut_mm:g} mm leaves no room. Space it wider.")
    low, high = cavity.bounds
    middle, reach = (low + high) / 2, float(np.linalg.norm(high - low)) / 2
    steps = int(np.ceil(reach / spacing_mm))
    turn = _upright_cube()
    struts = []
    at = np.arange(-steps, steps + 1) * spacing_mm
    for axis in range(3):
        way = turn[:, axis]
        one, two = turn[:, (axis + 1) % 3], turn[:, (axis + 2) % 3]
        bar = Solid.prism(strut_mm / 2, -reach, reach, 8)
        for a in at:
            for b in at:
                if np.hypot(a, b) > reach:
                    continue
                frame = Frame(middle + a * one + b * two, one, two, way)
                struts.append(bar.placed(frame.to_world))
    if len(struts) > MOST_STRUTS:
        raise StepRefused(f"A lattice of {spacing_mm:g} mm would need {len(struts):,} struts; {MOST_STRUTS:,} is the most.")
    return Solid.united(struts).common(cavity)


def _upright_cube() -> np.ndarray:
    """A cube standing on its corner: all edges lean 54.7° from the level, steeper than the 45° that prints unsupported."""
    z = np.ones(3) / np.sqrt(3)
    x = np.array([1.0, -1.0, 0.0]) / np.sqrt(2)
    return np.linalg.inv(np.column_stack([x, np.cross(z, x), z]))


def formers(  # noqa: PLR0913 - a former's measures
    cavity: Solid, axis: int, spacing_mm: float, wall_mm: float, hole: float, rod_mm: float, tell: Tell = quiet
) -> Solid:
    """Cross walls of the cavity's section every `spacing_mm`, each open by `hole` of its room, all with a bore in one line."""
    if spacing_mm <= wall_mm:
        raise StepRefused(f"Formers every {spacing_mm:g} mm of {wall_mm:g} mm would fill the model. Space them wider.")
    low, high = cavity.bounds
    count = int((high[axis] - low[axis]) // spacing_mm)
    if count > 500:
        raise StepRefused(f"That makes {count} formers; 500 is the most. Space them wider.")
    first = (low[axis] + high[axis] - (count - 1) * spacing_mm) / 2 if count else 0.0
    normal = np.eye(3)[axis]
    walls = []
    line: np.ndarray | None = None
    across = FramedSolid(cavity, plane_frame(np.zeros(3), normal))
    for k in range(count):
        tell(k / count, f"Drawing former {k + 1} of {count}")
        frame = plane_frame(normal * (first + k * spacing_mm), normal)
        # less detail than its overlap: what stands out is cut off by the cavity
        section = as_multi(shapely.simplify(across.section(first + k * spacing_mm), OVERLAP_MM / 2))
        radius, centre = largest_circle(section)
        if radius <= 0:
            continue
        if line is None:
            line = centre
        room = section.buffer(-max(2 * wall_mm, (1 - hole) * radius)) if hole > 0 else shapely.MultiPolygon()
        plate = section.buffer(OVERLAP_MM).difference(room)
        if rod_mm > 0:
            # the rod runs in one line through all; where the lightening hole would swallow it, a boss carries it
            boss = shapely.Point(*line).buffer(rod_mm / 2 + 2 * wall_mm)
            spokes = shapely.union_all([shapely.LineString([line, p]).buffer(wall_mm) for p in _rim(section, line)])
            plate = plate.union(boss.union(spokes).intersection(section)).difference(
                shapely.Point(*line).buffer(rod_mm / 2 + 0.1)
            )
        walls.append(Solid.drawn(as_multi(plate), -wall_mm / 2, wall_mm / 2).placed(frame.to_world))
    if not walls:
        raise StepRefused("The cavity is too short for formers at this spacing.")
    tell(0.99, "Fitting the formers into the cavity")
    return Solid.together(walls).common(cavity)


def _rim(section: shapely.MultiPolygon, line: np.ndarray) -> list[np.ndarray]:
    reach = float(np.hypot(section.bounds[2] - section.bounds[0], section.bounds[3] - section.bounds[1]))
    return [line + reach * np.array([np.cos(a), np.sin(a)]) for a in np.radians([90.0, 210.0, 330.0])]
