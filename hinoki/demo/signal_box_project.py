"""The sixth demo project: a signal box of eight parts. Six equal windows are one part, edited once; two stairs are one and its
mirror image; windows and chimney are seated in what they go into, the roof is divided, and four levers turn in their frame. Its
name board is made by Hinoki."""

import hashlib

from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting
from hinoki.core.join.joints import DowelJoint, FaceRef
from hinoki.core.make import PlateMaker
from hinoki.core.model.steps import SeatStep
from hinoki.core.moving.movements import Movement, TurnMovement
from hinoki.core.parts.make_part import Place, with_made
from hinoki.core.parts.take_apart import taken_apart
from hinoki.core.plan.contents import ModelUse, PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.demo.signal_box import DEEP, FILE_NAME, FOOT, FRAME, HIGH, NAME, PANE_HIGH, SILL, signal_box_source

PROJECT_NAME = NAME
WALLS, WINDOW, ROOF, CHIMNEY, STAIR, LEVERS, LEVER, BOARD = "q1", "q2", "q3", "q4", "q5", "q6", "q7", "q8"
COUNTS = {WALLS: 1, WINDOW: 6, ROOF: 1, CHIMNEY: 1, STAIR: 2, LEVERS: 1, LEVER: 4, BOARD: 1}
THROW_DEG = 25.0
"""to either side"""
BOARD_AT = (0.0, -DEEP / 2, (SILL + PANE_HIGH + FRAME + HIGH) / 2)
"""between the windows and the eaves"""
UNDERNEATH = PieceNote(down=(0.0, 0.0, -1.0))

__all__ = [
    "BOARD",
    "CHIMNEY",
    "COUNTS",
    "LEVER",
    "LEVERS",
    "PROJECT_NAME",
    "ROOF",
    "STAIR",
    "WALLS",
    "WINDOW",
    "signal_box_plan",
    "signal_box_source",
]


def thrown(plan: Plan) -> tuple[Movement, ...]:
    """Each lever about its foot."""
    low = float(plan.instances[0].at_mm[2])
    return tuple(
        TurnMovement(
            id=f"v{k}",
            name=f"Lever {k}",
            moves=(f"{LEVER} #{k}",),
            at_mm=(one.at_mm[0], one.at_mm[1], low + FOOT),
            along=(1.0, 0.0, 0.0),
            begin=-THROW_DEG,
            end=THROW_DEG,
        )
        for k, one in enumerate(plan.instances, 1)
    )


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
    plan = plan.working_on(LEVER).model_copy(
        update={"part_name": "Lever", "pieces": {"whole": PieceNote(down=(1.0, 0.0, 0.0))}}
    )
    plan = plan.working_on(LEVERS).model_copy(update={"pieces": {"whole": UNDERNEATH}, "movements": thrown(plan)})
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
    plan = plan.working_on(WALLS)
    place = Place(at_mm=BOARD_AT, facing=(0.0, -1.0, 0.0))
    board = PlateMaker(text="REEDMERE", letters_mm=5.0, deep_mm=0.6, thick_mm=1.6, margin_mm=2.2, corner_mm=1.0)
    made = with_made(plan, board, [place], lambda _: data, cache)
    plan = made.plan.working_on(made.part_id).model_copy(update={"part_name": "Name board", "pieces": {"whole": UNDERNEATH}})
    return plan.working_on(WALLS)
