"""The second demo project: the owl mask as it came, made right, stood up and parted into four."""

import hashlib

from hinoki.core.cache import Cache
from hinoki.core.engine import build
from hinoki.core.formats.stl import write_stl
from hinoki.core.partings import FlatParting
from hinoki.core.plan import ModelUse, PieceNote, Plan
from hinoki.core.prepare import RepairStep, StandStep
from hinoki.core.suit import settled, suggested
from hinoki.demo.owl_mask import FILE_NAME, NAME, raw_owl_mask

PROJECT_NAME = NAME
LEAST_WALL_MM = 1.0
PIECES = {"p1- p2-": "Chin, left", "p1- p2+": "Chin, right", "p1+ p2-": "Brow, left", "p1+ p2+": "Brow, right"}


def mask_source() -> bytes:
    """The raw model file, with its hole and its turned faces."""
    return write_stl(raw_owl_mask(), NAME)


def mask_plan(data: bytes) -> Plan:
    """The plan for `data`: repaired, stood up, parted across and down the middle, a suggested joint where there is room."""
    model = ModelUse(source=hashlib.sha256(data).hexdigest(), file_name=FILE_NAME)
    prepare = (
        RepairStep(id="s1", holes="smooth", merge_mm=0.0005),
        StandStep(id="s2", down=(0.0, -1.0, 0.0)),
    )
    partings = (
        FlatParting(id="p1", name="brow / chin", axis="z", at_mm=174.0),
        FlatParting(id="p2", name="left / right", axis="x", at_mm=0.0),
    )
    notes = {key: PieceNote(name=name) for key, name in PIECES.items()}
    plan = Plan(model=model, prepare=prepare, partings=partings, pieces=notes, least_wall_mm=LEAST_WALL_MM)
    cache = Cache()
    plan = suggested(build(plan, lambda _: data, cache, for_screen=False), plan, "pin", "snug")
    return settled(plan, build(plan, lambda _: data, cache, for_screen=False))
