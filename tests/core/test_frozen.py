"""What the core hands round is frozen: results are kept in a memory and shared by all who ask, so nobody may change one."""

import dataclasses
import inspect
import pkgutil
import unittest
from collections.abc import Iterator
from importlib import import_module

from pydantic import BaseModel

import hinoki.core

FILLED = {
    "assemble.assembled.Assembled", "assemble.planning.Order", "assemble.scene.parts.Scene", "batch.batches.Batches",
    "batch.packing.pack.Packed", "batch.packing.raster_bed.Bed", "divide.cut.Parted", "formats.threemf_read._Object",
    "join.apply.Shaping", "join.placed_joint.PlacedJoint", "join.tiles.tiles.Module", "model.steps.base.Outcome",
    "orient.support.Support", "propose.search.beam_search.Search",
}  # fmt: skip
"""what is filled step by step by the one function that makes it; whoever is handed one only reads it"""


def name_of(one: type) -> str:
    """Such as plan.plan.Plan."""
    return f"{one.__module__.removeprefix('hinoki.core.')}.{one.__qualname__}"


def classes() -> Iterator[type]:
    """Every class that a module of the core defines."""
    for module in pkgutil.walk_packages(hinoki.core.__path__, "hinoki.core."):
        for _, one in inspect.getmembers(import_module(module.name), inspect.isclass):
            if one.__module__ == module.name:
                yield one


def data_classes() -> dict[str, bool]:
    """Every data class of the core by its full name, and whether it is frozen."""
    return {name_of(c): c.__dataclass_params__.frozen for c in classes() if dataclasses.is_dataclass(c)}  # type: ignore[attr-defined]


def models() -> dict[str, bool]:
    """Every model of the core by its full name, and whether it is frozen."""
    return {name_of(c): bool(c.model_config.get("frozen")) for c in classes() if issubclass(c, BaseModel)}


class Frozen(unittest.TestCase):
    def test_all_are_but_what_is_filled_step_by_step(self) -> None:
        self.assertEqual({name for name, frozen in data_classes().items() if not frozen}, FILLED)

    def test_every_part_of_a_plan_is(self) -> None:
        rooms = ("plan.", "divide.partings.", "join.joints.", "model.steps.", "workshop.")
        loose = {name for name, frozen in models().items() if name.startswith(rooms) and not frozen}
        asked_and_told = {
            "divide.partings.duplicate.Again",
            "plan.diff.PlanChange",
            "workshop.fit_ladder_answers.Answers",
            "workshop.fit_ladder_answers.LadderEntry",
            "workshop.fit_ladder_answers.Learned",
        }
        self.assertEqual(loose, asked_and_told)
