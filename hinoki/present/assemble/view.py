"""The assembly as data, from what was worked out; with the drawings of what the build does not draw itself."""

from collections.abc import Mapping, Sequence

import numpy as np
import shapely

from hinoki.core.assemble.assembled import Assembled
from hinoki.core.assemble.findings import assembly_findings
from hinoki.core.assemble.motion.moves import Motion
from hinoki.core.assemble.motion.screw_and_swing import frame_of
from hinoki.core.assemble.planning import Step
from hinoki.core.assemble.retention import stays_put
from hinoki.core.assemble.scene.parts import Ids
from hinoki.core.assemble.validate_order import Refusal, pinned_steps
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.geometry.mesh import Mesh, Points, stacked
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import Direction, direction_of
from hinoki.core.join.placed_joint import PlacedJoint, letter
from hinoki.core.plan.plan import Plan
from hinoki.core.stages import key_of, stage
from hinoki.present.assemble.outcomes import balance_view, falls_view, holds_view, locked_views, opens_view, replace_view
from hinoki.present.bodies import vec
from hinoki.present.findings import finding_views
from hinoki.present.schemas.assemble import (
    AssemblyView,
    GroupView,
    MeetView,
    MeshAt,
    MotionView,
    StepProof,
    StepView,
    Tone,
    UnitView,
)
from hinoki.present.schemas.vectors import Vec3
from hinoki.present.sheets.instructions import closed_by, how_of, is_glued, needs_of, notes_of, title_of
from hinoki.present.sheets.viewpoint import FRONT, HIDDEN, Body, Look, apart_mm, best_look
from hinoki.present.words.assemble import REFUSALS
from hinoki.present.words.wording import say

CONTACT_POINTS = 24
MOST_GUIDES = 6


def assembly_view(plan: Plan, built: Build, out: Assembled, cache: Cache) -> tuple[AssemblyView, dict[str, Mesh]]:
    """The view, and meshes by name."""
    scene = out.scene
    meshes: dict[str, Mesh] = {}
    view = AssemblyView(pinned=out.pinned, cut_short=out.natural.cut_short or out.order.cut_short)
    if not scene.units:
        return view, meshes
    low = np.min([u.box[0] for u in scene.units.values()], axis=0)
    high = np.max([u.box[1] for u in scene.units.values()], axis=0)
    view.size_mm = round(float((high - low).max()), 2)
    view.units = unit_views(out, built, meshes)
    view.groups = group_views(out)
    view.steps = _Steps(plan, built, out, cache, meshes, view.size_mm).views()
    for shown in view.steps:
        shown.builds = next((g.name for g in view.groups if shown.lead in g.units and shown.lead != g.lead), None)
        shown.group = next((g.name for g in view.groups if g.step == shown.step), None)
    view.order = list(pinned_steps(out.order))
    view.locked = locked_views(out)
    view.replacing = [replace_view(r, scene) for r in out.replacing]
    view.attitude = plan.assembling.attitude
    view.holds = holds_view(out, plan.assembling.attitude)
    view.falls = falls_view(out, plan.assembling.attitude)
    view.balance = balance_view(plan, built, out)
    view.opens = opens_view(out)
    view.findings = finding_views(assembly_findings(plan, out), plan)
    return view, meshes


def unit_views(out: Assembled, built: Build, meshes: dict[str, Mesh]) -> list[UnitView]:
    """All units: pieces by the drawings of the build, other things by their own."""
    scene = out.scene
    drawn = {p.key: p.made_by for p in built.pieces}
    shown = []
    letters = 0
    tones: dict[str, Tone] = {"rod": "steel", "screw": "steel", "pin": "steel", "cable": "wire"}
    for unit in scene.units.values():
        if unit.is_piece:
            bodies = [MeshAt(mesh=drawn.get(k, ""), tone="piece") for k in unit.keys]
            if not all(b.mesh for b in bodies):
                bodies = [_own_drawing(unit.made_by, unit.solids, meshes, "piece")]
            balloon = " + ".join(str(n) for n in unit.numbers)
        else:
            bodies = [_own_drawing(unit.made_by, unit.solids, meshes, tones.get(unit.kind, "loose"))]
            balloon, letters = letter(letters), letters + 1
        shown.append(
            UnitView(
                id=unit.id,
                kind=unit.kind,
                name=unit.name,
                balloon=balloon,
                numbers=list(unit.numbers),
                bodies=bodies,
                middle=vec(unit.middle),
                mass_g=round(out.weights[unit.id].grams, 2) if unit.id in out.weights else 0.0,
                count=unit.count,
            )
        )
    return shown


def _own_drawing(made_by: str, solids: Sequence[Solid], meshes: dict[str, Mesh], tone: Tone) -> MeshAt:
    name = key_of("unit drawing", made_by)
    meshes[name] = stacked([s.mesh for s in solids])
    return MeshAt(mesh=name, tone=tone)


