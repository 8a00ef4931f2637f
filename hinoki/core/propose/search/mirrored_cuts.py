"""Divisions of symmetric bodies: how far one is from its mirror image, and the mirror image of a plane that cuts."""

from collections.abc import Sequence

import numpy as np

from hinoki.core.divide.partings import FlatParting, PartingBase
from hinoki.core.divide.partings.flat import plane_fields
from hinoki.core.geometry.mesh import Points, box_corners
from hinoki.core.geometry.solid import Solid
from hinoki.core.symmetry.mirror_planes import MirrorPlane

SAME_PLACE, SAME_VOLUME = 0.006, 0.03
"""pieces are mirror images when they lie so near, as a share of the body's girth, and are alike in volume"""
SAME_MM, SAME_ROW_MM, SAME = 0.05, 0.5, 1 - 1e-9
"""planes nearer than this, in a row, and with normals of this cosine, are one"""


def uneven(volumes: Points, middles: Points, mirrors: Sequence[MirrorPlane], girth_mm: float) -> float:
    """Share of the volume in pieces that have no mirror image among the pieces and are none themselves, on the average of the
    planes; 0 where there are none. `volumes` (n,) and `middles` (n, 3), centres of mass, are of the pieces."""
    if not mirrors or len(volumes) < 2:
        return 0.0
    alike = np.abs(volumes[:, None] - volumes[None]) < SAME_VOLUME * np.maximum(volumes[:, None], volumes[None])
    shares = []
    for mirror in mirrors:
        apart = np.linalg.norm(mirror.image(middles)[:, None] - middles[None], axis=2)
        there = ((apart < SAME_PLACE * girth_mm) & alike).any(axis=1)
        shares.append(float(volumes[~there].sum() / volumes.sum()))
    return float(np.mean(shares))


def own_mirrors(solid: Solid, mirrors: Sequence[MirrorPlane]) -> list[MirrorPlane]:
    """Those of the planes that mirror a piece, by its box and its centre of mass."""
    low, high = solid.bounds
    corners = box_corners(low, high)
    near = SAME_PLACE * 2 * float(np.sort(high - low)[1:].sum())
    found = []
    for mirror in mirrors:
        middle = solid.centre_of_mass
        reach = np.ptp(mirror.image(corners), axis=0) - np.ptp(corners, axis=0)
        away = np.linalg.norm(mirror.image(middle) - middle)
        if (
            away < near
            and np.abs(mirror.image(corners).mean(axis=0) - corners.mean(axis=0)).max() < near
            and reach.max() < near
        ):
            found.append(mirror)
    return found


def mirrors_row(mirror: MirrorPlane, axis: Points, offsets: Sequence[float]) -> bool:
    """Whether planes square to `axis` at `offsets` are mirrored onto each other."""
    along = float(mirror.normal @ axis)
    if abs(along) < 1e-6:
        return True
    if abs(along) < SAME:
        return False
    images = np.sort([2 * mirror.offset_mm * along - at for at in offsets])
    return bool(np.abs(images - np.sort(offsets)).max() < SAME_ROW_MM)


def images_of(parting: PartingBase, mirrors: Sequence[MirrorPlane]) -> list[FlatParting]:
    """The mirror images of a flat parting that are other planes than itself; none of partings of another kind."""
    if not isinstance(parting, FlatParting):
        return []
    frame, found = parting.frame, []
    for mirror in mirrors:
        normal = frame.n - 2 * float(frame.n @ mirror.normal) * mirror.normal
        there = mirror.image(frame.origin)
        if abs(float(normal @ frame.n)) < SAME or abs(float((there - frame.origin) @ frame.n)) > SAME_MM:
            found.append(parting.model_copy(update=plane_fields(there, normal)))
    return found
