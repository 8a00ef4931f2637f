"""The assembly of all parts: each instance is put together by itself first, and then handled as one."""

from dataclasses import replace

from hinoki.core.assemble.assembled import SECONDS, Assembled
from hinoki.core.assemble.from_meshes import assembled_scene, scene_of_units
from hinoki.core.assemble.scene.parts import Scene, Unit
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.frames import composed
from hinoki.core.geometry.mesh import Points
from hinoki.core.moving.mechanism import Mechanism, OutOfReach
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, quiet
from hinoki.core.project import project_hardware
from hinoki.core.stages import key_of

MOST_INSTANCES = 150
"""more are not put in an order"""


def parts_scene(built: Build) -> Scene:
    """A unit for each instance of each part, with the bodies of its pieces where they stand in the project; of what moves where
    it is kept while all is put together.

    Raises BadPlan where there are too many, ValueError where other parts were not built.
    """
    count = sum(len(part.plan.instances) for part in built.all_parts)
    if count > MOST_INSTANCES:
        raise BadPlan(
            f"{count} instances stand in the project; an order is worked out for {MOST_INSTANCES} at the most. "
            "Each part has its own assembly.",
            "instances",
        )
    units: list[Unit] = []
    kept = _kept(built.plan)
    for part in built.all_parts:
        plan = part.plan
        for k, instance in enumerate(plan.instances if part.parts else (), start=1):
            unit = f"{plan.part_id} #{k}"
            names = [unit if unit in kept else part.project_key(piece.key) for piece in part.parts]
            places = [composed(kept[name], instance.matrix) if name in kept else instance.matrix for name in names]
            name = plan.instance_label(k - 1)
            units.append(
                Unit(
                    id=unit,
                    kind="piece",
                    name=name,
                    solids=tuple(piece.solid.placed(at) for piece, at in zip(part.parts, places, strict=True)),
                    made_by=key_of("instance", [piece.made_by for piece in part.parts], places),
                    keys=(unit,),
                    numbers=(len(units) + 1,),
                )
            )
    return replace(scene_of_units(units), by_name=True)


def _kept(plan: Plan) -> dict[str, Points]:
    """Where what moves is kept meanwhile, by instance or piece: (3, 4) from where it rests. What cannot move rests; that is
    told where it is tried."""
    try:
        places = Mechanism(plan.movements).kept()
    except (BadPlan, OutOfReach):
        return {}
    return {name: places[one.id] for one in plan.movements for name in one.moves}


def parts_put_together(plan: Plan, built: Build, cache: Cache, tell: Tell = quiet) -> tuple[Assembled, Build, Plan]:
    """The order in which all instances go together, as `plan.project_assembling` wants it; the empty build and the plan that it
    is told by. Raises BadPlan where there are too many."""
    told = plan.alone().model_copy(update={"assembling": plan.project_assembling})
    tell(0.0, "Looking for what touches what")
    out, empty = assembled_scene(parts_scene(built), told, cache, SECONDS, tell)
    return out, replace(empty, hardware=project_hardware(built)), told
