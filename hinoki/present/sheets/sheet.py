"""Assembly sheets: what stands on them. How they are laid out, as PDF or as a page to print, is told elsewhere.

Few parts a step, all contacts seen, one viewpoint kept as long as it serves: Agrawala et al. 2003, ACM Trans. Graph. 22(3).
"""

import math
import os
from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from hinoki.core.assemble.assembled import Assembled
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.export.thumbnail import LOOSE_COLOUR, pigment
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.sections import slim
from hinoki.core.geometry.slide_collision import Form
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, along, part_of, quiet
from hinoki.present.build import faces_with_poles, hardware_view
from hinoki.present.schemas.assemble import AssemblyView, StepView
from hinoki.present.schemas.build import HardwareView
from hinoki.present.schemas.joints import FaceView
from hinoki.present.schemas.vectors import Outline
from hinoki.present.sheets.line_drawing import Drawn, Picture, View, draw, view_of
from hinoki.present.sheets.viewpoint import FRONT

Stroke = tuple[Literal["guide", "arrow"], list[tuple[float, float]]]
COLOURS = {"rod": "#6f7a80", "screw": "#6f7a80", "pin": "#6f7a80", "cable": "#3c4a3a"}
STEP_SIZE = (620, 470)
WHOLE_SIZE = (760, 900)
PIECE_SIZE = (170, 130)
MOST_FACES = 2
CLOSER = 0.65
"""a picture that shows the whole smaller than this share of what it could be shows less of it"""


@dataclass(frozen=True)
class Balloon:
    """A number or letter, and the place in the picture (0 to 1) its line leads to."""

    text: str
    at: tuple[float, float]
    strong: bool


@dataclass(frozen=True)
class FaceSketch:
    """A mating face with its magnets: outlines and circles in millimetres, seen from piece B into piece A."""

    label: str
    outline: list[list[list[tuple[float, float]]]]
    poles: list[tuple[float, float, float, str]]
    says: str


@dataclass
class Illustration:
    """A picture, and what is drawn over it."""

    png: bytes
    size: tuple[int, int]
    balloons: list[Balloon] = field(default_factory=list)
    strokes: list[Stroke] = field(default_factory=list)


@dataclass
class Panel:
    """One step on the sheet."""

    number: int
    title: str
    how: str
    says: list[str]
    needs: list[str]
    warns: list[str]
    group: str | None
    picture: Illustration
    faces: list[FaceSketch]
    note: str = ""
    photo: bytes | None = None


@dataclass(frozen=True)
class PieceRow:
    """A line of the cut list."""

    balloon: str
    name: str
    size: str
    mass: str
    picture: Illustration


@dataclass
class Sheet:
    """All that stands on the sheets."""

    title: str
    under: str
    paper: Literal["A4", "Letter"]
    whole: Illustration
    facts: list[str]
    hardware: list[tuple[str, str]]
    tools: list[str]
    groups: list[str]
    pieces: list[PieceRow]
    panels: list[Panel]
    warns: list[str]


def sheet_of(  # noqa: PLR0913 - what it works on, and whom it tells
    plan: Plan,
    built: Build,
    out: Assembled,
    view: AssemblyView,
    title: str,
    cache: Cache,
    revision: int | None = None,
    photos: Mapping[str, bytes] | None = None,
    tell: Tell = quiet,
) -> Sheet:
    """The sheet of an assembly, with a picture for every step; `photos` (JPEG) by the unit a step moves."""
    forms = {i: u.form(cache) for i, u in out.scene.units.items()}
    balloons = {u.id: u.balloon for u in view.units}
    nothing = np.zeros(3)

    def body(unit: str, shift: Points, pale: bool) -> Drawn:
        one = out.scene.units[unit]
        colour = pigment(one.numbers[0]) if one.numbers else COLOURS.get(one.kind, LOOSE_COLOUR)
        return Drawn(unit, forms[unit], shift, colour, pale)

    tell(0.0, "Drawing the whole model")
    every = [body(i, nothing, False) for i, u in out.scene.units.items() if u.kind != "cable"]
    picture = _drawn(every, FRONT, WHOLE_SIZE)
    whole = Illustration(picture.png, WHOLE_SIZE, [Balloon(balloons[i], at, True) for i, at in picture.seen.items()])

    def drawn(step: StepView) -> Illustration:
        way = np.array(step.motion.direction) if step.motion.direction else np.zeros(3)
        moved = -step.apart_mm * way
        into = [u for u in step.into if out.scene.units[u].kind != "cable"]
        bodies = [body(u, moved, False) for u in step.units] + [body(u, nothing, True) for u in into]
        return _step_picture(step, bodies, moved, balloons)

    pictures = _side_by_side(drawn, view.steps, part_of(tell, 0.1, 0.9))
    panels = [_panel(step, picture, built, photos or {}) for step, picture in zip(view.steps, pictures, strict=True)]
    tell(0.92, "Drawing the cut list")
    pieces = _rows(out, view, body)
    sheet = Sheet(
        title=title,
        under=f"Assembly, {len(view.steps)} steps" + (f", revision {revision}" if revision is not None else ""),
        paper=plan.assembling.paper,
        whole=whole,
        facts=_facts(built, view),
        hardware=[_need(hardware_view(h)) for h in built.hardware],
        tools=tools_for(view),
        groups=[f"{g.name}: {'pieces ' + ', '.join(map(str, g.numbers))}, brought in at step {g.step}" for g in view.groups],
        pieces=pieces,
        panels=panels,
        warns=[f.message for f in view.findings if f.severity == "must-fix"]
        + (["Time ran out before the whole order was found: what is not shown is not known."] if view.cut_short else []),
    )
    tell(1.0, "Drawn")
    return sheet


