"""Parts as screens see them: where they stand, and drawings that stay light however often a part stands."""

import unittest

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.make import LidMaker
from hinoki.core.parts.arrange import Row, arranged
from hinoki.core.plan.parts import Instance, KeptPart
from hinoki.present.build import present
from hinoki.present.parts.view import FEW, MOST_DRAWN
from tests.parts import everything, part, plan_of, use_of
from tests.shapes import box, ellipsoid, stl_of


class Seen(unittest.TestCase):
    def test_where_all_instances_stand(self) -> None:
        pods = arranged((Instance(at_mm=(50, 0, 0)),), 0, Row(count=3, step_mm=(0, 40, 0)))
        plan = plan_of(use_of(stl_of(box(60, 60, 40))), parts=(part(2, box(20, 20, 30), *pods, name="Pod"),))
        result = everything(plan)
        view = present(result, check(result, Cache()), Cache()).view
        body, pod = view.parts
        self.assertEqual((body.name, body.open, pod.name, pod.open, pod.count), ("made", True, "Pod", False, 3))
        self.assertEqual((pod.low_mm, pod.high_mm), ((40.0, -10.0, 0.0), (60.0, 90.0, 30.0)))
        np.testing.assert_allclose(np.array(pod.matrices[2]).reshape(3, 4)[:, 3], (50, 80, 0))
        self.assertEqual([(n.name, n.count) for n in view.needed], [("Piece 1", 1), ("Pod", 3)])

    def test_what_stands_often_is_drawn_coarsely_and_built_as_it_is(self) -> None:
        ball = ellipsoid(15, 15, 10, 96)
        for often in (2, 400):
            row = arranged((Instance(at_mm=(0, 100, 0)),), 0, Row(count=often, step_mm=(40, 0, 0)))
            plan = plan_of(use_of(stl_of(box(60, 60, 40))), parts=(part(2, ball, *row),))
            result = everything(plan)
            shown = present(result, check(result, Cache()), Cache())
            drawn = shown.meshes[shown.view.parts[1].pieces[0].mesh]
            faces = len(drawn.faces) if not hasattr(drawn, "triangles") else drawn.triangles
            whole = result.others[0].pieces[0]
            self.assertEqual(len(whole.mesh.faces), ball.triangles)
            if often == 2:
                self.assertEqual(shown.view.parts[1].pieces[0].mesh, whole.made_by)
            else:
                self.assertLessEqual(faces, max(FEW, MOST_DRAWN // often) * 1.05)
                low, high = drawn.bounds
                np.testing.assert_allclose(high - low, ball.size, atol=1.0)


class NotMade(unittest.TestCase):
    def test_a_part_that_cannot_be_made_says_why_beside_those_that_are_there(self) -> None:
        lid = KeptPart(id="q2", made=LidMaker(for_part="q1"))
        result = everything(plan_of(use_of(stl_of(box(20, 20, 20))), parts=(lid,)).working_on("q2"))
        shown = present(result, check(result, Cache()), Cache()).view
        self.assertEqual((shown.state, [f.code for f in shown.findings]), ("empty", ["not-made"]))
        self.assertIn("no opening with a flat rim", shown.findings[0].message)
        self.assertEqual([(p.name, len(p.pieces)) for p in shown.parts], [("made", 1), ("Lid", 0)])
