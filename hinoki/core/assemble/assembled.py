"""The assembly of a build: planned or followed, with all that is known about it."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from hinoki.core.assemble.balance import Hollow, Standing, hollow_of, standing, whole_weight
from hinoki.core.assemble.interlocks import Freed, freeing
from hinoki.core.assemble.motion.blocking_graph import Blocking
from hinoki.core.assemble.motion.moves import Moves
from hinoki.core.assemble.motion.opening_forces import Opens, opening
from hinoki.core.assemble.planning import Order, Planner
from hinoki.core.assemble.removal import Replacing, glued_pairs, to_replace
from hinoki.core.assemble.retention import Falls, Holding
from hinoki.core.assemble.scene.from_build import reach_of, scene_of
from hinoki.core.assemble.scene.parts import Bodies, Ids, Scene
from hinoki.core.assemble.scene.weights import Weight, weights_of
from hinoki.core.assemble.validate_order import Follower, Refusal
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.findings import Params
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.assembly_settings import Assembling
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.stages import Keyed, stage

SECONDS = 90.0
"""so long an order is sought before what is known is told"""
MOST_REPLACED = 80
"""with more pieces than this, what to take off is told for those that must come off again only"""
CLEAN_MM = 1e-4
"""rounding: what crosses a plane by less lies beside it"""
OVERLAP_MM3 = 1.0
"""pieces that share more than this overlap; less is rounding, and press fits"""


@dataclass
class Assembled:
    """What came of it."""

    scene: Scene
    blocking: Blocking
    moves: Moves
    natural: Order
    order: Order
    refusals: dict[int, Refusal] = field(default_factory=dict)
    """by the place of the step in the order"""
    added: list[str] = field(default_factory=list)
    gone: list[str] = field(default_factory=list)
    freed: list[tuple[Ids, list[Freed]]] = field(default_factory=list)
    replacing: list[Replacing] = field(default_factory=list)
    weights: dict[str, Weight] = field(default_factory=dict)
    glued: list[tuple[str, str]] = field(default_factory=list)
    holding: Holding | None = None
    falls: list[Falls] = field(default_factory=list)
    whole: Weight | None = None
    ballast: Weight | None = None
    hollow: Hollow | None = None
    stands: Standing | None = None
    opens: list[Opens] = field(default_factory=list)
    overlaps: list[tuple[str, str, float]] = field(default_factory=list)
    pinned: bool = False


def ordered(plan: Plan, built: Build, cache: Cache, tell: Tell = quiet, seconds: float = SECONDS) -> Assembled:
    """The order of a build alone, and what frees what is locked."""
    tell(0.0, "Gathering what is put together")
    scene = scene_of(built)
    return _order(scene, plan.assembling, cache, part_of(tell, 0.05, 1.0), seconds, _bare(built, scene))


def _bare(built: Build, scene: Scene) -> Keyed[Bodies]:
    """The bodies of the pieces of a scene without what joints added."""
    found = {i: tuple(p.solid for p in built.before if p.key in u.keys) for i, u in scene.units.items() if u.is_piece}
    return Keyed(found, [p.made_by for p in built.before])


def assembled(plan: Plan, built: Build, cache: Cache, tell: Tell = quiet, seconds: float = SECONDS) -> Assembled:
    """Plan the assembly of a build, or follow the order pinned in the plan, and look at what holds and how it stands."""
    tell(0.0, "Gathering what is put together")
    scene = scene_of(built)
    out = plan_scene(scene, plan.assembling, cache, part_of(tell, 0.05, 0.7), seconds, _bare(built, scene))
    tell(0.7, "Weighing")
    out.weights = weights_of(built, scene, plan)
    if not scene.units:
        return out
    solids = [s for u in scene.units.values() if u.kind in ("piece", "stand") for s in u.solids]
    ready = built.prepared
    whole = Keyed(ready.solid, ready.key) if ready is not None and ready.solid is not None else None
    weigh_up(out, plan.assembling, solids, whole, cache)
    tell(0.85, "Looking at what holds")
    base = out.order.steps[0].lead if out.order.steps else next(iter(scene.units))
    out.holding = Holding(out.blocking, out.weights, out.glued)
    out.falls = out.holding.falls(plan.assembling.attitude, _hung_in(scene, plan.assembling), base)
    comes_off = {r.unit: r.motion for r in out.replacing if r.unit in plan.assembling.comes_off and r.motion}
    out.opens = opening(built, scene, out.weights, comes_off, cache)
    tell(0.95, "Choosing where to look from")
    return out


def plan_scene(
    scene: Scene,
    wish: Assembling,
    cache: Cache,
    tell: Tell = quiet,
    seconds: float = SECONDS,
    bare: Keyed[Bodies] | None = None,
) -> Assembled:
    """The order of a scene, and what must come off to replace each of its pieces."""
    out = _order(scene, wish, cache, part_of(tell, 0.0, 0.7), seconds, bare)
    if not out.natural.cut_short:
        pieces = [u.id for u in scene.units.values() if u.is_piece]
        asked = pieces if len(pieces) <= MOST_REPLACED else [u for u in wish.comes_off if u in scene.units]
        for k, unit in enumerate([*asked, *(u for u in wish.comes_off if u in scene.units and u not in asked)]):
            tell(0.7 + 0.3 * k / max(1, len(asked)), "Looking at how each piece comes out again")
            out.replacing.append(to_replace(unit, out.moves, out.glued))
    return out


def _order(scene: Scene, wish: Assembling, cache: Cache, tell: Tell, seconds: float, bare: Keyed[Bodies] | None) -> Assembled:
    """The order of a scene, pinned or found, and what frees what is locked."""
    blocking = Blocking(scene, cache)
    moves = Moves(blocking, cache)
    natural = Planner(moves, part_of(tell, 0.0, 0.85), seconds).order()
    out = Assembled(scene, blocking, moves, natural, natural)
    out.glued = glued_pairs(scene, [(g.a, g.b) for g in wish.glued])
    out.overlaps = overlaps_of(scene, cache)
    if wish.order:
        followed = Follower(moves, cache, seconds).follow(wish.order, natural)
        out.order, out.refusals, out.pinned = followed.order, followed.refusals, True
        out.added, out.gone = followed.added, followed.gone
    out.refusals |= _in_one_place(out)
    tell(0.9, "Looking for what would free what is locked")
    for locked in natural.locked:
        if not natural.cut_short and not any({a, b} <= locked for a, b, _ in out.overlaps):
            out.freed.append((locked, _freed(cache, locked, scene, bare or _own(scene), cache)))
        else:
            out.freed.append((locked, []))
    return out


@stage("freeing")
def _freed(locked: Ids, scene: Scene, bare: Keyed[Bodies], cache: Cache) -> list[Freed]:
    """What frees a locked set of a scene; `bare` are the bodies of its pieces without what joints added."""
    return freeing(locked, scene, bare.value, cache)


@stage("hollow")
def _hollow(whole: Keyed[Solid]) -> Hollow:
    """What is hollow in the whole model."""
    return hollow_of(whole.value)


@stage("shared")
def _shared_mm3(a: Keyed[tuple[Solid, ...]], b: Keyed[tuple[Solid, ...]]) -> float:
    """How much two units have in common."""
    one, two = (x.value[0] if len(x.value) == 1 else Solid.together(x.value) for x in (a, b))
    return one.common(two).volume_mm3


def weigh_up(out: Assembled, wish: Assembling, solids: Sequence[Solid], whole: Keyed[Solid] | None, cache: Cache) -> None:
    """Where the centre of mass lies and how the model stands, with its ballast."""
    if whole is not None:
        out.hollow = _hollow(cache, whole)
        floor = min(float(s.bounds[0][2]) for s in solids)
        out.ballast = out.hollow.filled(wish.ballast, floor) if wish.ballast.up_to_mm > 0 else None
    out.whole = whole_weight(list(out.weights.values()), out.ballast)
    out.stands = standing(solids, out.whole.centre)


def _in_one_place(out: Assembled) -> dict[int, Refusal]:
    """Steps that bring a unit to where it overlaps what is there: no way leads there, whatever the way off was found to be."""
    found: dict[int, Refusal] = {}
    either = [(moving, still, volume) for a, b, volume in out.overlaps for moving, still in ((a, b), (b, a))]
    for place, step in enumerate(out.order.steps):
        met = next((o for o in either if o[0] in step.units and o[1] in step.into), None)
        if met is None or place in out.refusals:
            continue
        moving, still, volume = met
        common = out.scene.units[moving].solid.common(out.scene.units[still].solid)
        params: Params = {"what": out.scene.named(sorted((moving, still))), "volume_mm3": volume}
        x, y, z = (round(float(c), 3) for c in common.centre_of_box)
        found[place] = Refusal(step.lead, "overlap", params, (still,), (x, y, z), None, common, volume)
    return found


def overlaps_of(scene: Scene, cache: Cache) -> list[tuple[str, str, float]]:
    """Pairs of units that share a place, with how much; screws and wires lie in what they hold."""
    found = []
    ids = [i for i, u in scene.units.items() if u.kind not in ("screw", "cable", "pin")]
    reach = _beside_planes(scene, ids)
    for k, one in enumerate(ids):
        a = scene.units[one]
        low, high = a.box
        for two in ids[k + 1 :]:
            b = scene.units[two]
            least, most = b.box
            if (least >= high - 1e-6).any() or (most <= low + 1e-6).any():
                continue
            if _parted(reach[one], reach[two]):
                continue
            volume = _shared_mm3(cache, a.bodies, b.bodies)
            if volume > OVERLAP_MM3:
                found.append((one, two, round(volume, 2)))
    return found


def _beside_planes(scene: Scene, ids: Sequence[str]) -> dict[str, list[tuple[float, float]]]:
    """How far finished units reach below and above the plane of every parting, joints and all."""
    found = {}
    for name in ids:
        vertices = np.concatenate([s.mesh.vertices for s in scene.units[name].solids])
        found[name] = [reach_of(vertices, plane) for plane in scene.planes]
    return found


def _parted(one: Sequence[tuple[float, float]], two: Sequence[tuple[float, float]]) -> bool:
    """Whether a plane lies between two units."""
    pairs = zip(one, two, strict=True)
    return any((a[1] <= CLEAN_MM and b[0] >= -CLEAN_MM) or (b[1] <= CLEAN_MM and a[0] >= -CLEAN_MM) for a, b in pairs)


def _own(scene: Scene) -> Keyed[Bodies]:
    return Keyed({i: u.solids for i, u in scene.units.items()}, [u.made_by for u in scene.units.values()])


def _hung_in(scene: Scene, wish: Assembling) -> Ids:
    """The units in which the points lie by which the model hangs."""
    found = set()
    for spot in wish.hangs_at:
        at = np.array(spot)
        pieces = [u for u in scene.units.values() if u.is_piece]
        if pieces:
            found.add(
                min(pieces, key=lambda u: float(np.linalg.norm(np.maximum(np.maximum(u.box[0] - at, at - u.box[1]), 0)))).id
            )
    return frozenset(found)
