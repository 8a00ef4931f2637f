"""Assemblies for tests: of a build, and of plain bodies."""

from collections.abc import Mapping

from hinoki.core.assemble.assembled import Assembled, assembled
from hinoki.core.assemble.from_meshes import assembled_meshes
from hinoki.core.assemble.scene.from_build import scene_of
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.plan import Plan
from hinoki.present.assemble.view import assembly_view
from hinoki.present.schemas.assemble import AssemblyView


def assembly(result: Build, plan: Plan | None = None, cache: Cache | None = None) -> AssemblyView:
    """The assembly of a build."""
    plan, cache = plan or Plan(), cache or Cache()
    return assembly_view(plan, result, assembled(plan, result, cache), cache)[0]


def of_bodies(bodies: Mapping[str, Solid], plan: Plan | None = None, seconds: float = 60.0) -> tuple[Assembled, AssemblyView]:
    """The assembly of bodies placed as assembled, with what was worked out."""
    plan, cache = plan or Plan(), Cache()
    out, built = assembled_meshes(list(bodies.items()), plan, cache, seconds)
    return out, assembly_view(plan, built, out, cache)[0]


def loose_steps(built: Build, view: AssemblyView) -> list[str]:
    """What is wrong with the steps of an order: what is brought onto something touches it at the end, or something else that is
    there; what is moved as one hangs together; a move has a length."""
    scene = scene_of(built)
    units, wrong = scene.units, []
    held = {frozenset((h.a, h.b)) for h in scene.held}

    def touch(one: str, other: str) -> bool:
        if frozenset((one, other)) in held or other in units[one].joins or one in units[other].joins:
            return True  # a joint holds it, with its clearance
        return any(a.gap(b, 0.1) <= 0.05 for a in units[one].solids for b in units[other].solids)

    for step in view.steps:
        if step.onto is None:
            continue
        if not any(touch(one, other) for one in step.units for other in step.into):
            wrong.append(f"step {step.step}, {step.how} Nothing touches what is there.")
        reached, new = set[str](), [step.lead]
        while new:
            one = new.pop()
            reached.add(one)
            new += [u for u in step.units if u not in reached and u not in new and touch(one, u)]
        if reached != set(step.units):
            wrong.append(f"step {step.step}, {step.how} Its units do not hang together.")
        if step.motion is not None and step.motion.kind in ("slide", "two slides") and step.motion.distance_mm <= 0:
            wrong.append(f"step {step.step}, {step.how} Its move has no length.")
    return wrong
