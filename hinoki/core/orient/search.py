"""The search: all directions are looked at quickly, the best refined, a dozen measured closely, and weighed."""

import itertools
import math
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from hinoki.core.batch.packing.item import Item, centred
from hinoki.core.batch.packing.raster_bed import Bed
from hinoki.core.batch.packing.raster_bed import surface_of as bed_of
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.rotations import around
from hinoki.core.geometry.solid import Solid
from hinoki.core.orient.directions import CLOSE_DEG, candidates
from hinoki.core.orient.fast_scores import quick
from hinoki.core.orient.layer_areas import NOTHING, Suction, suction
from hinoki.core.orient.ray_grid import walls_of
from hinoki.core.orient.resting.bed_fit import fitting, ways_that_fit
from hinoki.core.orient.resting.resting_faces import LEAST_CONTACT_MM2, LEAST_TIP_DEG, UPRIGHT, Rest, rest_on
from hinoki.core.orient.scoring import PRESETS, Weights, weighed
from hinoki.core.orient.support import Support, columns_under
from hinoki.core.orient.surface import MATING, SHOW, Surface
from hinoki.core.progress import Tell, quiet
from hinoki.core.workshop.printers import Printer

STANDING, ON_BED_MM = 4, 0.01
"""ways to lay it on more than a point that are always looked at; faces this near to the lowest lie on the bed"""
CLOSELY = 12
"""candidates whose support is worked out by rays"""
REFINED = 3
SECONDS = 60.0
"""how long one piece is looked at"""
APART = math.cos(math.radians(8))
"""candidates nearer than this are one, unless both lie on a flat face"""
LOOSE = 5.0
"""a piece so many times as tall as its contact is wide may come loose (common practice)"""
DRAWS_MM3 = 10_000.0
"""so much shut in draws as hard as a piece holds (common practice)"""
SUPPORT_DENSITY = 0.2
"""how full support is printed (common practice)"""
FLOW_SHARE = 0.4
"""what of a piece's volume is printed, with usual walls and infill (common practice); estimates are worked out from layers"""
LAYERS_HOLD = 0.5
"""strength between layers as a share of that along them"""
LITTLE_SUPPORT_MM3 = 100.0
"""so little support is as good as none"""
ON_A_POINT = "stands on a point or an edge"
LEANS = "a thread, or a pocket to be filled, does not stand upright"
FALLS = "falls over"
BESIDE_CORNERS = "does not lie beside the corners of the bed that are kept free"


@dataclass(frozen=True)
class Attitude:
    """What joints ask of a piece: axes (3,) that must stand upright, and axes of pins that are stronger lying."""

    upright: tuple[Points, ...] = ()
    pins: tuple[Points, ...] = ()


@dataclass(frozen=True)
class Candidate:
    """One way to lay a piece, measured closely.

    `loose`: its height as a multiple of the width of
    its contact; `strength`: how strong the weakest pin is, as a share of one that lies in the layers; `steps_mm2`: shallow
    surface, by how shallow; `minutes` are rough, for comparing. `broken` are the hard rules it breaks, in words.
    """

    rest: Rest
    support: Support
    loose: float
    strength: float
    steps_mm2: float
    minutes: float
    broken: tuple[str, ...] = ()
    suction: Suction = NOTHING
    cut_short: bool = False
    """whether time ran out before all were measured that should be"""
    penalty: float = field(default=0.0, compare=False)

    @property
    def tip_deg(self) -> float:
        """By how much it may be tilted before it falls off its contact."""
        return self.rest.tip_deg

    @property
    def fits(self) -> bool:
        """Whether it fits the bed, and beside the corners that are kept free."""
        return self.rest.fits and BESIDE_CORNERS not in self.broken

    @property
    def faults(self) -> tuple[bool, bool, bool, bool]:
        """Which hard rules it breaks, the worst first: it does not fit, stands on a point, leans a thread, falls over."""
        falls = any(text.startswith(FALLS) for text in self.broken)
        return not self.fits, ON_A_POINT in self.broken, LEANS in self.broken, falls

    @property
    def measures(self) -> dict[str, float]:
        """What is weighed."""
        touch = self.support.touch_mm2
        return {
            "support": self.support.volume_mm3,
            "scars": self.support.in_joints_mm2 * 3 + float(touch[SHOW]) * 2 + float(touch[MATING]),
            "steps": self.steps_mm2,
            "hold": min(self.loose, 2 * LOOSE) + 2 * LOOSE * min(1.0, self.suction.volume_mm3 / DRAWS_MM3),
            "strength": 1 - self.strength,
            "time": self.minutes,
        }


