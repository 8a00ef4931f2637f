"""Stands that a part rests in, and weight chambers that hold their grams."""

import math
import unittest

import numpy as np

from hinoki.core.geometry.solid import Solid
from hinoki.core.make import NotMade, StandMaker, WeightMaker
from hinoki.core.progress import quiet
from tests.core.make.test_fitted import made
from tests.shapes import box, ellipsoid

UPSIDE_DOWN = np.array([[1.0, 0, 0, 0], [0, -1.0, 0, 0], [0, 0, -1.0, 0]])


class Stands(unittest.TestCase):
    def test_a_ball_rests_in_it_with_clearance_at_its_sides(self) -> None:
        ball = ellipsoid(30, 30, 30, 96).moved(0, 0, 30)
        stand = made(StandMaker(sunk_mm=12, floor_mm=4, margin_mm=8, flares_mm=6), ball, 0.3)
        self.assertLess(stand.common(ball).volume_mm3, 1e-2)
        self.assertAlmostEqual(stand.gap(ball, 1), 0.0, delta=0.02)
        low, high = stand.bounds
        np.testing.assert_allclose((low[2], high[2]), (-4, 12), atol=1e-3)
        # the ball is 2·√(2·30·12 − 12²) across where it comes out of the stand; 8 + 6 of margin on either side
        across = 2 * math.sqrt(2 * 30 * 12 - 12**2) + 2 * 14
        self.assertAlmostEqual(high[0] - low[0], across, delta=0.3)

    def test_a_block_stands_in_a_pocket_of_its_size(self) -> None:
        found = StandMaker(sunk_mm=10, floor_mm=3, margin_mm=6, flares_mm=0).make(box(40, 30, 60), 0.3, quiet)
        pocket = 40.6 * 30.6 * 10
        self.assertAlmostEqual(found.solid.volume_mm3, (52 * 42 - (4 - math.pi) * 36) * 13 - pocket, delta=40)
        self.assertIn("the part comes out straight", " ".join(found.said))

    def test_one_deeper_than_the_part_is_high_is_refused(self) -> None:
        with self.assertRaisesRegex(NotMade, "would vanish in the stand"):
            made(StandMaker(sunk_mm=70), box(40, 30, 60))


class WeightChambers(unittest.TestCase):
    def test_it_holds_the_filling_of_so_many_grams(self) -> None:
        """m = ρ V, with the densities of shot and sand as poured (handbook values and random packing; common practice)."""
        for filling, density in (("lead", 6.9), ("steel", 4.6), ("sand", 1.6), ("water", 1.0)):
            can = made(WeightMaker(grams=300, filling=filling, inside_mm=40, wall_mm=2), None)  # type: ignore[arg-type]
            high = WeightMaker(grams=300, filling=filling, inside_mm=40).high_mm  # type: ignore[arg-type]
            inner = Solid.cylinder(20.2, 2.0, 2.0 + high).minus([can]).volume_mm3
            self.assertAlmostEqual(inner * density / 1000, 300, delta=3)

    def test_its_plug_screws_in_and_closes_it(self) -> None:
        figures = {"grams": 150.0, "inside_mm": 30.0}
        can, plug = (made(WeightMaker(piece=which, **figures), None, 0.2) for which in ("can", "plug"))  # type: ignore[arg-type]
        seated = plug.placed(UPSIDE_DOWN).moved(0, 0, can.bounds[1][2] + 4.0)
        rests = _best(seated, can, range(0, 360, 24))
        rests = _best(seated, can, range(rests - 18, rests + 19, 6))
        self.assertLess(_meets(seated, can, rests), 0.5)  # turned to where it comes to rest
        raised = seated.moved(0, 0, 1.25)
        self.assertGreater(_meets(raised, can, rests), 5)  # it cannot be drawn straight out
        self.assertLess(min(_meets(raised, can, rests + turn) for turn in (-180, 180)), 0.5)  # half a turn is half a pitch

    def test_what_is_too_slender_or_too_narrow_is_told(self) -> None:
        for maker, why in (
            (WeightMaker(grams=20_000, inside_mm=20), "Make its inside wider"),
            (WeightMaker(inside_mm=8), "too narrow for a thread"),
        ):
            with self.assertRaisesRegex(NotMade, why):
                made(maker, None)


def _turned(deg: float) -> np.ndarray:
    c, s = math.cos(math.radians(deg)), math.sin(math.radians(deg))
    return np.array([[c, -s, 0, 0], [s, c, 0, 0], [0, 0, 1.0, 0]])


def _meets(plug: Solid, can: Solid, deg: float) -> float:
    return plug.placed(_turned(deg)).common(can).volume_mm3


def _best(plug: Solid, can: Solid, turns: range) -> int:
    return min(turns, key=lambda deg: _meets(plug, can, deg))
