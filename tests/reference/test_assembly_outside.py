"""Assemblies whose answer is known: things everyone has put together, chains that cannot be, and a published puzzle."""

import itertools
import random
import unittest

import numpy as np

from hinoki.core.assemble.assembled import Assembled
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import FaceRef, ThreadJoint
from hinoki.present.schemas.assemble import AssemblyView, StepView
from tests.core.assemble.bodies import burr, cabinet, of_cells, open_box, rings_on_a_post, square_link
from tests.presented import assembly_seen, bodies_seen
from tests.shapes import built, level, plan_for, stl_of, tube

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
Cells = dict[str, set[tuple[int, int, int]]]


class Everyday(unittest.TestCase):
    """Things with one way to put them together."""

    def order(self, view: AssemblyView) -> list[str]:
        self.assertTrue(all(s.proof in ("proved", "tried by sampling") for s in view.steps), [s.why for s in view.steps])
        return [s.lead for s in view.steps]

    def test_rings_go_onto_their_post_from_above_the_lowest_first(self) -> None:
        _, view = bodies_seen(rings_on_a_post(4))
        self.assertEqual(self.order(view), ["foot", "ring 0", "ring 1", "ring 2", "ring 3"])
        for step in view.steps[1:]:
            self.assertEqual((step.motion.kind, step.motion.direction), ("slide", (0, 0, -1)))

    def test_a_ring_travels_at_least_to_the_end_of_the_post(self) -> None:
        _, view = bodies_seen(rings_on_a_post(3))
        # the post ends 80 mm up, the rings lie at 10.05, 30.05 and 50.05 mm
        for step, height in zip(view.steps[1:], (10.05, 30.05, 50.05), strict=True):
            self.assertAlmostEqual(step.motion.distance_mm, 80 - height, delta=1.0)

    def test_boxes_in_boxes_go_in_from_above(self) -> None:
        boxes = {"outer": open_box(90, 80, 5, 80), "middle": open_box(79, 70, 5, 74).moved(0, 0, 5.1)}
        boxes["inner"] = open_box(69, 60, 5, 66).moved(0, 0, 10.2)
        _, view = bodies_seen(boxes)
        self.assertEqual(self.order(view)[0], "outer")
        self.assertTrue(all(s.motion.direction == (0, 0, -1) for s in view.steps[1:]))

    def test_a_drawer_goes_in_before_the_face_frame(self) -> None:
        _, view = bodies_seen(cabinet())
        order = self.order(view)
        self.assertLess(order.index("drawer"), order.index("frame"))
        drawer = next(s for s in view.steps if s.lead == "drawer")
        self.assertEqual(drawer.motion.direction, (0, 1, 0))

    def test_to_have_the_drawer_out_the_frame_comes_off_first(self) -> None:
        _, view = bodies_seen(cabinet())
        how = next(r for r in view.replacing if r.unit == "drawer")
        self.assertTrue(how.possible)
        self.assertEqual([o.units for o in how.first], [["frame"]])

    def test_a_dovetail_closed_at_one_end_goes_in_from_the_other(self) -> None:
        tail = np.array([[-5.0, 0], [5, 0], [8, 8], [-8, 8]])
        socket = np.array([[-5.2, -0.1], [5.2, -0.1], [8.2, 8.2], [-8.2, 8.2]])
        upright = np.array([[1.0, 0, 0, 0], [0, 0, 1, 0], [0, 1, 0, 0]])  # the outline is drawn across, extruded along y

        def along(outline: np.ndarray, low: float, high: float) -> Solid:
            made = Solid.frustum(outline, outline, low, high)
            return made.placed(upright @ np.vstack([np.eye(4)[:3], [0, 0, 0, 1]]))

        rail = Solid.united([Solid.box([-20, 0, -10], [20, 60, 0]), along(tail, 20, 60)])
        slot = along(socket, 19.8, 61)
        rider = Solid.box([-20, 20, 0.05], [20, 80, 14]).minus([slot])
        _, view = bodies_seen({"rail": rail, "rider": rider})
        # the slot ends inside the rider at y = 61: it comes on along -y only
        self.assertEqual(view.steps[1].proof, "proved")
        ways = [s.motion.direction for s in view.steps[1:]]
        moves = {"rail": (0, 1, 0), "rider": (0, -1, 0)}
        self.assertEqual(ways, [moves[view.steps[1].lead]])

    def test_a_jar_is_screwed_shut(self) -> None:
        data = stl_of(Solid.cylinder(30, 0, 60))
        plan = plan_for(data, level(1, 30.0))
        joint = ThreadJoint(id="j1", face=FACE, diameter_mm=30, pitch_mm=4, length_mm=12)
        plan = plan.model_copy(update={"joints": (joint,)})
        result = built(data, plan)
        step = assembly_seen(result, plan)[1].steps[1]
        self.assertEqual((step.motion.kind, step.proof), ("screw", "tried by sampling"))
        self.assertGreater(abs(step.motion.turns), 1.0)
        self.assertAlmostEqual(step.motion.screw_mm / abs(step.motion.turns), 4.0, delta=0.05)

    def test_pegs_in_a_board_go_in_one_by_one_after_the_board(self) -> None:
        spots = list(itertools.product(range(4), range(3)))
        holes = [Solid.cylinder(4.2, -1, 31).moved(25.0 * x, 25.0 * y, 0) for x, y in spots]
        board = Solid.box([-15, -15, 0], [90, 65, 30]).minus(holes)
        pegs = {f"peg {k}": Solid.cylinder(4, 2, 45).moved(25.0 * x, 25.0 * y, 0) for k, (x, y) in enumerate(spots)}
        _, view = bodies_seen({"board": board, **pegs})
        order = self.order(view)
        self.assertEqual((order[0], len(order)), ("board", 13))
        self.assertTrue(all(s.motion.direction == (0, 0, -1) for s in view.steps[1:]))


