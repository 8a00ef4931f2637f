"""Kinds of parting, one module each; a new kind is registered in this union and nowhere else."""

from typing import Annotated

from pydantic import Field

from hinoki.core.partings.base import Cut, Member, PartingBase, PieceKey
from hinoki.core.partings.even import EvenParting
from hinoki.core.partings.flat import FlatParting
from hinoki.core.partings.lumps import LumpsParting
from hinoki.core.partings.wedges import WedgesParting

Parting = Annotated[FlatParting | EvenParting | WedgesParting | LumpsParting, Field(discriminator="kind")]

__all__ = [
    "Cut",
    "EvenParting",
    "FlatParting",
    "LumpsParting",
    "Member",
    "Parting",
    "PartingBase",
    "PieceKey",
    "WedgesParting",
]