def group_views(out: Assembled) -> list[GroupView]:
    """The groups in the order in which they are brought in, named by Roman numerals."""
    found: list[GroupView] = []
    for number, step in enumerate(out.order.steps, start=1):
        if step.is_group:
            numbers = sorted(n for u in step.units for n in out.scene.units[u].numbers)
            found.append(
                GroupView(
                    name=f"Group {roman(len(found) + 1)}",
                    lead=step.lead,
                    units=sorted(step.units),
                    numbers=numbers,
                    step=number,
                )
            )
    return found


def roman(number: int) -> str:
    """I, II, III, IV …: groups are told apart from pieces (numbers) and loose parts (letters)."""
    out = ""
    for value, sign in ((100, "C"), (90, "XC"), (50, "L"), (40, "XL"), (10, "X"), (9, "IX"), (5, "V"), (4, "IV"), (1, "I")):
        out += sign * (number // value)
        number %= value
    return out


@stage("look")
def _look_from(moving: Sequence[Body], still: Sequence[Body], contacts: Points, before: Points | None, below: bool) -> Look:
    """The side from which a step is looked at."""
    return best_look(moving, still, contacts, before, below)


class _Steps:
    """Makes the views of the steps, one after the other."""

    def __init__(self, plan: Plan, built: Build, out: Assembled, cache: Cache, meshes: dict[str, Mesh], size_mm: float) -> None:
        self.plan, self.built, self.out, self.cache, self.meshes, self.size_mm = plan, built, out, cache, meshes, size_mm
        self.scene = out.scene
        self._refused: Mapping[int, Refusal] = out.refusals
        self._over: dict[Ids, bool] = {}

    def views(self) -> list[StepView]:
        """All steps."""
        before: Points | None = None
        views = []
        for number, step in enumerate(self.out.order.steps, start=1):
            view, look = self._view(number, step, before)
            before = look.eye
            views.append(view)
        return views

    def _view(self, number: int, step: Step, before: Points | None) -> tuple[StepView, Look]:
        scene, out, motion = self.scene, self.out, step.motion
        way = _way_in(motion)
        closed = closed_by(step, step.into, self.built.placed, scene)
        lead = scene.units[step.lead]
        pulled = motion is not None and motion.kind == "pull"
        apart = apart_mm(self.size_mm, motion.distance_mm if motion else 0.0, pulled)
        turn, over = self._turn(step, way)
        look = self._look(step, way, closed, apart, before)
        refusal = self._refused.get(number - 1)
        glue = is_glued(step, step.into, closed, out.glued)
        hold = None
        if out.holding is not None and step.onto is not None and motion is not None:
            held = lead.kind in ("cable", "screw", "pin") or stays_put(out.holding, step.units, step.into, way, over)
            if not held:
                what = scene.named(sorted(step.units))
                hold = f"Hold {what} until the glue has set." if glue else f"Hold {what} until the next step."
        shown = StepView(
            step=number,
            lead=step.lead,
            piece=lead.numbers[0] if lead.numbers else None,
            units=sorted(step.units),
            adds=sorted(n for u in step.units for n in scene.units[u].numbers),
            onto=step.onto,
            onto_piece=scene.units[step.onto].numbers[0] if step.onto and scene.units[step.onto].numbers else None,
            into=sorted(step.into),
            motion=motion_view(motion, way),
            title=title_of(step, scene),
            how=how_of(step, scene, way, later=number > 1),
            notes=notes_of(step, closed, scene),
            hardware=needs_of(step, closed, scene, self.built.ways),
            glue=glue,
            hold=hold,
            turn=turn,
            undo=not glue,
            proof=_proof(step, refusal),
            why=say(REFUSALS[refusal.code], refusal.params) if refusal else None,
            meets=self._meets(refusal) if refusal else None,
            eye=vec(look.eye, 4),
            apart_mm=round(apart, 2),
            see_through=step.onto is not None and look.seen < HIDDEN,
            guides=self._guides(step, closed),
            note=self.plan.assembling.notes.get(step.lead, ""),
            added=step.lead in out.added and out.pinned,
        )
        return shown, look

    def _turn(self, step: Step, way: Direction | None) -> tuple[str | None, bool]:
        """Whether what is there is turned over for a step, or stood up again after one; and how it then lies."""
        was = any(over for units, over in self._over.items() if units & step.into)
        pulled = step.motion is not None and step.motion.kind == "pull"
        over = was if way is None or abs(way[2]) < 0.7 or pulled else way[2] > 0
        if step.onto is not None:
            whole = step.units | step.into
            self._over = {u: o for u, o in self._over.items() if not u & whole} | {whole: over}
        if over == was:
            return None, over
        return "Turn what is there over first." if over else "Stand it up again first.", over

    def _look(
        self, step: Step, way: Direction | None, closed: Sequence[PlacedJoint], apart: float, before: Points | None
    ) -> Look:
        if step.onto is None or step.locked:
            return Look(FRONT, 1.0)
        shift = np.zeros(3) if way is None else -apart * np.array(way)
        units = self.scene.units
        moving = [Body(units[u].form(self.cache), shift, units[u].made_by) for u in sorted(step.units)]
        there = [units[u] for u in sorted(step.into) if units[u].kind != "cable"]
        still = [Body(u.form(self.cache), np.zeros(3), u.made_by) for u in there]
        places = []
        for one in closed:
            points = one.face.frame.world(_spread(one))
            off = one.face.frame.n * (0.05 if self._is_moving(step, one.face.b.key) else -0.05)
            places.append(points + off)
        contacts = np.concatenate(places) if places else np.zeros((0, 3))
        below = way is not None and way[2] > 0.7
        return _look_from(self.cache, moving, still, contacts, before, below)

    def _guides(self, step: Step, closed: Sequence[PlacedJoint]) -> list[Vec3]:
        """Where what moves goes: the places of joints, the middles of faces, or of what is pushed in."""
        if step.onto is None or step.locked:
            return []
        points: list[Points] = []
        lead = self.scene.units[step.lead]
        if lead.is_piece or step.is_group:
            for one in closed:
                if one.places and len(one.places) <= 4 and one.joint.wanted:
                    points += list(one.face.frame.world(np.array(one.places)))
                else:
                    middle = one.face.shape.centroid
                    points.append(one.face.frame.world(np.array([[middle.x, middle.y]]))[0])
        elif lead.kind != "cable":
            points = [s.centre_of_box for s in lead.solids]
        if not points and lead.kind != "cable":
            points = [lead.middle]
        return [vec(p, 2) for p in points[:: max(1, len(points) // MOST_GUIDES)][:MOST_GUIDES]]

    def _is_moving(self, step: Step, key: str) -> bool:
        unit = self.scene.of_piece(key)
        return unit is not None and unit.id in step.units

    def _meets(self, refusal: Refusal) -> MeetView:
        name = None
        if refusal.overlap is not None and not refusal.overlap.empty:
            name = key_of("overlap", refusal.lead, refusal.met, refusal.at, refusal.overlap_mm3)
            self.meshes[name] = refusal.overlap.mesh
        return MeetView(units=list(refusal.met), at=refusal.at, overlap=name, overlap_mm3=refusal.overlap_mm3)


def _spread(placed_joint: PlacedJoint) -> Points:
    """Points spread over a mating face, in its plane."""
    low_x, low_y, high_x, high_y = placed_joint.face.shape.bounds
    k = int(np.sqrt(CONTACT_POINTS)) + 1
    x, y = np.meshgrid(np.linspace(low_x, high_x, k + 2)[1:-1], np.linspace(low_y, high_y, k + 2)[1:-1])
    points = np.column_stack([x.ravel(), y.ravel()])

    inside = points[shapely.contains_xy(placed_joint.face.shape, points[:, 0], points[:, 1])]
    return inside if len(inside) else np.array([shapely.get_coordinates(placed_joint.face.shape.representative_point())[0]])


def _way_in(motion: Motion | None) -> Direction | None:
    """The direction of the move, in the order of assembly."""
    if motion is None:
        return None
    off = motion.then if motion.kind == "swing" and motion.then is not None else motion.way
    return direction_of(-np.array(off))


def motion_view(motion: Motion | None, way: Direction | None) -> MotionView:
    """A motion in the order of assembly."""
    if motion is None or way is None:
        return MotionView(kind="set down")
    shown = MotionView(kind=motion.kind, direction=vec(np.array(way), 6), distance_mm=round(motion.distance_mm, 2))
    if motion.thread is not None:
        frame = frame_of(motion.thread)
        shown.at, shown.axis = vec(frame.origin), vec(frame.n, 6)
        # unscrewed it turns by `turn` about the axis on the way off; screwed in the other way
        shown.turns = round(-motion.turns * motion.thread.by.hand, 4)
        shown.screw_mm = round(motion.turns * motion.thread.by.lead_mm, 3)
    if motion.kind == "swing" and motion.door is not None:
        frame = motion.door.axis.frame
        shown.at, shown.axis, shown.swing_deg = vec(frame.origin), vec(-frame.n, 6), motion.swing_deg
    if motion.kind == "two slides" and motion.then is not None:
        last = motion.distance_mm - motion.first_mm
        back, first = direction_of(-np.array(motion.then)), direction_of(-np.array(motion.way))
        shown.legs = [(vec(np.array(back), 6), round(last, 2)), (vec(np.array(first), 6), motion.first_mm)]
        shown.direction = shown.legs[-1][0]
    return shown


def _proof(step: Step, refusal: Refusal | None) -> StepProof:
    if step.locked:
        return "no order"
    if refusal is not None:
        return "does not work"
    return "proved" if step.motion is None else step.motion.proof