class Locked(unittest.TestCase):
    """Things that cannot be put together by straight moves."""

    def test_links_of_a_chain_have_no_order(self) -> None:
        links = {
            "one": square_link((0, 0, 0), "xy"),
            "two": square_link((30, 0, 0), "xz"),
            "three": square_link((60, 0, 0), "xy"),
        }
        _, view = bodies_seen(links)
        self.assertEqual({frozenset(g.units) for g in view.locked}, {frozenset(links)})
        self.assertTrue(all(s.proof == "no order" for s in view.steps))
        self.assertIn("no-order", {f.code for f in view.findings})

    def test_a_bayonet_is_not_said_to_go_straight(self) -> None:
        # a lug below a lip that has gaps elsewhere: it goes in at a gap, then turns; no straight way out
        lip = tube(20, 15, 6).moved(0, 0, 20)
        gap = [Solid.box([-4, 14, 19], [4, 21, 27]), Solid.box([-4, -21, 19], [4, -14, 27])]
        socket = Solid.united([tube(24, 20, 26), Solid.cylinder(24, -4, 0), lip]).minus(gap)
        lugs = Solid.united([Solid.cylinder(14.5, 0.1, 40), Solid.box([-19.5, -3.5, 12], [19.5, 3.5, 19.8])])
        turned = {"socket": socket, "plug": lugs}
        _, view = bodies_seen(turned)
        self.assertEqual([s.proof for s in view.steps], ["no order"])
        quarter = np.array([[0.0, -1, 0, 0], [1, 0, 0, 0], [0, 0, 1, 0]])
        _, lined_up = bodies_seen({"socket": socket, "plug": lugs.placed(quarter)})
        self.assertEqual([s.proof for s in lined_up.steps], ["proved", "proved"])


