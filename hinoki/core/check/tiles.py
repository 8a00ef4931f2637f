"""Tiles that meet side by side: sides that are missing or differ, pockets in the way, poles that repel."""

from collections import Counter
from collections.abc import Mapping, Sequence

import numpy as np

from hinoki.core.build import Build
from hinoki.core.findings import Finding, Severity, mm
from hinoki.core.join.apply import PlacedJoint
from hinoki.core.join.joints import SIDES
from hinoki.core.join.tiles.tiles import Module, Modules
from hinoki.core.join.walls import NOTHING_MM3


def tile_findings(build: Build) -> list[Finding]:
    """What is noticed about all sets of tiles."""
    wall = build.plan.least_wall_mm
    return [f for one in build.modules for f in _of_set(one, build.placed, build.numbers, wall)]


def _of_set(modules: Modules, placed: Sequence[PlacedJoint], numbers: Mapping[str, int], wall_mm: float) -> list[Finding]:
    """Sides that are missing or differ, pockets near a surface or in each other's way, neighbours that would repel."""
    wanted = modules.wanted
    if not modules.each:
        return [
            _said("module-no-pieces", "look-at", "The pieces of the modules are not there now. They come back when those do.")
        ]
    few = [m for m in modules.each if len(m.sides) < 3]
    least = 2 * (wanted.magnets.radius_mm + wall_mm)
    if few:
        numbered = _pieces(sorted(numbers[m.part.key] for m in few))
        text = (
            f"{numbered.capitalize()} of the modules: fewer than three flat, upright sides at least {least:.1f} mm wide were "
            "found. Use smaller magnets, or leave out what is no module."
        )
        return [_said("module-no-sides", "must-fix", text, numbers[few[0].part.key])]
    counts = Counter(len(m.sides) for m in modules.each)
    if len(counts) > 1:
        usual = counts.most_common(1)[0][0]
        other = next(m for m in modules.each if len(m.sides) != usual)
        text = (
            f"Piece {numbers[other.part.key]} has {len(other.sides)} sides, the other modules have {usual}: one pattern does "
            "not serve both. Leave it out."
        )
        return [_said("module-differs", "must-fix", text, numbers[other.part.key])]
    found: list[Finding] = []
    if not modules.as_it_stands:
        text = (
            f"The {modules.label}: as they stand in the model, no way was found to turn their poles so that all neighbours "
            "hold. Take two magnets a side."
        )
        found.append(_said("module-field", "must-fix", text))
    for module in modules.each:
        found += _pockets(module, placed, numbers[module.part.key], wall_mm)
    return found


def _pockets(module: Module, placed: Sequence[PlacedJoint], number: int, wall_mm: float) -> list[Finding]:
    found = []
    if module.weak:
        weak = module.weak[0]
        how = "breaks through its surface" if weak.through_mm is not None else f"leaves a wall of {mm(weak.wall_mm or 0.0)}"
        at = weak.tool.bore.centre_of_box if weak.tool.bore else np.zeros(3)
        text = (
            f"A magnet in a side of piece {number} {how}; {mm(wall_mm)} is the least. Move it in height, nearer together, or "
            "use a smaller one."
        )
        found.append(
            _said(
                "module-wall",
                "must-fix",
                text,
                number,
                (round(float(at[0]), 2), round(float(at[1]), 2), round(float(at[2]), 2)),
            )
        )
    bores = [t.bore for t in module.tools if t.bore is not None]
    for i, bore in enumerate(bores):
        if any(bore.box_meets(o) and bore.common(o).volume_mm3 > NOTHING_MM3 for o in bores[i + 1 :]):
            text = f"Magnets of two sides of piece {number} meet at a corner. Use smaller ones, or set them nearer together."
            found.append(_said("module-corner", "must-fix", text, number))
            break
    for one in placed:
        for side in SIDES:
            if one.part(side).key != module.part.key:
                continue
            for tool in one.tools.of(side):
                body = tool.bore or tool.cut
                if body is not None and any(body.box_meets(b) and body.common(b).volume_mm3 > NOTHING_MM3 for b in bores):
                    text = f"{one.name(tool.index)} of piece {number} meets a magnet of the modules. Move one of them."
                    found.append(_said("module-meets-joint", "must-fix", text, number, joint=one.joint.id))
    return found


def _said(
    code: str,
    severity: Severity,
    message: str,
    piece: int | None = None,
    at: tuple[float, float, float] | None = None,
    joint: str | None = None,
) -> Finding:
    return Finding(severity=severity, code=code, station="join", message=message, piece=piece, at_mm=at, joint=joint)


def _pieces(numbers: Sequence[int]) -> str:
    return f"piece {numbers[0]}" if len(numbers) == 1 else "pieces " + ", ".join(map(str, numbers))
