"""The third demo project: the harbour in wedges around its basin."""

import hashlib

from hinoki.core.build import build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting, WedgesParting
from hinoki.core.formats.stl import write_stl
from hinoki.core.plan.contents import ModelUse, PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.core.plan.regions import Box, Mark
from hinoki.core.propose.recommend_joints import settled, suggested
from hinoki.demo.harbour import FILE_NAME, NAME, QUAY, harbour

PROJECT_NAME = NAME
BASIN_MM = 143.0
PIECES = {
    "p1:0": "Quay, sea gate",
    "p1:1": "Quay, crane",
    "p1:2": "Quay, houses",
    "p1:3": "Quay, steps",
}


def harbour_source() -> bytes:
    """The model file."""
    return write_stl(harbour(), NAME)


def harbour_plan(data: bytes, cache: Cache) -> Plan:
    """The plan for `data`: the quay in four wedges, the basin in quarters, pins where there is room."""
    model = ModelUse(source=hashlib.sha256(data).hexdigest(), file_name=FILE_NAME)
    basin = ("p1:h",)
    partings = (
        WedgesParting(id="p1", name="quay", count=4, start_deg=45.0, hub_mm=BASIN_MM),
        FlatParting(id="p2", name="basin", axis="x", at_mm=0.0, only=basin),
        FlatParting(id="p3", name="basin", axis="y", at_mm=0.0, only=("p1:h p2-", "p1:h p2+")),
    )
    marks = (
        Mark(id="k1", kind="keep", name="Houses", box=Box(low_mm=(-120, -215, QUAY + 3), high_mm=(120, -80, 150))),
        Mark(id="k2", kind="hidden", name="Underside", box=Box(low_mm=(-220, -220, -1), high_mm=(220, 220, 0.5))),
    )
    notes = {key: PieceNote(name=name) for key, name in PIECES.items()}
    plan = Plan(model=model, partings=partings, pieces=notes, marks=marks)
    plan = suggested(build(plan, lambda _: data, cache), plan, "pin", "snug")
    return settled(plan, build(plan, lambda _: data, cache))
