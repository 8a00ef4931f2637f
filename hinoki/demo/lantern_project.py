"""The fifth demo project: a thin-walled lantern, its walls joined as thin walls are, with a lid, a panel that slides in, and a
battery drum that comes off by a turn."""

import hashlib

from hinoki.core.build import Build, build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting
from hinoki.core.formats.stl import write_stl
from hinoki.core.join.joint_edits import added
from hinoki.core.join.joints import ButtJoint, Joint, TongueJoint
from hinoki.core.join.sizing.recommended_sizes import SuitKind
from hinoki.core.plan.assembly_settings import Assembling, Glued
from hinoki.core.plan.contents import ModelUse, PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.lids import made_to_shut
from hinoki.core.propose.recommend_joints import SuitWish, settled, suited
from hinoki.demo.lantern import FILE_NAME, NAME, lantern

PROJECT_NAME = NAME
LEAST_WALL_MM = 1.0
HOUSING = "p1+ p4+ p5+ p6-"
PANEL, BODY, ROOF = f"{HOUSING} p7-", f"{HOUSING} p7+", "p1+ p4+ p5+ p6+"
DRUM = "p1+ p4+ p5-"
PIECES = {
    "p1- p2- p3-": "Foot, south-west",
    "p1- p2+ p3-": "Foot, south-east",
    "p1- p2- p3+": "Foot, north-west",
    "p1- p2+ p3+": "Foot, north-east",
    "p1+ p4-": "Neck of the foot",
    DRUM: "Battery drum",
    PANEL: "Front panel",
    BODY: "Housing",
    ROOF: "Roof",
}
KIND_AT: tuple[tuple[str, SuitKind], ...] = (
    ("p2", "splice"),
    ("p3", "pin"),
    ("p1", "lip"),
    ("p4", "bayonet"),
    ("p5", "lip"),
    ("p7", "tongue"),
)
"""the foot's quarters are held by plates inside and by pins in ears, the drum comes off its neck by a turn, the front panel
slides down in two tongues, and the roof, on its hinge, keeps it there"""


def lantern_source() -> bytes:
    """The model file."""
    return write_stl(lantern(), NAME)


def lantern_plan(data: bytes, cache: Cache) -> Plan:
    """The plan for `data`: seven partings, joints for thin walls, a roof that shuts."""
    partings = (
        FlatParting(id="p1", name="foot / neck", axis="z", at_mm=64.0),
        FlatParting(id="p2", name="foot, west / east", axis="x", at_mm=0.0, only=("p1-",)),
        FlatParting(id="p3", name="foot, south / north", axis="y", at_mm=0.0, only=("p1- p2-", "p1- p2+")),
        FlatParting(id="p4", name="neck / drum", axis="z", at_mm=96.0, only=("p1+",)),
        FlatParting(id="p5", name="drum / housing", axis="z", at_mm=130.0, only=("p1+ p4+",)),
        FlatParting(id="p6", name="housing / roof", axis="z", at_mm=270.0, only=("p1+ p4+ p5+",)),
        FlatParting(id="p7", name="front panel", axis="y", at_mm=-48.0, only=(HOUSING,)),
    )
    model = ModelUse(source=hashlib.sha256(data).hexdigest(), file_name=FILE_NAME)
    notes = {key: PieceNote(name=name) for key, name in PIECES.items()}
    plan = Plan(model=model, partings=partings, pieces=notes, least_wall_mm=LEAST_WALL_MM)

    def made(plan: Plan) -> Build:
        return build(plan, lambda _: data, cache)

    bare = made(plan)
    for parting, kind in KIND_AT:
        wish = SuitWish(kind=kind, faces=[f.ref.id for f in bare.faces if f.ref.parting == parting])
        plan = added(plan, [_as_a_maker_would(j) for j in suited(bare, plan, wish, cache=cache).joints])
    lid = next(f.ref.id for f in bare.faces if {f.ref.a, f.ref.b} == {BODY, ROOF})
    plan = made_to_shut(plan, made(plan), lid, made, cache, "hinge and magnets").plan
    resting = next(f.ref for f in bare.faces if {f.ref.a, f.ref.b} == {PANEL, ROOF})
    plan = added(plan, [ButtJoint(id="j1", face=resting, glue="")])
    plates = [j for j in plan.joints if j.kind == "splice"]
    glued = tuple(Glued(a=f"{j.id} loose", b=piece) for j in plates for piece in (j.face.a, j.face.b))
    notes_at_the_bench = {PANEL: "It slides down from above while the roof is open."}
    plan = plan.model_copy(update={"assembling": Assembling(glued=glued, comes_off=(DRUM,), notes=notes_at_the_bench)})
    return settled(plan, made(plan))


def _as_a_maker_would(joint: Joint) -> Joint:
    if isinstance(joint, TongueJoint):  # open at its ends, so that the panel slides
        return joint.model_copy(update={"ends": "through", "fit": "sliding"})
    return joint
