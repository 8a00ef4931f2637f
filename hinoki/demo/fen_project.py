"""The fourth demo project: four square tiles whose magnets let any side meet any other."""

import hashlib

from hinoki.core.divide.partings import FlatParting
from hinoki.core.formats.stl import write_stl
from hinoki.core.plan.contents import ModelUse, PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.core.plan.tile_set import ModuleSet
from hinoki.demo.fen_tiles import FILE_NAME, NAME, fen

PROJECT_NAME = NAME
PIECES = {
    "p1- p2-": "Fen with two pools",
    "p1- p2+": "Fen with the beacon",
    "p1+ p2-": "Fen with the hut",
    "p1+ p2+": "Fen with willows",
}


def fen_source() -> bytes:
    """The model file."""
    return write_stl(fen(), NAME)


def fen_plan(data: bytes) -> Plan:
    """The plan for `data`: two partings, two magnets in every side of every tile."""
    return Plan(
        model=ModelUse(source=hashlib.sha256(data).hexdigest(), file_name=FILE_NAME),
        partings=(
            FlatParting(id="p1", name="west / east", axis="x", at_mm=0.0),
            FlatParting(id="p2", name="south / north", axis="y", at_mm=0.0),
        ),
        pieces={key: PieceNote(name=name) for key, name in PIECES.items()},
        modules=(ModuleSet(id="m1", diameter_mm=6.0, thick_mm=3.0, jig=True),),
    )
