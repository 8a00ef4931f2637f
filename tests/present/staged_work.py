"""Work on small models that asks every stage, with other values of every input."""

from dataclasses import replace
from unittest.mock import patch

import numpy as np

from hinoki.core.assemble.assembled import assembled
from hinoki.core.assemble.from_meshes import assembled_meshes
from hinoki.core.assemble.scene.parts import Gives, form_of
from hinoki.core.batch.batches import batched
from hinoki.core.batch.scenarios import Option, what_if
from hinoki.core.build import Build, build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check, check_project
from hinoki.core.divide.partings import HatchParting, LumpsParting, WedgesParting
from hinoki.core.divide.partings.hatch import Rectangle
from hinoki.core.divide.region_tracking import Stroke, marked, painted
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channels import CableWay, RodWay, StandWay
from hinoki.core.join.joints import (
    DovetailJoint,
    FaceRef,
    HingeJoint,
    Joint,
    LipJoint,
    MagnetJoint,
    PinJoint,
    ThreadJoint,
)
from hinoki.core.join.tiles.put_together import tried as tried_together
from hinoki.core.make import LidMaker
from hinoki.core.model.prepared_model import prepared
from hinoki.core.model.steps.clear_path import ClearPathStep
from hinoki.core.model.steps.hollow import HollowStep
from hinoki.core.model.steps.meets import MeetsStep
from hinoki.core.model.steps.on_face import OnFaceStep
from hinoki.core.model.steps.repair import RepairStep
from hinoki.core.model.steps.seat import SeatStep
from hinoki.core.moving.movements import TurnMovement
from hinoki.core.moving.project import moving
from hinoki.core.orient.pieces import OrientWish, best_rests
from hinoki.core.parts.arrange import Row, arranged
from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.label_settings import MatingMarks
from hinoki.core.plan.parts import Instance, KeptPart
from hinoki.core.plan.plan import Plan
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.plan.regions import Box, Mark
from hinoki.core.plan.tile_set import ModuleSet
from hinoki.core.plan.together import Together
from hinoki.core.progress import quiet
from hinoki.core.propose import Wishes, figures_for, proposals, propose
from hinoki.core.stages import Keyed
from hinoki.core.workshop.fits import Fits
from hinoki.present.assemble.view import assembly_view
from hinoki.present.build import present
from hinoki.present.orient import orient_view
from hinoki.present.printed.view import printed_view
from tests.core.assemble.bodies import square_link
from tests.doors import CUPBOARD, cupboard, folding_plan, rail
from tests.parts import everything, part, plan_of, source, use_of
from tests.shapes import across, box, ellipsoid, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
THICK = box(120, 80, 40).minus([Solid.box([-50, -30, 10], [50, 30, 30])])
CASE = box(100, 80, 40).minus([Solid.box([-44, -34, 6], [44, 34, 34])])


def tube(outer: float, inner: float, height: float) -> Solid:
    """An upright tube by radii, of few sides: none of this is about how round it is."""
    return Solid.prism(outer, 0, height, 24).minus([Solid.prism(inner, -1, height + 1, 24)])


FILES: dict[str, bytes] = {}
"""all model files, by their hash"""


def looked_at(solid: Solid, *partings: object, cache: Cache | None = None, **more: object) -> tuple[Plan, Build, Cache]:
    """A plan for a solid built, checked and presented."""
    cache, data = cache or Cache(), stl_of(solid)
    plan = plan_for(data, *partings, **more)  # type: ignore[arg-type]
    assert plan.model is not None
    FILES[plan.model.source] = data
    result = build(plan, FILES.__getitem__, cache)
    present(result, check(result, cache), cache)
    return plan, result, cache


def put_together(solid: Solid, *partings: object, **more: object) -> tuple[Plan, Build, Cache]:
    """The same, and its assembly."""
    plan, result, cache = looked_at(solid, *partings, **more)
    assembly_view(plan, result, assembled(plan, result, cache), cache)
    return plan, result, cache


def printed(plan: Plan, result: Build, cache: Cache, price: float) -> None:
    """Its batches, what if it were printed otherwise, and its best sides."""
    batched(plan, result, cache, price)
    options = [Option(), Option(printing=PrintSettings(infill=0.4), scale=1.5)]
    what_if(plan, result, options, price, cache)
    found = best_rests(plan, result, OrientWish(), cache)
    orient_view(plan, result, found, next(iter(found)), cache)


def of_joint(joint: Joint, high: float = 60.0, **more: object) -> None:
    """A block in two with a joint, put together."""
    put_together(box(60, 60, high), level(1, 30), joints=(joint,), **more)


