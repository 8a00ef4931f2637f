"""Kinds of joint, one module each; a new kind is registered in this union and nowhere else."""

from typing import Annotated

from pydantic import Field

from hinoki.core.joints.base import FaceRef, JointBase, Peg, Place, SideName, Tools
from hinoki.core.joints.dowel import DowelJoint
from hinoki.core.joints.pin import PinJoint

Joint = Annotated[PinJoint | DowelJoint, Field(discriminator="kind")]

__all__ = ["DowelJoint", "FaceRef", "Joint", "JointBase", "Peg", "PinJoint", "Place", "SideName", "Tools"]
