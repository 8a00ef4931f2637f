"""The read and prepare stages: model files become bodies in millimetres on the bed; the steps in the plan change them."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.errors import Cancelled, HinokiError
from hinoki.core.findings import Finding, Params
from hinoki.core.formats.registry import read_file
from hinoki.core.geometry.frames import composed, inverted
from hinoki.core.geometry.mesh import Mesh, Points, Unit
from hinoki.core.geometry.shape import Body, Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import LooseOnes
from hinoki.core.make import Made, MakerBase, NotMade
from hinoki.core.model.moved_past import places_past
from hinoki.core.model.read import brought_in
from hinoki.core.model.steps import PrepareStep
from hinoki.core.model.steps.base import FittedStep, Outcome, StepBase, Tell
from hinoki.core.model.steps.clear_path import ClearPathStep
from hinoki.core.model.steps.meets import Facing, MeetsStep, facing_of
from hinoki.core.model.steps.on_face import OnFaceStep
from hinoki.core.model.steps.seat import SeatStep
from hinoki.core.plan.plan import Plan
from hinoki.core.stages import Keyed, stage
from hinoki.core.workshop.hardware import Hardware

STANDS_MM = 1e-6


@dataclass(frozen=True)
class Done:
    """One prepare step as done: the shape before it and after, what was said, what was found."""

    step: StepBase
    before: Shape
    before_key: str
    after: Shape
    said: tuple[str, ...] = ()
    findings: tuple[Finding, ...] = ()
    refused: bool = False
    hardware: tuple[Hardware, ...] = ()
    """what is bought for it, for one such part"""
    loose: tuple[LooseOnes, ...] = ()
    """what is printed beside it, for one such part"""


@dataclass(frozen=True)
class Prepared:
    """A model as it stands on the bed; `solid` is None where the surface does not close."""

    shape: Shape
    key: str
    raw: Shape
    raw_key: str
    done: tuple[Done, ...] = ()
    said: tuple[str, ...] = ()
    """about a part that is made"""

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


def prepared(
    plan: Plan, source_of: Callable[[str], bytes], cache: Cache, tell: Tell, within: frozenset[str] = frozenset()
) -> Prepared:
    """Read the files of the open part and do its steps, each remembered by what went into it.

    `within` are the parts that this one goes into, which it cannot be cut by. Raises UnreadableModel, and NotMade for a part
    whose figures give none; a step that cannot be done leaves the shape as it was and becomes a finding.
    """
    uses = plan.model_files
    tell(0.0, "Reading the model")
    said: tuple[str, ...] = ()
    if plan.made is not None:
        raw_key, raw, said = _made(plan, plan.made, source_of, cache, tell, within)
    else:
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
        if isinstance(step, SeatStep | MeetsStep | ClearPathStep):
            guest = _guest(plan, steps, number, source_of, cache, part, within | {plan.part_id})
            name, one = _with_guest(plan, step, before, guest, cache, part)
        elif isinstance(step, FittedStep):
            clearance = plan.clearance_mm(step.fits_by) if step.fits_by is not None else 0.0
            name, one = _fitted.with_key(cache, step, before, clearance, plan.least_wall_mm, plan.printer.line_mm, part)
        else:
            name, one = _done.with_key(cache, step, before, part)
        own = tuple(f.model_copy(update={"step": step.id}) for f in one.findings)
        done.append(replace(one, step=step, findings=own))
        shape = one.after
        key = key if one.refused else name
    return Prepared(shape, key, raw, raw_key, tuple(done), said)


def _made(
    plan: Plan, maker: MakerBase, source_of: Callable[[str], bytes], cache: Cache, tell: Tell, within: frozenset[str]
) -> tuple[str, Shape, tuple[str, ...]]:
    """The body of a part that Hinoki makes, for the part it is made for as that one is without it."""
    host: Keyed[Solid] | None = None
    if maker.fitted:
        if maker.for_part not in plan.part_ids or maker.for_part == plan.part_id:
            raise NotMade(f"The part that this {maker.form.name.lower()} is made for is not in this project any more.", "made")
        other = plan.working_on(maker.for_part)
        if other.made is not None and other.made.fitted:
            raise NotMade(f"A {maker.form.name.lower()} cannot be made for a part that is itself made for another one.", "made")
        ready = prepared(other, source_of, cache, tell, within | {plan.part_id})
        if ready.solid is None:
            raise NotMade("The surface of the part it is made for is open. Make that one right first.", "made")
        host = Keyed(ready.solid, ready.key)
    key, made = _make.with_key(cache, maker, host, plan.clearance_mm(maker.fits_by), tell)
    return key, Shape((Body(maker.form.name, solid=made.solid),)), made.said


@stage("made", weigh=lambda made: made.solid.triangles)
def _make(maker: MakerBase, host: Keyed[Solid] | None, clearance_mm: float, tell: Tell) -> Made:
    """A part made of its figures."""
    made = maker.make(None if host is None else host.value, clearance_mm, tell)
    if made.solid.empty:
        raise NotMade("Nothing comes of these figures. Make it larger.")
    return replace(made, solid=Solid.from_mesh(made.solid.mesh, model=True))


@stage("read", weigh=lambda shape: 2 * shape.weight)
def _read(files: Sequence[tuple[str, str, Unit, Sequence[int] | None]], source_of: Callable[[str], bytes]) -> Shape:
    """The shape of model files (of each the hash, the name, the unit, and which bodies are used), brought together."""
    return brought_in([(read_file(source_of(source), name), unit, objects) for source, name, unit, objects in files])


@dataclass(frozen=True)
class _Guest:
    """Another part as it is without what this one does to it, and where its instances stand to this one's first."""

    ready: Prepared
    places: list[Points]


