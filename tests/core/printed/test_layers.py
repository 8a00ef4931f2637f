"""What prints of bodies whose thin places are known: fins, cones, plates; and lines against the estimate."""

import math
import unittest

import numpy as np

from hinoki.core.batch.estimate.estimate import estimate
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.shape import Body, Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.offsets.narrow import bolder
from hinoki.core.model.steps import ReliefStep, StepRefused
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.printed.drawn_up import drawn_up
from hinoki.core.printed.layers import Printed, printed
from hinoki.core.printed.lines import lines_of
from hinoki.core.progress import quiet
from hinoki.core.workshop.materials import materials
from hinoki.core.workshop.printers import presets
from tests.shapes import box

BED = presets()[1]
PLA = materials()[0]
HERE: Points = np.column_stack([np.eye(3), np.zeros(3)])
LINE = 0.45


def of(body: Solid, layer_mm: float = 0.2) -> Printed:
    return printed(body, layer_mm, LINE, quiet)


def fin(thick: float) -> Solid:
    """A block with a fin of 10 mm upon its side, as thick as said."""
    return box(20, 20, 10).plus([Solid.box((9.9, -thick / 2, 0), (20.0, thick / 2, 10))])


class WhatPrints(unittest.TestCase):
    def test_a_fin_thinner_than_a_line_is_lost_and_a_thicker_one_is_not(self) -> None:
        thin, thick = of(fin(0.4)), of(fin(0.5))
        self.assertEqual((thick.lost_mm3, thick.worst), (0.0, None))
        self.assertAlmostEqual(thin.lost_mm3, 0.4 * 10 * 10, delta=0.03 * 40)
        self.assertAlmostEqual(thin.reach_mm, 10, delta=0.3)
        worst = thin.worst
        assert worst is not None
        self.assertGreater(worst[0], 10)

    def test_square_corners_are_no_loss(self) -> None:
        self.assertEqual(of(box(20, 20, 4)).lost_mm3, 0.0)

    def test_the_tip_of_a_cone_is_lost_where_it_is_thinner_than_a_line(self) -> None:
        """Above the height at which its diameter is a line's width: a cone of that width, up to the layers' steps."""
        cone = Solid.cone(10, 0.001, 0, 20)
        tip = 20 * LINE / 2 / 10
        found = of(cone, 0.05)
        self.assertAlmostEqual(found.lost_mm3 / (math.pi / 3 * (LINE / 2) ** 2 * tip), 1, delta=0.25)
        self.assertTrue(all(one.lost.is_empty for one in found.layers if one.high < 20 - tip - 0.1))

    def test_all_of_a_plate_that_no_line_fits_into(self) -> None:
        found = of(box(20, 0.3, 5))
        self.assertAlmostEqual(found.lost_share, 1.0)
        self.assertTrue(all(one.prints.is_empty for one in found.layers))

    def test_what_hangs_on_nothing_that_prints_is_told_by_its_own_length(self) -> None:
        """A leaf of 8 mm far from a block: it is no more than 8.3 mm of it that is lost, not the 40 mm between them."""
        leaf = Solid.together([box(10, 10, 4), Solid.box((40, -0.15, 0), (48, 0.15, 4))])
        self.assertAlmostEqual(of(leaf).reach_mm, 8.3, delta=0.05)

    def test_a_tall_body_is_looked_at_in_fewer_layers_and_says_so(self) -> None:
        tall = of(box(5, 5, 400), 0.1)
        self.assertFalse(tall.every)
        self.assertLessEqual(len(tall.layers), 1500)
        self.assertAlmostEqual(tall.drawn_mm3, 25 * 400, delta=3)

    def test_layers_stacked_have_the_volume_of_the_sections(self) -> None:
        found = of(fin(0.5))
        mesh = drawn_up([(one.low, one.high, one.prints) for one in found.layers])
        corners = mesh.vertices[mesh.faces]
        volume = float(np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum() / 6)
        self.assertAlmostEqual(volume, found.drawn_mm3, delta=0.01 * volume)
        self.assertEqual(len(drawn_up([]).faces), 0)