def blocks() -> None:
    """Blocks with pins, marks on their faces, printed."""
    for number, (at, diameter) in enumerate(((30.0, 5.0), (40.0, 6.0))):
        pins = PinJoint(id="j1", face=FACE, diameter_mm=diameter, count=2 + number)
        marks = MatingMarks(on=True, raised=bool(number), depth_mm=0.4 + 0.2 * number)
        fits = Fits(snug=0.1 + 0.05 * number)
        plan, result, cache = put_together(
            box(60, 50, 90), level(1, at), joints=(pins,), mating_marks=marks, fits=fits, bed=(200 + 50 * number, 200, 200)
        )
        printed(plan, result, cache, 0.3 * number)
        figures_for(plan, lambda _: stl_of(box(60, 50, 90)), cache, quiet)
    for places in (((0.0, 0.0),), ((12.0, 0.0),), ((-12.0, 8.0), (12.0, -8.0))):
        of_joint(PinJoint(id="j1", face=FACE, places=places), least_wall_mm=1.2 + len(places))
    for number in (0, 1):
        down = {"p1-": PieceNote(down=(0.0, 0.0, 1.0)), "p1+": PieceNote(down=(0.0, 1.0 - number, 1.0 * number))}
        printed(*looked_at(ellipsoid(20 + 2 * number, 20, 30), level(1, 5.0), pieces=down), 0.0)
    halves = box(60, 60, 80), across(1, "x", 0.0), level(2, 20), level(3, 60)
    for pair in (("p1- p2-", "p1+ p2-"), ("p1- p2+ p3+", "p1+ p2+ p3+")):
        plan, result, cache = put_together(*halves, together=(Together(pieces=pair),), mating_marks=MatingMarks(on=True))
    printed(plan, result, cache, 0.0)


def kinds() -> None:
    """Threads, screws, dovetails, magnets, doors."""
    for number in (0, 1):
        of_joint(ThreadJoint(id="j1", face=FACE, diameter_mm=14 - 2 * number, pitch_mm=3, length_mm=6 + number))
        looked_at(box(60, 60, 60), level(1, 30), joints=(MagnetJoint(id="j1", face=FACE, count=2 + number),))
        shell = tube(40, 36 - number, 60)
        face = FACE.model_copy(update={"b": "p1+ p2-"})
        for at, collar in ((50 - 15 * number, 8.0), (50, 7.0)):
            pins = PinJoint(id="j1", face=face, count=3, diameter_mm=5, length_mm=5, collar_mm=collar)
            looked_at(shell, level(1, 30 - number), level(2, at), joints=(pins,))
        door = HatchParting(
            id="p1",
            at_mm=(0, 0, 40),
            outline=Rectangle(width_mm=60 - 4 * number, height_mm=40),
            depth_mm=5.9,
            gap_mm=1.0,
            rebate_mm=3.0 * (1 - number),
            rebate_depth_mm=3.0,
        )
        ledge = FaceRef(parting="p1", member=1 + 2 * number, a="p1:b", b="p1:h")
        for opens in (60, 120):
            hinge = HingeJoint(id="j1", face=ledge, opens_deg=opens)
            walls = [Solid.box([-30, y - 2, 38], [30, y + 2, 60 + 20 * number]) for y in (-28, 28)]
            put_together(CASE.plus(walls) if opens == 120 else CASE, door, joints=(hinge,))
        tight = door.model_copy(update={"rebate_mm": 0.0, "gap_mm": 0.2 + 1.8 * number, "depth_mm": 10.0})
        shut = HingeJoint(id="j1", face=FaceRef(parting="p1", member=3, a="p1:b", b="p1:h"))
        put_together(THICK, tight, joints=(shut,))
        through = door.model_copy(update={"rebate_mm": 0.0, "gap_mm": 0.2 + 0.2 * number, "depth_mm": 8.0, "taper_deg": 10.0})
        looked_at(CASE, through)
    put_together(box(60, 60, 60), level(1, 30), joints=(HingeJoint(id="j1", face=FACE, opens_deg=90),))
    lid = box(80, 60, 40).minus([Solid.box([-36, -26, 4], [36, 26, 36])])
    for bead in (0.25, 0.4):
        rim = LipJoint(id="j2", face=FACE, height_mm=2.0, thickness_mm=1.8, snap_mm=bead, bumps=1)
        put_together(lid, level(1, 30), joints=(HingeJoint(id="j1", face=FACE, length_mm=40, opens_deg=110), rim))
    at_odds = DovetailJoint(id="j1", face=FACE), PinJoint(id="j2", face=FACE, count=1, places=((0.0, 20.0),))
    put_together(box(60, 60, 60), level(1, 30), joints=at_odds)
    for hub in (30.0, 34.0):
        looked_at(tube(30, 8, 30), WedgesParting(id="p1", axis="z", count=3, hub_mm=hub / 2))


