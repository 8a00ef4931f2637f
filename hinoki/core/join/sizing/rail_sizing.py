"""What rail suits a face: the way in which the bare door slides farthest, its runner as long as it can be."""

from collections.abc import Iterator

import numpy as np
import shapely

from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.slide_collision import Form, slide
from hinoki.core.join.closures.rail import RailJoint
from hinoki.core.join.contract.terms import SideName, Standing
from hinoki.core.join.joints import Joint
from hinoki.core.join.placing import Depths
from hinoki.core.join.sizing.face_measures import measures, with_room
from hinoki.core.workshop.fits import Fit

NECKS_MM = (6.0, 5.0, 4.0, 3.0, 2.5, 2.0)
WAYS_DEG = (0.0, 180.0, 90.0, -90.0)
"""ways a door may open, from along the longer side of its face"""
LEAST_TRAVEL_MM = 10.0
SHARES = (1.0, 0.75, 0.5, 0.35)
"""of its own length a door opens by, at the most; less where its rail has no room"""
OF_FACE = (0.6, 0.35)
"""of the face along its way that a runner takes: a long one tips less, a short one slides farther"""
LEAST_RUNNER = 1.5
"""heads that a runner is long: a shorter one jams"""
WIDE_MM = 40.0
"""a door wider across its way gets two rails"""
FLANK = 0.6
"""height to neck, as of dovetails (common practice)"""


def rail(joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> Iterator[Joint]:
    """Rails that have room, those first on which the bare door slides farthest."""
    _, _, angle = measures(standing.shape)
    on: SideName = "b" if depths.face.b.solid.volume_mm3 <= depths.face.a.solid.volume_mm3 else "a"
    ways = []
    for turned in WAYS_DEG:
        along = 180.0 - (180.0 - angle - turned) % 360.0
        extent, across = _extents(standing.shape, along)
        free = min(extent, _free_mm(depths, on, standing.frame, along))
        if free >= LEAST_TRAVEL_MM:
            ways.append((free, along, extent, across))
    sizes = (
        RailJoint(
            id=joint_id, face=depths.face.ref, fit=fit, on=on, along_deg=along, count=2 if across >= WIDE_MM else 1,
            neck_mm=neck, head_mm=2 * neck, height_mm=round(FLANK * neck, 1), stop_mm=max(2.0, standing.least_wall_mm),
            runner_mm=round(max(LEAST_RUNNER * 2 * neck, of_face * extent), 1), travel_mm=round(share * free, 1),
        )
        for share in SHARES
        for free, along, extent, across in sorted(ways, key=lambda way: -round(way[0]))
        if share * free >= LEAST_TRAVEL_MM
        for of_face in OF_FACE
        for neck in NECKS_MM
        if 2 * neck <= 0.5 * across and LEAST_RUNNER * 2 * neck <= extent
    )  # fmt: skip
    return with_room(sizes, depths, standing)


def _extents(shape: shapely.Geometry, along_deg: float) -> tuple[float, float]:
    """How long a face is along a direction in it, and across."""
    angle = np.radians(along_deg)
    flat = shapely.get_coordinates(shape) @ np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    long, wide = np.ptp(flat, axis=0)
    return float(long), float(wide)


def _free_mm(depths: Depths, on: SideName, frame: Frame, along_deg: float) -> float:
    """How far the bare door slides along a direction in the face before it touches the bare frame."""
    angle = np.radians(along_deg)
    way = np.cos(angle) * frame.u + np.sin(angle) * frame.v
    door, still = (Form(depths.face.part(side).solid.mesh) for side in (on, "a" if on == "b" else "b"))
    return float(slide(door, still, way).after_mm)
