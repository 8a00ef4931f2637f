"""The pole jig: a small printed handle that puts magnets in the right way round.

Each of its ends holds a magnet. What clings to the end marked N shows its N to the jig, and goes into the pocket so: then N
looks out of the piece. The other end is for S. Which way the first magnet lies in the jig does not matter as long as the same
jig is used for all pieces: turned over, all poles of the model are turned, and it holds just as well.
"""

from collections.abc import Sequence

import numpy as np

from hinoki.core.geometry.solid import Solid
from hinoki.core.geometry.text_outlines import lettered
from hinoki.core.join.joints import MagnetJoint
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.tiles.tiles import Modules
from hinoki.core.workshop.hardware import Hardware

WALL_MM = 2.0
LEAST_WIDE_MM = 12.0
LETTERS_MM, LETTERS_DEEP_MM = 5.0, 0.6
MARGIN_MM = 5.0
DEEPER_MM = 0.2
POLES = ("N", "S")


def jigs(placed: Sequence[PlacedJoint], modules: Sequence[Modules]) -> list[tuple[str, Solid, Hardware]]:
    """A jig for every size of magnet one is wished for: its name, its body as it prints, and the two magnets in it."""
    wanted: dict[str, tuple[MagnetJoint, float]] = {}
    for placed_joint in placed:
        if isinstance(placed_joint.joint, MagnetJoint) and placed_joint.joint.jig and placed_joint.places:
            wanted.setdefault(placed_joint.joint.magnet.name, (placed_joint.joint, placed_joint.clearance_mm))
    for group in modules:
        if group.wanted.jig and group.many:
            wanted.setdefault(group.wanted.magnets.magnet.name, (group.wanted.magnets, group.clearance_mm))
    return [
        (f"pole jig for {name}", jig(joint, clearance), Hardware(name, 2))
        for name, (joint, clearance) in sorted(wanted.items())
    ]


def jig(joint: MagnetJoint, clearance_mm: float) -> Solid:
    """A bar lying along X with a pocket in either end, open to it, and the pole each end is for on its upper side."""
    words = [lettered(f"{pole} this side", LETTERS_MM) for pole in POLES]
    long = max(2 * joint.thick_mm + 20, sum(w.bounds[2] - w.bounds[0] for w in words) + 3 * MARGIN_MM)
    if joint.shape == "block":
        wide, tall = joint.diameter_mm, joint.width_mm
    else:
        wide = tall = joint.diameter_mm
    half_y = max(LEAST_WIDE_MM, wide + 2 * (clearance_mm + WALL_MM)) / 2
    high = max(LETTERS_MM, tall + 2 * (clearance_mm + WALL_MM))
    body = Solid.box([-long / 2, -half_y, 0], [long / 2, half_y, high])
    deep = joint.thick_mm + DEEPER_MM
    # the pocket's Z is the bar's −X at the left end, X at the right one; a block's length lies across
    left = np.array([[0, 0, -1.0, -long / 2 + deep], [-1.0, 0, 0, 0], [0, 1.0, 0, high / 2]])
    right = np.array([[0, 0, 1.0, long / 2 - deep], [1.0, 0, 0, 0], [0, 1.0, 0, high / 2]])
    pocket = joint.bar(clearance_mm, 0.0, deep + 1.0, around=True)
    cuts = [pocket.placed(left), pocket.placed(right)]
    for word, side in zip(words, (-1, 1), strict=True):
        middle = side * (long / 2 - MARGIN_MM - (word.bounds[2] - word.bounds[0]) / 2)
        cuts.append(Solid.drawn(word, high - LETTERS_DEEP_MM, high + 1).moved(middle, 0, 0))
    return body.minus(cuts)
