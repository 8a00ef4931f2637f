"""Steps in words: what is moved where, how, and what is to be done at the joints that it closes."""

from collections.abc import Sequence

import numpy as np

from hinoki.core.assemble.motion.moves import Motion
from hinoki.core.assemble.planning import Step
from hinoki.core.assemble.scene.parts import Ids, Scene, listed, upper
from hinoki.core.divide.mating_faces import face_label
from hinoki.core.join.channel_cuts import Bored
from hinoki.core.join.contract.terms import Direction
from hinoki.core.join.joints import ButtJoint, HingeJoint, MagnetJoint, RailJoint, ScrewJoint
from hinoki.core.join.placed_joint import PlacedJoint, letter
from hinoki.core.workshop.hardware import GLUE_POINT, Hardware
from hinoki.present.schemas.assemble import NeedView

NAMES = (("from the right", "from the left"), ("from behind", "from the front"), ("from above", "from below"))
"""where a move comes from, along each axis, against it and along it"""


def title_of(step: Step, scene: Scene) -> str:
    """Such as “Tower, upper”, or “Group of pieces 3 and 4”."""
    lead = scene.units[step.lead]
    if step.locked:
        return f"{upper(scene.named(sorted(step.units)))} lock each other"
    if not step.is_group:
        return upper(lead.name)
    return f"Group of {scene.named(sorted(step.units, key=lambda u: _number(scene, u)))}"


def how_of(step: Step, scene: Scene, way: Direction | None, later: bool = False) -> str:
    """What is done, in a sentence; `way` is the direction of the move, `later` tells that something is there already."""
    what = scene.named(sorted(step.units, key=lambda u: _number(scene, u)))
    if step.locked:
        return f"No order was found for {what}."
    if step.motion is None and step.onto is None:
        return f"Set {what} down{' beside: it touches nothing that is there yet' if later else ''}."
    onto = scene.named([step.onto]) if step.onto else "what is there"
    lead = scene.units[step.lead]
    if step.motion is None:
        return f"Bring {what} to {onto}: this does not work where it stands."
    special = _special(step.motion, what, onto, way)
    if special is not None:
        return special
    if way is None:
        return f"Bring {what} to {onto}."
    if lead.kind == "screw":
        return f"Drive in {what}, {_from(way)}."
    if lead.kind == "pin":
        return f"Push the {what} in, {_from(way)}."
    if lead.kind in ("loose", "rod") and len(step.units) == 1:
        return f"Push {what} into {onto}, {_from(way)}."
    if way[2] < -0.99:
        return f"Lower {what} onto {onto}, straight down."
    verb = "Slide" if abs(way[2]) < 0.1 else "Bring"
    return f"{verb} {what} onto {onto}, {_from(way)}."


def _special(motion: Motion, what: str, onto: str, way: Direction | None) -> str | None:
    """What is done in a motion that is more than a straight way; None for a straight one."""
    if motion.kind == "screw":
        hand = "clockwise" if _right(motion) else "anticlockwise: its thread is left-handed"
        return f"Screw {what} onto {onto}, {hand}, {motion.turns:.3g} turns."
    if motion.kind == "turn":
        hand = "clockwise" if _right(motion) else "anticlockwise"
        return f"Push {what} onto {onto}, turned back by {360 * motion.turns:.0f}°, and turn it {hand} until it locks."
    if motion.kind == "swing":
        return f"Bring {what} to its hinge on {onto} opened by {motion.swing_deg:.0f}°, and swing it shut."
    if motion.kind == "pull":
        return f"Pull the wire through its tunnel: {motion.distance_mm:.0f} mm, and what hangs out at both ends."
    if motion.kind == "two slides" and motion.then is not None and way is not None:
        first = _from(tuple(-c for c in motion.then))  # type: ignore[arg-type]
        return f"Bring {what} in {first}, then {motion.first_mm:.1f} mm {_towards(way)}."
    return None


def _right(motion: Motion) -> bool:
    return motion.thread is None or motion.thread.by.hand > 0


def _from(way: Direction) -> str:
    axis = int(np.argmax(np.abs(way)))
    if abs(way[axis]) > 0.97:
        return NAMES[axis][int(way[axis] > 0)]
    parts = [NAMES[k][int(way[k] > 0)] for k in (2, 1, 0) if abs(way[k]) > 0.3]
    words = [p.removeprefix("from ") for p in parts]
    return f"from {listed(words)}, along the arrow"


def _towards(way: Direction) -> str:
    axis = int(np.argmax(np.abs(way)))
    return (("left", "right"), ("forwards", "back"), ("down", "up"))[axis][int(way[axis] > 0)]


