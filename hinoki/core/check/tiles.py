"""Tiles that meet side by side: sides that are missing or differ, pockets in the way, poles that repel."""

from collections import Counter
from collections.abc import Mapping, Sequence

import numpy as np

from hinoki.core.build import Build
from hinoki.core.findings import Finding, Params, Severity
from hinoki.core.join.joints import SIDES
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.tiles.put_together import Tried
from hinoki.core.join.tiles.tiles import Module, Modules
from hinoki.core.join.walls import NOTHING_MM3


def tile_findings(build: Build, tried: Mapping[str, Tried]) -> list[Finding]:
    """What is noticed about all sets of tiles; `tried` is what putting them together showed, by the set's id."""
    wall, line = build.plan.least_wall_mm, build.plan.printer.line_mm
    found = [f for module in build.modules for f in _of_set(module, build.placed, build.numbers, wall, line)]
    return found + [f for module in build.modules for f in _of_pairs(module, tried[module.wanted.id], build.numbers)]


def _of_pairs(modules: Modules, found: Tried, numbers: Mapping[str, int]) -> list[Finding]:
    """Sides that were put together and do not go together as they are to, the first of each kind of fault."""
    faults = (("into", found.into_each_other), ("in", found.do_not_go_in), ("apart", found.come_apart))
    told = []
    for case, pairs in faults:
        for a, i, b, j in pairs[:1]:
            one, other = numbers[modules.each[a].part.key], numbers[modules.each[b].part.key]
            params: Params = {"case": case, "side": i + 1, "other_side": j + 1, "other": other, "more": len(pairs) - 1}
            told.append(_about(modules, "module-pair", "must-fix", params, one))
    return told


def _of_set(
    modules: Modules, placed: Sequence[PlacedJoint], numbers: Mapping[str, int], wall_mm: float, line_mm: float
) -> list[Finding]:
    """Sides that are missing or differ, pockets near a surface or in each other's way, neighbours that would repel."""
    if not modules.each:
        return [_about(modules, "module-no-pieces", "look-at")]
    few = [m for m in modules.each if len(m.sides) < 3]
    least = 2 * (modules.joint.half_mm + wall_mm)
    if few:
        params: Params = {"pieces": sorted(numbers[m.part.key] for m in few), "least_mm": least}
        return [_about(modules, "module-no-sides", "must-fix", params, numbers[few[0].part.key])]
    counts = Counter(len(m.sides) for m in modules.each)
    if len(counts) > 1:
        usual = counts.most_common(1)[0][0]
        other = next(m for m in modules.each if len(m.sides) != usual)
        params = {"sides": len(other.sides), "usual": usual}
        return [_about(modules, "module-differs", "must-fix", params, numbers[other.part.key])]
    found: list[Finding] = []
    if not modules.as_it_stands:
        found.append(_about(modules, "module-field", "must-fix", {"modules": modules.label}))
    for case, params in modules.joint.faults(modules.clearance_mm, line_mm):
        found.append(_about(modules, "module-hook", "must-fix", {"case": case, **params}))
    for module in modules.each:
        found += _pockets(modules, module, placed, numbers[module.part.key], wall_mm)
    return found


def _pockets(modules: Modules, module: Module, placed: Sequence[PlacedJoint], number: int, wall_mm: float) -> list[Finding]:
    found = []
    if module.weak:
        weak = module.weak[0]
        at = weak.tool.bore.centre_of_box if weak.tool.bore else np.zeros(3)
        found.append(
            _about(
                modules,
                "module-wall",
                "must-fix",
                {"wall_mm": None if weak.through_mm is not None else weak.wall_mm or 0.0, "least_mm": wall_mm},
                number,
                (round(float(at[0]), 2), round(float(at[1]), 2), round(float(at[2]), 2)),
            )
        )
    if module.narrow:
        found.append(_about(modules, "module-narrow", "must-fix", {"side": module.narrow[0] + 1}, number))
    if _own_meet(module):
        found.append(_about(modules, "module-own-meet", "must-fix", None, number))
    bores = [t.bore for t in module.tools if t.bore is not None]
    for i, bore in enumerate(bores):
        if any(bore.box_meets(o) and bore.common(o).volume_mm3 > NOTHING_MM3 for o in bores[i + 1 :]):
            found.append(_about(modules, "module-corner", "must-fix", None, number))
            break
    for placed_joint in placed:
        for side in SIDES:
            if placed_joint.part(side).key != module.part.key:
                continue
            for tool in placed_joint.tools.of(side):
                body = tool.bore or tool.cut
                if body is not None and any(body.box_meets(b) and body.common(b).volume_mm3 > NOTHING_MM3 for b in bores):
                    params: Params = {"name": placed_joint.name(tool.index)}
                    found.append(_about(modules, "module-meets-joint", "must-fix", params, number, joint=placed_joint.joint.id))
    return found


def _own_meet(module: Module) -> bool:
    """Whether what stands out of a module is cut by what it takes, or two that stand out meet."""
    adds = [t.add for t in module.tools if t.add is not None]
    others = [*adds, *(t.cut for t in module.tools if t.cut is not None)]
    return any(
        add is not other and add.box_meets(other) and add.common(other).volume_mm3 > NOTHING_MM3
        for add in adds
        for other in others
    )


def _about(  # noqa: PLR0913 - a finding's own parts
    modules: Modules,
    code: str,
    severity: Severity,
    params: Params | None = None,
    piece: int | None = None,
    at: tuple[float, float, float] | None = None,
    joint: str | None = None,
) -> Finding:
    return Finding(
        severity=severity,
        code=code,
        station="join",
        params=params or {},
        piece=piece,
        at_mm=at,
        joint=joint,
        about=modules.wanted.id,
    )