def _guest(  # noqa: PLR0913 - the step, where it stands among others, and whom it needs
    plan: Plan,
    steps: Sequence[PrepareStep],
    number: int,
    source_of: Callable[[str], bytes],
    cache: Cache,
    tell: Tell,
    within: frozenset[str],
) -> _Guest | str:
    """The part that a step needs; why it cannot be had."""
    step = steps[number]
    assert isinstance(step, SeatStep | MeetsStep | ClearPathStep)
    if step.part not in plan.part_ids:
        return f"the other part, {step.part}, is not in this project any more"
    if step.part in within:
        return "the other part is itself cut by this one, or is this one; one of the two must be whole"
    if any(later.resettles for later in steps[number + 1 :]):
        return "a later step moves this part away from the other one; put this step last"
    other = plan.working_on(step.part)
    try:
        ready = prepared(other, source_of, cache, tell, within)
    except NotMade as error:
        return error.message
    if ready.solid is None:
        return "the surface of the other part is open"
    back = inverted(plan.instances[0].matrix)
    return _Guest(ready, [composed(back, instance.matrix) for instance in other.instances])


def _with_guest(
    plan: Plan, step: SeatStep | MeetsStep | ClearPathStep, before: Keyed[Shape], guest: _Guest | str, cache: Cache, tell: Tell
) -> tuple[str, Done]:
    """A step that needs another part, done or refused."""
    key = str(before.fingerprint)
    if isinstance(guest, str):
        return key, _refused(step, before.value, key, "step-refused", {"why": guest})
    if isinstance(step, SeatStep):
        assert guest.ready.solid is not None
        body = Keyed(guest.ready.solid, guest.ready.key)
        return _cut_seats.with_key(cache, step, before, body, guest.places, plan.clearance_mm(step.fit), tell)
    if isinstance(step, ClearPathStep):
        assert guest.ready.solid is not None
        places = places_past(plan, step, guest.ready.solid.bounds)
        if isinstance(places, str):
            return key, _refused(step, before.value, key, "step-refused", {"why": places})
        return _clear_path.with_key(cache, step, before, Keyed(guest.ready.solid, guest.ready.key), places, tell)
    met = _facing(step, guest)
    if isinstance(met, str):
        return key, _refused(step, before.value, key, "step-refused", {"why": met})
    clearance = plan.clearance_mm(met[0].joint.fit)
    return _meet.with_key(cache, before, met, clearance, plan.least_wall_mm, plan.printer.line_mm, tell)


def _facing(step: MeetsStep, guest: _Guest) -> list[Facing] | str:
    """What stands on the other part's face, for each of its instances; why there is nothing."""
    done = next((one for one in guest.ready.done if one.step.id == step.step), None)
    if done is None or not isinstance(done.step, OnFaceStep) or done.refused:
        return "what stands on the other part's face is not there any more"
    own = facing_of(done.step, done.before)
    return [own.seen_from(place) for place in guest.places]