def doors() -> None:
    """Doors that slide, with what stands in their way, and doors that fold."""
    beside = FACE.model_copy(update={"a": "p1-.2"})
    for number, (low, travel) in enumerate(((1, 30.0), (20, 30.0), (35, 60.0))):
        post = Solid.box([low, -20, 10], [low + 7, -14, 20])
        looked_at(CUPBOARD.plus([post]), across(1, "y", -12.0), joints=(rail(face=beside, travel_mm=travel, on="a"),))
        data, plan = folding_plan(right_jamb=15.0 if number == 1 else 0.0, travel_mm=90.0 - 20 * number)
        fits = Fits(sliding=0.2 + 0.1 * number)
        result = build(plan.model_copy(update={"fits": fits}), {**FILES, plan.model.source: data}.__getitem__, Cache())
        check(result, Cache())


def ways_and_tiles() -> None:
    """Rods, wires, stands; tiles."""
    for number in (0, 1):
        rod = RodWay(id="w1", start_mm=(10.0 * number, 0, 10), end_mm=(10.0 * number, 0, 80), diameter_mm=4 + number)
        wire = CableWay(id="w2", start_mm=(0, 15, -5), via_mm=((0, 15, 50),), end_mm=(60, 15, 50 + number), bend_mm=10)
        stand = StandWay(id="w3", start_mm=(-12, 0, 25), end_mm=(-12, 0, -30), diameter_mm=5, base_mm=60 + 20 * number)
        pin = PinJoint(id="j1", face=FACE, count=1)
        put_together(
            box(50, 50, 90), level(1, 40), joints=(pin,), ways=(rod, wire, stand), fits=Fits(sliding=0.2 + 0.05 * number)
        )
        for sides, high in ((1, 20), (2, 20 + 2 * number)):
            tiles = ModuleSet(id="m1", a_side=sides)
            looked_at(box(120, 60, high), across(1 + number, "x", 5.0 * number), modules=(tiles,), least_wall_mm=1.2 + number)


def several_parts() -> None:
    """Another part beside the open one, with something to look at and without."""
    for size in (40.0, 400.0):
        plan = plan_of(use_of(stl_of(box(20, 20, 20))), parts=(part(2, box(size, 30, 30)),))
        result, cache = everything(plan, Cache()), Cache()
        present(result, check(result, cache), cache)
    for around in (48, 56):
        for often in (400, 500):
            row = arranged((Instance(),), 0, Row(count=often, step_mm=(40, 0, 0)))
            plan = plan_of(use_of(stl_of(ellipsoid(15, 15, 10, around))), instances=row)
            result = everything(plan, Cache())
            present(result, check(result, Cache()), Cache())
    for size, at in ((20, 15.0), (22, 15.0), (22, 16.0)):
        for width in (20, 24):
            plan = plan_of(use_of(stl_of(box(width, 20, 20))), parts=(part(2, box(size, 20, 20), Instance(at_mm=(at, 0, 0))),))
            check_project(everything(plan, Cache()), Cache())
    for wide in (40, 44):
        cup, shared = use_of(stl_of(box(wide, 40, 20).minus([box(wide - 8, 32, 20).moved(0, 0, 3)]))), Cache()
        for deep, snug in ((4, 0.1), (5, 0.1), (5, 0.15)):
            lid = KeptPart(id="q2", made=LidMaker(for_part="q1", fit="snug", deep_mm=deep))
            prepared(plan_of(cup, parts=(lid,), fits=Fits(snug=snug)).working_on("q2"), source, shared, quiet)
    across_parts()
    what_moves()
    for head in (7.0, 9.0, 5.3):
        wanted = ModuleSet(id="m1", by="dovetails", neck_mm=5.0, head_mm=head)
        tile = everything(plan_of(use_of(stl_of(box(60, 60, 12))), modules=(wanted,)), Cache())
        tried_together(tile.modules[0], Cache())
    block, cache = use_of(stl_of(box(40, 40, 20))), Cache()
    tried = (("sliding", 8, 12, 0.1), ("snug", 8, 12, 0.1), ("snug", 9, 12, 0.1), ("snug", 9, 11, 0.1), ("snug", 9, 11, 0.15))
    for step, size, high, snug in tried:
        peg = part(2, box(size, 8, 20), Instance(at_mm=(0, 0, high)))
        seat = SeatStep(id="s1", part="q2", fit=step)  # type: ignore[arg-type]
        for use in (block, use_of(stl_of(box(44, 40, 20)))):
            plan = plan_of(use, prepare=(seat,), parts=(peg,), fits=Fits(snug=snug))
            prepared(plan, source, cache, quiet)


