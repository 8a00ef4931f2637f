"""Doors for tests: a cupboard whose door slides, and two leaves that fold."""

import math

import numpy as np

from hinoki.core.build import Build
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import FaceRef, HingeJoint, Joint, RailJoint
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.fits import Fits
from tests.shapes import across, box, built, level, plan_for, stl_of

CUPBOARD = box(160, 30, 60).plus([Solid.box([-80, -21, 2], [0, -15, 58])])
"""a body 160 wide, and a door 80 wide before its left half; as it stands amid its bed the plane between them is y = −12"""
FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
"""the plane before the body looks along +y: piece B is the body, the door is A"""


def cupboard(*joints: Joint, fits: Fits | None = None, solid: Solid = CUPBOARD) -> Build:
    """It made, with joints before its body."""
    return built(stl_of(solid), plan_for(stl_of(solid), across(1, "y", -12.0), joints=joints, fits=fits or Fits()))


def rail(**more: object) -> RailJoint:
    """A rail that opens the door to the right."""
    measures = {"id": "j1", "face": FACE, "on": "a", "along_deg": opens_right(), "travel_mm": 60.0, **more}
    return RailJoint(**measures)  # type: ignore[arg-type]


def opens_right() -> float:
    """The direction in the face that is +x in the world, in degrees."""
    frame = cupboard().faces[0].frame
    return math.degrees(math.atan2(frame.v[0], frame.u[0]))


WALL, HIGH, LEAF = 8.0, 70.0, 50.0
"""how thick the door is, how high its leaves are, how wide each is; a lintel lies over it, a jamb stands at its left"""


def folding_plan(right_jamb: float = 0.0, travel_mm: float = 90.0) -> tuple[bytes, Plan]:
    """Leaves hung at the left jamb, on the outside, and on each other, on the inside; a pin at the far end of the second."""
    solid = Solid.box([-LEAF - 20, 0, 0], [LEAF + right_jamb, WALL, HIGH + 15])
    data = stl_of(solid)
    shift = -(right_jamb - 20.0) / 2  # it stands amid its bed
    cuts = [level(1, HIGH), across(2, "x", shift - LEAF, only=("p1-",)), across(3, "x", shift, only=("p1- p2+",))]
    if right_jamb:
        cuts.append(across(4, "x", shift + LEAF, only=("p1- p2+ p3+",)))
    bare = built(data, plan_for(data, *cuts))
    faces = {frozenset((f.ref.a, f.ref.b)): f for f in bare.faces}
    low = {part.key: part.solid.bounds[0] for part in bare.parts}
    jamb, near, far = sorted((k for k in low if low[k][2] < 1), key=lambda k: float(low[k][0]))[:3]
    lintel = next(k for k in low if low[k][2] > 1)

    def hinge(number: int, a: str, b: str, y: float) -> HingeJoint:
        face = faces[frozenset((a, b))]
        at = np.array([face.frame.origin[0], y, HIGH / 2]) - face.frame.origin
        place = (float(at @ face.frame.u), float(at @ face.frame.v))
        return HingeJoint(id=f"j{number}", face=face.ref, length_mm=30, knuckles=3, opens_deg=180, places=(place,))

    above = faces[frozenset((far, lintel))]
    angle = math.degrees(math.atan2(-above.frame.v[0], -above.frame.u[0]))
    guide = RailJoint(
        id="j3", face=above.ref, on="a" if above.ref.a == far else "b", along_deg=angle, runner="round", pin_mm=3.0,
        height_mm=3.0, stop_mm=6.0, travel_mm=travel_mm,
    )  # fmt: skip
    joints = (hinge(1, jamb, near, -WALL / 2), hinge(2, near, far, WALL / 2), guide)
    return data, plan_for(data, *cuts, joints=joints)
