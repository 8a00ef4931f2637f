"""What runs inside a worker process: it keeps solids alive between jobs, tells progress, and can be asked to stop."""

import contextlib
import logging
import time
from collections.abc import Callable, Sequence
from functools import partial
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

import numpy as np
import orjson

from hinoki.core.assemble.assembled import assembled
from hinoki.core.batch.batches import batched
from hinoki.core.batch.print_items import Known
from hinoki.core.batch.print_plan import printing_of
from hinoki.core.batch.scenarios import WhatIf, what_if
from hinoki.core.build import Build, build
from hinoki.core.cache import Cache, key_of
from hinoki.core.check.check import check
from hinoki.core.divide.cut import Part
from hinoki.core.divide.from_selection import EdgeLines, Picked, picked_parting, sharp_edges
from hinoki.core.divide.region_tracking import Stroke, painted
from hinoki.core.errors import Cancelled, HinokiError
from hinoki.core.export.archive import ExportWish, export_zip
from hinoki.core.export.manifest import WentOut
from hinoki.core.formats.base import NamedMesh
from hinoki.core.formats.registry import read_file
from hinoki.core.formats.write import write_file
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import Joint
from hinoki.core.join.ladders.fit_ladder import TRIED, clearances, ladder, least_for
from hinoki.core.join.ladders.hole_ladder import Hole
from hinoki.core.model.health.diagnostics import survey
from hinoki.core.model.prepared_model import Prepared, prepared
from hinoki.core.model.repair.compare import compared
from hinoki.core.model.steps.hollow import HollowStep, fineness, suggested_drains
from hinoki.core.model.steps.offset import cavity_of
from hinoki.core.model.steps.repair import RepairStep, recommended
from hinoki.core.model.units import propose_unit
from hinoki.core.orient.pieces import OrientWish, best_rests
from hinoki.core.plan.plan import Plan, read_plan
from hinoki.core.progress import Tell, along, part_of
from hinoki.core.propose import Proposal, Wishes, figures_for, propose, prove, tried_with_joints
from hinoki.core.propose.lay_pieces import laid
from hinoki.core.propose.recommend_joints import SuitWish
from hinoki.core.propose.unlock_joints import suited_together
from hinoki.core.propose.variants import DivisionsView, VariantFigures, of_variant
from hinoki.jobs import log_work
from hinoki.jobs.atomic_write import save
from hinoki.jobs.memory import keep_within
from hinoki.present.assemble.assembly import assembly_of
from hinoki.present.assemble.view import assembly_view
from hinoki.present.batches import batches_view, what_if_view
from hinoki.present.build import Presented, present
from hinoki.present.display_mesh import display_arrays, display_buffer, thickness_buffer
from hinoki.present.export import outgoing_of
from hinoki.present.model import DrainsView, TrialView, survey_view
from hinoki.present.orient import orient_view
from hinoki.present.sheets.sheet_html import write_html
from hinoki.present.sheets.sheet_pdf import write_pdf
from hinoki.store.cache_files import used
from hinoki.store.database import reader_connection
from hinoki.store.tables.sources import source_bytes
from hinoki.store.tables.step_photos import photo

EVERY_S = 0.08
LOG = logging.getLogger(__name__)


