"""Kinds of joint, one module each; a new kind is registered in this union and nowhere else."""

from typing import Annotated

from pydantic import Field

from hinoki.core.joints.base import (
    SIDES,
    FaceRef,
    JointBase,
    Loose,
    Place,
    Problem,
    SideName,
    Standing,
    Tool,
    Tools,
)
from hinoki.core.joints.butt import ButtJoint
from hinoki.core.joints.dovetail import DovetailJoint
from hinoki.core.joints.dowel import DowelJoint
from hinoki.core.joints.hinge import HingeJoint
from hinoki.core.joints.key import KeyJoint
from hinoki.core.joints.lip import LipJoint
from hinoki.core.joints.magnet import MagnetJoint
from hinoki.core.joints.pin import PinJoint
from hinoki.core.joints.screw import ScrewJoint
from hinoki.core.joints.thread import ThreadJoint
from hinoki.core.joints.tongue import TongueJoint

Joint = Annotated[
    PinJoint
    | DowelJoint
    | DovetailJoint
    | KeyJoint
    | LipJoint
    | TongueJoint
    | ThreadJoint
    | MagnetJoint
    | ScrewJoint
    | HingeJoint
    | ButtJoint,
    Field(discriminator="kind"),
]

__all__ = [
    "SIDES",
    "ButtJoint",
    "DovetailJoint",
    "DowelJoint",
    "FaceRef",
    "HingeJoint",
    "Joint",
    "JointBase",
    "KeyJoint",
    "LipJoint",
    "Loose",
    "MagnetJoint",
    "PinJoint",
    "Place",
    "Problem",
    "ScrewJoint",
    "SideName",
    "Standing",
    "ThreadJoint",
    "TongueJoint",
    "Tool",
    "Tools",
]
