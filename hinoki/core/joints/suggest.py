"""What joint suits a mating face: measures worked out from its size and its walls."""

from hinoki.core.fits import Fit
from hinoki.core.joints import DowelJoint, Joint, PinJoint
from hinoki.core.joints.placing import Depths, room_for, spread
from hinoki.core.sections import largest_circle

DIAMETERS_MM = (10.0, 8.0, 6.0, 5.0, 4.0, 3.0, 2.5, 2.0, 1.5)
LENGTH_SHARES = (1.2, 0.8, 0.5)
"""lengths tried, as a share of the diameter: long first, short where the model is low"""
LEAST_LENGTH_MM = 1.5


def suggest(kind: str, joint_id: str, depths: Depths, fit: Fit, clearance_mm: float, least_wall_mm: float) -> Joint | None:
    """The largest peg, in whole sizes, that leaves the least wall everywhere, at two to four places; None without room."""
    face = depths.face
    radius, _ = largest_circle(face.shape)
    x0, y0, x1, y1 = face.shape.bounds
    extent = max(x1 - x0, y1 - y0)
    count = 2 if extent < 80 else 3 if extent < 160 else 4
    single: Joint | None = None
    for diameter in DIAMETERS_MM:
        if diameter / 2 + clearance_mm + least_wall_mm > radius or diameter > max(1.5, extent / 5):
            continue
        for share in LENGTH_SHARES:
            length = max(LEAST_LENGTH_MM, round(2 * share * diameter) / 2)
            joint: PinJoint | DowelJoint
            if kind == "pin":
                joint = PinJoint(id=joint_id, face=face.ref, fit=fit, count=count, diameter_mm=diameter, length_mm=length)
            else:
                joint = DowelJoint(id=joint_id, face=face.ref, fit=fit, count=count, diameter_mm=diameter, length_mm=2 * length)
            room = room_for(joint, depths, clearance_mm, least_wall_mm)
            places = spread(room, count, diameter + 2 * clearance_mm + least_wall_mm)
            if len(places) >= 2:
                return joint.model_copy(update={"count": len(places)})
            if places and single is None:
                single = joint.model_copy(update={"count": 1})
    return single