class Burr(unittest.TestCase):
    """The standard six-piece burr: three pairs of crossing rods, 2 × 2 × 6, of which one is not notched, the key. Published as
    a family by Cutler (Journal of Recreational Mathematics 10, 1978): a burr without holes comes apart beginning with its key.
    The notches of this one were found by a search for a set in which the key alone can move first."""

    pieces: Cells
    out: Assembled
    view: AssemblyView

    @classmethod
    def setUpClass(cls) -> None:
        cls.pieces = burr()
        bodies = {name: of_cells(cells, 10.0) for name, cells in cls.pieces.items()}
        cls.out, cls.view = bodies_seen(bodies)

    def test_it_is_whole(self) -> None:
        cells = list(itertools.chain.from_iterable(self.pieces.values()))
        self.assertEqual((len(cells), len(set(cells))), (104, 104))

    def test_the_key_alone_can_leave_first(self) -> None:
        free = set()
        ways = [np.eye(3)[k] * sign for k in range(3) for sign in (1.0, -1.0)]
        for name in self.pieces:
            rest = frozenset(self.pieces) - {name}
            free |= {name for way in ways if not self.out.blocking.blockers(frozenset((name,)), rest, tuple(way))}
        self.assertEqual(free, {"rod 1"})

    def test_an_order_is_found_and_the_key_goes_in_last(self) -> None:
        self.assertEqual(len(self.view.steps), 6)
        self.assertTrue(all(s.proof == "proved" for s in self.view.steps))
        last = self.view.steps[-1]
        self.assertEqual((last.lead, last.units), ("rod 1", ["rod 1"]))
        self.assertEqual(np.abs(last.motion.direction).tolist(), [1, 0, 0])


class BlockWorlds(unittest.TestCase):
    """Random worlds of blocks: a search through all ways to part them, in six directions, agrees on whether there is one."""

    def worlds(self, count: int, seed: int) -> list[Cells]:
        """Cubes of 3 × 3 × 3 cells, wholly taken by pieces that grew cell by cell."""
        rng = random.Random(seed)
        return [self.grown(rng, rng.choice((3, 4, 5))) for _ in range(count)]

    def grown(self, rng: random.Random, count: int) -> Cells:
        free = set(itertools.product(range(3), repeat=3))
        world: Cells = {f"b{k}": {cell} for k, cell in enumerate(rng.sample(sorted(free), count))}
        free -= set().union(*world.values())
        while free:
            cells = world[rng.choice(sorted(world))]
            beside = {(x + dx, y + dy, z + dz) for x, y, z in cells for dx, dy, dz in STEPS} & free
            if beside:
                cell = rng.choice(sorted(beside))
                cells.add(cell)
                free.remove(cell)
        return world

    def test_the_planner_agrees_with_a_search_through_everything(self) -> None:
        said = {True: 0, False: 0}
        for world in self.worlds(40, 20):
            possible = parts(world, frozenset(world))
            _, view = bodies_seen({name: of_cells(cells) for name, cells in world.items()})
            found = not view.locked
            if possible or all(is_along_an_axis(s) for s in view.steps):
                self.assertEqual(found, possible, world)
            said[possible] += 1
        self.assertGreater(min(said.values()), 3, said)


STEPS = ((1, 0, 0), (-1, 0, 0), (0, 1, 0), (0, -1, 0), (0, 0, 1), (0, 0, -1))


def is_along_an_axis(step: StepView) -> bool:
    way = step.motion.direction
    return way is None or (step.motion.kind == "slide" and sorted(abs(c) for c in way) == [0, 0, 1])


def parts(world: Cells, group: frozenset[str]) -> bool:
    """Whether a group can be taken apart by splits into two that slide apart along an axis, tried exhaustively."""
    if len(group) == 1:
        return True
    names = sorted(group)
    for size in range(1, len(names)):
        for some in itertools.combinations(names, size):
            moving = frozenset(some)
            rest = group - moving
            if any(clears(world, moving, rest, step) for step in STEPS) and parts(world, moving) and parts(world, rest):
                return True
    return False


def clears(world: Cells, moving: frozenset[str], rest: frozenset[str], step: tuple[int, int, int]) -> bool:
    still = set().union(*(world[n] for n in rest))
    return not any(tuple(c[k] + t * step[k] for k in range(3)) in still for n in moving for c in world[n] for t in range(1, 5))
