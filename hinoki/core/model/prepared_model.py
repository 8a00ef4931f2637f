"""The read and prepare stages: model files become bodies in millimetres on the bed; the steps in the plan change them."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.errors import Cancelled, HinokiError
from hinoki.core.findings import Finding, Params
from hinoki.core.formats.registry import read_file
from hinoki.core.geometry.mesh import Mesh, Unit
from hinoki.core.geometry.shape import Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.read import brought_in
from hinoki.core.model.steps import PrepareStep
from hinoki.core.model.steps.base import Tell
from hinoki.core.plan.plan import Plan
from hinoki.core.stages import Keyed, stage


@dataclass(frozen=True)
class Done:
    """One prepare step as done: the shape before it and after, what was said, what was found."""

    step: PrepareStep
    before: Shape
    before_key: str
    after: Shape
    said: tuple[str, ...] = ()
    findings: tuple[Finding, ...] = ()
    refused: bool = False


@dataclass(frozen=True)
class Prepared:
    """A model as it stands on the bed; `solid` is None where the surface does not close."""

    shape: Shape
    key: str
    raw: Shape
    raw_key: str
    done: tuple[Done, ...] = ()

    @property
    def fingerprint(self) -> object:
        """What made it."""
        return self.key

    @property
    def mesh(self) -> Mesh:
        """The surface."""
        return self.shape.mesh

    @property
    def solid(self) -> Solid | None:
        """The solid inside, if there is one."""
        return self.shape.solid


def prepared(plan: Plan, source_of: Callable[[str], bytes], cache: Cache, tell: Tell) -> Prepared:
    """Read the plan's files and do its steps, each remembered by what went into it.

    Raises UnreadableModel; a step that cannot be done leaves the shape as it was and becomes a finding.
    """
    uses = plan.model_files
    tell(0.0, "Reading the model")
    files = [(use.source, use.file_name, use.unit, use.objects) for use in uses]
    raw_key, raw = _read.with_key(cache, files, source_of)
    key, shape = raw_key, raw
    done: list[Done] = []
    steps = [s for s in plan.prepare if s.on]
    for number, step in enumerate(steps):

        def part(fraction: float, phrase: str, number: int = number) -> None:
            tell((number + fraction) / len(steps), phrase)

        before = Keyed(shape, key)
        part(0.0, step.label())
        name, one = _done.with_key(cache, step, before, part)
        own = tuple(f.model_copy(update={"step": step.id}) for f in one.findings)
        done.append(replace(one, step=step, findings=own))
        shape = one.after
        key = key if one.refused else name
    return Prepared(shape, key, raw, raw_key, tuple(done))


@stage("read", weigh=lambda shape: 2 * shape.weight)
def _read(files: Sequence[tuple[str, str, Unit, Sequence[int] | None]], source_of: Callable[[str], bytes]) -> Shape:
    """The shape of model files (of each the hash, the name, the unit, and which bodies are used), brought together."""
    return brought_in([(read_file(source_of(source), name), unit, objects) for source, name, unit, objects in files])


@stage("step", weigh=lambda done: done.after.weight)
def _done(step: PrepareStep, before: Keyed[Shape], tell: Tell) -> Done:
    """A step done on a shape, or refused."""
    return _do(step, before.value, str(before.fingerprint), tell)


def _do(step: PrepareStep, before: Shape, key: str, tell: Tell) -> Done:
    if step.needs_closed and before.solid is None:
        return _refused(step, before, key, "step-needs-closed", {"step": step.label()})
    try:
        outcome = step.apply(before, tell)
    except Cancelled:
        raise
    except HinokiError as error:
        return _refused(step, before, key, "step-refused", {"why": error.message})
    after = outcome.shape
    if not after.bodies or not len(after.mesh.faces):
        return _refused(step, before, key, "step-leaves-nothing", {"step": step.label()})
    after = after.settled() if step.resettles else _let_down(after)
    return Done(step, before, key, after, tuple(outcome.said), tuple(outcome.findings))


def _refused(step: PrepareStep, before: Shape, key: str, code: str, params: Params) -> Done:
    finding = Finding(severity="must-fix", code=code, station="model", step=step.id, params=params)
    return Done(step, before, key, before, (), (finding,), True)


def _let_down(shape: Shape) -> Shape:
    low = float(shape.bounds[0][2])
    return shape if abs(low) < 1e-9 else shape.moved(np.column_stack([np.eye(3), [0.0, 0.0, -low]]))
