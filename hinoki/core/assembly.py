"""A plain order of assembly, bottom up.

A set of pieces is divided along planes that separate it cleanly; each part is built first as a group, then the groups are
stacked across the planes. Joints between two groups lie in the plane between them, so each move is straight: across the
plane, or along it where a joint slides.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hinoki.core.faces import MatingFace
from hinoki.core.frames import Frame
from hinoki.core.mesh import Points
from hinoki.core.motions import Motions, way_for
from hinoki.core.partings.base import sides_of
from hinoki.core.pieces import Part

TOUCH_MM = 1e-3


@dataclass(frozen=True)
class Step:
    """One move: `piece` (with those already joined to it in `group`) goes `onto` another along `direction`.

    The first piece of a group has no `onto`. `direction` is None where no straight order was found.
    """

    piece: str
    onto: str | None
    direction: Points | None
    group: tuple[str, ...]


def plan_steps(parts: Sequence[Part], faces: Sequence[MatingFace], motions: Motions) -> list[Step]:
    """The steps for all pieces; every piece is added, or set down first, exactly once.

    `motions` are the ways in which joints let pieces go together.
    """
    planes = [e.frame for p in parts for e in p.ends if e.side < 0]
    unique: list[Frame] = []
    for frame in planes:
        if not any(abs(f.offset - frame.offset) < 1e-6 and f.n @ frame.n > 1 - 1e-9 for f in unique):
            unique.append(frame)
    steps: list[Step] = []
    if parts:
        base = _build(list(parts), unique, faces, motions, steps)
        steps.insert(0, Step(base, None, None, (base,)))
    return steps


def _build(parts: list[Part], planes: list[Frame], faces: Sequence[MatingFace], motions: Motions, steps: list[Step]) -> str:
    """Add the steps that build `parts` as one group; gives the piece the group begins with."""
    if len(parts) == 1:
        return parts[0].key
    layers, normal = _layers(parts, planes)
    if normal is None:
        inner, outer, off = _comes_off(parts)
        if off is not None:
            base, lead = _build(outer, planes, faces, motions, steps), _build(inner, planes, faces, motions, steps)
            steps.append(Step(lead, base, -off, tuple(p.key for p in inner)))
            return base
        first, *others = sorted(parts, key=lambda p: float(p.solid.bounds[0][2]))
        there = [first.key]
        for part in others:
            onto, way = _contact(part.key, there, faces)
            if way is not None:
                way = way_for([part.key], there, way, motions)
            steps.append(Step(part.key, onto or _neighbour([part.key], there, faces), way, (part.key,)))
            there.append(part.key)
        return first.key
    base = _build(layers[0], planes, faces, motions, steps)
    done = [p.key for p in layers[0]]
    for layer in layers[1:]:
        lead = _build(layer, planes, faces, motions, steps)
        keys = tuple(p.key for p in layer)
        way = way_for(keys, done, -normal, motions)
        steps.append(Step(lead, _neighbour(keys, done, faces), way, keys))
        done += keys
    return base


def _comes_off(parts: list[Part]) -> tuple[list[Part], list[Part], Points | None]:
    """Parts that come off the others in a direction their parting tells (a hub, a hatch), the others, and that direction.

    No direction where the parts are not so divided.
    """
    for made in (m for p in parts for m in p.made if m.off is not None):
        inner = [p for p in parts if any(m.parting == made.parting and m.side == made.side for m in p.made)]
        outer = [p for p in parts if p not in inner]
        if outer and all(any(m.parting == made.parting for m in p.made) for p in outer):
            return inner, outer, np.array(made.off)
    return [], parts, None


def _layers(parts: list[Part], planes: list[Frame]) -> tuple[list[list[Part]], Points | None]:
    """The parts in layers across the direction that separates them, level planes first; no normal when none does."""
    clean: list[Frame] = []
    for frame in planes:
        reach = [sides_of(p.solid, frame) for p in parts]
        below = [high <= TOUCH_MM for _, high in reach]
        above = [low >= -TOUCH_MM for low, _ in reach]
        if all(b or a for b, a in zip(below, above, strict=True)) and any(below) and not all(below):
            clean.append(frame)
    if not clean:
        return [parts], None
    normal = max(clean, key=lambda f: (round(abs(float(f.n[2])), 3), -round(abs(float(f.n[0])), 3))).n
    across = [f for f in clean if abs(f.n @ normal) > 1 - 1e-9]
    normal = normal if normal[2] > -1e-9 else -normal
    offsets = sorted({round(float(f.origin @ normal), 4) for f in across})
    layers: list[list[Part]] = [[] for _ in range(len(offsets) + 1)]
    for part in parts:
        low = float((part.solid.mesh.vertices @ normal).min())
        layers[sum(low >= o - TOUCH_MM for o in offsets)].append(part)
    filled = [layer for layer in layers if layer]
    return filled, normal if len(filled) > 1 else None


def _contact(key: str, there: Sequence[str], faces: Sequence[MatingFace]) -> tuple[str | None, Points | None]:
    """The piece already there that a part which came in separate touches along a flat area, where that is one plane only, and
    the straight way onto it."""
    found = [f for f in faces if (f.a.key == key and f.b.key in there) or (f.b.key == key and f.a.key in there)]
    ways = [f.frame.n if f.a.key == key else -f.frame.n for f in found]
    if (
        not ways
        or any(w @ ways[0] < 1 - 1e-9 for w in ways)
        or any(e.parting == f.ref.parting for f in found for e in f.a.ends)
    ):
        return None, None
    return (found[0].b if found[0].a.key == key else found[0].a).key, ways[0]


def _neighbour(keys: Sequence[str], there: Sequence[str], faces: Sequence[MatingFace]) -> str | None:
    """The piece already there that shares the largest mating face with any of `keys`."""
    best: tuple[float, str] | None = None
    for face in faces:
        for own, other in ((face.a.key, face.b.key), (face.b.key, face.a.key)):
            if own in keys and other in there and (best is None or face.shape.area > best[0]):
                best = face.shape.area, other
    return best[1] if best else None