def what_moves() -> None:
    """An arm that turns past a post, whose path is carved out of that."""
    shared = Cache()
    for long, wide, end, room in (
        (60, 10, 80, 0.6),
        (62, 10, 80, 0.6),
        (60, 12, 80, 0.6),
        (60, 10, 85, 0.6),
        (60, 10, 80, 0.9),
    ):
        arm = part(2, box(long, 4, 30), Instance(at_mm=(0, 0, 10.4)))
        carved = ClearPathStep(id="s1", part="q2", movement="v1", by_mm=room)
        post = part(3, box(wide, 10, 30), Instance(at_mm=(0, 30.5, 10)), prepare=(carved,))
        turn = TurnMovement(id="v1", moves=("q2 #1",), at_mm=(0, 0, 10), begin=60, end=end)
        plan = plan_of(use_of(stl_of(box(40, 40, 10))), parts=(arm, post), movements=(turn,))
        moving(everything(plan, shared), shared)


def across_parts() -> None:
    """Half joints on a face, and their other sides in a part above."""
    shared = Cache()
    for size, wall, line, snug, count in (
        (40, 1.2, 0.45, 0.1, 3),
        (44, 1.2, 0.45, 0.1, 3),
        (40, 9.0, 0.45, 0.1, 3),
        (40, 1.2, 3.0, 0.1, 3),
        (40, 1.2, 0.45, 0.2, 3),
        (40, 1.2, 0.45, 0.1, 4),
    ):
        for half in ("takes", "stands"):
            step = OnFaceStep(id="s1", at_mm=(0, 0, 20), pattern="ring", count=count, ring_mm=20, half=half)  # type: ignore[arg-type]
            ribbed = step.joint.model_copy(update={"ribs": 3})
            above = part(2, box(size, 40, 20), Instance(at_mm=(0, 0, 20)), prepare=(MeetsStep(id="s1", part="q1"),))
            figures = {"least_wall_mm": wall, "fits": Fits(snug=snug), "prepare": (step.model_copy(update={"joint": ribbed}),)}
            plan = plan_of(use_of(stl_of(box(size, 40, 20))), parts=(above,), **figures)
            plan = plan.model_copy(update={"printer": plan.printer.model_copy(update={"line_mm": line})})
            prepared(plan, source, shared, quiet)
            prepared(plan.working_on("q2"), source, shared, quiet)


def marks_and_steps() -> None:
    """Marks, prepare steps, models of several lumps, bodies that lock each other."""
    for number in (0, 1):
        boxes = [Box(low_mm=(-31, -31, low), high_mm=(31, 31, 95)) for low in (20 + 30 * number, 70)]
        marks = (Mark(id="k1", kind="keep", box=boxes[0]), Mark(id="k2", kind="show", box=boxes[1]))
        plan, result, cache = looked_at(box(60, 60, 90 - 30 * number), level(1, 40), marks=marks)
        paint(result, cache)
        printed(plan, result, cache, 0.0)
        hollow = HollowStep(id="s1", wall_mm=3 + number)
        looked_at(box(40, 40, 40), prepare=(hollow, RepairStep(id="s2")))
        lumps = Solid.together([box(40 - 14 * number, 40, 20), box(30 + 5 * number, 30, 20).moved(0, 0, 20)])
        put_together(lumps, LumpsParting(id="p1"))
        with patch.object(proposals, "THIN_TRIANGLES", 60):
            arm = Solid.box([90, -9, 140], [230 + 20 * number, 9, 158])
            source = stl_of(Solid.cylinder(120 + 20 * number, 0, 300).plus([arm]))
            propose(plan_for(source, bed=(200, 200, 200)), lambda _, s=source: s, Cache(), Wishes(), quiet)  # type: ignore[misc]
    chain = [("one", square_link((0, 0, 0), "xy")), ("two", square_link((30, 0, 0), "xz"))]
    far = [("three", square_link((200, 0, 0), "xy")), ("four", square_link((230, 0, 0), "xz"))]
    moved = [(name, solid.moved(3, 0, 0)) for name, solid in chain]
    for bodies in (chain, moved, chain + far):
        assembled_meshes(bodies, Plan(), Cache(), 20.0)
    for off in (0.0, 1e-6):
        looked_at(box(60, 60, 30).plus([Solid.box([-10, -10, 29], [10, 10, 60])]), level(1, 30 + off))