class Worker:
    """One worker's state: its memory of results and the folders it may use."""

    def __init__(self, pipe: Connection, database: Path, cache_folder: Path) -> None:
        self._pipe, self._database, self.folder = pipe, database, cache_folder
        self.cache = Cache()
        self._job, self._last = "", 0.0

    def run(self) -> None:
        """Serve jobs until the pipe closes."""
        while True:
            try:
                message = self._pipe.recv()
            except (EOFError, OSError):
                return
            if message[0] == "job":
                self._answer(*message[1:])
                keep_within(self.cache)

    def _answer(self, job: str, kind: str, payload: dict[str, Any]) -> None:
        self._job, self._last = job, 0.0
        try:
            actions: dict[str, Callable[..., Any]] = {
                "inspect": self.inspect,
                "build": self.build,
                "export": self.export,
                "survey": self.survey,
                "trial": self.trial,
                "drains": self.drains,
                "model-file": self.model_file,
                "walls": self.walls,
                "propose": self.propose,
                "prove": self.prove,
                "paint": self.paint,
                "pick": self.pick,
                "compare": self.compare,
                "edges": self.edges,
                "suit": self.suit,
                "ladder": self.ladder,
                "orient": self.orient,
                "batch": self.batch,
                "what-if": self.what_if,
                "assemble": self.assemble,
                "sheet": self.sheet,
                "send": partial(log_work.send, self),
                "touches": partial(log_work.touches, self),
                "differs": partial(log_work.differs, self),
                "portrait": partial(log_work.portrait, self),
            }
            self._pipe.send(("done", job, actions[kind](**payload)))
        except Cancelled as error:
            self._pipe.send(("cancelled", job, error.message))
        except HinokiError as error:
            self._pipe.send(("failed", job, error.message, error.where, error.status, error.code))
        except MemoryError:
            text = "There was not enough memory for this. Use a model with fewer triangles."
            self._pipe.send(("failed", job, text, None, 507, "out-of-memory"))
        except Exception as error:  # one job fails, the worker goes on
            LOG.exception("job=%s kind=%s failed", job, kind)
            text = f"Something in Hinoki went wrong ({type(error).__name__}: {error}). Nothing was changed."
            self._pipe.send(("failed", job, text, None, 500, "internal"))

    def progress(self, fraction: float, phrase: str) -> None:
        """Tell the server, at most every EVERY_S. Raises Cancelled when it was asked to stop."""
        while self._pipe.poll():
            message = self._pipe.recv()
            if message == ("cancel", self._job):
                raise Cancelled("Stopped.")
        now = time.monotonic()
        if now - self._last >= EVERY_S:
            self._last = now
            self._pipe.send(("progress", self._job, fraction, phrase))

    def inspect(self, path: str, file_name: str) -> dict[str, Any]:
        """Read a file just brought in: its triangles and size in its own unit, and the unit it says or seems to be in."""
        self.progress(0.1, "Reading the model")
        file = read_file(Path(path).read_bytes(), file_name)
        mesh = file.mesh
        low, high = mesh.bounds
        choice = propose_unit(high - low)
        return {
            "triangles": len(mesh.faces),
            "size": [float(v) for v in high - low],
            "unit": file.unit or choice.unit,
            "unit_from": "file" if file.unit else "proposed" if choice.doubtful else "picked",
            "unit_reason": "" if file.unit else choice.reason,
            "left_out": list(file.left_out),
        }

    def build(self, plan: str, numbers: dict[str, int], target: str) -> dict[str, Any]:
        """Build a plan for the screen; the view and the meshes go into the cache folder. Gives piece numbers and shapes."""
        tell = part_of(self.progress, 0.0, 0.85)
        built = build(read_plan(plan), self.source, self.cache, tell, numbers, on_pieces=self._show_early)
        shown = self._shown(built, part_of(self.progress, 0.85, 0.97))
        for name, body in shown.meshes.items():
            self.progress(0.97, "Drawing")
            self.draw(name, _mesh_of(body))
        save(self.folder / "builds" / target, shown.view.model_dump_json().encode())
        return {"numbers": dict(built.numbers), "shapes": {p.key: p.shape for p in built.pieces}}

    def _shown(self, built: Build, tell: Tell) -> Presented:
        """A build checked, and as screens see it."""
        checked = check(built, self.cache, part_of(tell, 0.0, 0.3))
        return present(built, checked, self.cache, part_of(tell, 0.3, 1.0))

    def _show_early(self, parts: Sequence[Part]) -> None:
        """Draw the pieces that are new, and tell their drawings' names before the rest of the build is worked out."""
        new = {part.key: part.made_by for part in parts if self.draw(part.made_by, part.solid.mesh)}
        if new:
            self._pipe.send(("pieces", self._job, new))

    def export(
        self,
        plan: str,
        numbers: dict[str, int],
        target: str,
        power_price: float,
        known: dict[str, Any],
        wish: dict[str, Any],
        title: str,
        revision: int,
    ) -> str:
        """Write the ZIP of an export into the cache folder, and beside it what it holds of each piece; gives its name."""
        wanted = read_plan(plan)
        built = self.built(wanted, numbers)
        tell = lambda f, p: self.progress(0.5 + 0.2 * f, p)  # noqa: E731
        printing = printing_of(wanted, built, self.cache, power_price, tell, Known.model_validate(known))
        asked = ExportWish.model_validate(wish)
        assembly = assembly_of(
            wanted, built, self.cache, title, revision, asked.assembly, tell=lambda f, p: self.progress(0.7 + 0.1 * f, p)
        )
        outgoing = outgoing_of(built, check(built, self.cache), asked, printing, assembly, title, revision)
        tell = part_of(self.progress, 0.8, 1.0)
        save(self.folder / "exports" / target, export_zip(wanted, built, tell, outgoing))
        save(self.folder / "exports" / f"{target}.json", WentOut.of(built, printing.batches).model_dump_json().encode())
        return target

    def survey(self, plan: str, target: str) -> str:
        """Look closely at the prepared model; the answer and the thickness map go into the cache folder."""
        wanted = read_plan(plan)
        ready = self._prepared(wanted)
        printer = wanted.printer
        found = survey(ready.mesh, printer.least_wall_mm, printer.line_mm, lambda f, p: self.progress(0.2 + 0.7 * f, p))
        save(self.folder / "answers" / target, survey_view(found, ready).model_dump_json().encode())
        self.progress(0.95, "Drawing the thickness map")
        self._map_walls(ready.key, ready.solid.mesh if ready.solid else ready.mesh)
        return target

    def walls(self, plan: str, numbers: dict[str, int], target: str) -> str:
        """Thickness maps of all pieces and loose parts into the cache folder."""
        built = self.built(read_plan(plan), numbers, part_of(self.progress, 0.0, 0.4))
        meshes = self._shown(built, part_of(self.progress, 0.4, 0.5)).meshes
        for name in along(list(meshes), part_of(self.progress, 0.5, 1.0), "Measuring the walls"):
            self._map_walls(name, _mesh_of(meshes[name]))
        save(self.folder / "answers" / target, orjson.dumps({"maps": sorted(meshes)}))
        return target

    def _map_walls(self, name: str, mesh: Mesh) -> None:
        path = self.folder / "meshes" / f"{name}.thick"
        if not path.exists():
            positions, _, indices = display_arrays(mesh)
            save(path, thickness_buffer(mesh, positions, indices))

    def trial(self, plan: str, step: dict[str, Any] | None, target: str) -> str:
        """Try a repair (the recommended one when none is given) after the steps of the plan; compare before and after."""
        ready = self._prepared(read_plan(plan))
        tell = lambda f, p: self.progress(0.2 + 0.6 * f, p)  # noqa: E731
        how = RepairStep.model_validate(step) if step else recommended(ready.mesh, "s1", tell)
        if how is None:
            answer = TrialView(step=None, said=[], comparison=None, before_mesh=ready.key, after_mesh=None)
        else:
            outcome = how.apply(ready.shape, tell)
            name = key_of("trial", ready.key, how.model_dump(mode="json", exclude={"id", "name", "on"}))
            self.progress(0.85, "Comparing")
            both = compared(ready.mesh, outcome.shape.mesh)
            for mesh_name, shape in ((ready.key, ready.shape), (name, outcome.shape)):
                self.draw(mesh_name, shape.solid.mesh if shape.solid else shape.mesh)
            answer = TrialView(step=how, said=outcome.said, comparison=both, before_mesh=ready.key, after_mesh=name)
        save(self.folder / "answers" / target, answer.model_dump_json().encode())
        return target

    def drains(self, plan: str, step: str, target: str) -> str:
        """Drain holes for the hollow `step`: the cavity's lowest and highest points as the model stands."""
        ready = self._prepared(read_plan(plan))
        done = next((d for d in ready.done if d.step.id == step), None)
        if done is None or not isinstance(done.step, HollowStep) or done.before.solid is None:
            raise HinokiError("There is no hollow to drain; hollow the model first.", "step")
        wall = done.step.wall_mm
        cavity = cavity_of(done.before.solid, wall, fineness(done.before.solid, wall), self.progress)
        if cavity is None:
            raise HinokiError("There is no cavity to drain: the model is nowhere thick enough.", "step")
        found = suggested_drains(done.before.solid, cavity, np.array([0.0, 0.0, -1.0]), max(2.5, wall))
        save(self.folder / "answers" / target, DrainsView(drains=found).model_dump_json().encode())
        return target

    def model_file(self, plan: str, ending: str, target: str) -> str:
        """Write the prepared model in one of the open formats into the cache folder."""
        ready = self._prepared(read_plan(plan))
        self.progress(0.6, "Writing the model")
        name = Path(target).with_suffix(f".{ending}").name
        save(self.folder / "exports" / name, write_file([NamedMesh(b.name, b.mesh) for b in ready.shape.bodies], name))
        save(self.folder / "answers" / target, orjson.dumps({"file": name}))
        return target

    def propose(self, plan: str, wishes: dict[str, Any], target: str) -> str:
        """Three divisions of the prepared model or one of its pieces."""

        def draw(name: str, solid: Solid) -> None:
            self.draw(name, solid.mesh)

        wanted, asked = read_plan(plan), Wishes.model_validate(wishes)
        found = propose(wanted, self.source, self.cache, asked, part_of(self.progress, 0.0, 0.6), draw)
        found = tried_with_joints(wanted, self.source, self.cache, asked, found, part_of(self.progress, 0.6, 1.0))
        save(self.folder / "answers" / target, found.model_dump_json().encode())
        return target

    def prove(self, plan: str, wishes: dict[str, Any], proposal: dict[str, Any], target: str) -> str:
        """A proposal made on a thinned copy, proved on the model itself."""
        asked = Proposal.model_validate(proposal)
        found = prove(read_plan(plan), self.source, self.cache, Wishes.model_validate(wishes), asked, self.progress)
        save(self.folder / "answers" / target, found.model_dump_json().encode())
        return target

    def compare(self, plan: str, target: str) -> str:
        """The figures of the division worked on and of every variant."""
        wanted = read_plan(plan)
        plans = [("", wanted.division_name, wanted), *((v.id, v.name, of_variant(wanted, v)) for v in wanted.variants)]
        lines = []
        for step, (name, title, one) in enumerate(plans):
            tell = lambda f, p, s=step: self.progress((s + f) / len(plans), p)  # noqa: E731
            figures = figures_for(one, self.source, self.cache, tell)
            lines.append(VariantFigures(variant=name or None, name=title, figures=figures))
        save(self.folder / "answers" / target, DivisionsView(divisions=lines).model_dump_json().encode())
        return target

    def edges(self, plan: str, target: str) -> str:
        """The sharp edges of the prepared model, for points to snap to."""
        lines = EdgeLines(lines=sharp_edges(self._prepared(read_plan(plan)).mesh))
        save(self.folder / "answers" / target, lines.model_dump_json().encode())
        return target

    def suit(self, plan: str, numbers: dict[str, int], wish: dict[str, Any], target: str) -> str:
        """Joints that suit mating faces."""
        wanted = read_plan(plan)
        built = build(wanted, self.source, self.cache, lambda f, p: self.progress(0.5 * f, p), numbers)
        again = lambda p: self.built(p, numbers, lambda _f, phrase: self.progress(0.75, phrase))  # noqa: E731
        asked, tell = SuitWish.model_validate(wish), part_of(self.progress, 0.5, 1.0)
        found = suited_together(built, wanted, asked, again, self.cache, tell)
        save(self.folder / "answers" / target, found.model_dump_json().encode())
        return target

    def orient(self, plan: str, numbers: dict[str, int], wish: dict[str, Any], known: dict[str, Any], target: str) -> str:
        """The best ways to lay one piece, or all that are not locked; their support columns go into the cache folder."""
        wanted = read_plan(plan)
        built = self.built(wanted, numbers)
        asked = OrientWish.model_validate(wish)
        tell = part_of(self.progress, 0.4, 0.95)
        if asked.piece is None:
            again = lambda p: self.built(p, numbers, lambda _f, phrase: self.progress(0.9, phrase))  # noqa: E731
            lies = laid(wanted, built, again, asked, self.cache, tell)
            view, meshes = orient_view(lies.plan, lies.built, lies.found, None, self.cache, Known.model_validate(known))
            view.sides = lies.sides(wanted)
        else:
            found = best_rests(wanted, built, asked, self.cache, tell)
            view, meshes = orient_view(wanted, built, found, asked.piece, self.cache, Known.model_validate(known))
        for name, mesh in meshes.items():
            self.draw(name, mesh)
        save(self.folder / "answers" / target, view.model_dump_json().encode())
        return target

    def batch(self, plan: str, numbers: dict[str, int], power_price: float, known: dict[str, Any], target: str) -> str:
        """All that is printed, estimated and laid out on beds."""
        wanted = read_plan(plan)
        built = self.built(wanted, numbers)
        tell = lambda f, p: self.progress(0.4 + 0.6 * f, p)  # noqa: E731
        found = batched(wanted, built, self.cache, power_price, tell, Known.model_validate(known))
        for one in found.every:
            for body in one.thing.bodies if one.copy == 1 else ():
                self.draw(body.mesh, body.solid.mesh)
        save(self.folder / "answers" / target, batches_view(found, wanted).model_dump_json().encode())
        return target

    def what_if(self, plan: str, numbers: dict[str, int], wish: dict[str, Any], power_price: float, target: str) -> str:
        """All that is printed, estimated in other ways side by side."""
        wanted = read_plan(plan)
        built = self.built(wanted, numbers)
        options = WhatIf.model_validate(wish).options
        found = what_if_view(what_if(wanted, built, options, power_price, self.cache, part_of(self.progress, 0.4, 1.0)))
        save(self.folder / "answers" / target, found.model_dump_json().encode())
        return target

    def assemble(self, plan: str, numbers: dict[str, int], target: str) -> str:
        """The order in which all goes together, and what is known about it; drawings of what pieces do not show."""
        wanted = read_plan(plan)
        built = self.built(wanted, numbers)
        out = assembled(wanted, built, self.cache, lambda f, p: self.progress(0.3 + 0.6 * f, p))
        view, meshes = assembly_view(wanted, built, out, self.cache)
        for name, mesh in meshes.items():
            self.draw(name, mesh)
        for piece in built.pieces:
            self.draw(piece.made_by, piece.mesh)
        save(self.folder / "answers" / target, view.model_dump_json().encode())
        return target

    def sheet(
        self, plan: str, numbers: dict[str, int], title: str, drawn_for: int, project: str, photos: dict[str, str], target: str
    ) -> str:
        """Assembly sheets as PDF and as a page to print, drawn for a revision; `photos` tells which steps have photographs."""
        wanted = read_plan(plan)
        built = self.built(wanted, numbers)
        with contextlib.closing(reader_connection(self._database)) as connection:
            kept = {unit: one for unit in photos if (one := photo(connection, project, unit)) is not None}
        made = assembly_of(
            wanted, built, self.cache, title, drawn_for, True, kept, lambda f, p: self.progress(0.3 + 0.6 * f, p)
        )
        stem = Path(target).stem
        if made.sheet is not None:
            save(self.folder / "exports" / f"{stem}.pdf", write_pdf(made.sheet))
            save(self.folder / "exports" / f"{stem}.html", write_html(made.sheet))
        save(self.folder / "answers" / target, orjson.dumps({"file": stem}))
        return target

    def ladder(self, plan: str, wish: dict[str, Any], target: str) -> str:
        """A fit ladder of one joint of a plan, or of what was asked for, as a 3MF and as a ZIP of STL files."""
        wanted = read_plan(plan)
        if "of" in wish:
            joint: Joint | Hole | None = TRIED.validate_python(wish["of"])
        else:
            joint = next((j for j in wanted.joints if j.id == wish["joint"]), None)
        if joint is None:
            raise HinokiError("This joint is not in the plan any more. Choose one that is.", "joint")
        self.progress(0.2, "Making the ladder")
        printer = wanted.printer
        steps = clearances(wish["from_mm"], wish["to_mm"], wish["rungs"], least_for(joint))
        made = ladder(joint, steps, wanted.least_wall_mm, printer.line_mm, float(printer.room_mm[0]))
        stem = Path(target).stem
        save(self.folder / "exports" / f"{stem}.3mf", made.file())
        save(self.folder / "exports" / f"{stem}.zip", made.stl_files())
        answer = {
            "label": joint.label(),
            "clearances_mm": list(steps),
            "pieces": [p.name for p in made.pieces],
            "mass_g": round(made.mass_g(wanted.material), 1),
            "minutes": round(made.minutes(printer), 0),
            "file": stem,
        }
        save(self.folder / "answers" / target, orjson.dumps(answer))
        return target

    def paint(self, plan: str, stroke: dict[str, Any], target: str) -> str:
        """A painted mark after a stroke of the brush, or none where nothing of it is left."""
        wanted, asked = read_plan(plan), Stroke.model_validate(stroke)
        ready = self._prepared(wanted)
        after = painted(asked, wanted.marks, ready.mesh, ready.key, self.cache)
        save(self.folder / "answers" / target, orjson.dumps({"painted": after.model_dump(mode="json") if after else None}))
        return target

    def pick(self, plan: str, picked: dict[str, Any], target: str) -> str:
        """The parting for what was picked on the model."""
        ready = self._prepared(read_plan(plan))
        if ready.solid is None:
            raise HinokiError("An open surface cannot be parted. Make it right under Model first.", "model")
        found = picked_parting(
            Picked.model_validate(picked), ready.solid, ready.mesh, lambda f, p: self.progress(0.2 + 0.8 * f, p)
        )
        save(self.folder / "answers" / target, found.model_dump_json().encode())
        return target

    def _prepared(self, plan: Plan) -> Prepared:
        return prepared(plan, self.source, self.cache, lambda f, p: self.progress(0.2 * f, p))

    def draw(self, name: str, mesh: Mesh) -> bool:
        """Write a drawing where there is none; whether there was none."""
        path = self.folder / "meshes" / f"{name}.bin"
        if path.exists():
            used(path)
            return False
        save(path, display_buffer(mesh))
        return True

    def built(self, plan: Plan, numbers: dict[str, int], tell: Tell | None = None) -> Build:
        """A build of a plan."""
        return build(plan, self.source, self.cache, tell or self.progress, numbers)

    def source(self, sha256: str) -> bytes:
        """A model file by its hash."""
        with contextlib.closing(reader_connection(self._database)) as connection:
            return source_bytes(connection, sha256)


def _mesh_of(body: Solid | Mesh) -> Mesh:
    return body.mesh if isinstance(body, Solid) else body
