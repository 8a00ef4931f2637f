"""The assembly of meshes that are placed as assembled, without a plan: each file one piece, told apart by what they touch."""

from collections.abc import Sequence

import numpy as np

from hinoki.core.assemble.assembled import Assembled, plan_scene, weigh_up
from hinoki.core.assemble.retention import Holding
from hinoki.core.assemble.scene.parts import Scene, Unit
from hinoki.core.assemble.scene.weights import weights_of
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.stages import key_of

TOUCH_MM = 0.5
TOUCH_SHARE = 0.005
"""bodies nearer than this are neighbours; on large models than this share of their size: play grows with them"""


def scene_of_meshes(bodies: Sequence[tuple[str, Solid]]) -> Scene:
    """A scene of bodies by name, in the order given."""
    units = []
    for number, (name, solid) in enumerate(bodies, start=1):
        mesh = solid.mesh
        made_by = key_of("mesh", mesh.vertices.tobytes().hex(), mesh.faces.tobytes().hex())
        units.append(Unit(id=name, kind="piece", name=name, solids=(solid,), made_by=made_by, keys=(name,), numbers=(number,)))
    return scene_of_units(units)


def scene_of_units(units: Sequence[Unit]) -> Scene:
    """A scene of units that stand where they are when all is assembled, told apart by what they touch."""
    scene = Scene(units={unit.id: unit for unit in units}, numbers={unit.id: unit.numbers[0] for unit in units})
    each = list(scene.units.values())
    touch = max(TOUCH_MM, TOUCH_SHARE * _size(scene))
    for k, one in enumerate(each):
        low, high = one.box
        for two in each[k + 1 :]:
            least, most = two.box
            if (least > high + touch).any() or (most < low - touch).any():
                continue
            if one.solid.gap(two.solid, touch) < touch:
                shared = np.sort(np.minimum(high, most) - np.maximum(low, least))
                scene.together[frozenset((one.id, two.id))] = float(max(shared[2], 0.0) * max(shared[1], 0.0))
    return scene


def _size(scene: Scene) -> float:
    boxes = [u.box for u in scene.units.values()]
    return (
        float(np.linalg.norm(np.max([b[1] for b in boxes], axis=0) - np.min([b[0] for b in boxes], axis=0))) if boxes else 0.0
    )


def assembled_meshes(
    bodies: Sequence[tuple[str, Solid]], plan: Plan, cache: Cache, seconds: float, tell: Tell = quiet
) -> tuple[Assembled, Build]:
    """Plan the assembly of bodies; an empty build stands for what is not there."""
    tell(0.0, "Looking for what touches what")
    return assembled_scene(scene_of_meshes(bodies), plan, cache, seconds, tell)


def assembled_scene(scene: Scene, plan: Plan, cache: Cache, seconds: float, tell: Tell = quiet) -> tuple[Assembled, Build]:
    """Plan the assembly of a scene of bodies; an empty build stands for what is not there."""
    built = Build(plan, "whole", numbers=dict(scene.numbers))
    out = plan_scene(scene, plan.assembling, cache, part_of(tell, 0.1, 0.9), seconds)
    out.weights = weights_of(built, scene, plan)
    if scene.units:
        weigh_up(out, plan.assembling, [s for unit in scene.units.values() for s in unit.solids], None, cache)
        out.holding = Holding(out.blocking, out.weights, out.glued)
        base = out.order.steps[0].lead if out.order.steps else next(iter(scene.units))
        out.falls = out.holding.falls(plan.assembling.attitude, frozenset(), base)
    return out, built
