"""Whether joints leave enough material around them: exact, by what their guards find missing in the piece."""

from collections.abc import Sequence, Set
from dataclasses import dataclass

import numpy as np

from hinoki.core.findings import Finding, Fix, Params
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import Tool

NOTHING_MM3 = 0.005
"""volumes below this are rounding"""


@dataclass(frozen=True)
class Weak:
    """A tool that breaks through by `through_mm`, or leaves only `wall_mm`; exactly one of them is set."""

    tool: Tool
    through_mm: float | None = None
    wall_mm: float | None = None


def weak_tools(pegs: Sequence[Tool], piece: Solid, least_wall_mm: float, on_face: Set[int], frame: Frame) -> list[Weak]:
    """The tools whose bore breaks through `piece` or leaves less than the least wall.

    `on_face` are the indices of elements that stand on the mating face, whose frame is given. One whose guards no face of the
    piece comes near is good: it begins inside the material, so it stays there. The others are tried in one kernel call, and
    measured one by one only where something is missing.
    """
    bored = [p for p in pegs if p.around is not None and p.beyond is not None]
    near = _near_surface(bored, piece, frame)
    bored = [p for p, is_near in zip(bored, near, strict=True) if is_near or p.index not in on_face]
    guards = [s for p in bored for s in (p.around, p.beyond) if s is not None]
    if not guards or Solid.united(guards).minus([piece]).volume_mm3 <= NOTHING_MM3:
        return []
    found = [_measure(peg, piece, least_wall_mm) for peg in bored]
    return [weak for weak in found if weak is not None]


def _near_surface(pegs: Sequence[Tool], piece: Solid, frame: Frame) -> list[bool]:
    """For each peg, whether the box of any face of `piece` meets the box of one of its guards, boxes along the world's axes and
    along the mating face's.

    The mating face itself lies just below them.
    """
    guards = [[g for g in (peg.around, peg.beyond) if g is not None] for peg in pegs]
    every = [g.bounds for own in guards for g in own]
    if not every:
        return [False] * len(pegs)
    low, high = piece.mesh.face_boxes
    start, end = np.min([b[0] for b in every], axis=0), np.max([b[1] for b in every], axis=0)
    close = np.arange(len(low))
    for axis in range(3):  # one axis after the other: most faces are gone after the first
        close = close[(low[close, axis] <= end[axis]) & (high[close, axis] >= start[axis])]
    seen = frame.seen(piece.mesh.vertices[piece.mesh.faces[close]].reshape(-1, 3)).reshape(-1, 3, 3)
    both = (low[close], high[close]), (seen.min(axis=1), seen.max(axis=1))
    return [any(_meets(both, (g.bounds, g.placed(frame.to_frame).bounds)) for g in own) for own in guards]


def _meets(faces: Sequence[tuple[Points, Points]], boxes: Sequence[tuple[Points, Points]]) -> bool:
    """Whether any face's boxes (lows and highs (n, 3), one pair for each set of axes) meet all of `boxes`."""
    meeting = [((low <= end) & (high >= start)).all(axis=1) for (low, high), (start, end) in zip(faces, boxes, strict=True)]
    return bool(np.logical_and.reduce(meeting).any())


def _measure(peg: Tool, piece: Solid, least_wall_mm: float) -> Weak | None:
    if peg.around is None or peg.beyond is None or peg.bore is None:
        return None
    outside = peg.bore.minus([piece])
    if outside.volume_mm3 > NOTHING_MM3:
        return Weak(peg, through_mm=_sticks_out(outside, peg.bore, piece))
    walls = [
        peg.bore.gap(missing, least_wall_mm)
        for missing in (peg.around.minus([piece]), peg.beyond.minus([piece]))
        if missing.volume_mm3 > NOTHING_MM3
    ]
    return Weak(peg, wall_mm=min(walls)) if walls and min(walls) < least_wall_mm - 1e-3 else None


def _sticks_out(outside: Solid, bore: Solid, piece: Solid) -> float:
    """The farthest that any corner of `outside` lies from the piece; all of the bore where nothing of it is near."""
    import trimesh

    low, high = bore.bounds
    reach = float(np.linalg.norm(high - low))
    near = piece.common(Solid.box((low - reach).tolist(), (high + reach).tolist()))
    if near.empty:
        return reach
    surface = trimesh.Trimesh(near.mesh.vertices, near.mesh.faces, process=False)
    _, distance, _ = trimesh.proximity.closest_point(surface, outside.mesh.vertices)
    return float(distance.max())


def finding_for(  # noqa: PLR0913 - a finding's own parts
    weak: Weak, name: str, joint: str, face: str, piece: int, least_wall_mm: float, fixes: tuple[Fix, ...]
) -> Finding:
    """The finding; `name` is such as “Pin C”."""
    mesh = (weak.tool.bore or weak.tool.cut or Solid.box([0, 0, 0], [1, 1, 1])).centre_of_box
    at = tuple(round(float(c), 2) for c in mesh)
    params: Params = {"name": name, "wall_mm": weak.wall_mm or 0.0, "least_mm": least_wall_mm}
    if weak.through_mm is not None:
        params = {"name": name, "through_mm": weak.through_mm}
    return Finding(
        severity="must-fix",
        code="joint-thin-wall" if weak.through_mm is None else "joint-breaks-through",
        station="join",
        params=params,
        about=str(weak.tool.index),
        piece=piece,
        face=face,
        joint=joint,
        at_mm=(at[0], at[1], at[2]),
        fixes=fixes,
    )
