"""Parts and their instances: where they stand, how their pieces are named, numbered and counted."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from hinoki.core.batch.print_items import things
from hinoki.core.errors import BadPlan
from hinoki.core.export.archive import exported_plan
from hinoki.core.join.joints import DowelJoint, FaceRef, ScrewJoint
from hinoki.core.parts.arrange import Mirror, RingOf, Row, arranged
from hinoki.core.plan.batch_settings import Batching
from hinoki.core.plan.diff import differences
from hinoki.core.plan.parts import Instance, own_keys, project_key
from hinoki.core.plan.plan import Plan, plan_from, read_plan
from hinoki.core.project import project_hardware, project_loose, project_numbers, project_pieces
from tests.effort import tried
from tests.parts import everything, part, plan_of, use_of
from tests.shapes import box, level, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
DEGREES = st.floats(-180, 180, allow_nan=False)
WHERE = st.tuples(*[st.floats(-500, 500, allow_nan=False)] * 3)


class Matrices(unittest.TestCase):
    @tried(40)
    @given(WHERE, st.tuples(DEGREES, DEGREES, DEGREES), st.booleans())
    def test_a_matrix_gives_its_instance_back(self, at: tuple, turn: tuple, mirrored: bool) -> None:
        matrix = Instance(at_mm=at, turn_deg=turn, mirrored=mirrored).matrix
        again = Instance.of(matrix)
        np.testing.assert_allclose(again.matrix, matrix, atol=1e-6)
        self.assertEqual(again.mirrored, mirrored)

    def test_turns_are_about_fixed_axes_as_in_scipy(self) -> None:
        turn = (12.0, -35.0, 71.0)
        expected = Rotation.from_euler("xyz", turn, degrees=True).as_matrix()
        np.testing.assert_allclose(Instance(turn_deg=turn).matrix[:, :3], expected, atol=1e-12)

    def test_where_x_and_z_turn_about_one_line_it_still_comes_back(self) -> None:
        for degrees in ((20.0, 90.0, 50.0), (20.0, -90.0, 50.0), (0.0, 90.0, 180.0)):
            matrix = Instance(turn_deg=degrees).matrix
            np.testing.assert_allclose(Instance.of(matrix).matrix, matrix, atol=1e-6)


class Arranging(unittest.TestCase):
    def test_chords_of_a_ring(self) -> None:
        """The chord between neighbours on a circle of n is 2 r sin(π/n) (Machinery's Handbook, bolt circles; from memory)."""
        for count in (3, 6, 8, 11):
            ring = arranged((Instance(at_mm=(40.0, 0.0, 5.0)),), 0, RingOf(count=count))
            at = np.array([one.at_mm for one in ring])
            chords = np.linalg.norm(at - np.roll(at, 1, axis=0), axis=1)
            np.testing.assert_allclose(chords, 2 * 40 * np.sin(np.pi / count), atol=1e-5)
            self.assertEqual(len(ring), count)
            np.testing.assert_allclose(
                [one.turn_deg[2] % 360 for one in ring], [360 / count * k for k in range(count)], atol=1e-4
            )

    def test_in_a_ring_without_turning_along_each_looks_the_same_way(self) -> None:
        ring = arranged((Instance(at_mm=(40.0, 0.0, 0.0), turn_deg=(0, 0, 15)),), 0, RingOf(count=4, turned=False, step_deg=30))
        self.assertEqual({one.turn_deg for one in ring}, {(0.0, 0.0, 15.0)})
        np.testing.assert_allclose(ring[1].at_mm, (40 * np.cos(np.pi / 6), 40 * np.sin(np.pi / 6), 0), atol=1e-5)

    def test_a_field_and_a_mirror_image(self) -> None:
        field = arranged((Instance(),), 0, Row(count=3, step_mm=(30, 0, 0), rows=2, row_step_mm=(0, 20, 0)))
        self.assertEqual({one.at_mm[:2] for one in field}, {(x, y) for x in (0.0, 30.0, 60.0) for y in (0.0, 20.0)})
        left = Instance(at_mm=(30, 10, 0), turn_deg=(0, 0, 20))
        pair = arranged((left,), 0, Mirror(axis="x", at_mm=5.0))
        self.assertEqual([one.mirrored for one in pair], [False, True])
        corner = np.array([3.0, 7.0, 2.0])
        here, there = (one.matrix[:, :3] @ corner + one.matrix[:, 3] for one in pair)
        np.testing.assert_allclose(there, here * [-1, 1, 1] + [10, 0, 0], atol=1e-6)
        twice = arranged(pair, 1, Mirror(axis="x", at_mm=5.0))
        np.testing.assert_allclose(twice[2].matrix, left.matrix, atol=1e-6)

    def test_too_many_or_none_to_begin_with_is_refused(self) -> None:
        with self.assertRaisesRegex(BadPlan, "at most 2000"):
            arranged((Instance(),), 0, Row(count=200, rows=20))
        with self.assertRaisesRegex(BadPlan, "stands 1 times"):
            arranged((Instance(),), 3, Row())


class Plans(unittest.TestCase):
    def test_a_plan_of_before_has_one_part_that_stands_once(self) -> None:
        plan = read_plan(plan_of(use_of(stl_of(box(10, 10, 10)))).json_text())
        self.assertEqual((plan.part_ids, plan.instances), (("q1",), (Instance(),)))

    def test_opening_another_part_and_back_changes_nothing(self) -> None:
        plan = plan_of(use_of(stl_of(box(40, 40, 60))), partings=(level(1, 30),), parts=(part(2, box(10, 10, 10)),))
        other = plan.working_on("q2")
        self.assertEqual((other.part_id, other.partings, other.part_ids), ("q2", (), ("q1", "q2")))
        self.assertEqual(other.working_on("q1"), plan)
        self.assertEqual(plan_from(other.model_dump(mode="json", by_alias=True)), other)

    def test_what_cannot_be(self) -> None:
        plan = plan_of(use_of(stl_of(box(10, 10, 10))), parts=(part(2, box(10, 10, 10)),))
        with self.assertRaisesRegex(BadPlan, "no part q7; it has q1, q2"):
            plan.working_on("q7")
        twice = plan.model_dump(mode="json", by_alias=True) | {"part_id": "q2"}
        with self.assertRaisesRegex(BadPlan, "two parts are named q2"):
            plan_from(twice)
        lost = plan.model_dump(mode="json", by_alias=True) | {"part_id": "q3"}
        with self.assertRaisesRegex(BadPlan, "keeps its first part"):
            plan_from(lost)
        nowhere = plan.model_dump(mode="json", by_alias=True) | {"instances": []}
        with self.assertRaisesRegex(BadPlan, "instances"):
            plan_from(nowhere)

    def test_what_changed_is_told_of_the_same_part_whichever_is_open(self) -> None:
        plan = plan_of(use_of(stl_of(box(10, 10, 10))), parts=(part(2, box(10, 10, 10)),))
        (opened,) = differences(plan, plan.working_on("q2"))
        self.assertEqual((opened.name, opened.told), ("the one worked on", "q1 → q2"))
        twice = plan.model_copy(update={"instances": (Instance(), Instance(at_mm=(20, 0, 0))), "part_name": "Block"})
        self.assertEqual({(c.what, c.told) for c in differences(plan, twice)}, {("part", ""), ("part", " → Block")})
        more = plan.model_copy(update={"parts": (*plan.parts, part(3, box(5, 5, 5), name="Peg"))})
        self.assertEqual([(c.name, c.how) for c in differences(plan, more)], [("q3 Peg", "added")])

    def test_keys_tell_the_part(self) -> None:
        self.assertEqual([project_key("q1", "p1-"), project_key("q12", "p1-")], ["p1-", "q12 p1-"])
        every = {"p1-": 1, "q2 p1-": 2, "q12 p1-": 3}
        self.assertEqual([own_keys(q, every) for q in ("q1", "q2", "q12")], [{"p1-": 1}, {"p1-": 2}, {"p1-": 3}])


def three_levels(open_part: str = "q1") -> Plan:
    """A body in two with dowels; a pod in two with screws, that stands six times, twice of them mirrored; a plug four times."""
    dowels = DowelJoint(id="j1", face=FACE, count=2, diameter_mm=5, length_mm=12, spares=0)
    screws = ScrewJoint(id="j1", face=FACE, count=3, size="M3", into="insert")
    ring = arranged((Instance(at_mm=(80, 0, 0)),), 0, RingOf(count=4))
    pods = (*ring, *(one.model_copy(update={"mirrored": True}) for one in ring[:2]))
    pod = part(2, box(40, 40, 60), *pods, partings=(level(1, 30),), joints=(screws,))
    plug = part(3, box(8, 8, 8), *arranged((Instance(at_mm=(0, 90, 0)),), 0, Row(count=4, step_mm=(12, 0, 0))), name="Plug")
    whole = plan_of(use_of(stl_of(box(60, 60, 80)), "body.stl"), partings=(level(1, 40),), joints=(dowels,), parts=(pod, plug))
    return whole.working_on(open_part)


class Counting(unittest.TestCase):
    def test_a_bill_of_materials_worked_out_by_hand(self) -> None:
        """Three levels: the project (1 body, 6 pods, 4 plugs), their pieces, and what each piece takes.

        By hand: 2 pieces of the body; 2 of a pod, plain 4 times and mirrored twice; a plug 4 times: 2 + 8 + 4 + 4 = 18 prints;
        2 dowels; 6 × 3 = 18 screws and inserts.
        """
        for opened in ("q1", "q2", "q3"):
            with self.subTest(opened):
                plan = three_levels(opened)
                built = everything(plan)
                every = list(things(plan, built))
                pieces = {t.key: t.wanted for t in every if t.numbers}
                self.assertEqual(
                    pieces,
                    {
                        "p1-": 1, "p1+": 1, "q2 p1-": 4, "q2 p1+": 4, "q2 p1- mirrored": 2, "q2 p1+ mirrored": 2,
                        "q3 whole": 4,
                    },
                )  # fmt: skip
                self.assertEqual(sum(pieces.values()), 18)
                self.assertEqual([(one.count, one.spares) for one in project_loose(built)], [(2, 0)])
                screws = {h.name: h.count for h in project_hardware(built)}
                self.assertEqual({count for name, count in screws.items() if "M3" in name}, {18})
                self.assertEqual(sorted(project_numbers(built).values()), [1, 2, 3, 4, 5])

    def test_the_mirror_image_is_printed_as_one(self) -> None:
        plan = three_levels()
        every = {t.key: t for t in things(plan, everything(plan))}
        plain, mirrored = every["q2 p1-"].bodies[0], every["q2 p1- mirrored"].bodies[0]
        one, two = (b.solid.placed(b.matrix) for b in (plain, mirrored))
        np.testing.assert_allclose(one.mesh.vertices.sum(axis=0) * [-1, 1, 1], two.mesh.vertices.sum(axis=0), atol=1e-6)
        self.assertAlmostEqual(one.volume_mm3, two.volume_mm3, places=6)
        self.assertGreater(two.volume_mm3, 0)

    def test_spares_come_to_the_count(self) -> None:
        plan = three_levels().model_copy(update={"batching": Batching(copies={"q3 whole": 3, "q2 p1- mirrored": 2})})
        every = {t.key: t.wanted for t in things(plan, everything(plan))}
        self.assertEqual((every["q3 whole"], every["q2 p1- mirrored"], every["q2 p1-"]), (6, 3, 4))

    def test_numbers_stay_and_are_never_given_twice(self) -> None:
        built = everything(three_levels(), numbers={"q3 whole": 2, "p1+": 7})
        numbers = project_numbers(built)
        self.assertEqual((numbers["q3 whole"], numbers["p1+"]), (2, 7))
        self.assertEqual(len(set(numbers.values())), 5)
        kept = exported_plan(built.plan, built)
        self.assertEqual(project_numbers(everything(kept)), numbers)
        self.assertEqual(project_numbers(everything(kept.working_on("q2"))), numbers)

    def test_a_whole_part_is_called_by_its_name(self) -> None:
        names = [one.name for one in project_pieces(everything(three_levels())) if one.key.startswith("q3")]
        self.assertEqual(names, ["Plug"])

    def test_without_the_other_parts_nothing_is_counted(self) -> None:
        plan = three_levels()
        with self.assertRaisesRegex(ValueError, "were not built"):
            list(things(plan, everything(plan.alone()).__class__(plan)))
