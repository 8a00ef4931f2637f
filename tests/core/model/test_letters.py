"""Letters sunk and raised: as deep as was said, on flat and curved surfaces; what they cannot be."""

import math
import unittest

import numpy as np

from hinoki.core.geometry.shape import Body, Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.geometry.text_outlines import lettered
from hinoki.core.model.steps import LettersStep, Outcome, StepRefused
from hinoki.core.progress import quiet
from tests.shapes import box


def written(body: Solid, **figures: object) -> Outcome:
    return LettersStep(id="s1", **figures).apply(Shape((Body("part", solid=body),)), quiet)  # type: ignore[arg-type]


def gained(body: Solid, outcome: Outcome) -> float:
    return outcome.shape.volume_mm3 - body.volume_mm3


class OnSurfaces(unittest.TestCase):
    plate = box(60, 30, 5)
    area = lettered("No. 7", 8.0).area

    def test_on_a_flat_face_they_are_as_deep_and_as_high_as_was_said(self) -> None:
        at = {"text": "No. 7", "at_mm": (0, 0, 5), "deep_mm": 1.2}
        self.assertAlmostEqual(gained(self.plate, written(self.plate, how="sunk", **at)), -1.2 * self.area, delta=0.05)
        raised = written(self.plate, how="raised", **at)
        self.assertAlmostEqual(gained(self.plate, raised), 1.2 * self.area, delta=0.05)
        self.assertAlmostEqual(raised.shape.bounds[1][2], 6.2, places=3)
        self.assertEqual(len(raised.shape.bodies[0].solid.lumps()), 1)  # type: ignore[union-attr]

    def test_along_a_cylinder_they_keep_their_depth_along_the_way_it_looks(self) -> None:
        """What is sunk by d along a direction takes d times the area seen in it (Cavalieri)."""
        drum = Solid.cylinder(25, 0, 60).placed(np.array([[0, 0, 1.0, -30], [1.0, 0, 0, 0], [0, 1.0, 0, 0]]))  # along X
        for how, sign in (("sunk", -1), ("raised", 1)):
            outcome = written(drum, text="No. 7", how=how, at_mm=(0, 0, 25), deep_mm=1.0)
            self.assertAlmostEqual(sign * gained(drum, outcome), self.area, delta=0.3)
            self.assertEqual(outcome.findings, [])
        turned = written(drum, text="No. 7", at_mm=(0, 0, 25), deep_mm=1.0, turn_deg=90)
        self.assertAlmostEqual(-gained(drum, turned), self.area, delta=0.3)

    def test_a_thin_wall_behind_is_left_alone(self) -> None:
        tube = Solid.cylinder(25, 0, 60).minus([Solid.cylinder(21, -1, 61)])
        outcome = written(tube, text="I", at_mm=(25, 0, 30), facing=(1, 0, 0), deep_mm=0.8, letters_mm=10)
        self.assertAlmostEqual(-gained(tube, outcome), 0.8 * lettered("I", 10.0).area, delta=0.3)

    def test_they_stand_upright_and_are_read_from_outside(self) -> None:
        outcome = written(self.plate, text="I", how="raised", at_mm=(0, -15, 2.5), facing=(0, -1, 0), letters_mm=3)
        body = outcome.shape.bodies[0].solid
        assert body is not None
        stem = body.common(Solid.box((-5, -17, 0.5), (5, -15.001, 4.5)))
        self.assertGreater(stem.size[2], 2.5)
        self.assertLess(stem.size[0], 1.0)


class Refused(unittest.TestCase):
    plate = box(60, 30, 5)

    def test_letters_that_are_none_or_that_the_font_lacks(self) -> None:
        for text, why in (("木", "no letter '木' in the font"), (" ", "There are no letters")):
            with self.assertRaisesRegex(StepRefused, why):
                written(self.plate, text=text, at_mm=(0, 0, 5))

    def test_where_there_is_no_surface(self) -> None:
        with self.assertRaisesRegex(StepRefused, "no surface under these letters"):
            written(self.plate, text="I", at_mm=(0, 0, 80))

    def test_where_it_ends_under_them_part_is_lost_and_told(self) -> None:
        outcome = written(self.plate, text="STATION", at_mm=(25, 0, 5))
        self.assertEqual([f.code for f in outcome.findings], ["letters-lost"])
        self.assertLess(-gained(self.plate, outcome), 0.8 * lettered("STATION", 8.0).area * math.sqrt(0.8))
