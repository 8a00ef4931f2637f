"""Ways through several pieces: straight bores for rods, tunnels for cables, sockets for stands."""

from typing import Annotated

from pydantic import Field

from hinoki.core.join.channels.base import WayBase
from hinoki.core.join.channels.cable import CableWay
from hinoki.core.join.channels.rod import RodWay
from hinoki.core.join.channels.stand import StandWay

Way = Annotated[RodWay | CableWay | StandWay, Field(discriminator="kind")]

__all__ = ["CableWay", "RodWay", "StandWay", "Way", "WayBase"]
