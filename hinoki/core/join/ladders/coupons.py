"""Test pieces: each kind of joint shortened to what its fit needs, and the face it stands on then."""

from dataclasses import dataclass

import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.polygons import as_multi
from hinoki.core.join.closures.hinge import HingeJoint
from hinoki.core.join.closures.hook import HookJoint
from hinoki.core.join.closures.latch import LatchJoint
from hinoki.core.join.closures.rail import RailJoint
from hinoki.core.join.contract.base import JointBase
from hinoki.core.join.contract.pegs import PegJoint
from hinoki.core.join.contract.sliding_profile import RunningJoint
from hinoki.core.join.joints.bayonet import BayonetJoint
from hinoki.core.join.joints.dovetail import DovetailJoint
from hinoki.core.join.joints.dowel import DowelJoint
from hinoki.core.join.joints.finger import FingerJoint
from hinoki.core.join.joints.key import KeyJoint
from hinoki.core.join.joints.lip import LipJoint
from hinoki.core.join.joints.thread import ThreadJoint
from hinoki.core.join.joints.tongue import TongueJoint

SHORT_MM = 10.0
"""as long as a test piece needs to be (common practice)"""
FINGER_MM = 4.0
"""thickness of a test piece for fingers, whose sides alone are tried, and their depth where that is as a panel's thickness"""
MARGIN_MM = 1.0
"""beside the least wall, so that a piece can be held"""

ANEW = {"places": ((0.0, 0.0),), "clearance_mm": None}
"""of every test piece: in the middle of its face, with the clearance of its rung"""


@dataclass(frozen=True)
class TestPiece:
    """A joint shortened, the outline of the face it stands on, about the origin, and how far the piece with the pocket and the
    other one reach from it, in mm."""

    joint: JointBase
    shape: MultiPolygon
    female_mm: float
    male_mm: float


def test_piece(joint: JointBase, wall_mm: float) -> TestPiece | None:
    """The test piece of a joint; None for kinds without a clearance to be tried: glue, screws."""
    room = wall_mm + MARGIN_MM
    if isinstance(joint, PegJoint):
        length = min(joint.length_mm, SHORT_MM)
        peg = (
            {"length_mm": 2 * length, "in_a_mm": length} if isinstance(joint, DowelJoint) else {"length_mm": length, "on": "a"}
        )
        short: JointBase = joint.model_copy(update={**ANEW, **peg, "collar_mm": 0.0, "one_way": False})
        return TestPiece(short, _square(2 * (joint.radius_mm + room)), length + room, 3.0)
    if isinstance(joint, ThreadJoint | BayonetJoint | LatchJoint):
        return _turned(joint, room)
    if isinstance(joint, RailJoint):
        long = min(joint.runner_mm, SHORT_MM)
        more = {"count": 1, "along_deg": 0.0, "on": "a", "way_in": "end", "stop_mm": MARGIN_MM}
        short = joint.model_copy(update={**ANEW, **more, "runner_mm": long, "travel_mm": SHORT_MM, "slack_mm": 0.0})
        length = short.long_mm + SHORT_MM + 2 * room
        return TestPiece(short, _box(length, 2 * (joint.half_mm + room)), short.height_mm + joint.catch_mm + room, 3.0)
    if isinstance(joint, RunningJoint):
        more = {"lock_mm": 0.0} if isinstance(joint, DovetailJoint) else {}
        if isinstance(joint, DovetailJoint | TongueJoint):
            short = joint.model_copy(update={**ANEW, **more, "count": 1, "along_deg": 0.0, "on": "a", "ends": "through"})
            return TestPiece(short, _box(SHORT_MM, 2 * (joint.half_mm + room)), joint.height_mm + room, 3.0)
    if isinstance(joint, KeyJoint):
        high = joint.deep_mm + room
        short = joint.model_copy(update={**ANEW, "places": ((0.0, -high / 2),), "surface": "outside"})
        return TestPiece(short, _box(joint.end_mm + 2 * room, high), joint.length_mm / 2 + room, joint.length_mm / 2 + room)
    if isinstance(joint, LipJoint):
        thick = joint.thickness_mm or 1.5
        whole = _square(20.0)
        shape = as_multi(shapely.difference(whole, whole.buffer(-2 * thick, join_style="mitre")))
        short = joint.model_copy(update={**ANEW, "places": None, "on": "a", "thickness_mm": thick, "seal_mm": 0.0})
        return TestPiece(short, shape, joint.height_mm + room, 3.0)
    if isinstance(joint, FingerJoint):
        wide, deep = min(joint.width_mm, SHORT_MM), min(joint.depth_mm or FINGER_MM, SHORT_MM)
        short = joint.model_copy(update={**ANEW, "width_mm": wide, "depth_mm": deep, "count": 1, "on": "a"})
        return TestPiece(short, _box(wide + 2 * room, FINGER_MM), deep + room, 3.0)
    if isinstance(joint, HookJoint):
        short = joint.model_copy(update={**ANEW, "on": "a", "collar_mm": 0.0})
        return TestPiece(short, _square(2 * (joint.radius_mm + room)), joint.high_mm + room, 3.0)
    if isinstance(joint, HingeJoint):
        knuckles, deep = 3, 2 * joint.reach_mm("b")
        length = max(3 * (2 * joint.gap_mm + 3.0), min(joint.length_mm, SHORT_MM))
        short = joint.model_copy(update={**ANEW, "length_mm": length, "knuckles": knuckles, "places": ((0.0, deep),)})
        return TestPiece(short, _box(length + 2.0, 2 * deep), deep, deep)
    return None


def _turned(joint: ThreadJoint | BayonetJoint | LatchJoint, room: float) -> TestPiece:
    """Of what is turned: as many turns as it takes to feel it, its plug on piece A."""
    if isinstance(joint, ThreadJoint):
        length = min(joint.length_mm, max(SHORT_MM, 3 * joint.starts * joint.pitch_mm))
        short: JointBase = joint.model_copy(
            update={**ANEW, "length_mm": length, "on": "a", "collar_mm": 0.0, "lines_up": False, "plug": "part"}
        )
        return TestPiece(short, _square(joint.diameter_mm + 2 * room), length + room, 3.0)
    if isinstance(joint, BayonetJoint):
        short = joint.model_copy(update={**ANEW, "on": "a", "collar_mm": 0.0})
        return TestPiece(short, _square(joint.diameter_mm + 2 * room), joint.length_mm + room, 3.0)
    short = joint.model_copy(update={**ANEW, "count": 1, "on": "a", "sunk_mm": 0.0})
    side = 2 * (max(joint.diameter_mm / 2, joint.head_across_mm / 2) + room)
    return TestPiece(short, _square(side), joint.length_mm + room, joint.head_mm + room)


def _square(side: float) -> MultiPolygon:
    return _box(side, side)


def _box(x: float, y: float) -> MultiPolygon:
    return MultiPolygon([shapely.box(-x / 2, -y / 2, x / 2, y / 2)])