def _side_by_side(drawn: Callable[[StepView], Illustration], steps: Sequence[StepView], tell: Tell) -> list[Illustration]:
    """The pictures of all steps, as many at once as there are cores; `tell` may raise Cancelled."""
    with ThreadPoolExecutor(os.cpu_count(), thread_name_prefix="pictures") as hands:
        pictures = [hands.submit(drawn, step) for step in steps]
        try:
            return [one.result() for one in along(pictures, tell, lambda k: f"Drawing step {steps[k].step} of {len(steps)}")]
        finally:
            for one in pictures:
                one.cancel()


def _rows(out: Assembled, view: AssemblyView, body: Callable[[str, Points, bool], Drawn]) -> list[PieceRow]:
    """The cut list: pieces by number, then loose parts."""
    nothing = np.zeros(3)
    pieces = []
    for unit in sorted((u for u in view.units if u.numbers), key=lambda u: u.numbers[0]):
        small = _drawn([body(unit.id, nothing, False)], FRONT, PIECE_SIZE)
        low, high = out.scene.units[unit.id].box
        size = " × ".join(f"{v:.1f}" for v in high - low) + " mm"
        row = PieceRow(unit.balloon, unit.name, size, f"{unit.mass_g:.0f} g", Illustration(small.png, PIECE_SIZE))
        pieces.append(row)
    loose = [(u.balloon, u) for u in view.units if u.kind in ("loose", "stand")]
    for balloon, unit in loose:
        one = Form(out.scene.units[unit.id].solids[0].mesh)
        small = _drawn([Drawn(unit.id, one, nothing, LOOSE_COLOUR)], FRONT, PIECE_SIZE)
        size = "printed" if unit.count == 1 else f"{unit.count} printed"
        pieces.append(PieceRow(balloon, unit.name, size, f"{unit.mass_g:.0f} g", Illustration(small.png, PIECE_SIZE)))
    return pieces


def _drawn(bodies: Sequence[Drawn], eye: Points, size: tuple[int, int]) -> Picture:
    return draw(bodies, view_of(bodies, eye, *size))


def _step_picture(step: StepView, bodies: Sequence[Drawn], moved: Points, balloons: Mapping[str, str]) -> Illustration:
    eye = np.array(step.eye)
    guides = np.array(step.guides, dtype=np.float64).reshape(-1, 3)
    view = _framed(step, bodies, eye, np.concatenate([guides, guides + moved]) if len(guides) else None)
    picture = draw(bodies, view, step.see_through)
    shown = [
        Balloon(balloons[b.id], picture.seen[b.id], not b.pale)
        for b in bodies
        if b.id in picture.seen and (not b.pale or b.id == step.onto)
    ]
    strokes: list[Stroke] = []
    if step.onto is not None and len(guides):
        starts, ends = view.at(guides + moved), view.at(guides)
        strokes += [("guide", [_pair(a), _pair(b)]) for a, b in zip(starts, ends, strict=True)]
        strokes += _arrow(step, view, guides.mean(axis=0), moved)
    return Illustration(picture.png, STEP_SIZE, shown, strokes)


def _framed(step: StepView, bodies: Sequence[Drawn], eye: Points, also: Points | None) -> View:
    """All that is there, unless what matters would be small: then what moves and what it goes onto, the rest cut off."""
    whole = view_of(bodies, eye, *STEP_SIZE, also=also)
    close = [b for b in bodies if not b.pale or b.id == step.onto]
    near = view_of(close, eye, *STEP_SIZE, also=also)
    return near if near.scale < CLOSER * whole.scale else whole


def _arrow(step: StepView, view: View, at: Points, moved: Points) -> list[Stroke]:
    """The arrow of a move: straight, or turning about the axis."""
    if step.motion.kind in ("screw", "turn") and step.motion.axis and step.motion.at:
        n = np.array(step.motion.axis)
        centre = np.array(step.motion.at) + 0.5 * moved
        side = np.cross(n, view.away)
        side = side / max(1e-9, float(np.linalg.norm(side)))
        other = np.cross(n, side)
        radius = 0.13 * min(view.width, view.height) * view.scale
        sign = 1.0 if step.motion.turns > 0 else -1.0
        # the part that is nearest to the eye
        start = math.atan2(float(other @ view.away), float(side @ view.away)) - sign * 1.9
        turn = start + sign * np.linspace(0, 3.8, 24)
        points = centre + radius * (np.cos(turn)[:, None] * side + np.sin(turn)[:, None] * other)
        return [("arrow", [_pair(p) for p in view.at(points)])]
    ends = view.at(np.stack([at + 0.75 * moved, at + 0.25 * moved]))
    if float(np.linalg.norm(ends[1] - ends[0])) < 0.02:
        return []
    return [("arrow", [_pair(ends[0]), _pair(ends[1])])]


