"""The shelf, the plan and its revisions."""

import sqlite3
from typing import Annotated, Any

import numpy as np
from fastapi import APIRouter, Depends, Request
from pydantic import BaseModel, Field
from starlette.responses import Response

from hinoki.api.shared.plan_body import PlanBody
from hinoki.api.shared.state import State
from hinoki.api.shared.strict_route import Heeding
from hinoki.core.check.partings import refuse_partings
from hinoki.core.errors import NotFound
from hinoki.core.geometry.mesh import MM_PER_UNIT, Points
from hinoki.core.plan.plan import Plan, plan_from
from hinoki.core.workshop.printers import Printer
from hinoki.present.schemas.build import BuildView
from hinoki.store.tables import prints, projects, sources, workshop

router = APIRouter(prefix="/api", route_class=Heeding)


def state_of(request: Request) -> State:
    """The running application's state."""
    state: State = request.app.state.hinoki
    return state


Shared = Annotated[State, Depends(state_of)]
Name = Annotated[str, Field(min_length=1, max_length=80)]


class ProjectView(BaseModel):
    """A project on the shelf."""

    id: str
    name: str
    created_at: str
    updated_at: str
    revision: int
    model_name: str | None
    partings: int
    joints: int
    printer: str
    away: bool = Field(description="put away from the shelf")
    pieces: int = Field(description="of the revision built last")
    printed: int
    installed: int = Field(description="finished or installed")


class NewProject(BaseModel):
    """What a new project needs."""

    name: Name


class RevisionView(BaseModel):
    """A project at the revision that is shown."""

    project_id: str
    name: str
    revision: int
    label: str
    created_at: str
    plan: Plan
    undo: str | None
    redo: str | None
    live: int = Field(0, description="pieces of the log that are there or under way")


class Edit(BaseModel):
    """An edit: the whole plan as it should be, and the revision it was made on."""

    base_revision: int
    label: Annotated[str, Field(min_length=1, max_length=120)]
    plan: PlanBody


class Move(BaseModel):
    """The revision an undo or redo starts from."""

    base_revision: int


class HistoryLine(BaseModel):
    """One revision in the list of all."""

    number: int
    parent: int
    label: str
    created_at: str
    name: str


@router.get("/printers")
def printers(state: Shared) -> list[Printer]:
    """The workshop's printers."""
    with state.database.reading() as connection:
        return list(workshop.workshop(connection).printers)


@router.get("/projects")
def shelf(state: Shared) -> list[ProjectView]:
    """All projects."""
    with state.database.reading() as connection:
        return [
            ProjectView(
                id=row.id, name=row.name, created_at=row.created_at, updated_at=row.updated_at, revision=row.head,
                model_name=row.model_name, partings=row.partings, joints=row.joints, printer=row.printer,
                away=row.archived_at is not None, pieces=row.pieces, printed=row.printed,
                installed=row.installed,
            )
            for row in projects.list_projects(connection)
        ]  # fmt: skip


@router.post("/projects", status_code=201)
def new_project(body: NewProject, state: Shared) -> RevisionView:
    """Begin a project."""
    project_id = state.database.write(lambda c: projects.add_project(c, body.name.strip() or "Untitled", Plan()))
    return shown(state, project_id)


@router.patch("/projects/{project_id}")
def rename(project_id: str, body: NewProject, state: Shared) -> RevisionView:
    """Rename a project."""
    state.database.write(lambda c: projects.rename_project(c, project_id, body.name.strip() or "Untitled"))
    return shown(state, project_id)


@router.delete("/projects/{project_id}", status_code=204)
def delete(project_id: str, state: Shared) -> Response:
    """Delete a project with all its revisions."""
    state.database.write(lambda c: projects.delete_project(c, project_id))
    state.last_picture(project_id).unlink(missing_ok=True)
    for job in state.pool.running(project_id):
        job.cancel_asked = True
    state.files.forget(project_id)
    return Response(status_code=204)


@router.get("/projects/{project_id}")
def current(project_id: str, state: Shared) -> RevisionView:
    """The project at the revision that is shown."""
    return shown(state, project_id)


@router.put("/projects/{project_id}/plan")
def edit(project_id: str, body: Edit, state: Shared) -> RevisionView:
    """Save an edit as a new revision."""
    plan = plan_from(body.plan)
    with state.database.reading() as connection:
        before = projects.revision(connection, project_id).plan
        for use in plan.all_kept:
            sources.source_facts(connection, use.source)
        box = _box(plan, before, connection, state, project_id, body.base_revision)
    if box is not None:
        refuse_partings(plan, before, *box)
    state.database.write(lambda c: projects.add_revision(c, project_id, body.base_revision, plan, body.label))
    return told(state, project_id)


