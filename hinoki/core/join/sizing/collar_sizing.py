"""Joints in shells too thin for them: sizes of pegs, screws, threads and bayonets that stand in a collar inside the hollow."""

import math
from dataclasses import replace
from typing import Literal

from hinoki.core.cache import Cache
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.geometry.sections import least_wall, usual_wall
from hinoki.core.join.contract.in_collar import CollarJoint
from hinoki.core.join.joints import (
    DowelJoint,
    HookJoint,
    Joint,
    JointBase,
    MagnetJoint,
    PinJoint,
    Place,
    ScrewJoint,
    SideName,
    Standing,
)
from hinoki.core.join.joints.finger import meets_panel
from hinoki.core.join.placing import Depths, auto_places
from hinoki.core.join.reinforcement import BOSSED, Ground
from hinoki.core.join.sizing.face_measures import count_for, measures
from hinoki.core.join.sizing.recommended_sizes import Good, any_will_do, discs_on_sale, is_wall
from hinoki.core.join.sizing.turned_sizing import Turned, within_outside
from hinoki.core.workshop.fits import Fit

LEAST_PEGS = 3
PEGS_MM = (5.0, 4.0, 3.0)
"""pegs tried in a collar, large ones first"""


LEAST_DISC_MM, MOST_DISC_MM = 4.0, 8.0
"""discs that are tried in ears: smaller ones hold nothing, larger ones take much of the hollow"""
EARS_SHARE = 0.25
"""of a wall's length: ears that take up more of it are made one ring, which is stiffer"""


WIDER_MM = (0.5, 3.0)
"""what a collar has more than its pegs need: little where walls stand upright, more where they lean"""


def collar_for(diameter_mm: float, standing: Standing, more_mm: float = WIDER_MM[0]) -> float:
    """How thick a collar must be at least so that pegs of a diameter have their clearance and the least wall all round, in
    half millimetres."""
    needed = diameter_mm + 2 * (standing.clearance_mm + standing.least_wall_mm) - _wall(standing)
    return max(0.5, math.ceil(2 * (needed + more_mm)) / 2)


def _wall(standing: Standing) -> float:
    """The thickness of the wall of a face: the usual one where it ends somewhere; 0 where it is none."""
    if is_wall(standing.shape):
        return usual_wall(standing.shape) or 0.0
    wall = least_wall(standing.shape)
    return wall[0] if wall else 0.0


def has_room_inside(standing: Standing) -> bool:
    """Whether a face is the wall of something hollow."""
    return any(part.interiors for part in standing.shape.geoms) or is_wall(standing.shape)


def panel_of(standing: Standing) -> SideName | None:
    """The side that is a panel at which the wall of the other piece ends. The other piece gets a post; pins stand on the panel,
    and heads of screws are in it, for it is no thicker than a wall."""
    if meets_panel(standing, "a"):
        return "b"
    return "a" if meets_panel(standing, "b") else None


def pegs_in_collar(  # noqa: PLR0913 - what every rule of sizing takes
    kind: Literal["pin", "dowel"],
    joint_id: str,
    face: MatingFace,
    fit: Fit,
    standing: Standing,
    ground: Ground,
    cache: Cache,
    good: Good = any_will_do,
) -> Joint | None:
    """Pegs in the least collar in which two of them have room; None where there is no hollow for it."""
    if not has_room_inside(standing):
        return None
    count = max(LEAST_PEGS, count_for(measures(standing.shape)[0]))
    # a closed shell takes large pegs in a ring all round; what ends somewhere the least: a collar is as thick as they
    open_wall, panel = is_wall(standing.shape), panel_of(standing)
    for diameter in reversed(PEGS_MM) if open_wall else PEGS_MM:
        have_room = False
        for more in WIDER_MM:
            sizes = {"diameter_mm": diameter, "collar_mm": collar_for(diameter, standing, more)}
            joint: PinJoint | DowelJoint = (
                PinJoint(id=joint_id, face=face.ref, fit=fit, count=count, length_mm=diameter, on=panel or "auto", **sizes)
                if kind == "pin"
                else DowelJoint(id=joint_id, face=face.ref, fit=fit, count=count, length_mm=2 * diameter, **sizes)
            )
            places = _places_in_collar(joint, face, standing, ground, cache)
            if places is None:
                break
            suiting = joint.model_copy(update={"count": len(places)})
            have_room |= len(places) >= 2
            if len(places) >= 2 and good(suiting):
                return _as_ears(suiting, standing, good)
        if open_wall and not have_room:  # larger ones have less
            return None
    return None


