"""Meets: the other side of what stands on a face of another part, on the face that looks at it, at any distance."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import ClassVar, Literal

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import MultiPolygon

from hinoki.core.findings import Finding
from hinoki.core.forms import Form
from hinoki.core.geometry.frames import Frame, crossed
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.shape import Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.sliding_profile import RunningJoint
from hinoki.core.join.contract.terms import Place, SideName, Standing, Tools
from hinoki.core.join.faced.half_findings import half_findings
from hinoki.core.join.faced.half_joint import FlatFace, HalfOf, facing_standing, flat_face, half_of, shaped
from hinoki.core.join.joints import KeyJoint, ScrewJoint
from hinoki.core.model.steps.base import Outcome, StepBase, StepRefused, Tell, number
from hinoki.core.model.steps.on_face import OnFaceStep
from hinoki.core.workshop.hardware import Hardware, added_up
from hinoki.core.workshop.screw_tables import lengths_of

MOST_GAP_MM = 200.0
SAME_GAP_MM = 0.02
LEVEL_MM = 0.5
"""so far the edges of two faces may be apart that a key is let into"""
OTHER: SideName = "b"
"""the side of this part; the other part is the joint's first"""


@dataclass(frozen=True)
class Facing:
    """What stands on a face of another part, in this part's coordinates: the frame of that face, its normal towards this part,
    and the places in it."""

    joint: HalfOf
    frame: Frame
    places: tuple[Place, ...]
    shape: MultiPolygon
    """the outline of that face in its frame"""

    @property
    def fingerprint(self) -> object:
        """All that decides what it wants of this part."""
        return self.joint.fingerprint, self.joint.clearance_mm, self.frame, self.places, self.shape

    def seen_from(self, matrix: Points) -> "Facing":
        """The same under a rigid (3, 4) matrix, which may mirror."""
        placed = self.frame.placed(matrix)
        if np.linalg.det(matrix[:, :3]) > 0:
            return replace(self, frame=placed)
        turned = Frame(placed.origin, placed.u, crossed(placed.n, placed.u), placed.n)
        flipped = MultiPolygon(shapely.transform(self.shape, lambda p: p * (1, -1)).geoms)
        return Facing(self.joint, turned, tuple((x, -y) for x, y in self.places), flipped)


class MeetsStep(StepBase, frozen=True):
    """The other half of a joint on a face of another part, for every instance of that part that looks at this one."""

    form: ClassVar[Form] = Form("Meets", "the other side of a joint on another part", (), group="Shape")
    lets_down: ClassVar[bool] = False

    kind: Literal["meets"] = "meets"
    part: str = Field("q2", pattern=r"^q[1-9][0-9]{0,3}$", title="Part", description="on whose face the joint stands")
    step: str = Field("s1", pattern=r"^s[1-9][0-9]{0,3}$", title="Step", description="of that part")

    def label(self) -> str:
        """The same for all: what it meets is told by what comes of it."""
        return "Meets what stands on another part"

    def apply(self, shape: Shape, tell: Tell) -> Outcome:  # noqa: ARG002
        """Needs the other part (`apply_to`)."""
        raise StepRefused("This needs the part that it meets. Add it first.", self.id)

    def apply_to(
        self, shape: Shape, met: Sequence[Facing], clearance_mm: float, least_wall_mm: float, line_mm: float, tell: Tell
    ) -> Outcome:
        """Shape the body whose face looks at each of them. Raises StepRefused where none does."""
        bodies = list(shape.bodies)
        said: list[str] = []
        found: list[Finding] = []
        bought: list[Hardware] = []
        missed = "no part stands there"
        for k, one in enumerate(met):
            tell(k / len(met), f"Joining {k + 1} of {len(met)}")
            for at, body in enumerate(bodies):
                gap = None if body.solid is None else gap_before(body.solid, one)
                if body.solid is None or gap is None:
                    continue
                stands = standing_across(body.solid, one, gap, clearance_mm, least_wall_mm, line_mm)
                if isinstance(stands, str):
                    missed = stands
                    continue
                joint = across(one.joint, gap)
                if isinstance(joint, ScrewJoint):
                    joint = sunk_to_reach(joint, stands, one.places[0])
                # what runs along the face runs as far as it does on the other part
                runs = replace(stands, shape=one.shape) if isinstance(joint, RunningJoint | KeyJoint) else stands
                tools = Tools(joint.tools(runs, one.places).of(OTHER))
                found += half_findings(joint, stands, one.places, tools, body.solid)
                bought += joint.hardware_on(OTHER, stands, one.places)
                bodies[at] = body.changed(shaped(body.solid, tools.each, stands))
                said.append(f"{len(one.places)} at {number(gap)} mm from each other{_pull(joint, gap)}")
                break
        if not said:
            raise StepRefused(
                f"Nothing of this part looks at what stands on the other: {missed}. Move one of them, or take this step out.",
                self.id,
            )
        return Outcome(Shape(tuple(bodies)), sorted(set(said)), found, added_up(bought))


