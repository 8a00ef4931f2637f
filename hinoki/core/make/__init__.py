"""Parts that Hinoki makes, a module each; a new kind is registered in this union and nowhere else."""

from typing import Annotated

from pydantic import Field

from hinoki.core.make.base import Made, MakerBase, NotMade
from hinoki.core.make.bracket import BracketMaker
from hinoki.core.make.drawer import DrawerMaker
from hinoki.core.make.fillet_block import FilletBlockMaker
from hinoki.core.make.foot import FootMaker
from hinoki.core.make.handle import HandleMaker
from hinoki.core.make.lettered_plate import PlateMaker
from hinoki.core.make.lid import LidMaker
from hinoki.core.make.plug import PlugMaker
from hinoki.core.make.running.axle import AxleMaker
from hinoki.core.make.running.coil_spring import SpringMaker
from hinoki.core.make.running.living_hinge import LivingHingeMaker
from hinoki.core.make.stand import StandMaker
from hinoki.core.make.weight_chamber import WeightMaker

Maker = Annotated[
    LidMaker
    | PlugMaker
    | DrawerMaker
    | HandleMaker
    | FootMaker
    | BracketMaker
    | PlateMaker
    | FilletBlockMaker
    | StandMaker
    | WeightMaker
    | AxleMaker
    | SpringMaker
    | LivingHingeMaker,
    Field(discriminator="kind"),
]

__all__ = [
    "AxleMaker",
    "BracketMaker",
    "DrawerMaker",
    "FilletBlockMaker",
    "FootMaker",
    "HandleMaker",
    "LidMaker",
    "LivingHingeMaker",
    "Made",
    "Maker",
    "MakerBase",
    "NotMade",
    "PlateMaker",
    "PlugMaker",
    "SpringMaker",
    "StandMaker",
    "WeightMaker",
]
