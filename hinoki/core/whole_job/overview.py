"""What of a job is worth telling, station by station: codes with figures, worked out from the job as it is now."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field

from hinoki.core.assemble.assembled import Assembled
from hinoki.core.batch.batches import Batches
from hinoki.core.build import Build
from hinoki.core.check.bending import bent_seams
from hinoki.core.check.joined_seams import joined_seams
from hinoki.core.divide.mating_faces import face_label
from hinoki.core.findings import Finding, Params, Station
from hinoki.core.propose.explanations import says_how
from hinoki.core.propose.search.bed_fit import Room

STATIONS: tuple[Station, ...] = ("model", "divide", "join", "orient", "batch", "assemble")
"""those at which something is decided"""
UNDER: dict[Station, Station] = {"check": "divide", "log": "batch"}
"""where findings are told that belong to a station at which nothing is decided"""
BARE = 0.5
"""a seam of which less is held is told"""


@dataclass(frozen=True)
class Line:
    """One thing worth telling: what (code), and how much (params, lengths in mm)."""

    code: str
    params: Params = field(default_factory=dict)


@dataclass(frozen=True)
class StationOverview:
    """What was decided at a station, and what was noticed there, the worst first."""

    station: Station
    lines: tuple[Line, ...]
    findings: tuple[Finding, ...] = ()


def overview(build: Build, findings: Sequence[Finding], batches: Batches, together: Assembled) -> tuple[StationOverview, ...]:
    """A job, station by station. `findings` are those of the build and of its assembly."""
    lines: dict[Station, list[Line]] = {
        "model": _model(build),
        "divide": _divide(build),
        "join": _join(build),
        "orient": _orient(build, batches),
        "batch": _batch(batches),
        "assemble": _assemble(together),
    }
    told = sorted((f for f in findings if f.severity != "note"), key=lambda f: f.severity != "must-fix")
    return tuple(
        StationOverview(s, tuple(lines[s]), tuple(f for f in told if UNDER.get(f.station, f.station) == s)) for s in STATIONS
    )


def _model(build: Build) -> list[Line]:
    ready = build.prepared
    if ready is None:
        return [Line("no-model")]
    low, high = ready.mesh.bounds
    found = [Line("model-size", {"size_mm": (high - low).tolist(), "triangles": len(ready.mesh.faces)})]
    if build.plan.prepare:
        found.append(Line("model-steps", {"steps": [step.label() for step in build.plan.prepare]}))
    if ready.solid is None:
        found.append(Line("model-open"))
    return found


def _divide(build: Build) -> list[Line]:
    if build.whole is None:
        return []
    plan = build.plan
    if not build.faces and len(build.pieces) == 1:
        return [Line("undivided")]
    bound = Room([plan.printer, *plan.more_printers], 0.0).needed(build.whole.size)
    found = [Line("pieces", {"count": len(build.pieces), "bound": bound, "how": says_how(plan.partings)})]
    over = [p.number for p in build.pieces if not p.fits]
    if over:
        found.append(Line("pieces-over", {"pieces": over}))
    volumes = [p.volume_mm3 for p in build.pieces]
    smallest, largest = (build.pieces[volumes.index(f(volumes))].number for f in (min, max))
    share = 100 * min(volumes) / max(volumes)
    found.append(Line("balance", {"smallest": smallest, "largest": largest, "percent": share}))
    return found


def _join(build: Build) -> list[Line]:
    if not build.faces:
        return []
    kinds = Counter(str(placed.joint.kind) for placed in build.placed)
    found = [Line("joints", {"kinds": list(kinds), "counts": list(kinds.values()), "faces": len(build.faces)})]
    seams = joined_seams(build)
    long = sum(whole for whole, _ in seams)
    joined = sum(held for _, held in seams)
    found.append(Line("seams", {"length_m": long / 1000, "percent": 100 * joined / long if long else 100.0}))
    bare = [face_label(f, build.numbers) for f, (a, b) in zip(build.faces, seams, strict=True) if b < BARE * a]
    if bare:
        found.append(Line("seams-bare", {"faces": bare}))
    weak = min((bent for bent in bent_seams(build) if not bent.opens), key=lambda bent: bent.times, default=None)
    if weak is not None and build.placed:
        face = face_label(weak.load.faces[0], build.numbers)
        bears = (weak.joints_nmm + weak.glue_nmm) / 1000
        found.append(Line("weakest", {"face": face, "bears_nm": bears, "load_nm": weak.load.nmm / 1000, "times": weak.times}))
    return found


def _orient(build: Build, batches: Batches) -> list[Line]:
    if build.whole is None:
        return []
    mass = sum(thing.raw.mass_g for thing in batches.every)
    support = sum(thing.raw.support_g for thing in batches.every)
    under = sorted({n for t in batches.every if t.raw.support_g > 0 for n in t.thing.numbers})
    found = [
        Line("support", {"pieces": under, "grams": support, "percent": 100 * support / max(mass - support, 1e-9)})
        if under
        else Line("no-support")
    ]
    chosen = [p.number for p in build.pieces if p.chosen]
    if chosen:
        found.append(Line("sides-chosen", {"count": len(chosen), "of": len(build.pieces)}))
    return found


def _batch(batches: Batches) -> list[Line]:
    if not batches.every:
        return []
    beds = batches.each
    minutes, grams = sum(b.took.minutes for b in beds), sum(b.took.mass_g for b in beds)
    longest = max((b.took.minutes for b in beds), default=0.0)
    found = [Line("beds", {"count": len(beds), "minutes": minutes, "grams": grams, "longest": longest})]
    return [*found, *(Line("on-no-bed", {"what": thing.name, "why": why}) for thing, why in batches.left_over)]


def _assemble(together: Assembled) -> list[Line]:
    steps = together.order.steps
    if not steps:
        return []
    proofs = Counter("proved" if s.motion is None else s.motion.proof for s in steps)
    first = together.scene.named([steps[0].lead])
    how = {"proved": proofs["proved"], "sampled": proofs["tried by sampling"], "unchecked": proofs["not checked"]}
    found = [Line("order", {"steps": len(steps), "first": first, "groups": sum(s.is_group for s in steps), **how})]
    locked = [together.scene.named(sorted(units)) for units in together.order.locked]
    return [*found, *(Line("locked", {"what": what}) for what in locked)]