@stage("seat", weigh=lambda done: done.after.weight)
def _cut_seats(
    step: SeatStep, before: Keyed[Shape], guest: Keyed[Solid], places: Sequence[Points], clearance_mm: float, tell: Tell
) -> Done:
    """Seats cut, or refused."""
    shape, key = before.value, str(before.fingerprint)
    others = [guest.value.placed(place) for place in places]
    return _tried(step, shape, key, lambda: step.apply_to(shape, others, clearance_mm, tell))


@stage("clear path", weigh=lambda done: done.after.weight)
def _clear_path(step: ClearPathStep, before: Keyed[Shape], guest: Keyed[Solid], places: Sequence[Points], tell: Tell) -> Done:
    """The way of what moves carved out, or refused."""
    shape, key = before.value, str(before.fingerprint)
    return _tried(step, shape, key, lambda: step.apply_to(shape, guest.value, places, tell))


def bought_for(done: Sequence[Done], copies: int) -> list[Hardware]:
    """What is bought for what the steps put in, for so many copies of the part."""
    return [replace(item, count=copies * item.count) for one in done for item in one.hardware]


def loose_for(done: Sequence[Done], copies: int) -> list[LooseOnes]:
    """What is printed beside what the steps put in, for so many copies of the part."""
    return [replace(one, count=copies * one.count) for step in done for one in step.loose]


@stage("fitted", weigh=lambda done: done.after.weight)
def _fitted(
    step: FittedStep, before: Keyed[Shape], clearance_mm: float, least_wall_mm: float, line_mm: float, tell: Tell
) -> Done:
    """A step with the printer's clearances, done on a shape, or refused."""
    shape, key = before.value, str(before.fingerprint)
    return _tried(step, shape, key, lambda: step.apply_with(shape, clearance_mm, least_wall_mm, line_mm, tell))


@stage("meets", weigh=lambda done: done.after.weight)
def _meet(
    before: Keyed[Shape],
    met: Sequence[Facing],
    clearance_mm: float,
    least_wall_mm: float,
    line_mm: float,
    tell: Tell,
) -> Done:
    """The other halves, or refused."""
    step, shape, key = MeetsStep(id="s1"), before.value, str(before.fingerprint)
    return _tried(step, shape, key, lambda: step.apply_to(shape, met, clearance_mm, least_wall_mm, line_mm, tell))


@stage("step", weigh=lambda done: done.after.weight)
def _done(step: PrepareStep, before: Keyed[Shape], tell: Tell) -> Done:
    """A step done on a shape, or refused."""
    return _do(step, before.value, str(before.fingerprint), tell)


def _do(step: PrepareStep, before: Shape, key: str, tell: Tell) -> Done:
    return _tried(step, before, key, lambda: step.apply(before, tell))


def _tried(step: StepBase, before: Shape, key: str, apply: Callable[[], Outcome]) -> Done:
    if step.needs_closed and before.solid is None:
        return _refused(step, before, key, "step-needs-closed", {"step": step.label()})
    try:
        outcome = apply()
    except Cancelled:
        raise
    except HinokiError as error:
        return _refused(step, before, key, "step-refused", {"why": error.message})
    after = outcome.shape
    if not after.bodies or not len(after.mesh.faces):
        return _refused(step, before, key, "step-leaves-nothing", {"step": step.label()})
    stood = abs(float(before.bounds[0][2])) < STANDS_MM  # what is made for another part may hang in the air
    after = after.settled() if step.resettles else _let_down(after) if step.lets_down and stood else after
    said, found, bought = tuple(outcome.said), tuple(outcome.findings), tuple(outcome.hardware)
    return Done(step, before, key, after, said, found, hardware=bought, loose=tuple(outcome.loose))


def _refused(step: StepBase, before: Shape, key: str, code: str, params: Params) -> Done:
    finding = Finding(severity="must-fix", code=code, station="model", step=step.id, params=params)
    return Done(step, before, key, before, (), (finding,), True)


def _let_down(shape: Shape) -> Shape:
    low = float(shape.bounds[0][2])
    return shape if abs(low) < 1e-9 else shape.moved(np.column_stack([np.eye(3), [0.0, 0.0, -low]]))