def _pair(point: Points) -> tuple[float, float]:
    return float(point[0]), float(point[1])


def _panel(step: StepView, picture: Illustration, built: Build, photos: Mapping[str, bytes]) -> Panel:
    says = [s for s in (*step.notes, step.hold) if s]
    if step.glue:
        says.append("Glue this joint; it cannot be undone.")
    warns = [step.why] if step.why else []
    if step.proof == "tried by sampling":
        says.append("Tried in positions, not proved throughout.")
    return Panel(
        number=step.step,
        title=step.title,
        how=f"{step.turn} {step.how}" if step.turn else step.how,
        says=says,
        needs=[f"{n.count} × {n.name}" + (f", cut to {n.length_mm:g} mm" if n.length_mm else "") for n in step.hardware],
        warns=warns,
        group=step.builds,
        picture=picture,
        faces=_faces(step, built),
        note=step.note,
        photo=photos.get(step.lead),
    )


def _faces(step: StepView, built: Build) -> list[FaceSketch]:
    """Mating faces with magnets that the step closes, since their poles are easily mistaken."""
    numbers = built.numbers
    moved = {numbers[k] for u in step.units for k in [u] if k in numbers}
    there = {numbers[u] for u in step.into if u in numbers}
    found = []
    outlines = {face.ref.id: slim(face.shape) for face in built.faces}
    for face in faces_with_poles(built):
        if not ((face.a in moved and face.b in there) or (face.b in moved and face.a in there)):
            continue
        poles = [
            (*place, math.sqrt(placed_joint.joint.footprint(placed_joint.standing, place).area / math.pi), str(pole))
            for placed_joint in built.placed
            if placed_joint.face.ref.id == face.id and placed_joint.poles
            for place, pole in zip(placed_joint.places, placed_joint.poles, strict=True)
        ] or list(face.poles)
        if poles:
            found.append(_sketch(face, outlines[face.id], poles))
    return found[:MOST_FACES]


def _sketch(face: FaceView, outline: Outline, poles: Sequence[tuple[float, float, float, str]]) -> FaceSketch:
    says = f"{face.label} as seen on piece {face.a}: the poles that look out"
    return FaceSketch(face.label, outline, [(x, y, r, p.upper()) for x, y, r, p in poles], says)


def _need(item: HardwareView) -> tuple[str, str]:
    more = f", and {item.spares} spare" if item.spares else ""
    long = f", cut to {item.length_mm:g} mm" if item.length_mm is not None else ""
    return f"{item.count} ×", f"{item.name}{long}{more}"


def _facts(built: Build, view: AssemblyView) -> list[str]:
    facts = []
    if built.prepared is not None:
        low, high = built.prepared.shape.bounds
        facts.append(" × ".join(f"{v:.0f}" for v in high - low) + " mm")
    pieces = sum(len(u.numbers) for u in view.units)
    facts.append(f"{pieces} pieces")
    if view.balance is not None:
        facts.append(f"about {view.balance.mass_g:.0f} g put together")
        if view.attitude == "standing":
            facts.append(f"may be tipped by {max(0.0, view.balance.tip_deg):.0f}° before it falls")
    return facts


def tools_for(view: AssemblyView) -> list[str]:
    """The tools that an assembly needs, by what its steps use."""
    names = " ".join(n.name for s in view.steps for n in s.hardware).lower()
    kinds = {u.kind for u in view.units}
    loose = " ".join(u.name for u in view.units if u.kind == "loose").lower()
    tools = ["a knife or a fine file, for the edges of joints"]
    if "screw (iso" in names or "screw" in kinds:
        tools.append("a hex key or a driver for the screws")
    if "insert" in names:
        tools.append("a soldering iron at about 270 °C, for the inserts")
    if "butterfly key" in loose:
        tools.append("a small hammer, to tap the keys in")
    if "magnet" in names:
        tools.append("a magnet with its poles marked, to check the others by; glue for the magnets")
    if "rod" in kinds:
        tools.append("a saw, to cut rods to length")
    if "cable" in kinds:
        tools.append("a stiff wire, to pull the cable through")
    if "thread" in " ".join(s.motion.kind for s in view.steps) or any(s.motion.kind == "screw" for s in view.steps):
        tools.append("a little grease, for the threads")
    if any(s.glue for s in view.steps):
        tools.append("glue, and tape or clamps to hold the pieces while it sets")
    return tools
