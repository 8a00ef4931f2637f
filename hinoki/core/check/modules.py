"""Modules as the screens and the report see them, and what is noticed about them."""

from collections import Counter
from collections.abc import Mapping, Sequence
from typing import Literal

import numpy as np
import shapely

from hinoki.core.findings import Finding, Severity, mm
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.sections import slim
from hinoki.core.join.apply import PlacedJoint
from hinoki.core.join.joints import SIDES
from hinoki.core.join.tiles.polarity import SAMPLES, Edge, sample_field, turned_to_hold, turns_between
from hinoki.core.join.tiles.tiles import Module, Modules, poles_of
from hinoki.core.join.walls import NOTHING_MM3
from hinoki.core.plan.plan import Plan
from hinoki.present.schemas.build import BuildView, FaceView, ModulesView, PoleView, SideView

TURN_WORDS = {3: "a third of a turn", 4: "a quarter turn", 6: "a sixth of a turn"}


def modules_view(modules: Modules, numbers: Mapping[str, int]) -> ModulesView:
    """The pattern, the table of all pairs and what follows from it, and where the magnets of the first module lie in plan."""
    many, wanted = modules.many, modules.wanted
    table = turns_between(modules.pattern)
    view = ModulesView(
        id=wanted.id,
        label=label_of(modules),
        pieces=[numbers[m.part.key] for m in modules.each],
        turned={numbers[m.part.key]: m.turned for m in modules.each if m.turned},
        sides=[
            SideView(magnets=[PoleView(right_mm=round(x, 2), high_mm=round(z, 2), pole=p) for x, z, p in s])
            for s in modules.pattern
        ],
        table=table,
        says=said_of_pairs(table, many) + _said_of_fields(modules) + _said_of_model(modules, numbers) if many else [],
        pull_n=round(wanted.magnets.pull_n() * wanted.a_side, 2),
    )
    if many and modules.each:
        _draw(view, modules.each[0], modules)
    return view


def show_modules(view: BuildView, modules: Sequence[Modules], placed: Sequence[PlacedJoint], plan: Plan) -> None:
    """Add what modules are there, what is noticed about them, and which mating faces they hold."""
    for one in modules:
        shown = modules_view(one, view.numbers)
        shown.weight_n = round(max((plan.material.weight_n(m.part.solid.volume_mm3) for m in one.each), default=0.0), 2)
        view.modules.append(shown)
        view.findings += module_findings(one, placed, view.numbers, plan.least_wall_mm)
        by_pair = {frozenset(view.numbers[one.each[m].part.key] for m in (a, b)): (a, i, b, j) for a, i, b, j in one.edges}
        for face in view.faces if one.many else []:
            edge = by_pair.get(frozenset((face.a, face.b)))
            if edge is not None:
                face.modules = True
                face.poles = _on_face(face, one, edge, view.numbers)


def _on_face(
    face: FaceView, modules: Modules, edge: Edge, numbers: Mapping[str, int]
) -> list[tuple[float, float, float, Literal["n", "s"]]]:
    """Where the magnets of piece A stand in the drawing of a face."""
    a, i, b, j = edge
    index, side = (a, i) if numbers[modules.each[a].part.key] == face.a else (b, j)
    module = modules.each[index]
    frame = Frame(*(np.array(v) for v in (face.frame.origin, face.frame.u, face.frame.v, face.frame.n)))
    found = []
    for x, z, pole in poles_of(module, modules.pattern)[side]:
        (place,) = frame.flat(module.sides[side].frame.world(np.array([[x, z]])))
        found.append((round(float(place[0]), 3), round(float(place[1]), 3), modules.wanted.magnets.radius_mm, pole))
    return found


def label_of(modules: Modules) -> str:
    """Such as “4 modules, 2 magnets 6 × 3 a side”."""
    return f"{len(modules.each)} {'module' if len(modules.each) == 1 else 'modules'}, {modules.wanted.magnets.label()} a side"


def said_of_pairs(table: Sequence[Sequence[int | None]], many: int) -> list[str]:
    """What trying all pairs of sides showed."""
    turns = Counter(None if t is None else abs(t) for row in table for t in row)
    tried = f"All {many * many} pairs of sides were tried: "
    if set(turns) == {0}:
        return [tried + "every side meets every side."]
    others = [
        f"{n} after one module is turned by {k} {'side' if k == 1 else 'sides'}"
        for k, n in sorted((k, n) for k, n in turns.items() if k)
    ]
    never = [f"{turns[None]} never"] if turns[None] else []
    return [tried + f"{turns[0]} hold at once, " + ", ".join([*others, *never]) + "."]


def _said_of_fields(modules: Modules) -> list[str]:
    many = modules.many
    field = sample_field(many)
    if field is None:
        return [f"Modules with {many} sides leave gaps between them: they meet in pairs, in rows and in rings."]
    count, edges = field
    what = f"A field of {count} {SAMPLES[many]}"
    turns = turned_to_hold(modules.pattern, count, edges)
    if turns is None:
        return [f"{what} cannot hold all over, however its modules are turned. Take two magnets a side."]
    turned = sum(t > 0 for t in turns)
    if not turned:
        return [f"{what} holds with all of them laid alike."]
    return [f"{what} holds when {turned} of them are turned, by {TURN_WORDS[many]} where neighbours would repel."]


