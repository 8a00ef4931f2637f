"""Kinds of joint, one module each; a new kind is registered in this union and nowhere else."""

from typing import Annotated

from pydantic import Field

from hinoki.core.join.closures.hinge import HingeJoint
from hinoki.core.join.closures.hook import HookJoint
from hinoki.core.join.closures.latch import LatchJoint
from hinoki.core.join.closures.rail import RailJoint
from hinoki.core.join.contract.base import JointBase
from hinoki.core.join.contract.terms import SIDES, FaceRef, Loose, Place, Problem, SideName, Standing, Tool, Tools
from hinoki.core.join.joints.bayonet import BayonetJoint
from hinoki.core.join.joints.butt import ButtJoint
from hinoki.core.join.joints.dovetail import DovetailJoint
from hinoki.core.join.joints.dowel import DowelJoint
from hinoki.core.join.joints.finger import FingerJoint
from hinoki.core.join.joints.key import KeyJoint
from hinoki.core.join.joints.lip import LipJoint
from hinoki.core.join.joints.magnet import MagnetJoint
from hinoki.core.join.joints.pin import PinJoint
from hinoki.core.join.joints.screw import ScrewJoint
from hinoki.core.join.joints.splice import SpliceJoint
from hinoki.core.join.joints.thread import ThreadJoint
from hinoki.core.join.joints.tongue import TongueJoint

Joint = Annotated[
    PinJoint
    | DowelJoint
    | DovetailJoint
    | KeyJoint
    | LipJoint
    | TongueJoint
    | FingerJoint
    | SpliceJoint
    | ThreadJoint
    | BayonetJoint
    | MagnetJoint
    | ScrewJoint
    | HingeJoint
    | RailJoint
    | HookJoint
    | LatchJoint
    | ButtJoint,
    Field(discriminator="kind"),
]

__all__ = [
    "SIDES",
    "BayonetJoint",
    "ButtJoint",
    "DovetailJoint",
    "DowelJoint",
    "FaceRef",
    "FingerJoint",
    "HingeJoint",
    "HookJoint",
    "Joint",
    "JointBase",
    "KeyJoint",
    "LatchJoint",
    "LipJoint",
    "Loose",
    "MagnetJoint",
    "PinJoint",
    "Place",
    "Problem",
    "RailJoint",
    "ScrewJoint",
    "SideName",
    "SpliceJoint",
    "Standing",
    "ThreadJoint",
    "TongueJoint",
    "Tool",
    "Tools",
]
