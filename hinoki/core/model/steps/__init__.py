"""Kinds of prepare step, a module each; a new kind is registered in this union and nowhere else."""

from typing import Annotated

from pydantic import Field

from hinoki.core.model.steps.base import Outcome, StepBase, StepRefused
from hinoki.core.model.steps.bearing_seat import BearingSeatStep
from hinoki.core.model.steps.clear_path import ClearPathStep
from hinoki.core.model.steps.cuts import BoreStep, FlattenStep, StretchStep
from hinoki.core.model.steps.hollow import Drain, HollowStep
from hinoki.core.model.steps.letters import LettersStep
from hinoki.core.model.steps.meets import MeetsStep
from hinoki.core.model.steps.on_face import OnFaceStep
from hinoki.core.model.steps.relief import ReliefStep
from hinoki.core.model.steps.repair import RepairStep
from hinoki.core.model.steps.round_bores import RoundBoresStep
from hinoki.core.model.steps.seat import SeatStep
from hinoki.core.model.steps.size import LengthStep, MatchStep, RatioStep, ScaleStep
from hinoki.core.model.steps.stand import MirrorStep, PairStep, StandStep, TurnStep
from hinoki.core.model.steps.thicken import ThickenStep

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
    | ThickenStep
    | LettersStep
    | OnFaceStep
    | BearingSeatStep
    | MeetsStep
    | SeatStep
    | ClearPathStep,
    Field(discriminator="kind"),
]

__all__ = [
    "BearingSeatStep",
    "BoreStep",
    "ClearPathStep",
    "Drain",
    "FlattenStep",
    "HollowStep",
    "LengthStep",
    "LettersStep",
    "MatchStep",
    "MeetsStep",
    "MirrorStep",
    "OnFaceStep",
    "Outcome",
    "PairStep",
    "PrepareStep",
    "RatioStep",
    "ReliefStep",
    "RepairStep",
    "RoundBoresStep",
    "ScaleStep",
    "SeatStep",
    "StandStep",
    "StepBase",
    "StepRefused",
    "StretchStep",
    "ThickenStep",
    "TurnStep",
]
