"""Models that came as several bodies taken apart: copies recognised, everything where it was."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.shape import Body
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.prepared_model import prepared
from hinoki.core.model.steps import LengthStep, MirrorStep, PairStep, ScaleStep, TurnStep
from hinoki.core.parts.equal_bodies import kinds_of
from hinoki.core.parts.standing import standing_at
from hinoki.core.parts.take_apart import taken_apart, with_part
from hinoki.core.plan.parts import Instance
from hinoki.core.plan.plan import Plan
from tests.effort import tried
from tests.parts import objects_file, part, plan_of, source, use_of
from tests.shapes import box, level, stl_of

BRACKET = Solid.box([0, 0, 0], [30, 20, 10]).minus([Solid.box([-1, -1, 4], [12, 7, 11]), Solid.box([22, 12, -1], [31, 21, 5])])
"""no turn and no mirroring brings it onto itself"""
POD = Solid.prism(8, 0, 30, 24).minus([Solid.prism(5, 4, 31, 24)])


def rigid(turn: tuple[float, float, float], at: tuple[float, float, float], mirrored: bool = False) -> Points:
    matrix = Rotation.from_euler("xyz", turn, degrees=True).as_matrix() @ np.diag([-1.0 if mirrored else 1.0, 1, 1])
    return np.column_stack([matrix, at])


def ring_of_pods(count: int = 6) -> dict[str, Solid]:
    """A body with a ring of equal pods that look outwards, and one that is not like the others."""
    found = {"Hull": Solid.prism(40, 0, 50, 48)}
    for k in range(count):
        away = rigid((0, 90, 360 / count * k), (55 * np.cos(2 * np.pi * k / count), 55 * np.sin(2 * np.pi * k / count), 25.0))
        found[f"Pod {k + 1}"] = POD.placed(away)
    return found | {"Lid": box(30, 30, 5).moved(0, 0, 60)}


def there(plan: Plan) -> list[Solid]:
    """All instances of all parts where they stand."""
    cache = Cache()
    return [
        standing_at(plan, part_id, which, source, cache).value
        for part_id in plan.part_ids
        for which in range(len(plan.working_on(part_id).instances))
    ]


class Copies(unittest.TestCase):
    @tried(12)
    @given(
        st.lists(
            st.tuples(st.tuples(*[st.floats(-180, 180)] * 3), st.tuples(*[st.floats(-200, 200)] * 3), st.booleans()),
            min_size=1,
            max_size=4,
        ),
        st.sampled_from([BRACKET, POD, box(30, 20, 10), box(20, 20, 20)]),
    )
    def test_copies_are_known_however_they_are_turned(self, moves: list, body: Solid) -> None:
        placed = [body, *(body.placed(rigid(*move)) for move in moves), box(31, 20, 10)]
        kinds = kinds_of([Body(str(k), solid=one) for k, one in enumerate(placed)])
        self.assertEqual([len(kind.copies) for kind in kinds], [len(moves) + 1, 1])
        for k, matrix in kinds[0].copies:
            self.assertLess(body.placed(matrix).minus([placed[k]]).volume_mm3, 1e-3 * body.volume_mm3)

    def test_a_mirror_image_is_told_from_a_turned_one_where_it_differs(self) -> None:
        same, other = BRACKET.placed(rigid((10, 20, 30), (5, 6, 7))), BRACKET.placed(rigid((10, 20, 30), (5, 6, 7), True))
        (kind,) = kinds_of([Body("a", solid=BRACKET), Body("b", solid=same), Body("c", solid=other)])
        self.assertEqual([round(float(np.linalg.det(m[:, :3]))) for _, m in kind.copies], [1, 1, -1])

    def test_what_is_nearly_alike_is_not_a_copy(self) -> None:
        for other in (box(30, 20.2, 10), box(30, 20, 10).minus([Solid.box([0, 0, 9], [2, 2, 11])])):
            self.assertEqual(len(kinds_of([Body("a", solid=box(30, 20, 10)), Body("b", solid=other)])), 2)


class TakingApart(unittest.TestCase):
    def test_a_ring_of_pods_becomes_one_part_that_stands_six_times(self) -> None:
        bodies = ring_of_pods()
        plan = plan_of(objects_file(bodies))
        found = taken_apart(plan, source, Cache())
        self.assertEqual(found.counts, (1, 6, 1))
        self.assertEqual([found.plan.working_on(q).part_name for q in found.plan.part_ids], ["Hull", "Pod 1", "Lid"])
        before = prepared(plan, source, Cache(), lambda *_: None).shape.bodies
        for was, now in zip(before, there(found.plan), strict=True):
            assert was.solid is not None
            np.testing.assert_allclose(np.array(now.bounds), np.array(was.solid.bounds), atol=1e-3)
            self.assertLess(was.solid.minus([now]).volume_mm3, 1e-3 * was.solid.volume_mm3)

    def test_bodies_of_one_object_are_told_apart_with_their_cavities(self) -> None:
        hollow = box(40, 40, 40).minus([Solid.box([-15, -15, 5], [15, 15, 35])])
        one = Solid.together([hollow, box(10, 10, 10).moved(60, 0, 0), box(10, 10, 10).moved(80, 0, 0)])
        found = taken_apart(plan_of(use_of(stl_of(one))), source, Cache())
        self.assertEqual(found.counts, (1, 2))
        self.assertAlmostEqual(there(found.plan)[0].volume_mm3, hollow.volume_mm3, delta=0.1)

    def test_each_body_by_itself_where_copies_are_not_wanted(self) -> None:
        self.assertEqual(
            taken_apart(plan_of(objects_file(ring_of_pods(3))), source, Cache(), copies_as_one=False).counts, (1,) * 5
        )

    def test_steps_go_along_where_they_do_the_same_to_each(self) -> None:
        steps = (ScaleStep(id="s1", factor=(2, 2, 2)), TurnStep(id="s2", turn_deg=(0, 0, 30)), MirrorStep(id="s3", axis="x"))
        plan = plan_of(objects_file(ring_of_pods(4)), prepare=steps)
        found = taken_apart(plan, source, Cache())
        before = prepared(plan, source, Cache(), lambda *_: None).shape.bodies
        for was, now in zip(before, there(found.plan), strict=True):
            assert was.solid is not None
            self.assertLess(was.solid.minus([now]).volume_mm3, 1e-3 * was.solid.volume_mm3)

    def test_a_step_that_does_something_else_to_each_is_refused(self) -> None:
        plan = plan_of(objects_file(ring_of_pods(3)), prepare=(LengthStep(id="s1", axis="z", length_mm=300),))
        with self.assertRaisesRegex(BadPlan, "Prepared alone, Hull becomes another"):
            taken_apart(plan, source, Cache())
        with self.assertRaisesRegex(BadPlan, "makes more or fewer bodies"):
            taken_apart(plan.model_copy(update={"prepare": (PairStep(id="s1", axis="x"),)}), source, Cache())

    def test_what_is_one_body_or_divided_already_is_refused(self) -> None:
        with self.assertRaisesRegex(BadPlan, "only one body"):
            taken_apart(plan_of(use_of(stl_of(box(10, 10, 10)))), source, Cache())
        with self.assertRaisesRegex(BadPlan, "divided already"):
            taken_apart(plan_of(objects_file(ring_of_pods(2)), partings=(level(1, 10),)), source, Cache())

    def test_of_several_instances_each_stays_where_it_was(self) -> None:
        twice = (Instance(), Instance(at_mm=(300, 0, 0), turn_deg=(0, 0, 90)))
        found = taken_apart(plan_of(objects_file(ring_of_pods(2)), instances=twice), source, Cache())
        self.assertEqual(found.counts, (2, 4, 2))
        hulls = there(found.plan)[:2]
        np.testing.assert_allclose(hulls[1].centre_of_box - hulls[0].centre_of_box, (300, 0, 0), atol=15)

    def test_a_further_file_becomes_a_part_of_its_own(self) -> None:
        plan = plan_of(use_of(stl_of(box(10, 10, 10))), parts=(part(4, box(5, 5, 5)),))
        more = with_part(plan, part(1, box(7, 7, 7), Instance(at_mm=(30, 0, 0))))
        self.assertEqual(more.part_ids, ("q1", "q4", "q5"))
