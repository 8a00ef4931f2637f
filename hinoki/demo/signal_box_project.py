"""The sixth demo project: a signal box of five parts. Six equal windows are one part, edited once; two stairs are one and its
mirror image; windows and chimney are seated in what they go into, and the roof is divided."""

import hashlib

from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting
from hinoki.core.join.joints import DowelJoint, FaceRef
from hinoki.core.model.steps import SeatStep
from hinoki.core.parts.take_apart import taken_apart
from hinoki.core.plan.contents import ModelUse, PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.demo.signal_box import FILE_NAME, NAME, signal_box_source

PROJECT_NAME = NAME
WALLS, WINDOW, ROOF, CHIMNEY, STAIR = "q1", "q2", "q3", "q4", "q5"
COUNTS = {WALLS: 1, WINDOW: 6, ROOF: 1, CHIMNEY: 1, STAIR: 2}
UNDERNEATH = PieceNote(down=(0.0, 0.0, -1.0))

__all__ = ["CHIMNEY", "COUNTS", "PROJECT_NAME", "ROOF", "STAIR", "WALLS", "WINDOW", "signal_box_plan", "signal_box_source"]


def signal_box_plan(data: bytes, cache: Cache) -> Plan:
    """The plan for `data`: its bodies taken apart, copies as one part, seats, and dowels in the roof."""
    model = ModelUse(source=hashlib.sha256(data).hexdigest(), file_name=FILE_NAME, unit_from="file")
    plan = taken_apart(Plan(model=model), lambda _: data, cache).plan
    plan = plan.model_copy(
        update={
            "prepare": (SeatStep(id="s1", part=WINDOW, fit="snug", lead_mm=0.3),),
            "pieces": {"whole": UNDERNEATH},
        }
    )
    plan = plan.working_on(WINDOW).model_copy(
        update={"part_name": "Window", "pieces": {"whole": PieceNote(down=(0.0, 1.0, 0.0))}}
    )
    plan = plan.working_on(STAIR).model_copy(update={"part_name": "Stair", "pieces": {"whole": UNDERNEATH}})
    plan = plan.working_on(CHIMNEY).model_copy(update={"pieces": {"whole": UNDERNEATH}})
    seam = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
    dowels = DowelJoint(id="j1", face=seam, count=3, diameter_mm=5, length_mm=14)
    plan = plan.working_on(ROOF).model_copy(
        update={
            "prepare": (SeatStep(id="s1", part=CHIMNEY, fit="snug", lead_mm=0.3, way="z+"),),
            "partings": (FlatParting(id="p1", name="west / east", axis="x", at_mm=0.0),),
            "joints": (dowels,),
            "pieces": {
                "p1-": PieceNote(name="Roof, west", down=(1.0, 0.0, 0.0)),
                "p1+": PieceNote(name="Roof, east", down=(-1.0, 0.0, 0.0)),
            },
        }
    )
    return plan.working_on(WALLS)
