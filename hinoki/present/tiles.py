"""Tiles that meet side by side, as screens and reports see them."""

from collections import Counter
from collections.abc import Mapping, Sequence

import numpy as np
import shapely

from hinoki.core.build import Build
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.geometry.sections import slim
from hinoki.core.join.closures.hook import LOCKS_DEG
from hinoki.core.join.contract.strength import Stuff
from hinoki.core.join.tiles.polarity import SAMPLES, Pole, sample_field, turned_to_hold, turns_between
from hinoki.core.join.tiles.put_together import Tried
from hinoki.core.join.tiles.tiles import Module, Modules, faces_held, poles_of
from hinoki.present.schemas.build import ModulesView, PoleView, SideView
from hinoki.present.schemas.joints import FaceView

TURN_WORDS = {3: "a third of a turn", 4: "a quarter turn", 6: "a sixth of a turn"}


def tiles_view(modules: Modules, build: Build, found: Tried) -> ModulesView:
    """The pattern, the table of all pairs and what follows from it, and where the magnets of the first module lie in plan."""
    many, wanted, numbers = modules.many, modules.wanted, build.numbers
    table = turns_between(modules.pattern)
    view = ModulesView(
        id=wanted.id,
        label=modules.label,
        pieces=[numbers[m.part.key] for m in modules.each],
        turned={numbers[m.part.key]: m.turned for m in modules.each if m.turned},
        sides=[
            SideView(magnets=[PoleView(right_mm=round(x, 2), high_mm=round(z, 2), pole=p) for x, z, p in s])
            for s in modules.pattern
        ],
        table=table,
        by=wanted.by,
        says=[
            *said_of_pairs(table, many),
            *_said_of_bodies(modules, found),
            *_said_of_hooks(modules, build),
            *_said_of_fields(modules),
            *_said_of_model(modules, numbers),
        ]
        if many
        else [],
        pull_n=round(wanted.magnets.pull_n() * wanted.a_side, 2) if wanted.by == "magnets" else 0.0,
        weight_n=round(max((build.plan.material.weight_n(m.part.solid.volume_mm3) for m in modules.each), default=0.0), 2),
    )
    if many and modules.each:
        _draw(view, modules.each[0], modules)
    return view


def add_poles(faces: Mapping[str, FaceView], modules: Modules, build: Build) -> None:
    """Tell the mating faces (by their ids) that tiles hold, and where the magnets of piece A stand in the drawing of each."""
    mates = {face.ref.id: face for face in build.faces}
    for ref, (index, side) in faces_held(modules, build.faces).items():
        faces[ref].modules = True
        if modules.wanted.by == "magnets":
            faces[ref].poles = _on_face(mates[ref], modules, modules.each[index], side)


def _on_face(face: MatingFace, modules: Modules, module: Module, side: int) -> list[tuple[float, float, float, Pole]]:
    found = []
    for x, z, pole in poles_of(module, modules.pattern)[side]:
        (place,) = face.frame.flat(module.sides[side].frame.world(np.array([[x, z]])))
        found.append((round(float(place[0]), 3), round(float(place[1]), 3), modules.joint.half_mm, pole))
    return found


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


def _said_of_bodies(modules: Modules, found: Tried) -> list[str]:
    """What putting the real bodies together showed."""
    if not found.pairs or not found.good:
        return []
    how = "is pushed in from the side" if not modules.joint.lifts else "goes down into its place"
    held = " and is held against pull" if modules.joint.holds and not found.come_apart else ""
    return [f"{found.pairs} pairs were put together with the real bodies: each {how}{held}, clear of the other."]


def _said_of_hooks(modules: Modules, build: Build) -> list[str]:
    """What two sides go in and let go with."""
    forces = modules.joint.forces(modules.clearance_mm, Stuff.of(build.plan.material))
    if forces is None:
        return []
    many = 2 if modules.wanted.layout == "all" else 1
    goes_in, comes_off = (many * force for force in forces)
    off = "never let go: they break with" if modules.wanted.lets_go_deg >= LOCKS_DEG else "come off again with"
    return [f"Two sides go in with about {goes_in:.0f} N and {off} about {comes_off:.0f} N, estimates."]


def _said_of_fields(modules: Modules) -> list[str]:
    many = modules.many
    if modules.wanted.layout != "all":
        what = "the opposite one" if modules.wanted.layout == "row" else "the next one"
        how = "let down over" if modules.joint.lifts else "pushed onto"
        return [f"One side and {what} meet others: as many as wanted, each {how} the one before."]
    if not modules.joint.lifts:
        what = "Pegs" if modules.wanted.by == "pegs" else "Snap hooks"
        return [f"{what} go in sideways: modules are added at one side, in rows and not in fields, where two sides would meet."]
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
