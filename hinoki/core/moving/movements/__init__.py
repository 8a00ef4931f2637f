"""Kinds of movement, a module each; a new kind is registered in this union and nowhere else."""

from typing import Annotated

from pydantic import Field

from hinoki.core.moving.movements.base import MOVEMENT_ID, MovementBase, Travel
from hinoki.core.moving.movements.rail import RailMovement
from hinoki.core.moving.movements.rod import RodMovement
from hinoki.core.moving.movements.slide import SlideMovement
from hinoki.core.moving.movements.turn import TurnMovement

Movement = Annotated[TurnMovement | SlideMovement | RailMovement | RodMovement, Field(discriminator="kind")]

__all__ = [
    "MOVEMENT_ID",
    "Movement",
    "MovementBase",
    "RailMovement",
    "RodMovement",
    "SlideMovement",
    "Travel",
    "TurnMovement",
]