def _box(
    plan: Plan, before: Plan, connection: sqlite3.Connection, state: State, project_id: str, base: int
) -> tuple[Points, Points] | None:
    """The corners of the model as prepared, where they are known without computing anything."""
    if not plan.begun:
        return None
    if plan.model is not None and not plan.also and not any(step.on for step in plan.prepare):
        size = np.array(sources.source_facts(connection, plan.model.source).size) * MM_PER_UNIT[plan.model.unit]
        return np.array([-size[0] / 2, -size[1] / 2, 0.0]), np.array([size[0] / 2, size[1] / 2, size[2]])
    if (plan.model_files, plan.made, plan.prepare) != (before.model_files, before.made, before.prepare):
        return None
    ready = state.built(project_id, base)
    model = BuildView.model_validate_json(ready).model if ready is not None else None
    return (np.array(model.low_mm), np.array(model.high_mm)) if model is not None else None


@router.post("/projects/{project_id}/undo")
def undo(project_id: str, body: Move, state: Shared) -> RevisionView:
    """Go back one revision."""
    state.database.write(lambda c: projects.undo(c, project_id, body.base_revision))
    return told(state, project_id)


@router.post("/projects/{project_id}/redo")
def redo(project_id: str, body: Move, state: Shared) -> RevisionView:
    """Go forward one revision."""
    state.database.write(lambda c: projects.redo(c, project_id, body.base_revision))
    return told(state, project_id)


@router.get("/projects/{project_id}/history")
def history(project_id: str, state: Shared) -> list[HistoryLine]:
    """All revisions, newest first."""
    with state.database.reading() as connection:
        return [
            HistoryLine(number=n, parent=p, label=label, created_at=at, name=name)
            for n, p, label, at, name in projects.history(connection, project_id)
        ]


class TakenPlan(BaseModel):
    """A plan from elsewhere, and the revision it is taken into."""

    base_revision: int
    plan: dict[str, Any]


@router.post("/projects/{project_id}/take-plan")
def take_plan(project_id: str, body: TakenPlan, state: Shared) -> RevisionView:
    """Follow a plan from elsewhere on the model of this project. What does not match is kept, and the findings say so."""
    with state.database.reading() as connection:
        before = projects.revision(connection, project_id).plan
    if not before.begun:
        raise NotFound("This project has no model yet to follow a plan on. Bring one in first.", "model")
    own = {name: getattr(before, name) for name in ("model", "also", "made", "pictures")}
    plan = plan_from(body.plan).model_copy(update=own)
    with state.database.reading() as connection:
        for use in plan.all_kept:
            sources.source_facts(connection, use.source)
    state.database.write(lambda c: projects.add_revision(c, project_id, body.base_revision, plan, "Took in a plan"))
    return told(state, project_id)


@router.get("/projects/{project_id}/plan.json")
def plan_file(project_id: str, state: Shared) -> Response:
    """The plan as a file."""
    with state.database.reading() as connection:
        text = projects.revision(connection, project_id).plan.json_text()
    return Response(text, media_type="application/json", headers={"Content-Disposition": 'attachment; filename="plan.json"'})


def told(state: State, project_id: str) -> RevisionView:
    """The revision shown now, after telling all windows and starting its build."""
    view = shown(state, project_id)
    state.told_revision(project_id, view.revision)
    if view.plan.begun:
        ready = state.built(project_id, view.revision)
        if ready is None:
            state.start_build(project_id, view.revision)
        else:  # as after undo: what is shown is another's pieces
            shapes = {p.key: p.shape for p in BuildView.model_validate_json(ready).needed if p.number is not None}
            state.database.write(lambda c: projects.remember_shapes(c, project_id, view.revision, shapes))
    return view


def shown(state: State, project_id: str) -> RevisionView:
    """The revision shown now."""
    with state.database.reading() as connection:
        owner = projects.project(connection, project_id)
        now = projects.revision(connection, project_id)
        live = prints.live(connection, project_id)
    if now.number != owner.head:
        raise NotFound("The project changed while it was read; load it again.", "project")
    return RevisionView(
        project_id=project_id, name=owner.name, revision=now.number, label=now.label, created_at=now.created_at,
        plan=now.plan, undo=now.undo_label, redo=now.redo_label,
        live=live,
    )  # fmt: skip