def _as_ears(joint: CollarJoint, standing: Standing, good: Good) -> Joint:
    """The same with an ear at each place, where those take up little of the wall's length and are good, too."""
    ears = joint.model_copy(update={"collar_runs": "ears"})
    lighter = 2 * joint.ear_mm(standing) * joint.wanted < EARS_SHARE * standing.shape.length / 2
    return ears if lighter and good(ears) else joint  # type: ignore[arg-type,return-value]


def discs_for_ears() -> list[tuple[float, float]]:
    """Diameters and thicknesses of discs on sale that are tried in ears, large ones first."""
    return [disc for disc in discs_on_sale() if LEAST_DISC_MM <= disc[0] <= MOST_DISC_MM]


def magnets_in_ears(  # noqa: PLR0913 - what every rule of sizing takes
    joint_id: str, face: MatingFace, fit: Fit, standing: Standing, ground: Ground, cache: Cache, good: Good = any_will_do
) -> Joint | None:
    """Discs on sale, large ones first, in the least ears in which two or three of them have room; None without a hollow."""
    if not has_room_inside(standing):
        return None
    for diameter, thick in discs_for_ears():
        for more in WIDER_MM:
            joint = MagnetJoint(
                id=joint_id, face=face.ref, fit=fit, count=LEAST_PEGS, diameter_mm=diameter, thick_mm=thick,
                collar_mm=collar_for(diameter, standing, more), collar_runs="ears",
            )  # fmt: skip
            places = _places_in_collar(joint, face, standing, ground, cache)
            if places is None:
                break
            suiting = joint.model_copy(update={"count": len(places)})
            if len(places) >= 2 and good(suiting):
                return suiting
    return None


def hooks_in_collar(  # noqa: PLR0913 - what every rule of sizing takes
    joint_id: str, face: MatingFace, fit: Fit, standing: Standing, ground: Ground, cache: Cache, good: Good = any_will_do
) -> Joint | None:
    """Snap hooks, long ones first, in the least collar in which two to four of them have room; None without a hollow."""
    if not has_room_inside(standing):
        return None
    for bare in HookJoint.sizes(joint_id, face.ref, fit, standing):
        for more in WIDER_MM:
            thick = collar_for(2 * bare.radius_mm, standing, more)
            joint = bare.model_copy(update={"collar_mm": thick, "collar_runs": "ears"})
            places = _places_in_collar(joint, face, standing, ground, cache)
            if places is None:
                break
            if len(places) == joint.count and good(joint):
                return joint
    return None


def screws_in_bosses(  # noqa: PLR0913 - what every rule of sizing takes
    joint_id: str, face: MatingFace, fit: Fit, standing: Standing, ground: Ground, cache: Cache, good: Good = any_will_do
) -> Joint | None:
    """Screws into inserts, in the least bosses in which three or two of them have room; None where there is no hollow."""
    wall, panel = _wall(standing), panel_of(standing)
    if not wall or not has_room_inside(standing):
        return None
    heads = {"head": "countersunk", "on": panel} if panel else {}  # a panel is too thin for a cap
    for size in BOSSED:
        for more in WIDER_MM:
            bare = ScrewJoint(id=joint_id, face=face.ref, fit=fit, count=3, size=size).model_copy(update=heads)
            thick = max(1.0, math.ceil(2 * (2 * bare.around_mm(standing) + more - wall)) / 2)
            joint = bare.model_copy(update={"boss_mm": thick})
            places = _places_in_collar(joint, face, standing, ground, cache)
            if places is None:
                break
            suiting = joint.model_copy(update={"count": len(places)})
            if len(places) >= 2 and good(suiting):
                return suiting
    return None


def turned_in_collar(  # noqa: PLR0913 - what every rule of sizing takes
    kind: Turned, joint_id: str, face: MatingFace, fit: Fit, standing: Standing, ground: Ground, cache: Cache, good: Good
) -> Joint | None:
    """A ring with a thread or lugs in the wall of a round shell, made thick enough by a collar; None where there is no hollow
    for it."""
    depths = Depths(face)
    for joint in kind(joint_id, face.ref, fit, standing, True):
        if within_outside(joint, depths, standing) and _places_in_collar(joint, face, standing, ground, cache) and good(joint):
            return joint
    return None


def _places_in_collar(
    joint: JointBase, face: MatingFace, standing: Standing, ground: Ground, cache: Cache
) -> list[Place] | None:
    """Where a joint has room in the collar it asks for; None where there is no hollow for one."""
    wish = joint.collar(standing)
    grown = ground.collared(face, wish, cache) if wish else None
    return auto_places(joint, Depths(grown.face), replace(standing, shape=grown.face.shape))[0] if grown else None
