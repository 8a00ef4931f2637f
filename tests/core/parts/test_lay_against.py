"""Parts laid against each other: faces meet, axes of holes and bosses line up, whatever the turn."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.errors import BadPlan
from hinoki.core.geometry.solid import Solid
from hinoki.core.parts.lay_against import LayAgainst, laid_against, snapped
from hinoki.core.parts.make_part import Place
from hinoki.core.parts.standing import standing_at
from hinoki.core.plan.parts import Instance
from hinoki.core.plan.plan import Plan
from tests.effort import tried
from tests.parts import part, plan_of, source, use_of
from tests.shapes import COMMON, box, stl_of

PLATE = box(80, 60, 10).minus([Solid.cylinder(6, -1, 11, around=True).moved(20, 10, 0)])
POST = Solid.cylinder(8, 0, 5).plus([Solid.cylinder(5.8, 0, 12)])


def two(instance: Instance) -> Plan:
    """A post that is worked on, and a plate with a hole."""
    plan = plan_of(use_of(stl_of(PLATE), "plate.stl"), parts=(part(2, POST, instance, name="Post"),))
    return plan.working_on("q2")


def in_view(plan: Plan, at: tuple[float, float, float], facing: tuple[float, float, float]) -> Place:
    """A place of the project as the view of the open part has it."""
    matrix = plan.instances[0].matrix
    back = matrix[:, :3].T
    there, looks = back @ (np.array(at) - matrix[:, 3]), back @ np.array(facing)
    return Place(at_mm=tuple(there.tolist()), facing=tuple(np.clip(looks, -1, 1).tolist()))


class Snapping(unittest.TestCase):
    def test_near_a_holes_edge_its_middle_is_meant(self) -> None:
        found = snapped(PLATE, np.array([26.5, 10.0, 10.0]), np.array([0, 0, 1.0]))
        np.testing.assert_allclose(found.at, (20, 10, 10), atol=0.02)
        self.assertIn("the middle of a circle ø12", found.to)

    def test_near_the_middle_of_a_face_its_middle_and_elsewhere_the_place_itself(self) -> None:
        found = snapped(box(80, 60, 10), np.array([3.0, -2.0, 10.0]), np.array([0, 0, 1.0]))
        self.assertEqual((found.to, found.at.round(6).tolist()), ("the middle of the face", [0, 0, 10]))
        plain = snapped(PLATE, np.array([-30.0, -20.0, 10.0]), np.array([0, 0, 1.0]))
        self.assertEqual((plain.to, plain.at.tolist()), ("", [-30, -20, 10]))


class Laid(unittest.TestCase):
    @tried(8)
    @given(*(st.floats(-170, 170) for _ in range(3)), st.booleans())
    def test_a_post_stands_in_its_hole_however_it_was_turned(self, x: float, y: float, z: float, mirrored: bool) -> None:
        plan = two(Instance(at_mm=(150, 40, 60), turn_deg=(x, y, z), mirrored=mirrored))
        own = Place(at_mm=(6.5, 0.0, 5.0), facing=(0, 0, 1))  # the shoulder of the post, by its edge
        how = LayAgainst(own=own, other=in_view(plan, (20.0, 17.0, 0.0), (0, 0, -1)))
        now, said = laid_against(plan, 0, how, source, COMMON)
        self.assertIn("a circle ø11.6 onto the middle of a circle ø12.0", said)
        post, plate = (standing_at(now, q, 0, source, COMMON).value for q in ("q2", "q1"))
        self.assertLess(post.common(plate).volume_mm3, 1e-2)  # its pin is in the hole, its shoulder below
        np.testing.assert_allclose(post.bounds[0][2], -5, atol=1e-3)
        np.testing.assert_allclose(post.bounds[1][2], 7, atol=1e-3)
        np.testing.assert_allclose(post.centre_of_box[:2], (20, 10), atol=0.05)
        self.assertEqual(now.instances[0].mirrored, mirrored)

    def test_apart_and_turned(self) -> None:
        plan = two(Instance(at_mm=(150, 0, 0)))
        own = Place(at_mm=(0.0, 0.0, 12.0), facing=(0, 0, 1))
        other = in_view(plan, (-30.0, -20.0, 10.0), (0, 0, 1))
        for turn in (0.0, 35.0):
            now, _ = laid_against(plan, 0, LayAgainst(own=own, other=other, apart_mm=3.0, turn_deg=turn), source, COMMON)
            post = standing_at(now, "q2", 0, source, COMMON).value
            np.testing.assert_allclose((post.bounds[0][2], post.bounds[1][2]), (13, 25), atol=1e-3)
        first, _ = laid_against(plan, 0, LayAgainst(own=own, other=other), source, COMMON)
        turned, _ = laid_against(plan, 0, LayAgainst(own=own, other=other, turn_deg=90.0), source, COMMON)
        one, two_ = first.instances[0].matrix[:, 0], turned.instances[0].matrix[:, 0]
        self.assertAlmostEqual(float(one @ two_), 0.0, places=6)

    def test_where_there_is_nothing_and_no_such_instance(self) -> None:
        plan = two(Instance(at_mm=(150, 0, 0)))
        own = Place(at_mm=(0.0, 0.0, 12.0))
        with self.assertRaisesRegex(BadPlan, "Nothing flat of another part is at this place"):
            laid_against(plan, 0, LayAgainst(own=own, other=in_view(plan, (0, 0, 50), (0, 0, 1))), source, COMMON)
        with self.assertRaisesRegex(BadPlan, "There is no Post 4"):
            laid_against(plan, 3, LayAgainst(own=own, other=own), source, COMMON)