class MadeWider(unittest.TestCase):
    def test_what_no_line_fits_into_prints_once_it_is_made_as_wide(self) -> None:
        """A fin of 0.3 × 10 × 10 mm made 0.45 mm wide gains 0.15 × 10 × 10 = 15 mm³, and no more than a rounded end."""
        body = fin(0.3)
        wider, added = bolder(body, LINE, 0.2, quiet)
        self.assertAlmostEqual(added, 15, delta=0.1 * 15 + 1)
        self.assertEqual(of(wider).lost_mm3, 0.0)
        self.assertTrue(body.minus([wider]).volume_mm3 < 1e-6)

    def test_what_is_wide_enough_stays_as_it_is(self) -> None:
        body = fin(0.5)
        wider, added = bolder(body, LINE, 0.2, quiet)
        self.assertIs(wider, body)
        self.assertEqual(added, 0.0)

    def test_relief_makes_detail_as_wide_as_it_is_told_to(self) -> None:
        step = ReliefStep(id="s1", factor=1.0, at_least_mm=LINE)
        out = step.apply(Shape((Body("fin", solid=fin(0.3)),)), quiet)
        self.assertIn("at least 0.45 mm wide", out.said[1])
        after = out.shape.solid
        assert after is not None
        self.assertEqual(of(after).lost_mm3, 0.0)
        leaf = Mesh(np.array([(0, 0, 0), (1, 0, 0), (0, 1, 0)], dtype=float), np.array([(0, 1, 2)]))
        with self.assertRaisesRegex(StepRefused, "not closed"):
            step.apply(Shape((Body("leaf", leaf),)), quiet)


class LinesOfABlock(unittest.TestCase):
    def test_walls_and_infill_by_hand(self) -> None:
        """Three walls of a block of 40 × 30: rings of 2 (w + h) less 8 times how far in each lies; hatching: area / spacing."""
        settings = PrintSettings(walls=3, skins=0, infill_percent=20)
        lines = lines_of(box(40, 30, 2), BED, settings)
        rings = sum(2 * (40 + 30) - 8 * (k + 0.5) * LINE for k in range(3))
        core = (40 - 6 * LINE) * (30 - 6 * LINE)
        self.assertEqual(lines.layers, 10)
        self.assertAlmostEqual(lines.walls_mm / (10 * rings), 1, delta=1e-3)
        self.assertAlmostEqual(lines.infill_mm / (10 * core / LINE * 0.2), 1, delta=0.03)
        self.assertEqual(lines.skins_mm, 0.0)

    def test_skins_lie_where_the_next_layers_cover_nothing(self) -> None:
        stair = box(40, 40, 4).plus([Solid.box([-20, -20, 0], [0, 20, 8])])
        lines = lines_of(stair, BED, PrintSettings(walls=2, skins=4, infill_percent=0))
        tread = 38.2 * 38.2 + 18.2 * 38.2 + 20 * 38.2
        self.assertAlmostEqual(lines.skins_mm * lines.section_mm2 / (0.8 * tread), 1, delta=0.06)

    def test_the_estimate_has_the_volume_and_the_time_of_the_lines(self) -> None:
        """Blocks, a ring, a cone, and a comb with many corners: mass within 5 %, drawing time within 10 %."""
        comb = Solid.united([box(60, 10, 4), *(box(2, 40, 4).moved(x, 20, 0) for x in range(-28, 29, 7))])
        ring = Solid.cylinder(30, 0, 6).minus([Solid.cylinder(22, -1, 7, around=True)])
        settings = PrintSettings()
        for name, body in (("block", box(40, 30, 6)), ("ring", ring), ("cone", Solid.cone(20, 5, 0, 12)), ("comb", comb)):
            with self.subTest(name):
                lines = lines_of(body, BED, settings)
                quick = estimate(body, HERE, 0.0, BED, PLA, settings)
                drawing = quick.minutes * 60 - lines.layers * BED.layer_time_s
                self.assertAlmostEqual(quick.mass_g / PLA.mass_g(lines.volume_mm3), 1, delta=0.05)
                self.assertAlmostEqual(drawing / lines.seconds, 1, delta=0.10)
