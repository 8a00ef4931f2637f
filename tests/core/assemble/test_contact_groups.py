"""What is moved as one hangs together, and what is brought onto something touches it: nothing is left in the air."""

import itertools
import unittest
from unittest.mock import patch

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.assemble.contact_groups import Touching
from hinoki.core.assemble.from_meshes import scene_of_meshes
from hinoki.core.assemble.motion.blocking_graph import Blocking
from hinoki.core.assemble.scene.parts import Scene
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import LumpsParting, Parting
from hinoki.core.geometry.frames import turned_to
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channels import RodWay
from hinoki.core.join.joints import SIDES
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.recommend_joints import SuitWish, suited
from tests.assembling import assembly, loose_steps, numbers_of, of_bodies
from tests.core.assemble.bodies import open_box
from tests.effort import tried
from tests.shapes import across, box, built, level, plan_for, stl_of


def parted(solid: Solid, *partings: Parting, jointed: bool = False) -> tuple[Build, Plan]:
    """A model parted, with the joints that suit it where asked."""
    data = stl_of(solid)
    plan = plan_for(data, *partings)
    if jointed:
        plan = plan.model_copy(update={"joints": suited(built(data, plan), plan, SuitWish(kind="pin")).joints})
    return built(data, plan), plan


def ship() -> Solid:
    """A hull with two masts of different height."""
    masts = [Solid.cylinder(4, 20, 120).moved(-40, 0, 0), Solid.cylinder(4, 20, 100).moved(40, 0, 0)]
    return Solid.box([-80, -20, 0], [80, 20, 30]).plus(masts)


class Groups(unittest.TestCase):
    def works(self, result: Build, plan: Plan) -> list[tuple[frozenset[int], int | None]]:
        """The steps of an order that works: pieces moved, and the piece they go onto."""
        out = assembly(result, plan)
        self.assertEqual((out.order.locked, out.order.cut_short, loose_steps(result, out)), ([], False, []))
        self.assertEqual(sorted(s.lead for s in out.order.steps), sorted(out.scene.units))
        onto = [numbers_of(out, [s.onto] if s.onto else []) for s in out.order.steps]
        return [
            (frozenset(numbers_of(out, s.units)), at[0] if at else None) for s, at in zip(out.order.steps, onto, strict=True)
        ]

    def test_the_tops_of_two_masts_go_on_one_by_one(self) -> None:
        """One plane parts both masts; each top goes onto its own mast."""
        for jointed in (False, True):
            result, plan = parted(ship(), level(1, 30), level(2, 70), jointed=jointed)
            pieces = {p.number: p for p in result.pieces}
            steps = self.works(result, plan)
            for moved, onto in steps:
                if onto is None:
                    continue
                middles = {round(float(np.mean([end[0] for end in pieces[n].bounds]))) for n in moved}
                self.assertEqual(len(middles), 1)
                self.assertIn(onto, {n for m in moved for n in pieces[m].neighbours})

    def test_separate_objects_are_put_together_each_by_itself(self) -> None:
        towers = box(20, 20, 60).plus([box(20, 20, 60).moved(100, 0, 0)])
        result, plan = parted(towers, LumpsParting(id="p1"), level(2, 30))
        steps = self.works(result, plan)
        self.assertEqual(sum(onto is None for _, onto in steps), 2)

    def test_what_bridges_two_towers_comes_last(self) -> None:
        """Towers that stand by themselves are set down; the lintel goes onto both."""
        gate = Solid.box([-50, -10, 0], [-30, 10, 60]).plus(
            [Solid.box([30, -10, 0], [50, 10, 60]), Solid.box([-50, -10, 50], [50, 10, 70])]
        )
        result, plan = parted(gate, level(1, 50))
        steps = self.works(result, plan)
        self.assertEqual([onto is None for _, onto in steps], [True, True, False])
        self.assertEqual(steps[2][0], {3})

    def test_flat_faces_part_with_a_move_of_some_length(self) -> None:
        result, plan = parted(box(40, 40, 40), level(1, 20))
        (_, step) = assembly(result, plan).order.steps
        assert step.motion is not None
        self.assertGreater(step.motion.distance_mm, 1)

    @tried(12, seconds=6)
    @given(
        full=st.lists(st.booleans(), min_size=18, max_size=18), cuts=st.sets(st.integers(0, 3), min_size=2, max_size=4),
        jointed=st.booleans(),
    )  # fmt: skip
    def test_random_heaps_of_blocks(self, full: list[bool], cuts: set[int], jointed: bool) -> None:
        places = [p for p, there in zip(itertools.product(range(3), range(3), range(2)), full, strict=True) if there]
        if len(places) < 3:
            return
        heap = Solid.united(
            [Solid.box([30 * x, 30 * y, 30 * z], [30 * x + 30, 30 * y + 30, 30 * z + 30]) for x, y, z in places]
        )
        planes = [across(1, "x", 15), across(2, "y", 45), level(3, 30), across(4, "x", 75)]
        result, plan = parted(heap, *(planes[k] for k in sorted(cuts)), jointed=jointed)
        if len(result.parts) > 1 and all(j.places for j in result.placed):
            self.assertEqual(loose_steps(result, assembly(result, plan)), [])


