"""Ways through several pieces: straight bores for rods, tunnels for cables, sockets for stands."""

from typing import Annotated

from pydantic import Field

from hinoki.core.ways.base import WayBase
from hinoki.core.ways.cable import CableWay
from hinoki.core.ways.rod import RodWay
from hinoki.core.ways.stand import StandWay

Way = Annotated[RodWay | CableWay | StandWay, Field(discriminator="kind")]

__all__ = ["CableWay", "RodWay", "StandWay", "Way", "WayBase"]
