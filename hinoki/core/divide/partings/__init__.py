"""Kinds of parting, one module each; a new kind is registered in this union and nowhere else."""

from typing import Annotated

from pydantic import Field

from hinoki.core.divide.partings.base import Cut, CutUp, Member, PartingBase, PieceKey
from hinoki.core.divide.partings.detach import DetachParting
from hinoki.core.divide.partings.even import EvenParting
from hinoki.core.divide.partings.flat import FlatParting
from hinoki.core.divide.partings.hatch import HatchParting
from hinoki.core.divide.partings.lap import LapParting
from hinoki.core.divide.partings.lumps import LumpsParting
from hinoki.core.divide.partings.profile import ProfileParting
from hinoki.core.divide.partings.wedges import WedgesParting

Parting = Annotated[
    FlatParting | EvenParting | WedgesParting | ProfileParting | LapParting | HatchParting | DetachParting | LumpsParting,
    Field(discriminator="kind"),
]

__all__ = [
    "Cut",
    "CutUp",
    "DetachParting",
    "EvenParting",
    "FlatParting",
    "HatchParting",
    "LapParting",
    "LumpsParting",
    "Member",
    "Parting",
    "PartingBase",
    "PieceKey",
    "ProfileParting",
    "WedgesParting",
]
