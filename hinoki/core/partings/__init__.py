"""Kinds of parting, one module each; a new kind is registered in this union and nowhere else."""

from typing import Annotated

from pydantic import Field

from hinoki.core.partings.base import Cut, CutUp, Member, PartingBase, PieceKey
from hinoki.core.partings.detach import DetachParting
from hinoki.core.partings.even import EvenParting
from hinoki.core.partings.flat import FlatParting
from hinoki.core.partings.hatch import HatchParting
from hinoki.core.partings.lap import LapParting
from hinoki.core.partings.lumps import LumpsParting
from hinoki.core.partings.profile import ProfileParting
from hinoki.core.partings.wedges import WedgesParting

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
