"""The print log: how a project stands, how every piece came out, what that teaches."""

import sqlite3
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel, Field
from starlette.responses import Response

from hinoki.api.routers.builds import JobView
from hinoki.api.routers.operations import asked
from hinoki.api.routers.projects import Shared, shown
from hinoki.api.shared.plan_body import PlanBody
from hinoki.api.shared.state import job_view
from hinoki.api.shared.strict_route import Heeding
from hinoki.core.errors import HinokiError, NotFound
from hinoki.core.plan.plan import Plan, plan_from
from hinoki.core.printlog.edit_impact import Touches, printed_now, shapes_may_change
from hinoki.core.printlog.fit_answers import FitAnswer, FitLesson, lessons
from hinoki.core.printlog.joint_versions import JointVersions, effective_mm, joint_versions
from hinoki.core.printlog.learning import LearnedFactor, learned_from
from hinoki.core.printlog.project_status import Standing, batches_left, standing_of
from hinoki.core.printlog.records import NOTE, Item
from hinoki.core.printlog.shape_diff import Difference
from hinoki.core.printlog.states import MADE, PIECE_STATES, PieceState, Reason, Result, by_hand
from hinoki.core.workshop.fit_ladder_answers import Answer
from hinoki.core.workshop.fits import FITS, Fit
from hinoki.core.workshop.workshop import Workshop
from hinoki.operations.printlog import DifferenceAsked, EditAsked, OtherPieces
from hinoki.present.batches import BatchesView
from hinoki.present.printlog import LogView, batch_needs, lessons_view, needed_of
from hinoki.present.schemas.build import BuildView
from hinoki.store.tables import fit_answers as told_fits
from hinoki.store.tables import prints, projects, spools
from hinoki.store.tables import workshop as shelf

router = APIRouter(prefix="/api", route_class=Heeding)
NEWEST = 100
"""prints of a log that are told unless more are asked for"""


class PieceMark(BaseModel):
    """What a person says of a piece; `version` is the one that was seen."""

    version: int
    state: PieceState | None = None
    result: Result | None = None
    reason: Reason | None = None
    note: str | None = Field(None, max_length=NOTE)


class NewFitAnswer(BaseModel):
    """How a joint of printed pieces went together."""

    print_id: str = Field(max_length=40, description="a print that one of its pieces came from")
    joint: str = Field(max_length=10)
    answer: Answer
    note: str = Field("", max_length=200)


@router.get("/projects/{project_id}/log", response_model=LogView)
def print_log(
    project_id: str,
    state: Shared,
    layout: Annotated[str | None, Query(max_length=80)] = None,
    most: Annotated[int, Query(ge=1, le=100_000)] = NEWEST,
) -> Response:
    """The log of a project; `layout` names the batches that tell what each piece takes."""
    now = shown(state, project_id)
    with state.database.snapshot() as connection:
        items = prints.items_of(connection, "project_id", project_id)
        kept = prints.prints_of(connection, project_id, most, items)
        done, older = prints.done_by(connection, project_id), prints.count_prints(connection, project_id) - len(kept)
        answers = told_fits.fit_answers(connection, project_id)
        workshop = shelf.workshop(connection)
        on_spools = spools.on_spools(connection)
        found = _lessons(told_fits.fit_answers(connection), workshop, now.plan)
    stock = {m.name: on_spools.get(m.id, m.stock_g) for m in (now.plan.material, *now.plan.more_materials)}
    content = state.built(project_id, now.revision)
    kept_layout = state.questions.answer("batch", layout) if layout else None
    batches = BatchesView.model_validate_json(kept_layout) if kept_layout else None
    standing = _standing(content, items, batches) if content else None
    left = batches_left(batch_needs(batches), standing, stock) if batches and standing else []
    learned = lessons_view(learned_from(kept, items))
    view = LogView(
        revision=now.revision, prints=kept, older=older, standing=standing, left=left, learned=learned,
        done=done, answers=answers, lessons=found, steps={s: list(by_hand(s)) for s in PIECE_STATES},
    )  # fmt: skip
    # written as it is: checking hundreds of prints once more would take longer than reading them
    return Response(view.model_dump_json(), media_type="application/json")