def paint(result: Build, cache: Cache) -> None:
    """A stroke over the model's top, kept as a mark, also on a model painted before."""
    ready = result.prepared
    assert ready is not None
    for radius in (10.0, 40.0):
        high = float(ready.mesh.bounds[1][2])
        stroke = Stroke(radius_mm=radius, at_mm=((0, 0, high),), normals=((0, 0, 1),))
        found = painted(stroke, (), ready.mesh, ready.key, cache)
        marked((Mark(id="k1", kind="keep", painted=found),) if found else (), ready.mesh, ready.key, cache)


def more_inputs() -> dict[str, list[dict[str, object]]]:
    """Inputs that no small model gives: two boxes that hang together by an edge, a wire that ends inside, a body shifted."""
    edge = Solid.together([Solid.box([0, 0, 0], [10, 10, 10]), Solid.box([10, 10, 0], [20, 20, 10])])
    shut = Keyed((box(40, 40, 40).minus([Solid.box([-10, -10, 10], [10, 10, 30])]),), "shut")
    up = np.array([0.0, 0.0, 1.0])
    away = np.array([0.0, 0.0, 41.0])
    side = {"moving": Keyed((box(10, 10, 10),), "ten"), "still": Keyed((box(10, 10, 10).moved(20, 0, 0),), "beside")}
    slid = {**side, "way": (1.0, 0.0, 0.0), "exact": True, "cache": Cache()}
    turned = np.column_stack([np.eye(3), np.zeros(3)])
    past = {
        "bodies": Keyed((box(30, 4, 4),), "bar"),
        "matrix": turned,
        "still": Keyed(form_of(Cache(), Keyed((box(10, 10, 10).moved(0, 12, 0),), "post")), "post"),
        "way": (1.0, 0.0, 0.0),
    }
    quarter = np.array([[0.0, -1.0, 0.0, 0.0], [1.0, 0.0, 0.0, 0.0], [0.0, 0.0, 1.0, 0.0]])
    drawer = cupboard(rail(travel_mm=45.0))
    door, body = drawer.parts
    along = {"moving": [door], "still": [body], "way": (1.0, 0.0, 0.0), "travel_mm": 100.0, "bending": []}
    post = Gives((box(2, 2, 12),), (box(2, 2, 12).moved(1, 0, 0),), "post")
    return {
        "bent": [
            {"bodies": Keyed((box(10, 10, 10),), "ten"), "gives": post},
            {"bodies": Keyed((box(12, 10, 10),), "twelve"), "gives": post},
            {"bodies": Keyed((box(10, 10, 10),), "ten"), "gives": replace(post, bent=post.straight, made_by="straight")},
        ],
        "slid": [along, {**along, "way": (-1.0, 0.0, 0.0)}, {**along, "bending": drawer.placed}],
        "films": [{"body": Keyed(edge, "edge")}],
        "settle": [
            {"body": Keyed(box(40, 40, high), f"{high} high"), "frame": plane_frame(np.array([0.0, 0.0, at]), up)}
            for high, at in ((40.0, 40.001), (40.0, 40.0015), (40.0005, 40.001))
        ],
        "open": [
            {"pieces": [shut], "at": np.array([0.0, 0.0, 20.0]), "out": up},
            {"pieces": [shut], "at": away, "out": up},
            {"pieces": [shut], "at": away, "out": -up},
            {"pieces": [Keyed((box(4, 4, 4).moved(100, 0, 0),), "far")], "at": np.array([0.0, 0.0, 20.0]), "out": up},
        ],
        "slide": [{**slid, "shift": None}, {**slid, "shift": np.array([0.0, 30.0, 0.0])}],
        "after": [
            past,
            {**past, "matrix": quarter},
            {**past, "way": (0.0, 1.0, 0.0)},
            {**past, "bodies": Keyed((box(4, 30, 4),), "other bar")},
            {**past, "still": Keyed(form_of(Cache(), Keyed((box(10, 10, 10).moved(12, 0, 0),), "end")), "end")},
        ],
    }


def what_prints() -> None:
    """A fin that no line fits into, and one that is thick enough, in layers and lines of two sizes."""
    for thick in (0.4, 0.5):
        body = box(8, 8, 2).plus([Solid.box((3.9, -thick / 2, 0), (8.0, thick / 2, 2))])
        for layer, line in ((0.2, 0.45), (0.4, 0.45), (0.2, 0.3)):
            printed_view(Keyed(body, f"fin {thick}"), layer, line, Cache(), quiet)


def work() -> None:
    """All of it."""
    blocks()
    what_prints()
    kinds()
    doors()
    ways_and_tiles()
    several_parts()
    marks_and_steps()