def search(  # noqa: PLR0913 - what it works on, and how it tells and stops
    solid: Solid,
    surface: Surface,
    printer: Printer,
    mating: Sequence[Points] = (),
    attitude: Attitude | None = None,
    weights: Weights | None = None,
    tell: Tell = quiet,
    clock: Callable[[], float] = time.monotonic,
    seconds: float = SECONDS,
) -> list[Candidate]:
    """The candidates measured closely, best first: those that break no hard rule, by the weights, then the others. When
    `seconds` are over, the best so far, marked as cut short; `tell` may raise Cancelled."""
    until = clock() + seconds
    weights, attitude = weights or PRESETS["least support"], attitude or Attitude()
    tell(0.05, "Looking in all directions")
    options = candidates(surface, mating)
    downs = np.array([down for down, _ in options])
    whats = [what for _, what in options]
    room = fitting(surface.hull.vertices, printer, downs)
    if not room.any():
        tell(0.15, "Looking for a way that fits the bed")
        more = ways_that_fit(surface.hull.vertices, printer, downs)
        downs = np.vstack([downs, *more])
        whats, room = whats + ["leaning"] * len(more), np.concatenate([room, np.ones(len(more), dtype=bool)])
    chosen = _shortlist(surface, printer, downs, whats, room, attitude, weights)
    found = []
    for k, (down, what) in enumerate(chosen):
        tell(0.3 + 0.65 * k / len(chosen), f"Measuring {k + 1} of {len(chosen)}")
        found.append(measured(solid, surface, printer, down, what, attitude))
        if clock() > until and k + 1 < len(chosen):
            found = [replace(one, cut_short=True) for one in found]
            break
    return ranked(_different(found), weights)


def _different(found: Sequence[Candidate]) -> list[Candidate]:
    """The first of those that are as good as the same: a round piece lies on each of its sides alike."""
    kept: dict[tuple[object, ...], Candidate] = {}
    for one in found:
        size = np.sort(one.rest.size_mm[:2]).round(0).tolist()
        touch = (one.support.touch_mm2 / 20).round(0).tolist()
        figures = (one.rest.contact_mm2, one.support.volume_mm3)
        rough = [round(math.log(max(v, 1.0)) * 25) for v in figures]
        same = (one.rest.what, *size, round(float(one.rest.size_mm[2]), 1), *rough, *touch, round(one.strength, 2))
        kept.setdefault(same, one)
    return list(kept.values())


def ranked(found: Sequence[Candidate], weights: Weights) -> list[Candidate]:
    """The same, best first: what fits the bed before what does not, what breaks no hard rule before what breaks one. Measures
    are weighed over the spans of those that break none. For the least support, what needs twice as much comes later."""
    allowed = [c for c in found if not c.broken] or list(found)
    penalties = weighed([c.measures for c in found], weights, [c.measures for c in allowed])
    most = math.inf
    if weights == PRESETS["least support"]:
        most = 2 * min((c.support.volume_mm3 for c in allowed), default=math.inf) + LITTLE_SUPPORT_MM3
    key = lambda k: (  # noqa: E731
        found[k].faults,
        found[k].support.volume_mm3 > most,
        round(penalties[k], 6),
        k,
    )
    return [replace(found[k], penalty=penalties[k]) for k in sorted(range(len(found)), key=key)]


def measured(solid: Solid, surface: Surface, printer: Printer, down: Points, what: str, attitude: Attitude) -> Candidate:
    """One direction measured closely."""
    rest = rest_on(solid, down, printer, what)
    walls = walls_of(surface, rest.matrix)
    support = columns_under(surface, walls, rest.matrix, printer.overhang_deg)
    resin = printer.process == "resin"
    one = quick(surface, np.array([rest.down]), printer.overhang_deg)
    height = float(rest.size_mm[2])
    wide = 2 * math.sqrt(max(rest.contact_mm2, 1e-6) / math.pi)
    layer = printer.layers_mm[1]
    printed = FLOW_SHARE * surface.volume_mm3 + SUPPORT_DENSITY * support.volume_mm3
    drawing = 0.0 if resin else printed / (layer * printer.line_mm * printer.speed_mm_s)
    minutes = (drawing + height / layer * printer.layer_time_s) / 60
    axes = [abs(float(rest.down @ pin)) for pin in attitude.pins]
    strength = min((LAYERS_HOLD + (1 - LAYERS_HOLD) * (1 - a * a) for a in axes), default=1.0)
    return Candidate(
        rest, support, height / wide, strength, float(one.steps[0]), minutes,
        tuple(_broken(solid, rest, printer, attitude)), suction(walls, support.volume_mm3 > 0) if resin else NOTHING,
    )  # fmt: skip


def _has_room(solid: Solid, rest: Rest, printer: Printer) -> bool:
    """Whether a piece finds room, in steps of 45°, on a bed of which corners are kept free."""
    outline = centred(solid.placed(rest.matrix).silhouette())
    bed = Bed(bed_of(printer), 0.0)
    return bed.free_for(Item("", outline, float(rest.size_mm[2])), np.arange(0.0, 360.0, 45.0)) is not None