def _standing(content: bytes, items: list[Item], batches: BatchesView | None) -> Standing:
    each = None
    if batches is not None:
        each = {one.key: (one.took.mass_g / one.copies, one.took.minutes / one.copies) for one in batches.each if one.copies}
    return standing_of(needed_of(BuildView.model_validate_json(content)), items, each)


def _lessons(answers: list[FitAnswer], workshop: Workshop, plan: Plan) -> list[FitLesson]:
    """What the answers of the plan's printers and materials call for."""
    found: list[FitLesson] = []
    for printer in (plan.printer, *plan.more_printers):
        for material in (plan.material, *plan.more_materials):
            own = [a for a in answers if (a.printer_id, a.material_id) == (printer.id, material.id)]
            ladders = [a for a in workshop.ladders if (a.printer_id, a.material_id) == (printer.id, material.id)]
            fits = workshop.fits_for(printer.id, material.id)
            now: dict[Fit, float] = {fit: fits.clearance_mm(fit) for fit in FITS}
            found += lessons(own, ladders, now)
    return found


@router.get("/log/factors")
def factors(state: Shared) -> list[LearnedFactor]:
    """What all prints of all projects teach about estimates."""
    with state.database.snapshot() as connection:
        found = prints.learned_factors(connection)
        workshop = shelf.workshop(connection)
    printers = {p.id: p.name for p in workshop.printers}
    materials = {m.id: m.name for m in workshop.materials}
    return [
        LearnedFactor(
            printer_id=printer, printer=printers.get(printer, printer), material_id=material,
            material=materials.get(material, material), factor=factor, says=factor.rests_on,
        )
        for group, factor in sorted(found.items())
        for printer, material in [group.split("/", 1)]
        if factor.prints or factor.weighed
    ]  # fmt: skip


@router.patch("/prints/{print_id}/items/{item}")
def mark_piece(print_id: str, item: int, body: PieceMark, state: Shared) -> Item:
    """What a person says of a piece. Two windows do not overwrite each other: the second is told."""
    marked = state.database.write(
        lambda c: prints.mark(c, print_id, item, body.version, body.state, body.result, body.reason, body.note)
    )
    state.listeners.tell(marked.project_id, "print", {"id": print_id, "item": item})
    return marked


@router.post("/projects/{project_id}/fit-answers", status_code=201)
def answer_fit(project_id: str, body: NewFitAnswer, state: Shared) -> FitAnswer:
    """Keep how a joint of printed pieces went together, with the clearance it was printed with."""
    with state.database.snapshot() as connection:
        one = prints.one_print(connection, body.print_id)
        plan = projects.revision(connection, project_id, one.revision).plan
    joint = next((j for j in plan.joints if j.id == body.joint), None)
    if joint is None:
        raise NotFound("That joint was not in the plan when these pieces were printed. Choose one that was.", "joint")
    clearance = effective_mm(plan, joint)
    answer = FitAnswer(
        printer_id=one.batch.printer_id, material_id=one.batch.material_id, joint=joint.label()[:160], fit=joint.fit,
        clearance_mm=clearance, answer=body.answer, note=body.note,
    )  # fmt: skip
    number = state.database.write(lambda c: told_fits.add_fit_answer(c, answer, project_id))
    state.listeners.tell(project_id, "print", {"id": one.id})
    return answer.model_copy(update={"id": number})


@router.get("/projects/{project_id}/joints/{joint}/versions")
def versions_of_joint(project_id: str, joint: str, state: Shared) -> JointVersions:
    """What was printed with each version of a joint of the open part, and how it came out."""
    with state.database.snapshot() as connection:
        plan = projects.revision(connection, project_id).plan
        own = next((j for j in plan.joints if j.id == joint), None)
        if own is None:
            raise NotFound("There is no such joint any more. Choose another one.", "joint")
        log = prints.prints_of(connection, project_id)
        plans = {number: projects.revision(connection, project_id, number).plan for number in {one.revision for one in log}}
    return joint_versions(plan, own, [(one, plans[one.revision]) for one in log])


