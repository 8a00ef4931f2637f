"""A model of the corpus on a bed, planned by Hinoki's defaults, and measured."""

import hashlib
import multiprocessing
import time
from multiprocessing.connection import Connection

from bench.corpus.entry import Entry
from bench.corpus.figures_of import Figures, least_pieces, missed, weakest
from bench.corpus.models import ENTRIES, mesh_of
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.joined_seams import joined_seams
from hinoki.core.errors import HinokiError
from hinoki.core.formats.stl import write_stl
from hinoki.core.plan.contents import ModelUse
from hinoki.core.plan.plan import Plan
from hinoki.core.whole_job.carried_out import carried_out
from hinoki.core.whole_job.planned import WholeJobWish, planned
from hinoki.core.workshop.printers import Printer

BEDS: tuple[tuple[float, float, float], ...] = ((180, 180, 180), (220, 220, 250), (300, 300, 300))


def figures_of(entry: Entry, bed: tuple[float, float, float]) -> Figures:
    """Plan the whole job with defaults, as `make` does, and measure what came of it."""
    began, cache = time.monotonic(), Cache()
    data = write_stl(mesh_of(entry))
    plan = Plan(
        model=ModelUse(source=hashlib.sha256(data).hexdigest(), file_name=f"{entry.name}.stl", unit="mm"),
        printer=Printer(bed_mm=bed[:2], height_mm=bed[2]),
    )
    try:
        made = planned(plan, lambda _: data, cache, WholeJobWish())
        return _measured(entry, bed, made.plan, made.built, cache, began)
    except HinokiError as error:
        return Figures(entry.family, entry.name, bed[0], must_fix=1, seconds=time.monotonic() - began, why=error.message)


def _measured(entry: Entry, bed: tuple[float, float, float], plan: Plan, built: Build, cache: Cache, began: float) -> Figures:
    done = carried_out(plan, built, cache)
    batches, findings = done.batches, done.findings
    seams = joined_seams(built)
    long = sum(a for a, _ in seams)
    low, high = (built.prepared.mesh if built.prepared is not None else mesh_of(entry)).bounds
    bound = least_pieces(high - low, plan.printer.room_mm)
    mass = sum(t.raw.mass_g for t in batches.every)
    support = sum(t.raw.support_g for t in batches.every)
    return Figures(
        entry.family,
        entry.name,
        bed[0],
        must_fix=sum(f.severity == "must-fix" for f in findings) + len(batches.left_over),
        look_at=sum(f.severity == "look-at" for f in findings),
        pieces=len(built.pieces),
        bound=bound,
        joined=sum(b for _, b in seams) / long if long else 1.0,
        barest=min((b / a for a, b in seams if a), default=1.0),
        strength=weakest(built, entry.wants.carries_n),
        support=support / max(mass - support, 1e-9),
        tipping=sum(f.code == "piece-unsteady" for f in findings),
        seconds=time.monotonic() - began,
        missed=missed(built, entry.wants, bound),
        why="; ".join(
            [
                *dict.fromkeys(f.code for f in findings if f.severity == "must-fix"),
                *dict.fromkeys(f"on no bed: {why}" for _, why in batches.left_over),
            ]
        ),
    )


def _apart(number: int, bed: tuple[float, float, float], pipe: Connection) -> None:
    pipe.send(figures_of(ENTRIES[number], bed))


def judged(number: int, bed: tuple[float, float, float]) -> Figures:
    """The same in a process of its own, stopped when it takes longer than the entry allows."""
    entry, context = ENTRIES[number], multiprocessing.get_context("fork")
    here, there = context.Pipe(duplex=False)
    process = context.Process(target=_apart, args=(number, bed, there))
    process.start()
    there.close()
    began = time.monotonic()
    try:
        if here.poll(60 * entry.wants.minutes):
            return here.recv()  # type: ignore[no-any-return]
        why = f"took longer than {entry.wants.minutes:g} min"
    except EOFError:
        why = "its process ended suddenly"
    finally:
        process.kill()
        process.join()
    return Figures(entry.family, entry.name, bed[0], must_fix=1, seconds=time.monotonic() - began, why=why)
