"""How much of the seams is held: the length of every mating face's outline that lies within reach of a joint."""

from collections.abc import Sequence

import shapely
from shapely.geometry import LineString, MultiPolygon, Point

from hinoki.core.build import Build
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.join.contract.sliding_profile import RunningJoint
from hinoki.core.join.placed_joint import PlacedJoint, by_face

REACH_MM = 40.0
"""a seam is held this far to either side of a joint's element (common practice)"""


def joined_seams(build: Build) -> list[tuple[float, float]]:
    """For every mating face the length of its outer outlines in mm, and how much of it lies within reach of a joint's element.

    A joint that follows the outline, or runs along a line, holds where it runs, a plain butt nothing.
    """
    placed = by_face(build.placed)
    return [_joined(face, placed[face.ref.id]) for face in build.faces]


def _joined(face: MatingFace, placed: Sequence[PlacedJoint]) -> tuple[float, float]:
    rings = [LineString(part.exterior.coords) for part in face.shape.geoms]
    long = sum(r.length for r in rings)
    reached: list[shapely.Geometry] = []
    for placed_joint in placed:
        if placed_joint.joint.kind == "butt":
            continue
        joint, standing = placed_joint.joint, placed_joint.standing
        if not joint.wanted:  # it runs along the outline
            reached.append(joint.footprint(standing, (0.0, 0.0)).buffer(REACH_MM))
        elif isinstance(joint, RunningJoint):
            reached += [joint.footprint(standing, place).buffer(REACH_MM) for place in placed_joint.places]
        else:
            reached += [Point(place).buffer(REACH_MM) for place in placed_joint.places]
    near = shapely.union_all(reached) if reached else MultiPolygon()
    return long, float(sum(shapely.intersection(r, near).length for r in rings))