@router.delete("/fit-answers/{number}", status_code=204)
def drop_fit_answer(number: int, state: Shared) -> Response:
    """Take an answer back."""
    state.database.write(lambda c: told_fits.drop_fit_answer(c, number))
    return Response(status_code=204)


class Edited(BaseModel):
    """A plan as it would be after an edit, and the revision the edit is made on."""

    base_revision: int
    plan: PlanBody


class TouchesAnswer(BaseModel):
    """What an edit touches, or the job that works it out."""

    touches: Touches | None
    job: JobView | None


@router.post("/projects/{project_id}/plan/touches")
def what_it_touches(project_id: str, body: Edited, state: Shared) -> TouchesAnswer:
    """Work out which printed pieces an edit would put out of date, what they cost, and whether they can stay as they are."""
    plan = plan_from(body.plan)
    with state.database.snapshot() as connection:
        before = projects.revision(connection, project_id, body.base_revision).plan
        printed = printed_now(prints.prints_of(connection, project_id), projects.shapes(connection, project_id))
    if not printed or not shapes_may_change(before, plan):
        return TouchesAnswer(touches=Touches(), job=None)
    asked = EditAsked(before=before.json_text(), printed=printed)
    job = state.ask("edit-impact", asked, project_id, body.base_revision, plan.json_text())
    return TouchesAnswer(touches=None, job=JobView.model_validate(job_view(job)))


@router.post("/prints/{print_id}/items/{item}/difference", status_code=202)
def compare_piece(print_id: str, item: int, state: Shared) -> JobView:
    """Work out where a printed piece differs from the plan now, and whether it still goes together."""
    with state.database.snapshot() as connection:
        one = prints.one_print(connection, print_id)
        found = next((i for i in one.items if i.item == item), None)
        if found is None:
            raise NotFound("There is no such piece in this print.", "item")
        by_revision: dict[int, list[str]] = {}
        seen = {found.key}
        for other in prints.prints_of(connection, one.project_id):
            for made in other.items:
                if made.state in MADE and made.number is not None and made.key not in seen:
                    seen.add(made.key)
                    by_revision.setdefault(other.revision, []).append(made.key)
        plan_at = {n: projects.revision(connection, one.project_id, n).plan.json_text() for n in {one.revision, *by_revision}}
    others = [OtherPieces(plan=plan_at[n], keys=keys) for n, keys in by_revision.items()]
    request = DifferenceAsked(key=found.key, printed_plan=plan_at[one.revision], others=others)
    return asked(state, "difference", one.project_id, request)


class Same(BaseModel):
    """The comparison that showed it, by name."""

    difference: str = Field(max_length=80)


@router.post("/prints/{print_id}/items/{item}/same")
def found_same(print_id: str, item: int, body: Same, state: Shared) -> Item:
    """A printed piece turned out to be of the shape the plan has now, only described otherwise: it is not out of date."""
    content = state.questions.answer("difference", body.difference)
    told = Difference.model_validate_json(content) if content else None
    if told is None or told.where != ["nothing"]:
        raise HinokiError("It differs, as far as is known; compare it again.", "difference")

    def take(connection: sqlite3.Connection) -> Item:
        one = prints.one_print(connection, print_id)
        found = next((i for i in one.items if i.item == item), None)
        if found is None or found.key != told.key:
            raise NotFound("There is no such piece in this print.", "item")
        shape = projects.shapes(connection, one.project_id).get(found.key)
        if shape is not None:
            prints.same_shape(connection, one.project_id, found.key, found.shape, shape)
        return next(i for i in prints.one_print(connection, print_id).items if i.item == item)

    return state.database.write(take)