def closed_by(step: Step, there: Ids, placed: Sequence[PlacedJoint], scene: Scene) -> list[PlacedJoint]:
    """The joints that a step closes: one side is moved, the other is there."""
    found = []
    for placed_joint in placed:
        a, b = scene.of_piece(placed_joint.face.a.key), scene.of_piece(placed_joint.face.b.key)
        if a and b and ((a.id in step.units and b.id in there) or (b.id in step.units and a.id in there)):
            found.append(placed_joint)
    return found


def notes_of(step: Step, closed: Sequence[PlacedJoint], scene: Scene) -> list[str]:
    """Which way magnets look, what is let in before."""
    notes = []
    for one in closed:
        joint, face = one.joint, face_label(one.face, scene.numbers)
        if isinstance(joint, MagnetJoint) and one.places:
            poles = ", ".join(f"{p.upper()} at {letter(one.first_letter + k)}" for k, p in enumerate(one.poles))
            a, b = scene.numbers[one.face.a.key], scene.numbers[one.face.b.key]
            notes.append(f"Magnets of {face}: out of piece {a} looks {poles}; in piece {b} each the other way round.")
        if isinstance(joint, ScrewJoint) and joint.insert and one.places:
            notes.append(f"The inserts of {face} go in hot before: straight, the tapered end first.")
        if isinstance(joint, RailJoint) and joint.bumped and one.places:
            notes.append(f"Press it past the catch of {face} until it clicks; then it slides, and stays on.")
        if isinstance(joint, HingeJoint) and not joint.prints_together and one.places:
            notes.append(f"Then the pin ø{joint.pin_mm:g} × {joint.length_mm:g} goes into the hinge of {face}.")
    for key, base in scene.printed:
        unit = scene.of_piece(base)
        if unit is not None and unit.id in step.units and len(step.units) == 1:
            notes.append(
                f"Piece {scene.numbers[key]} came off the bed with piece {scene.numbers[base]}, printed in place: "
                "move it once to free it."
            )
    return notes


def needs_of(step: Step, closed: Sequence[PlacedJoint], scene: Scene, ways: Sequence[Bored]) -> list[NeedView]:
    """What is bought for a step: for what its joints hold, and for the rod, screws or pin that it moves."""
    lead = scene.units[step.lead]
    items: list[Hardware] = []
    by_step = {"screw", "pin"}
    for one in closed:
        own = one.joint.hardware(one.standing, one.places)
        later = any(u.joint == one.joint.id and u.kind in by_step for u in scene.units.values())
        items += [h for h in own if h.name != GLUE_POINT and not (later and ("screw" in h.name or "pin" in h.name))]
    for way in ways:
        if lead.id == way.way.id:
            items += way.way.hardware()
    if lead.kind == "screw":
        name = lead.name.partition(" × ")[2] if lead.count > 1 or " × " in lead.name else lead.name
        items.append(Hardware(name, lead.count))
    if lead.kind == "pin":
        items.append(Hardware(lead.name, 1))
    added: dict[tuple[str, float | None], int] = {}
    for item in items:
        added[item.name, item.length_mm] = added.get((item.name, item.length_mm), 0) + item.count
    return [NeedView(name=n, count=c, length_mm=long) for (n, long), c in added.items()]


def is_glued(step: Step, there: Ids, closed: Sequence[PlacedJoint], glued: Sequence[tuple[str, str]]) -> bool:
    """Whether glue goes on at a step."""
    if any(isinstance(one.joint, ButtJoint) and one.joint.glue for one in closed):
        return True
    return any((a in step.units and b in there) or (b in step.units and a in there) for a, b in glued)


def off_words(units: Ids, motion: Motion, scene: Scene) -> str:
    """What comes off and how: “piece 8: lift it off, straight up”."""
    what = scene.named(sorted(units, key=lambda u: _number(scene, u)))
    if motion.kind == "screw":
        return f"{what}: unscrew by {motion.turns:.3g} turns"
    if motion.kind == "turn":
        return f"{what}: turn it back by {360 * motion.turns:.0f}° and pull it off"
    if motion.kind == "swing":
        return f"{what}: swing open by {motion.swing_deg:.0f}° and take off"
    if motion.kind == "pull":
        return f"{what}: pull out"
    to = {"from above": "down", "from below": "up", "from the left": "to the right", "from the right": "to the left",
          "from the front": "to the back", "from behind": "to the front"}  # fmt: skip
    words = _from(motion.way)
    out = to.get(words, "along the arrow")
    if motion.kind == "two slides":
        return f"{what}: {motion.first_mm:.1f} mm {out}, then off {to.get(_from(motion.then), '') if motion.then else ''}"
    return f"{what}: take off, {'straight up' if out == 'up' else out}"


def _number(scene: Scene, unit: str) -> tuple[int, str]:
    return min(scene.units[unit].numbers, default=100_000), unit
