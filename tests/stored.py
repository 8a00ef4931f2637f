"""A project as the database keeps it, with something of everything."""

import io
from pathlib import Path

from PIL import Image

from hinoki.core.formats.registry import read_file
from hinoki.core.printlog.fit_answers import FitAnswer
from hinoki.core.printlog.photographs import as_kept
from hinoki.store.database import Database
from hinoki.store.tables import fit_answers, print_photos, prints, projects, step_photos
from hinoki.store.tables import ticked_steps as ticks
from hinoki.store.tables.sources import SourceFacts, add_source
from tests.printed import prepared
from tests.shapes import box, level, plan_for, stl_of

DATA = stl_of(box(30, 20, 40))


def photograph() -> bytes:
    """A small photograph as it is kept."""
    out = io.BytesIO()
    Image.new("RGB", (64, 48), "#c9a36b").save(out, "PNG")
    return as_kept(out.getvalue())


def stored_project(database: Database, folder: Path) -> str:
    """A project with revisions, an undone edit, a log with a failed piece, photographs, ticks and fit answers."""
    plan = plan_for(DATA, level(1, 20))
    path = folder / "model.stl"
    path.write_bytes(DATA)
    assert plan.model
    mesh = read_file(DATA, "model.stl").mesh
    facts = SourceFacts(plan.model.source, "model.stl", len(DATA), len(mesh.faces), (30.0, 20.0, 40.0))
    write = database.write
    write(lambda c: add_source(c, path, facts))
    made = write(lambda c: projects.add_project(c, "Shed", plan))
    later = plan.model_copy(update={"partings": (level(1, 22),)})
    write(lambda c: projects.add_revision(c, made, 1, later, "Moved the cut"))
    write(lambda c: projects.name_revision(c, made, 2, "as printed"))
    write(lambda c: projects.undo(c, made, 2))
    write(lambda c: projects.remember_numbers(c, made, {"p1-": 1, "p1+": 2}))
    write(lambda c: projects.remember_shapes(c, made, 1, {"p1-": "s", "p1+": "t"}))
    one = write(lambda c: prints.add_print(c, made, 1, prepared("p1-", "p1+"), ("m", "Sim"), None, "first"))
    name = one.items[1].name
    write(lambda c: prints.come_to(c, one.id, "done", {name: "came loose"}, 120.0, 55.0))
    write(lambda c: print_photos.keep_print_photo(c, one.id, photograph()))
    write(lambda c: step_photos.keep_photo(c, made, "p1+", photograph()))
    write(lambda c: ticks.tick(c, made, "p1+", True))
    answer = FitAnswer(printer_id="b", material_id="pla", joint="pin", fit="snug", clearance_mm=0.1, answer="no")
    write(lambda c: fit_answers.add_fit_answer(c, answer, made))
    return made
