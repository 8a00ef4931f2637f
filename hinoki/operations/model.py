"""The model: a file that was brought in, a close look at the surface, repairs tried out, drain holes, thickness maps."""

from pathlib import Path
from typing import Literal

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.check.check import check
from hinoki.core.errors import HinokiError
from hinoki.core.formats.base import NamedMesh
from hinoki.core.formats.registry import read_file
from hinoki.core.formats.write import write_file
from hinoki.core.geometry.mesh import Unit
from hinoki.core.geometry.shape import mesh_of
from hinoki.core.model.health.diagnostics import survey as look_closely
from hinoki.core.model.offsets.offset import cavity_of
from hinoki.core.model.repair.compare import compared
from hinoki.core.model.steps import RepairStep
from hinoki.core.model.steps.hollow import HollowStep, fineness, suggested_drains
from hinoki.core.model.steps.repair import recommended
from hinoki.core.model.units import propose_unit
from hinoki.core.progress import along
from hinoki.core.stages import key_of
from hinoki.operations.context import Context
from hinoki.operations.registry import Nothing, operation
from hinoki.present.build import present
from hinoki.present.model import DrainsView, SurveyView, TrialView, survey_view


class Inspect(BaseModel):
    """A file just brought in: where it lies, and its name."""

    path: str
    file_name: str


class FileFacts(BaseModel):
    """What a file holds: triangles, size in its own unit, the unit it says or seems to be in, and what of it was left out."""

    triangles: int
    size: tuple[float, float, float]
    unit: Unit
    unit_from: Literal["file", "proposed", "picked"]
    unit_reason: str
    left_out: list[str]


@operation("inspect", "model", "Reading the model", lane="interactive", asked_by_url=False, kept=False)
def inspect(asked: Inspect, context: Context) -> FileFacts:
    """Read a file just brought in."""
    context.progress(0.1, "Reading the model")
    file = read_file(Path(asked.path).read_bytes(), asked.file_name)
    low, high = file.mesh.bounds
    choice = propose_unit(high - low)
    x, y, z = (float(v) for v in high - low)
    return FileFacts(
        triangles=len(file.mesh.faces),
        size=(x, y, z),
        unit=file.unit or choice.unit,
        unit_from="file" if file.unit else "proposed" if choice.doubtful else "picked",
        unit_reason="" if file.unit else choice.reason,
        left_out=list(file.left_out),
    )


@operation("survey", "model", "Looking closely")
def survey(_asked: Nothing, context: Context) -> SurveyView:
    """Look closely at the surface of the model as prepared; its thickness map becomes a file."""
    ready, printer = context.prepared(), context.plan.printer
    found = look_closely(ready.mesh, printer.least_wall_mm, printer.line_mm, context.part(0.2, 0.9))
    context.progress(0.95, "Drawing the thickness map")
    context.workspace.map_walls(ready.key, ready.solid.mesh if ready.solid else ready.mesh)
    return survey_view(found, ready)


class Walls(BaseModel):
    """Names of the bodies whose thickness maps are there."""

    maps: list[str]


@operation("walls", "check", "Measuring the walls", needs=("numbers",))
def walls(_asked: Nothing, context: Context) -> Walls:
    """Measure the walls of all pieces and loose parts."""
    built = context.built()
    meshes = present(built, check(built, context.cache), context.cache, context.part(0.4, 0.5)).meshes
    for name in along(list(meshes), context.part(0.5, 1.0), "Measuring the walls"):
        body = meshes[name]
        context.workspace.map_walls(name, mesh_of(body))
    return Walls(maps=sorted(meshes))


class RepairTrial(BaseModel):
    """The repair to try; none for the recommended one."""

    step: RepairStep | None = None


@operation("repair-trial", "model", "Trying the repair")
def repair_trial(asked: RepairTrial, context: Context) -> TrialView:
    """Try a repair after the steps of the plan without keeping it; compare before and after."""
    ready, tell = context.prepared(), context.part(0.2, 0.8)
    how = asked.step or recommended(ready.mesh, "s1", tell)
    if how is None:
        return TrialView(step=None, said=[], comparison=None, before_mesh=ready.key, after_mesh=None)
    outcome = how.apply(ready.shape, tell)
    name = key_of("trial", ready.key, how.model_dump(mode="json", exclude={"id", "name", "on"}))
    context.progress(0.85, "Comparing")
    both = compared(ready.mesh, outcome.shape.mesh)
    for mesh_name, shape in ((ready.key, ready.shape), (name, outcome.shape)):
        context.workspace.draw(mesh_name, shape.solid.mesh if shape.solid else shape.mesh)
    return TrialView(step=how, said=outcome.said, comparison=both, before_mesh=ready.key, after_mesh=name)


class DrainsAsked(BaseModel):
    """The hollow whose cavity should be drained."""

    step: str = Field(max_length=10)


@operation("drains", "model", "Looking for drains")
def drains(asked: DrainsAsked, context: Context) -> DrainsView:
    """Work out drain holes for a hollow: at the cavity's lowest and highest points as the model stands."""
    ready = context.prepared()
    done = next((d for d in ready.done if d.step.id == asked.step), None)
    if done is None or not isinstance(done.step, HollowStep) or done.before.solid is None:
        raise HinokiError("There is no hollow to drain; hollow the model first.", "step")
    wall = done.step.wall_mm
    cavity = cavity_of(done.before.solid, wall, fineness(done.before.solid, wall), context.part(0.2, 1.0))
    if cavity is None:
        raise HinokiError("There is no cavity to drain: the model is nowhere thick enough.", "step")
    down = np.array([0.0, 0.0, -1.0])
    return DrainsView(drains=suggested_drains(done.before.solid, cavity, down, max(2.5, wall)))


class ModelFileAsked(BaseModel):
    """The format to write the model in."""

    ending: Literal["stl", "3mf", "obj", "ply", "glb"]


class FileMade(BaseModel):
    """The name of a file that was written."""

    file: str


@operation("model-file", "model", "Writing the model")
def model_file(asked: ModelFileAsked, context: Context) -> FileMade:
    """Write the model as prepared in an open format."""
    ready = context.prepared()
    context.progress(0.6, "Writing the model")
    name = f"{context.stem}.{asked.ending}"
    context.workspace.keep("exports", name, write_file([NamedMesh(b.name, b.mesh) for b in ready.shape.bodies], name))
    return FileMade(file=name)