class Objects(unittest.TestCase):
    """What has to do with what, among bodies as they stand."""

    def objects(self, bodies: dict[str, Solid]) -> list[list[str]]:
        holding = of_bodies(bodies).holding
        assert holding is not None
        return [sorted(group) for group in Touching(holding.blocking).objects(frozenset(bodies))]

    def test_boxes_a_little_apart_are_objects_of_their_own_and_with_some_play_they_are_one(self) -> None:
        for gap, expected in ((0.4, [["a", "b"]]), (0.8, [["a"], ["b"]])):
            bodies = {"a": box(20, 20, 20), "b": box(20, 20, 20).moved(20 + gap, 0, 0)}
            self.assertEqual(self.objects(bodies), expected, gap)

    def test_what_stands_in_another_without_touching_it_belongs_to_it(self) -> None:
        bodies = {"box": open_box(60, 50, 5, 40), "thing": box(10, 10, 10).moved(0, 0, 20)}
        self.assertEqual(self.objects(bodies), [["box", "thing"]])


class WithLoose(unittest.TestCase):
    def test_a_rod_caught_in_a_piece_goes_on_with_it(self) -> None:
        """More than half of it lies in the upper piece, which has no way out for it: together they go down onto the other."""
        data = stl_of(box(60, 50, 60))
        rod = RodWay(id="w1", start_mm=(-15, 0, 31.5), end_mm=(15, 0, 31.5), diameter_mm=6)
        plan = plan_for(data, level(1, 30), ways=(rod,), bed=(100, 100, 100))
        order = assembly(built(data, plan), plan).order
        self.assertEqual([sorted(group) for group in order.locked], [["p1+", "w1"]])
        (step,) = (s for s in order.steps if s.into)
        self.assertEqual((sorted(step.units), step.into), (["p1+", "w1"], frozenset({"p1-"})))
        assert step.motion is not None
        self.assertEqual((step.motion.way, step.motion.proof), ((0.0, 0.0, 1.0), "proved"))


class Sides(unittest.TestCase):
    def test_both_sides_of_a_joint_touch(self) -> None:
        result, _ = parted(ship(), level(1, 30), jointed=True)
        for one in result.placed:
            self.assertLess(one.part(SIDES[0]).solid.gap(one.part(SIDES[1]).solid, 1), 0.05)


if __name__ == "__main__":
    unittest.main()


class Measured(unittest.TestCase):
    """Distances between bodies are what takes long: only those are measured that could change an answer, and once."""

    def scene(self) -> Scene:
        """Two boxes whose boxes overlap though they stand apart, one with a little play beside them, one far off."""
        turned = box(40, 4, 4).placed(np.column_stack([turned_to(np.array([1.0, 0.0, 1.0]) / 2**0.5)[:, :3], np.zeros(3)]))
        beside = box(10, 10, 10).moved(float(turned.bounds[1][0]) + 5.45, 0, -15)
        within, far = box(1, 1, 1).moved(12, 0, 10), box(5, 5, 5).moved(90, 0, 0)
        scene = scene_of_meshes([("bar", turned), ("in its box", within), ("beside", beside), ("far off", far)])
        scene.together.clear()  # nothing was cut from anything
        return scene

    def test_boxes_that_meet_need_no_measure_to_be_one_object(self) -> None:
        scene, cache = self.scene(), Cache()
        with patch.object(Solid, "gap", autospec=True, side_effect=Solid.gap) as measured:
            found = Touching(Blocking(scene, cache)).objects(frozenset(scene.units))
        self.assertEqual([len(g) for g in found], [3, 1])
        names = {id(s): name for name, unit in scene.units.items() for s in unit.solids}
        pairs = [sorted(names[id(s)] for s in call.args[:2]) for call in measured.call_args_list]
        self.assertEqual(pairs, [["bar", "beside"]])

    def test_a_distance_is_known_in_the_next_plan(self) -> None:
        scene, cache = self.scene(), Cache()
        first = Touching(Blocking(scene, cache)).groups(frozenset(scene.units))
        same = self.scene()
        with patch.object(Solid, "gap", autospec=True, side_effect=Solid.gap) as measured:
            again = Touching(Blocking(same, cache)).groups(frozenset(scene.units))
        self.assertEqual((again, measured.call_count), (first, 0))
