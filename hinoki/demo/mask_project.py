"""The second demo project: the owl mask as it came, made right, stood up, parted, with a door to its lights' battery."""

import hashlib

from hinoki.core.build import Build, build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting, HatchParting
from hinoki.core.divide.partings.outlines import Rectangle
from hinoki.core.formats.stl import write_stl
from hinoki.core.join.sizing.recommended_sizes import SuitKind
from hinoki.core.model.steps import RepairStep, StandStep
from hinoki.core.plan.assembly_settings import Assembling, Glued
from hinoki.core.plan.contents import ModelUse, PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.recommend_joints import SuitWish, settled, suggested, suited
from hinoki.demo.owl_mask import FILE_NAME, NAME, raw_owl_mask

PROJECT_NAME = NAME
LEAST_WALL_MM = 1.0
PIECES = {
    "p1- p2-": "Chin, left",
    "p1- p2+": "Chin, right",
    "p1+ p2- p3:b": "Brow, left",
    "p1+ p2+": "Brow, right",
    "p1+ p2- p3:h": "Battery door",
}
DOOR = "p1+ p2- p3:h"
LOOPS = ((-120.0, 17.0, 258.0), (120.0, 17.0, 258.0))
"""where the loops are that it hangs by on a wall"""
GLUED = (
    ("p1- p2-", "p1- p2+"),
    ("p1+ p2- p3:b", "p1+ p2+"),
    ("p1- p2-", "p1+ p2- p3:b"),
    ("p1- p2+", "p1+ p2+"),
)
"""its rims only place the chin, which hangs"""
DOOR_AT, DOOR_OUT = (-58.0, -36.83, 254.0), (-0.421, -0.862, 0.281)
"""over the box behind the left brow, as the mask stands"""


def mask_source() -> bytes:
    """The raw model file, with its hole and its turned faces."""
    return write_stl(raw_owl_mask(), NAME)


def mask_plan(data: bytes, cache: Cache) -> Plan:
    """The plan for `data`: repaired, stood up, parted across and down the middle, a door on a hinge that magnets hold shut, and
    elsewhere what suits each seam: rims along its thin wall."""
    model = ModelUse(source=hashlib.sha256(data).hexdigest(), file_name=FILE_NAME)
    prepare = (
        RepairStep(id="s1", holes="smooth", merge_mm=0.0005),
        StandStep(id="s2", down=(0.0, -1.0, 0.0)),
    )
    partings = (
        FlatParting(id="p1", name="brow / chin", axis="z", at_mm=174.0),
        FlatParting(id="p2", name="left / right", axis="x", at_mm=0.0),
        HatchParting(
            id="p3", name="battery door", only=("p1+ p2-",), at_mm=DOOR_AT, outward=DOOR_OUT,
            outline=Rectangle(width_mm=60, height_mm=44), depth_mm=9.5, gap_mm=0.5, rebate_mm=8, rebate_depth_mm=7,
        ),
    )  # fmt: skip
    notes = {key: PieceNote(name=name) for key, name in PIECES.items()}
    assembling = Assembling(attitude="hung", hangs_at=LOOPS, comes_off=(DOOR,), glued=tuple(Glued(a=a, b=b) for a, b in GLUED))
    plan = Plan(
        model=model, prepare=prepare, partings=partings, pieces=notes, least_wall_mm=LEAST_WALL_MM, assembling=assembling
    )

    def made(plan: Plan) -> Build:
        return build(plan, lambda _: data, cache)

    now = made(plan)
    door = [f.ref.id for f in now.faces if f.ref.parting == "p3"]
    kinds: tuple[SuitKind, ...] = ("hinge", "magnet")
    for kind in kinds:
        plan = plan.model_copy(update={"joints": (*plan.joints, *suited(now, plan, SuitWish(kind=kind, faces=door)).joints)})
    plan = suggested(now, plan, "auto", "snug")
    return settled(plan, made(plan))
