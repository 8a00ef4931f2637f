"""What is bought for a build: for every joint, way and set of modules, and for every copy of a piece that is printed."""

from collections.abc import Iterable, Mapping, Sequence

from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channel_cuts import Bored
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.tiles.tiles import Modules
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.hardware import Hardware, added_up


def printed_often(plan: Plan, keys: Iterable[str], placed: Sequence[PlacedJoint]) -> dict[str, int]:
    """How often each piece is printed, by key, where that is more than once; pieces that print as one are printed together."""
    often = {key: plan.copies_of(key) for key in keys if plan.copies_of(key) > 1}
    for placed_joint in placed:
        if placed_joint.joint.prints_together:
            pair = (placed_joint.part("a").key, placed_joint.part("b").key)
            most = max(often.get(key, 1) for key in pair)
            often |= dict.fromkeys(pair, most) if most > 1 else {}
    return often


def shopping(
    placed: Sequence[PlacedJoint],
    ways: Sequence[Bored],
    modules: Sequence[Modules],
    tools: Sequence[tuple[str, Solid, Hardware]],
    often: Mapping[str, int],
    on_faces: Sequence[Hardware] = (),
) -> list[Hardware]:
    """One line for each thing. `often` tells which pieces (by key) are printed more than once; `on_faces` is for what stands on
    faces where nothing was cut."""
    found: list[Hardware] = []
    for placed_joint in placed:
        copies = often.get(placed_joint.part("a").key, 1), often.get(placed_joint.part("b").key, 1)
        found += placed_joint.joint.hardware_of_copies(placed_joint.standing, placed_joint.places, copies)
    for way in ways:
        most = max((often.get(key, 1) for key in way.pieces), default=1)
        found += [Hardware(h.name, h.count * most, h.length_mm) for h in way.way.hardware()]
    found += [h for group in modules for h in group.hardware(often)]
    return added_up([*found, *on_faces, *(h for _, _, h in tools)])
