"""Divisions that begin with wedges around an axis of revolution."""

import math
from collections.abc import Sequence
from typing import Literal

import numpy as np

from hinoki.core.divide.cut import End, Part, part_further
from hinoki.core.divide.partings import WedgesParting
from hinoki.core.divide.partings.base import Reach
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.limbs.limbs import Limb, cut_along
from hinoki.core.propose.search.beam_search import Search, State
from hinoki.core.propose.search.begun_with import begun_with
from hinoki.core.propose.search.constraints import angles_clear
from hinoki.core.stages import key_of
from hinoki.core.symmetry.revolution import Axis, axis_of_revolution

MOST_WEDGES = 24
SQUARE = 0.9995
"""cosine from which a detected axis counts as X, Y or Z"""


def wedged_starts(thin: Part, search: Search) -> list[State]:
    """Divisions that begin with wedges around an axis of revolution, for the least counts that help."""
    axis = axis_of_revolution(thin.solid.mesh)
    name = _square_axis(axis)
    if axis is None or name is None:
        return []
    k = "xyz".index(name)
    u, v = np.eye(3)[(k + 1) % 3], np.eye(3)[(k + 2) % 3]
    through = (round(float(axis.point @ u), 3) + 0.0, round(float(axis.point @ v), 3) + 0.0)
    states = []
    for count in _counts(thin, name, through, search):
        middle, clear = u * through[0] + v * through[1], []
        for start in (0.0, 180 / count, 90 / count):
            angles = [start + 360 * n / count for n in range(count)]
            if angles_clear(search.heed.kept, middle, u, v, angles) is None:
                clear.append((_halved(search.limbs, middle, u, v, angles), start))
        if clear:
            halved, start = min(clear, key=lambda c: c[0])
            state = _wedge_state(thin, _wedges(name, through, count, start, search, thin.key), search, halved)
            states += [state] if state is not None else []
    return states


def _halved(limbs: Sequence[Limb], middle: Points, u: Points, v: Points, angles: Sequence[float]) -> int:
    """How many limbs are cut along by half planes at these angles (degrees) about an axis."""
    found = 0
    for turn in np.radians(np.asarray(angles)):
        way = math.cos(turn) * u + math.sin(turn) * v
        ahead = [limb for limb in limbs if (limb.root - middle) @ way > 0]
        found += cut_along(ahead, plane_frame(middle, math.cos(turn) * v - math.sin(turn) * u))
    return found


def _counts(thin: Part, name: Literal["x", "y", "z"], through: tuple[float, float], search: Search) -> list[int]:
    """The least number of wedges that fit, by one wedge alone, and the least that need but one more cut each."""
    found: list[int] = []
    for count in range(2, MOST_WEDGES + 1):
        parting = _wedges(name, through, count, 0.0, search, thin.key)
        members = parting.members(Reach([thin.solid]))
        cut = parting.one(thin.solid, members, 0)
        if cut is None:
            continue
        ends = tuple(End(parting.id, m, side, members[m].frame) for m, side in cut.ends)
        part = Part("one", cut.solid, key_of("wedge", thin.made_by, name, through, count), ends)
        if not found and not search.fits(part) and search.needs(part) == 2:
            found.append(count)
        if search.fits(part):
            return [*found, count]
    return found


def _wedges(
    name: Literal["x", "y", "z"], through: tuple[float, float], count: int, start: float, search: Search, key: str
) -> WedgesParting:
    only = None if search.all_pieces else (key,)
    return WedgesParting(id=f"p{search.first_number}", axis=name, through_mm=through, count=count, start_deg=start, only=only)


def _wedge_state(thin: Part, parting: WedgesParting, search: Search, halved: int) -> State | None:
    parts = part_further([thin], parting, search.cache)
    if len(parts) < 2:
        return None
    return begun_with(parts, [parting], search, halved)


def _square_axis(axis: Axis | None) -> Literal["x", "y", "z"] | None:
    if axis is None:
        return None
    k = int(np.argmax(np.abs(axis.direction)))
    names: tuple[Literal["x", "y", "z"], ...] = ("x", "y", "z")
    return names[k] if abs(float(axis.direction[k])) > SQUARE else None