def facing_of(step: OnFaceStep, before: Shape) -> Facing:
    """What a step puts on a face, in its own part's coordinates. Raises StepRefused where there is no flat face."""
    _, face, places = step.on_shape(before)
    return Facing(half_of(step.joint, step.half), face.frame, tuple(places), face.shape)


def gap_before(body: Solid, one: Facing) -> float | None:
    """How far a body is from the face at the nearest of the places; None where it is not before any of them."""
    ends = [(p, p + MOST_GAP_MM * one.frame.n) for p in one.frame.world(np.array(one.places), -SAME_GAP_MM)]
    hits = [body.ray(start, end) for start, end in ends]
    gaps = [float((h[0] - s) @ one.frame.n) - SAME_GAP_MM for (s, _), h in zip(ends, hits, strict=True) if len(h)]
    return round(max(0.0, min(gaps)), 6) if gaps else None


def standing_across(
    body: Solid, one: Facing, gap: float, clearance_mm: float, least_wall_mm: float, line_mm: float
) -> Standing | str:
    """Where the other half stands on a body; why it cannot, where its face is not flat or not parallel."""
    first = one.frame.world(np.array([one.places[0]]), gap)[0]
    face = flat_face(body, first, -one.frame.n)
    if face is None:
        return "its face there is not flat, or not parallel to the other"
    if isinstance(one.joint, KeyJoint) and (missed := _keys_miss(one.joint, one, face, gap)):
        return missed
    own = one.joint.clearance_mm
    # a screw reaches over the gap; all else begins on this part's face
    over = gap if one.joint.kind == "screw" else 0.0
    frame = one.frame.raised(gap - over)
    return facing_standing(body, frame, face, clearance_mm if own is None else own, least_wall_mm, line_mm, over)


def _keys_miss(joint: KeyJoint, one: Facing, face: FlatFace, gap: float) -> str | None:
    """Why keys that lie half in the other part's face do not lie in this one; None where they do."""
    if gap > SAME_GAP_MM:
        return f"it is {number(gap)} mm away, and keys hold what touches"
    flat = shapely.transform(face.shape, lambda p: one.frame.flat(face.frame.world(p)))
    stands = Standing(one.frame, one.shape, 0.0, 0.0)
    spots = [joint.spot(stands, place).at for place in one.places]
    if max(flat.boundary.distance(shapely.Point(at)) for at in spots) > LEVEL_MM:
        return "its edge is not where the other's is, so that no key could be let into both"
    return None


def across(joint: HalfOf, gap: float) -> HalfOf:
    """The joint as its other half sees it across a gap: what stands out over there goes in less far, and what stands out here
    is so much longer."""
    name = next((n for n in ("length_mm", "height_mm") if n in type(joint).model_fields and joint.kind in REACHING), None)
    if name is None or gap <= 0:
        return joint
    by = gap if joint.stands_on == OTHER else -gap
    length = round(float(getattr(joint, name)) + by, 6)
    if length < 0.8:
        raise StepRefused(f"The parts are {number(gap)} mm apart: what stands out does not reach across. Make it longer.")
    return joint.model_copy(update={name: length})


def sunk_to_reach(joint: ScrewJoint, stands: Standing, place: Place) -> ScrewJoint:
    """The screw with its head sunk so that, of a length on sale, it goes as deep as its bore over there is."""
    on_sale = lengths_of(joint.size_mm)
    deep = min((long for long in on_sale if long >= joint.least_bite_mm), default=joint.least_bite_mm)
    grip = joint.driven(stands, place).grip_mm
    long = max((long for long in on_sale if long - deep <= grip), default=grip + deep)
    return joint.model_copy(update={"sunk_mm": round(joint.sunk_mm + grip - (long - deep), 6)})


REACHING = ("pin", "tongue")
"""kinds that can bridge a gap by being longer"""


def _pull(joint: HalfOf, gap: float) -> str:
    if joint.kind != "magnet":
        return ""
    return f", pulling {joint.magnet.pull_n(2 * joint.skin_mm + gap):.1f} N each"
