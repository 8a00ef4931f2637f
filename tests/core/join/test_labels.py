"""Mating marks: the letters of the font, right way round on both sides, off the joints, and only where asked."""

import unittest

import numpy as np
import shapely

from hinoki.core.build import Build
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.sections import section_of
from hinoki.core.geometry.solid import Solid
from hinoki.core.geometry.text_outlines import STEM, lettered
from hinoki.core.join.joints import FaceRef, PinJoint
from hinoki.core.plan.label_settings import MatingMarks
from tests.checked import findings_of
from tests.shapes import box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
BLOCK = stl_of(box(60, 60, 60))


def marked(*, data: bytes = BLOCK, pins: bool = True, **wish: object) -> Build:
    joints = (PinJoint(id="j1", face=FACE, count=2, diameter_mm=6, length_mm=6),) if pins else ()
    marks = MatingMarks(on=True, **wish)  # type: ignore[arg-type]
    return built(data, plan_for(data, level(1, 30), joints=joints, mating_marks=marks))


def part(result: Build, key: str) -> Solid:
    return next(p.solid for p in result.parts if p.key == key)


class Lettering(unittest.TestCase):
    def test_capitals_are_as_high_as_asked_and_have_their_counters(self) -> None:
        for text, parts, holes in (("I", 1, 0), ("O", 1, 1), ("B", 1, 2), ("A5", 2, 1)):
            shape = lettered(text, 10)
            self.assertEqual((len(shape.geoms), sum(len(g.interiors) for g in shape.geoms)), (parts, holes), text)
            self.assertAlmostEqual(shape.bounds[3] - shape.bounds[1], 10, delta=0.5)

    def test_the_stem_of_the_letter_i_is_what_is_counted_with(self) -> None:
        x0, _, x1, _ = lettered("I", 10).bounds
        self.assertAlmostEqual((x1 - x0) / 10, STEM, delta=0.002)

    def test_a_letter_the_font_has_not_is_refused(self) -> None:
        with self.assertRaisesRegex(ValueError, "no letter"):
            lettered("\u6f22", 10)


class Marks(unittest.TestCase):
    def test_both_sides_read_right_when_looked_at(self) -> None:
        result = marked(says="letter")
        outline = lettered("A", result.marks[0].size_mm)
        for key, height, looking in (("p1-", 29.7, 1.0), ("p1+", 30.3, -1.0)):
            frame = plane_frame(np.array([0, 0, height]), np.array([0, 0, 1.0]))
            piece = section_of(part(result, key), frame)
            sunk = shapely.difference(shapely.box(-30, -30, 30, 30), piece)
            there = next(m for m in result.marks if m.side == ("a" if key == "p1-" else "b"))
            # from outside the piece: right is right on the lower one and left on the upper one
            expected = shapely.transform(outline, lambda p, s=looking, m=there: p * np.array([s, 1.0]) + np.array(m.place))
            letter = shapely.intersection(sunk, expected.buffer(0.3))
            self.assertLess(shapely.symmetric_difference(letter, expected).area, 0.02 * expected.area, key)

    def test_they_are_as_deep_as_asked_and_keep_off_the_joints(self) -> None:
        for depth in (0.4, 0.8):
            result = marked(depth_mm=depth, says="letter")
            mark = result.marks[0]
            sunk = 60 * 60 * 30 - part(result, "p1-").volume_mm3
            pins = marked(says="letter", without=(FACE.id,))
            expected = mark.shape.area * depth - (part(pins, "p1-").volume_mm3 - 60 * 60 * 30)
            self.assertAlmostEqual(sunk, expected, delta=0.05)
            for one in result.placed:
                for place in one.places:
                    self.assertGreater(one.joint.footprint(one.standing, place).distance(mark.shape), 0.9)

    def test_raised_marks_have_a_pocket_and_do_not_touch(self) -> None:
        result = marked(raised=True, says="letter and number")
        self.assertEqual({m.text for m in result.marks}, {"A1", "A2"})
        lower, upper = part(result, "p1-"), part(result, "p1+")
        self.assertLess(lower.common(upper).volume_mm3, 1e-6)
        self.assertEqual((len(lower.lumps()), len(upper.lumps())), (1, 1))
        self.assertFalse(result.marks[0].shape.intersects(result.marks[1].shape))

    def test_size_goes_by_room_and_too_little_is_said(self) -> None:
        large, small = marked(pins=False), marked(data=stl_of(box(14, 14, 60)), pins=False)
        self.assertGreater(large.marks[0].size_mm, small.marks[0].size_mm)
        tiny = marked(data=stl_of(box(4, 4, 60)), pins=False)
        self.assertEqual(tiny.marks, [])
        self.assertIn("mating-mark-unreadable", {f.code for f in findings_of(tiny)})

    def test_none_unless_asked(self) -> None:
        self.assertEqual(built(BLOCK, plan_for(BLOCK, level(1, 30))).marks, [])
        self.assertEqual(marked(without=(FACE.id,)).marks, [])
