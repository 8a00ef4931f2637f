"""Where no order exists: which parts lock each other, and the least change that frees them, each tried before it is said."""

import dataclasses
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from hinoki.core.assemble.motion.blocking_graph import Blocking
from hinoki.core.assemble.motion.moves import PLAIN, Moves
from hinoki.core.assemble.planning import Planner
from hinoki.core.assemble.scene.parts import Held, Ids, Scene, Unit
from hinoki.core.cache import Cache
from hinoki.core.findings import Params
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import Direction, direction_of
from hinoki.core.stages import key_of

Way = Literal["turn", "loosen", "leave out", "split"]
LOOSENED = {"pin": "butterfly", "dovetail": "butterfly", "tongue": "butterfly", "lip": "butt"}
"""the kind a kind is replaced with so that the pieces can meet any way"""
MOST_TRIED = 24
TRY_SECONDS = 20.0


@dataclass(frozen=True)
class Freed:
    """A change that was tried and frees a locked set: what it is, of which joint or unit, and its direction."""

    way: Way
    params: Params
    joint: str | None = None
    unit: str | None = None
    direction: Direction | None = None


def freeing(locked: Ids, scene: Scene, bare: dict[str, tuple[Solid, ...]], cache: Cache) -> list[Freed]:
    """Changes that free a locked set, the least first: a joint turned, made loose, left out; a piece split in two.

    `bare` are the bodies of pieces without what their joints added, by unit.
    """
    found: list[Freed] = []
    joints = [h for h in scene.held if h.a in locked and h.b in locked and h.joint]
    for held in joints[:MOST_TRIED]:
        freed = _by_turning(held, locked, scene, bare, cache)
        if freed is not None:
            found.append(freed)
    if not found:
        for held in joints[:MOST_TRIED]:
            if _apart(_without(held, scene, bare), locked, cache):
                found.append(_loosened(held, scene))
    if not found:
        for unit in sorted(locked, key=lambda u: -scene.units[u].volume_mm3)[:MOST_TRIED]:
            freed = _by_splitting(unit, locked, scene, cache)
            if freed is not None:
                found.append(freed)
                break
    return found


def _loosened(held: Held, scene: Scene) -> Freed:
    pair = scene.named([held.a, held.b])
    into = LOOSENED.get(held.kind)
    if into is not None:
        return Freed("loosen", {"joint": held.label, "between": pair, "into": into}, joint=held.joint)
    return Freed("leave out", {"joint": held.label, "between": pair}, joint=held.joint)


def _by_turning(held: Held, locked: Ids, scene: Scene, bare: dict[str, tuple[Solid, ...]], cache: Cache) -> Freed | None:
    if held.kind not in ("dovetail", "tongue") or not held.motions:
        return None
    now = next(iter(sorted(held.motions)))
    across = np.cross(held.normal, now)
    for way in (direction_of(-np.array(now)), direction_of(across), direction_of(-across)):
        if way in held.motions:
            continue
        turned = _without(held, scene, bare)
        turned.held.append(dataclasses.replace(held, motions=frozenset((way,))))
        if _apart(turned, locked, cache):
            by = 180 if np.dot(way, now) < -0.9 else 90
            params: Params = {"joint": held.label, "between": scene.named([held.a, held.b]), "turn_deg": by}
            return Freed("turn", params, joint=held.joint, direction=way)
    return None


def _without(held: Held, scene: Scene, bare: dict[str, tuple[Solid, ...]]) -> Scene:
    """The scene without a joint: its two units without what joints added to them, its loose parts gone."""
    units = {i: u for i, u in scene.units.items() if u.joint != held.joint}
    for side in (held.a, held.b):
        unit = units[side]
        units[side] = dataclasses.replace(unit, solids=bare[side], made_by=key_of("bare", unit.made_by))
    return dataclasses.replace(
        scene,
        units=units,
        together={pair: area for pair, area in scene.together.items() if pair <= units.keys()},
        held=[h for h in scene.held if h.joint != held.joint],
        threads=[t for t in scene.threads if t.joint != held.joint],
        doors=[d for d in scene.doors if d.joint != held.joint],
    )


def _by_splitting(unit: str, locked: Ids, scene: Scene, cache: Cache) -> Freed | None:
    whole = scene.units[unit]
    if not whole.is_piece:
        return None
    for axis, normal in (("X", (1.0, 0.0, 0.0)), ("Y", (0.0, 1.0, 0.0)), ("Z", (0.0, 0.0, 1.0))):
        frame = plane_frame(whole.middle, np.array(normal))
        halves = [_half(whole, [h for s in whole.solids if not (h := s.halves(frame)[k]).empty], k) for k in (0, 1)]
        if not all(h.solids for h in halves):
            continue
        units = {i: u for i, u in scene.units.items() if i != unit} | {h.id: h for h in halves}
        together = {p: a for p, a in scene.together.items() if unit not in p}
        for pair, area in scene.together.items():
            if unit in pair:
                other = next(iter(pair - {unit}))
                together |= {frozenset((h.id, other)): area for h in halves}
        split = dataclasses.replace(
            scene,
            units=units,
            held=[h for h in scene.held if unit not in (h.a, h.b)],
            threads=[t for t in scene.threads if unit not in (t.inner, t.outer)],
            together=together,
            reaches={i: r for i, r in scene.reaches.items() if i != unit},
        )
        if _apart(split, locked - {unit} | {h.id for h in halves}, cache):
            at = float(whole.middle["XYZ".index(axis)])
            params: Params = {"part": scene.named([unit]), "axis": axis, "at_mm": at}
            return Freed("split", params, unit=unit, direction=normal)
    return None


def _half(whole: Unit, solids: Sequence[Solid], k: int) -> Unit:
    return dataclasses.replace(
        whole, id=f"{whole.id} half {k}", solids=tuple(solids), made_by=key_of("half", whole.made_by, k, _boxes(solids))
    )


def _boxes(solids: Sequence[Solid]) -> list[list[float]]:
    return [[*s.bounds[0].tolist(), *s.bounds[1].tolist()] for s in solids]


def _apart(scene: Scene, units: Ids, cache: Cache) -> bool:
    own = frozenset(u for u in units if u in scene.units)
    return Planner(Moves(Blocking(scene, cache), cache), seconds=TRY_SECONDS).comes_apart(own)


def closest(locked: Ids, moves: Moves) -> Iterator[tuple[str, Direction, list[str]]]:
    """For every unit of a locked set the way with the least against it, and what that is."""
    for unit in sorted(locked):
        rest = locked - {unit}
        ranked = [(moves.blocking.blockers(frozenset((unit,)), rest, w), w) for w in PLAIN]
        met, way = min(ranked, key=lambda r: len(r[0]))
        yield unit, way, met