def _said_of_model(modules: Modules, numbers: Mapping[str, int]) -> list[str]:
    if not modules.edges or not modules.as_it_stands:
        return []
    turned = sorted(numbers[m.part.key] for m in modules.each if m.turned)
    how = f", with the pattern of {_pieces(turned)} turned round by sides" if turned else ""
    return [f"As they stand in the model, all {len(modules.edges)} neighbouring sides hold{how}."]


def _pieces(numbers: Sequence[int]) -> str:
    return f"piece {numbers[0]}" if len(numbers) == 1 else "pieces " + ", ".join(map(str, numbers))


def _draw(view: ModulesView, module: Module, modules: Modules) -> None:
    """The first module from above, about its middle."""
    shadow = module.part.solid.silhouette()
    middle = np.array(shapely.centroid(shadow.envelope).coords[0])
    view.outline = [
        [[(x - float(middle[0]), y - float(middle[1])) for x, y in ring] for ring in part] for part in slim(shadow, 0.2)
    ]
    for number, (side, spots, shown) in enumerate(
        zip(module.sides, poles_of(module, modules.pattern), view.sides, strict=True)
    ):
        end = side.frame.origin[:2] - middle
        shown.middle = round(float(end[0]), 2), round(float(end[1]), 2)
        shown.out = round(float(side.frame.n[0]), 4), round(float(side.frame.n[1]), 4)
        view.drawn += [
            (round(float(end[0] + x * side.frame.u[0]), 2), round(float(end[1] + x * side.frame.u[1]), 2), pole, number)
            for x, _, pole in spots
        ]


def module_findings(
    modules: Modules, placed: Sequence[PlacedJoint], numbers: Mapping[str, int], wall_mm: float
) -> list[Finding]:
    """Sides that are missing or differ, pockets near a surface or in each other's way, neighbours that would repel."""
    wanted = modules.wanted
    label = label_of(modules)
    if not modules.each:
        return [
            _said("module-no-pieces", "look-at", "The pieces of the modules are not there now. They come back when those do.")
        ]
    few = [m for m in modules.each if len(m.sides) < 3]
    least = 2 * (wanted.magnets.radius_mm + wall_mm)
    if few:
        numbered = _pieces(sorted(numbers[m.part.key] for m in few))
        text = (
            f"{numbered.capitalize()} of the modules: fewer than three flat, upright sides at least {least:.1f} mm wide were "
            "found. Use smaller magnets, or leave out what is no module."
        )
        return [_said("module-no-sides", "must-fix", text, numbers[few[0].part.key])]
    counts = Counter(len(m.sides) for m in modules.each)
    if len(counts) > 1:
        usual = counts.most_common(1)[0][0]
        other = next(m for m in modules.each if len(m.sides) != usual)
        text = (
            f"Piece {numbers[other.part.key]} has {len(other.sides)} sides, the other modules have {usual}: one pattern does "
            "not serve both. Leave it out."
        )
        return [_said("module-differs", "must-fix", text, numbers[other.part.key])]
    found: list[Finding] = []
    if not modules.as_it_stands:
        text = (
            f"The {label}: as they stand in the model, no way was found to turn their poles so that all neighbours hold. "
            "Take two magnets a side."
        )
        found.append(_said("module-field", "must-fix", text))
    for module in modules.each:
        found += _pockets(module, placed, numbers[module.part.key], wall_mm)
    return found


def _pockets(module: Module, placed: Sequence[PlacedJoint], number: int, wall_mm: float) -> list[Finding]:
    found = []
    if module.weak:
        weak = module.weak[0]
        how = "breaks through its surface" if weak.through_mm is not None else f"leaves a wall of {mm(weak.wall_mm or 0.0)}"
        at = weak.tool.bore.centre_of_box if weak.tool.bore else np.zeros(3)
        text = (
            f"A magnet in a side of piece {number} {how}; {mm(wall_mm)} is the least. Move it in height, nearer together, or "
            "use a smaller one."
        )
        found.append(
            _said(
                "module-wall",
                "must-fix",
                text,
                number,
                (round(float(at[0]), 2), round(float(at[1]), 2), round(float(at[2]), 2)),
            )
        )
    bores = [t.bore for t in module.tools if t.bore is not None]
    for i, bore in enumerate(bores):
        if any(bore.box_meets(o) and bore.common(o).volume_mm3 > NOTHING_MM3 for o in bores[i + 1 :]):
            text = f"Magnets of two sides of piece {number} meet at a corner. Use smaller ones, or set them nearer together."
            found.append(_said("module-corner", "must-fix", text, number))
            break
    for one in placed:
        for side in SIDES:
            if one.part(side).key != module.part.key:
                continue
            for tool in one.tools.of(side):
                body = tool.bore or tool.cut
                if body is not None and any(body.box_meets(b) and body.common(b).volume_mm3 > NOTHING_MM3 for b in bores):
                    text = f"{one.name(tool.index)} of piece {number} meets a magnet of the modules. Move one of them."
                    found.append(_said("module-meets-joint", "must-fix", text, number, joint=one.joint.id))
    return found


def _said(
    code: str,
    severity: Severity,
    message: str,
    piece: int | None = None,
    at: tuple[float, float, float] | None = None,
    joint: str | None = None,
) -> Finding:
    return Finding(severity=severity, code=code, station="join", message=message, piece=piece, at_mm=at, joint=joint)
