"""What a step of the assembly needs beside the move: which way magnets look, pins to push in, screws to drive."""

from collections.abc import Mapping, Sequence

from hinoki.core.assembly import Step
from hinoki.core.faces import face_label
from hinoki.core.join import PlacedJoint, letter
from hinoki.core.joints import HingeJoint, MagnetJoint, ScrewJoint


def notes_of(steps: Sequence[Step], placed: Sequence[PlacedJoint], numbers: Mapping[str, int]) -> list[list[str]]:
    """For every step what is to be done at the joints that it closes."""
    there: set[str] = set()
    found: list[list[str]] = []
    for step in steps:
        group = set(step.group)
        closed = [one for one in placed if len({one.face.a.key, one.face.b.key} & group) == 1 and _other(one, group) in there]
        found.append([note for one in closed for note in _notes(one, numbers)] if step.onto else [])
        there |= group
    return found


def _other(one: PlacedJoint, group: set[str]) -> str:
    return one.face.b.key if one.face.a.key in group else one.face.a.key


def _notes(one: PlacedJoint, numbers: Mapping[str, int]) -> list[str]:
    joint, face = one.joint, face_label(one.face, numbers)
    if not one.places:
        return []
    if isinstance(joint, MagnetJoint):
        poles = ", ".join(f"{p.upper()} at {letter(one.first_letter + k)}" for k, p in enumerate(one.poles))
        a, b = numbers[one.face.a.key], numbers[one.face.b.key]
        return [f"Magnets of {face}: out of piece {a} looks {poles}; in piece {b} each the other way round."]
    if isinstance(joint, HingeJoint) and not joint.prints_together:
        return [f"Push the pin ø{joint.pin_mm:g} × {joint.length_mm:g} into the hinge of {face}."]
    if isinstance(joint, ScrewJoint):
        bought = [f"{h.count} × {h.name}" for h in joint.hardware(one.standing, one.places)]
        return [f"Screw {face} together: {', '.join(bought)}."] if bought else []
    return []
