"""Assemblies for tests: of a build, and of plain bodies."""

from collections.abc import Mapping

import numpy as np

from hinoki.core.assemble.assembled import Assembled, assembled
from hinoki.core.assemble.from_meshes import assembled_meshes
from hinoki.core.assemble.planning import Step
from hinoki.core.assemble.scene.from_build import scene_of
from hinoki.core.build import Build
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.plan import Plan
from tests.shapes import COMMON


def assembly(result: Build, plan: Plan | None = None) -> Assembled:
    """The assembly of a build."""
    return assembled(plan or Plan(), result, COMMON)


def of_bodies(bodies: Mapping[str, Solid], plan: Plan | None = None, seconds: float = 60.0) -> Assembled:
    """The assembly of bodies placed as assembled."""
    return assembled_meshes(list(bodies.items()), plan or Plan(), COMMON, seconds)[0]


def proofs(out: Assembled) -> list[str]:
    """What shows that each step works; `no order` for what locks each other, `refused` for one that does not work."""
    found = []
    for k, step in enumerate(out.order.steps):
        sure = "proved" if step.motion is None else step.motion.proof
        found.append("no order" if step.locked else "refused" if k in out.refusals else sure)
    return found


def way_in(step: Step) -> Points:
    """The direction (3,) in which what a step moves goes in."""
    assert step.motion is not None
    return -np.array(step.motion.way) + 0.0


def numbers_of(out: Assembled, units: object) -> list[int]:
    """The numbers of the pieces among units."""
    return sorted(n for u in units for n in out.scene.units[u].numbers)  # type: ignore[attr-defined]


def loose_steps(built: Build, out: Assembled) -> list[str]:
    """What is wrong with the steps of an order: what is brought onto something touches it at the end, or something else that is
    there; what is moved as one hangs together; a move has a length."""
    scene = scene_of(built)
    units, wrong = scene.units, []
    held = {frozenset((h.a, h.b)) for h in scene.held}

    def touch(one: str, other: str) -> bool:
        if frozenset((one, other)) in held or other in units[one].joins or one in units[other].joins:
            return True  # a joint holds it, with its clearance
        return any(a.gap(b, 0.1) <= 0.05 for a in units[one].solids for b in units[other].solids)

    for number, step in enumerate(out.order.steps, 1):
        if step.onto is None:
            continue
        if not any(touch(one, other) for one in step.units for other in step.into):
            wrong.append(f"step {number}, {step.lead}: nothing touches what is there")
        reached, new = set[str](), [step.lead]
        while new:
            one = new.pop()
            reached.add(one)
            new += [u for u in step.units if u not in reached and u not in new and touch(one, u)]
        if reached != set(step.units):
            wrong.append(f"step {number}, {step.lead}: its units do not hang together")
        if step.motion is not None and step.motion.kind in ("slide", "two slides") and step.motion.distance_mm <= 0:
            wrong.append(f"step {number}, {step.lead}: its move has no length")
    return wrong
