"""What hinge suits the edge between two pieces: the longest with room, at an edge where the door swings freely."""

from collections.abc import Iterator

import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.closures.hinge import HingeJoint
from hinoki.core.join.contract.terms import Place, Standing
from hinoki.core.join.opening.swings import swing_of
from hinoki.core.join.placing import Depths, auto_places
from hinoki.core.workshop.fits import Fit

SIZES = ((40.0, 5, 3.0), (30.0, 5, 2.0), (20.0, 3, 2.0), (14.0, 3, 2.0), (10.0, 3, 1.5), (8.0, 3, 1.0))
"""length, knuckles and pin: long ones first"""
SHARE = 0.55
"""of an edge that a hinge takes at most"""
LEAST_WALL_MM, MOST_WALL_MM = 0.8, 2.0
EDGES = 4


def hinge(joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> HingeJoint | None:
    """The largest hinge that has an edge to stand at where the bare pieces swing freely; None without one."""
    for joint, room in _with_room(joint_id, depths, fit, standing):
        place = joint.spread(room, 0.0)[0]
        for one in _edges(place, room):
            if _swings(joint, depths, standing, one):
                return joint if one == place else joint.model_copy(update={"places": (one,)})
    return None


def has_edge(depths: Depths, fit: Fit, standing: Standing) -> bool:
    """Whether there is an edge at which a hinge could stand, whether or not the pieces swing there."""
    return next(_with_room("j1", depths, fit, standing), None) is not None


def _with_room(joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> Iterator[tuple[HingeJoint, MultiPolygon]]:
    """Hinges that have an edge to stand at, and their edges, long ones first."""
    for length, knuckles, pin in SIZES:
        joint = HingeJoint(
            id=joint_id, face=depths.face.ref, fit=fit, length_mm=length, knuckles=knuckles, pin_mm=pin,
            wall_mm=min(MOST_WALL_MM, max(LEAST_WALL_MM, standing.least_wall_mm)),
        )  # fmt: skip
        places, room = auto_places(joint, depths, standing)
        if places and _longest(room) >= (1 / SHARE - 1) * length:
            yield joint, room


def _longest(room: shapely.Geometry) -> float:
    """Along the outline: a strip is a hair wide, so its length is half of the way around it."""
    return max((part.length / 2 for part in as_multi(room, 1e-9).geoms), default=0.0)


def _edges(first: Place, room: shapely.Geometry) -> Iterator[Place]:
    """The first place, then the middles of the other long strips, upper ones first."""
    yield first
    strips = sorted(as_multi(room, 1e-9).geoms, key=lambda s: (-round(s.length, 0), -round(s.centroid.y, 1), s.centroid.x))
    for strip in strips[:EDGES]:
        place = round(strip.centroid.x, 2) + 0.0, round(strip.centroid.y, 2) + 0.0
        if place != first:
            yield place


def _swings(joint: HingeJoint, depths: Depths, standing: Standing, place: Place) -> bool:
    axis = joint.axis(standing, place)
    if axis is None:
        return False
    tools = joint.tools(standing, [place])
    made: dict[str, Solid] = {}
    for part, side in ((depths.face.a, "a"), (depths.face.b, "b")):
        own = [t for t in tools.each if t.side == side]
        made[side] = part.solid.plus([t.add for t in own if t.add]).minus([t.cut for t in own if t.cut])
    return swing_of(made["b"], {"a": made["a"]}, axis, joint.opens_deg).angle is None
