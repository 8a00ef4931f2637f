"""Kinds of prepare step, a module each; a new kind is registered in this union and nowhere else."""

from typing import Annotated

from pydantic import Field

from hinoki.core.prepare.base import Outcome, StepBase, StepRefused
from hinoki.core.prepare.cuts import BoreStep, FlattenStep, StretchStep
from hinoki.core.prepare.hollow import Drain, HollowStep
from hinoki.core.prepare.relief import ReliefStep
from hinoki.core.prepare.repair import RepairStep
from hinoki.core.prepare.round_bores import RoundBoresStep
from hinoki.core.prepare.size import LengthStep, MatchStep, RatioStep, ScaleStep
from hinoki.core.prepare.stand import MirrorStep, PairStep, StandStep, TurnStep
from hinoki.core.prepare.thicken import ThickenStep

PrepareStep = Annotated[
    RepairStep
    | StandStep
    | TurnStep
    | ScaleStep
    | LengthStep
    | RatioStep
    | MatchStep
    | MirrorStep
    | PairStep
    | StretchStep
    | HollowStep
    | ReliefStep
    | BoreStep
    | FlattenStep
    | RoundBoresStep
    | ThickenStep,
    Field(discriminator="kind"),
]

__all__ = [
    "BoreStep",
    "Drain",
    "FlattenStep",
    "HollowStep",
    "LengthStep",
    "MatchStep",
    "MirrorStep",
    "Outcome",
    "PairStep",
    "PrepareStep",
    "RatioStep",
    "ReliefStep",
    "RepairStep",
    "RoundBoresStep",
    "ScaleStep",
    "StandStep",
    "StepBase",
    "StepRefused",
    "StretchStep",
    "ThickenStep",
    "TurnStep",
]
