"""Findings about the parts of a project where they stand: those that run into each other."""

from collections.abc import Iterator

import numpy as np

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.findings import Finding
from hinoki.core.geometry.frames import composed, inverted
from hinoki.core.geometry.mesh import Points, placed_box
from hinoki.core.geometry.solid import Solid
from hinoki.core.stages import Keyed, stage

OVERLAP_MM3 = 1.0
"""parts that share less touch by rounding, or are pressed together"""
MOST_TOLD = 20
NONE = (0.0, 0.0, 0.0)


def part_findings(build: Build, cache: Cache) -> list[Finding]:
    """Instances that run into each other, the largest overlaps first; nothing where other parts were not built."""
    if len(build.others) != len(build.plan.parts):
        return []
    found = []
    for one, k, two, j in _near(build):
        first, second = (_solid(part) for part in (one, two))
        if first is None or second is None:
            continue
        there = composed(inverted(one.plan.instances[k].matrix), two.plan.instances[j].matrix)
        mm3, at = _overlap(cache, first, second, np.round(there, 9))
        if mm3 > OVERLAP_MM3:
            found.append((mm3, _finding(one, k, two, j, mm3, one.plan.instances[k].matrix, at)))
    return [finding for _, finding in sorted(found, key=lambda pair: -pair[0])[:MOST_TOLD]]


def _solid(part: Build) -> Keyed[Solid] | None:
    ready = part.prepared
    return Keyed(ready.solid, ready.key) if ready is not None and ready.solid is not None else None


def _near(build: Build) -> Iterator[tuple[Build, int, Build, int]]:
    """Pairs of instances whose boxes meet."""
    owners: list[tuple[Build, int]] = []
    lows: list[Points] = []
    highs: list[Points] = []
    for part in build.all_parts:
        if part.prepared is None:
            continue
        for k, instance in enumerate(part.plan.instances):
            low, high = placed_box(*part.prepared.shape.bounds, instance.matrix)
            owners.append((part, k))
            lows.append(low)
            highs.append(high)
    if len(owners) < 2:
        return
    every_low, every_high = np.array(lows), np.array(highs)
    for a in range(len(owners) - 1):
        meets = ((every_low[a + 1 :] < every_high[a]) & (every_high[a + 1 :] > every_low[a])).all(axis=1)
        for b in np.flatnonzero(meets) + a + 1:
            yield (*owners[a], *owners[int(b)])


@stage("overlap of parts")
def _overlap(first: Keyed[Solid], second: Keyed[Solid], there: Points) -> tuple[float, tuple[float, float, float]]:
    """What a body shares with another that stands at a (3, 4) matrix to it, mm³, and where its middle is."""
    other = second.value.placed(there)
    if not first.value.box_meets(other) or first.value.gap(other, OVERLAP_MM3) > 0:
        return 0.0, NONE
    shared = first.value.common(other)
    if shared.volume_mm3 <= OVERLAP_MM3:
        return 0.0, NONE
    x, y, z = (float(v) for v in shared.centre_of_mass)
    return shared.volume_mm3, (x, y, z)


def _finding(  # noqa: PLR0913 - two instances, and what they share
    one: Build, k: int, two: Build, j: int, mm3: float, matrix: Points, at: tuple[float, float, float]
) -> Finding:
    x, y, z = (float(v) for v in matrix[:, :3] @ np.array(at) + matrix[:, 3])
    return Finding(
        severity="must-fix",
        code="parts-overlap",
        station="model",
        params={"one": one.plan.instance_label(k), "other": two.plan.instance_label(j), "cm3": mm3 / 1000, "at_mm": [x, y, z]},
        about=f"{one.plan.part_id} {k + 1}, {two.plan.part_id} {j + 1}",
        whole=True,
    )
