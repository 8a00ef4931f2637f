"""Pieces that cuts separated and that are to stay one: joined again, as long as they touch."""

from collections.abc import Mapping, Sequence

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part, Parted
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.findings import Finding, Fix, Params
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.together import Together
from hinoki.core.stages import Keyed, stage

TOUCH_MM = 1e-4


def keep_together(parted: Parted, groups: Sequence[Together], cache: Cache) -> None:
    """Join the pieces of every group; says what is not there now and what does not touch."""
    for group in groups:
        found = [p for p in parted.parts if p.key in group.pieces]
        gone = sorted(set(group.pieces) - {p.key for p in found})
        if gone:
            parted.findings.append(
                Finding(
                    severity="look-at",
                    code="together-gone",
                    station="divide",
                    params={"gone": gone, "pieces": len(group.pieces)},
                    about=" + ".join(sorted(group.pieces)),
                )
            )
        if len(found) < 2:
            continue
        bodies = [p.body for p in found]
        key, solid = _rejoined.with_key(cache, bodies)
        if len(solid.lumps()) > _lumps(found):
            parted.findings.append(
                Finding(
                    severity="must-fix",
                    code="together-apart",
                    station="divide",
                    params={"pieces": [p.key for p in found]},
                    about=" + ".join(sorted(group.pieces)),
                )
            )
            continue
        first = found[0]
        ends = {(e.parting, e.member, e.side): e for p in found for e in p.ends}
        made = dict.fromkeys(m for p in found for m in p.made)
        one = Part(first.key, solid, key, tuple(ends.values()), tuple(made))
        parted.parts = [one if p is first else p for p in parted.parts if p is first or p not in found]


@stage("together", weigh=lambda solid: solid.triangles)
def _rejoined(bodies: Sequence[Keyed[Solid]]) -> Solid:
    """Pieces as one again."""
    return Solid.rejoined([body.value for body in bodies])


def sliver_findings(
    parts: Sequence[Part], faces: Sequence[MatingFace], numbers: Mapping[str, int], under_mm3: float
) -> list[Finding]:
    """A finding for every piece smaller than `under_mm3`, with the fix of giving it to the piece it shares most with."""
    found = []
    for part in parts:
        volume = part.solid.volume_mm3
        if volume >= under_mm3 or len(parts) == 1:
            continue
        other = _closest(part, parts, faces)
        fixes: tuple[Fix, ...] = ()
        if other is not None:
            params: Params = {"piece": numbers[other.key]}
            fixes = (Fix(kind="together", code="give-to", params=params, pieces=(other.key, part.key)),)
        found.append(
            Finding(
                severity="look-at",
                code="piece-sliver",
                station="divide",
                piece=numbers[part.key],
                params={"piece": numbers[part.key], "volume_mm3": volume, "to": numbers[other.key] if other else None},
                fixes=fixes,
            )
        )
    return found


def _closest(part: Part, parts: Sequence[Part], faces: Sequence[MatingFace]) -> Part | None:
    """The piece with which a part shares the largest face; else one that it touches."""
    best: tuple[float, Part] | None = None
    for face in faces:
        for own, other in ((face.a, face.b), (face.b, face.a)):
            if own.key == part.key and (best is None or face.shape.area > best[0]):
                best = face.shape.area, other
    if best is not None:
        return best[1]
    touching = [p for p in parts if p.key != part.key and p.solid.gap(part.solid, 1.0) < TOUCH_MM]
    return max(touching, key=lambda p: p.solid.volume_mm3, default=None)


def _lumps(parts: Sequence[Part]) -> int:
    """The most lumps there may be: pieces of several lumps have them already."""
    return 1 + sum(len(p.solid.lumps()) - 1 for p in parts)
