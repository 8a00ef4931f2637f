"""The demo project: the lighthouse, already parted, named and joined."""

import hashlib

from hinoki.core.build import build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting
from hinoki.core.formats.stl import write_stl
from hinoki.core.join.channels import CableWay, RodWay, Way
from hinoki.core.join.joints import DovetailJoint, Joint, MagnetJoint, ThreadJoint
from hinoki.core.join.sizing.recommended_sizes import SuitKind
from hinoki.core.plan.assembly_settings import Assembling
from hinoki.core.plan.contents import ModelUse, PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.recommend_joints import SuitWish, settled, suited
from hinoki.demo.lighthouse import FILE_NAME, NAME, lighthouse

PROJECT_NAME = f"{NAME} 1:60"

NAMES = {
    "p1- p4- p5-": "Rock, south-west",
    "p1- p4- p5+": "Rock, north-west",
    "p1- p4+ p5-": "Rock, south-east",
    "p1- p4+ p5+": "Rock, north-east",
    "p1+ p2- p3-": "Tower, lower",
    "p1+ p2- p3+": "Tower, upper",
    "p1+ p2+ p6-": "Gallery and lantern",
    "p1+ p2+ p6+": "Roof and mast",
}


def demo_source() -> bytes:
    """The model file."""
    return write_stl(lighthouse(), NAME)


def demo_plan(data: bytes, cache: Cache) -> Plan:
    """The plan for `data`: six partings, the joint that suits each face, names for the pieces."""
    rock = ("p1-",)
    partings = (
        FlatParting(id="p1", name="rock / tower", axis="z", at_mm=ROCK_AND_TOWER),
        FlatParting(id="p2", name="tower / gallery", axis="z", at_mm=462.0),
        FlatParting(id="p3", name="tower", axis="z", at_mm=288.0, only=("p1+ p2-",)),
        FlatParting(id="p4", name="rock, west / east", axis="x", at_mm=0.0, only=rock),
        FlatParting(id="p5", name="rock, south / north", axis="y", at_mm=0.0, only=("p1- p4-", "p1- p4+")),
        FlatParting(id="p6", name="lantern / roof", axis="z", at_mm=566.0, only=("p1+ p2+",)),
    )
    model = ModelUse(source=hashlib.sha256(data).hexdigest(), file_name=FILE_NAME)
    notes = {key: PieceNote(name=name) for key, name in NAMES.items()}
    plan = Plan(model=model, partings=partings, pieces=notes, ways=WAYS, assembling=ASSEMBLING)
    built = build(plan, lambda _: data, cache)
    for parting, kind in KIND_AT.items():
        wish = SuitWish(kind=kind, faces=[f.ref.id for f in built.faces if f.ref.parting == parting])
        plan = plan.model_copy(update={"joints": (*plan.joints, *suited(built, plan, wish).joints)})
    plan = plan.model_copy(update={"joints": tuple(_as_a_maker_would(j) for j in plan.joints)})
    return settled(plan, build(plan, lambda _: data, cache))


WAYS: tuple[Way, ...] = (
    RodWay(id="w1", start_mm=(-17.38, 39.19, 245.0), end_mm=(-17.38, 39.19, 335.0), diameter_mm=3),
    CableWay(id="w2", start_mm=(18.0, 18.0, -1.0), end_mm=(18.0, 18.0, 566.0), diameter_mm=6),
)
"""a rod stiffens the tower's joint; the wire of a lamp comes up through the rock, the hollow tower and the gallery's floor"""

KIND_AT: dict[str, SuitKind] = {"p1": "pin", "p2": "thread", "p3": "lip", "p4": "dovetail", "p5": "key", "p6": "magnet"}
"""west and east halves of the rock slide onto each other, keys from below draw north and south together; the halves of the
tower find each other by a lip; the gallery with its lantern screws onto the tower, and magnets hold the roof, so that a lamp
can be reached"""


def _as_a_maker_would(joint: Joint) -> Joint:
    if isinstance(joint, DovetailJoint):  # the eastern part comes down, and stays by its weight
        sizes = {"neck_mm": 10.0, "head_mm": 20.0, "height_mm": 6.0}
        return joint.model_copy(update={**sizes, "along_deg": -90.0, "ends": "closed", "stop_mm": 20.0, "fit": "sliding"})
    if isinstance(joint, ThreadJoint):  # the bars of the lantern stand as they should
        return joint.model_copy(update={"lines_up": True})
    if isinstance(joint, MagnetJoint):
        return joint.model_copy(update={"one_way": True})
    return joint


ROCK_AND_TOWER = 112.0
ASSEMBLING = Assembling(
    comes_off=("p1+ p2+ p6+",),
    notes={
        "w2": "Leave 100 mm of wire at the top for the lamp, and a knot under the rock.",
        "p1+ p2+ p6+": "To change the lamp, lift the roof off; the wire can stay.",
    },
)
"""the roof is lifted off to reach the lamp"""