def _broken(solid: Solid, rest: Rest, printer: Printer, attitude: Attitude) -> list[str]:
    broken = []
    if not rest.fits:
        broken.append("does not fit the bed")
    elif printer.kept_free and not _has_room(solid, rest, printer):
        broken.append(BESIDE_CORNERS)
    if rest.contact_mm2 < LEAST_CONTACT_MM2 and printer.process == "filament":
        broken.append(ON_A_POINT)
    elif rest.tip_deg < LEAST_TIP_DEG and printer.process == "filament":
        broken.append(f"{FALLS} when tilted by {rest.tip_deg:.1f}°")
    if any(abs(float(rest.down @ axis)) < UPRIGHT for axis in attitude.upright):
        broken.append(LEANS)
    return broken


def _shortlist(  # noqa: PLR0913 - arrays over the same directions
    surface: Surface,
    printer: Printer,
    downs: Points,
    whats: list[str],
    room: "np.ndarray",
    attitude: Attitude,
    weights: Weights,
) -> list[tuple[Points, str]]:
    """A dozen directions by their quick measures: those that fit (`room`, (n,)), that are upright where they must be, flat ones
    first of equals."""
    penalty = _quick_penalty(surface, printer, downs, attitude, weights)
    leaning = np.array([what == "leaning" for what in whats])
    penalty = penalty + np.where(leaning, 0.5, 0.0)
    order = np.argsort(penalty, kind="stable")
    if room.any():
        order = order[room[order]]
    if printer.process == "filament":  # some that stand on more than a point are looked at, however much hangs over
        named = (at for at, k in enumerate(order) if not leaning[k] and _lies_on(surface, downs[k]) >= LEAST_CONTACT_MM2)
        first = list(itertools.islice(named, STANDING))
        order = np.concatenate([order[first], np.delete(order, first)]).astype(int)
    best_leaning = [int(k) for k in order if leaning[k]][:REFINED]
    refined = {k: _refined(surface, printer, downs[k], attitude, weights, bool(room[k])) for k in best_leaning}
    kept: list[tuple[Points, str]] = []
    most_leaning = CLOSELY // 3
    for k in order:
        down, what = refined.get(int(k), downs[k]), whats[int(k)]
        if leaning[k] and sum(w == "leaning" for _, w in kept) >= most_leaning:
            continue
        near = APART if leaning[k] else 1 - 1e-6
        if any(float(down @ other) > near for other, _ in kept):
            continue
        kept.append((down, what))
        if len(kept) == CLOSELY:
            break
    return kept


def _refined(surface: Surface, printer: Printer, down: Points, attitude: Attitude, weights: Weights, fitted: bool) -> Points:
    """A direction moved, step by step, to where it is best nearby, and still fits where it did."""
    for degrees in CLOSE_DEG:
        near = np.vstack([down, around(down, degrees)])
        if fitted:
            near = near[fitting(surface.hull.vertices, printer, near)]
        down = near[int(np.argmin(_quick_penalty(surface, printer, near, attitude, weights)))]
    return down


def _quick_penalty(surface: Surface, printer: Printer, downs: Points, attitude: Attitude, weights: Weights) -> Points:
    q = quick(surface, downs, printer.overhang_deg)
    total = max(1e-9, float(surface.areas.sum()))
    tallest = max(1e-9, float(np.ptp(surface.hull.vertices, axis=0).max()))
    flat = _contact(surface, downs)
    hanging = np.maximum(q.hanging - flat, 0.0) / total
    scars = (2 * q.hanging_show + np.maximum(q.hanging_mating - flat, 0.0) + 3 * q.hanging_joint) / total
    hold = q.height / (2 * np.sqrt(np.maximum(flat, 1.0) / np.pi)) / (2 * LOOSE)
    strength = np.zeros(len(downs))
    for pin in attitude.pins:
        strength = np.maximum(strength, (1 - LAYERS_HOLD) * (downs @ pin) ** 2)
    upright = np.zeros(len(downs))
    for axis in attitude.upright:
        upright += np.abs(downs @ axis) < UPRIGHT
    return np.asarray(
        weights.support * 4 * hanging
        + weights.scars * 4 * scars
        + weights.steps * q.steps / total
        + weights.hold * np.minimum(hold, 1.0)
        + weights.strength * strength
        + weights.time * 0.5 * q.height / tallest
        + 100.0 * upright
    )


def _lies_on(surface: Surface, down: Points) -> float:
    """Area of the piece's own faces that would lie on the bed, without what its hull bridges."""
    heights = surface.mesh.vertices @ down
    low = heights > heights.max() - ON_BED_MM
    faces = low[surface.mesh.faces].all(axis=1)
    return float(surface.areas[faces].sum())


def _contact(surface: Surface, downs: Points) -> Points:
    """Area of the hull's faces that would lie on the bed, (n,): what the piece stands on, its holes filled."""
    vectors = surface.hull.face_vectors
    length = np.linalg.norm(vectors, axis=1)
    keep = length > 0
    normals, areas = vectors[keep] / length[keep, None], length[keep] / 2
    return np.asarray((np.where(downs @ normals.T > 1 - 1e-6, areas, 0.0)).sum(axis=1))
