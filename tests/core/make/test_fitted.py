"""Lids, plugs, drawers and fillet blocks for analytic openings and corners, against the sizes they must have."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.geometry.solid import Solid
from hinoki.core.make import DrawerMaker, FilletBlockMaker, LidMaker, MakerBase, NotMade, PlugMaker
from hinoki.core.progress import quiet
from tests.core.make.test_openings import OPEN_BOX
from tests.effort import tried
from tests.shapes import box

CABINET = Solid.box((-50, -35, 0), (50, 35, 60)).minus([Solid.box((-46, -36, 3), (46, 31, 57))])


def made(maker: MakerBase, host: Solid | None, clearance_mm: float = 0.2) -> Solid:
    return maker.make(host, clearance_mm, quiet).solid


class LidsOfABox(unittest.TestCase):
    def test_one_with_a_collar_has_its_volume_by_hand(self) -> None:
        lid = made(LidMaker(thick_mm=2, deep_mm=5, wall_mm=1.5), OPEN_BOX)
        plate, collar = 100 * 70 * 2, (91.6 * 61.6 - 88.6 * 58.6) * 5
        self.assertAlmostEqual(lid.volume_mm3, plate + collar, delta=0.5)
        np.testing.assert_allclose(lid.bounds, [(-50, -35, 55), (50, 35, 62)], atol=1e-3)

    def test_a_skirt_clears_the_outside(self) -> None:
        lid = made(LidMaker(shuts="over", deep_mm=8, wall_mm=1.6), OPEN_BOX, 0.3)
        np.testing.assert_allclose(lid.bounds, [(-51.9, -36.9, 52), (51.9, 36.9, 62.4)], atol=1e-3)
        self.assertAlmostEqual(lid.moved(0, 0, 1).gap(OPEN_BOX, 2), 0.3, delta=1e-3)

    @tried(10)
    @given(
        st.floats(20, 120), st.floats(20, 120), st.floats(2, 6), st.floats(0.05, 0.5), st.sampled_from(["in", "over", "both"])
    )
    def test_its_clearance_is_that_of_the_fit_whatever_the_box(
        self, x: float, y: float, wall: float, clearance: float, shuts: str
    ) -> None:
        host = box(x, y, 30).minus([box(x - 2 * wall, y - 2 * wall, 30).moved(0, 0, 2)])
        lid = made(LidMaker(shuts=shuts, wall_mm=1.2), host, clearance)  # type: ignore[arg-type]
        self.assertLess(lid.common(host).volume_mm3, 1e-3)
        self.assertAlmostEqual(lid.moved(0, 0, 1).gap(host, 2), clearance, delta=2e-3)
        self.assertAlmostEqual(lid.gap(host, 1), 0.0, delta=1e-6)  # it lies on the rim

    def test_a_round_one_over_a_tube(self) -> None:
        tube = Solid.cylinder(25, 0, 40).minus([Solid.cylinder(22, 3, 41, around=True)])
        lid = made(LidMaker(deep_mm=4, wall_mm=2, thick_mm=3), tube)
        wanted = math.pi * (25**2 * 3 + (21.8**2 - 19.8**2) * 4)
        self.assertAlmostEqual(lid.volume_mm3 / wanted, 1, delta=0.01)

    def test_one_that_slides_is_held_by_sloped_sides_and_flush(self) -> None:
        lid = made(LidMaker(shuts="slides", thick_mm=2.4), OPEN_BOX)
        low, high = lid.bounds
        np.testing.assert_allclose((low[2], high[2], high[0]), (57.6, 60, 50), atol=1e-3)
        below, above = lid.slice(57.7).bounds, lid.slice(59.9).bounds
        self.assertGreater(below[3] - below[1], above[3] - above[1] + 2)  # it cannot be lifted out
        self.assertGreater(above[3] - above[1], 62)  # and nowhere lets one look in

    def test_walls_too_thin_for_grooves_are_told(self) -> None:
        thin = box(60, 40, 30).minus([box(57, 37, 30).moved(0, 0, 2)])
        with self.assertRaisesRegex(NotMade, r"walls are 1.5 mm thick; grooves .* need"):
            made(LidMaker(shuts="slides"), thin)
        with self.assertRaisesRegex(NotMade, "must be along the rim"):
            made(LidMaker(shuts="slides", slides_to="z+"), OPEN_BOX)

    def test_one_that_slides_needs_straight_walls(self) -> None:
        cup = Solid.prism(40, 0, 70, 6).minus([Solid.prism(35, 3, 80, 6)])
        for way in ("x+", "y-"):
            with self.assertRaisesRegex(NotMade, "not straight-sided along the way out"):
                made(LidMaker(shuts="slides", thick_mm=1.2, slides_to=way), cup)  # type: ignore[arg-type]
        self.assertEqual(len(made(LidMaker(), cup).lumps()), 1)

    def test_a_collar_longer_than_the_opening_is_deep_is_told(self) -> None:
        tray = box(60, 40, 6).minus([box(50, 30, 6).moved(0, 0, 2)])
        with self.assertRaisesRegex(NotMade, "only 4.0 mm deep"):
            made(LidMaker(deep_mm=5), tray)

    def test_what_stands_in_its_way_is_told(self) -> None:
        ridge = Solid.box((46, -5, 59), (49, 5, 75))
        lid = made(LidMaker(), OPEN_BOX.plus([ridge]))  # one that stands beside the opening is left out
        self.assertAlmostEqual(lid.moved(0, 0, 0.5).gap(ridge, 2), 0.2, delta=1e-3)
        hook = OPEN_BOX.plus([ridge, Solid.box((30, -5, 70), (49, 5, 75))])
        with self.assertRaisesRegex(NotMade, r"cannot be put in: 7\.\d mm off its place"):
            made(LidMaker(), hook)

    def test_one_that_lies_on_a_ledge_is_flush_and_clear(self) -> None:
        ledge = OPEN_BOX.plus([box(94, 64, 55).minus([box(84, 54, 55)])])
        lid = made(LidMaker(at_mm=(42, 0, 55), thick_mm=5), ledge)
        np.testing.assert_allclose(lid.bounds, [(-45.8, -30.8, 50), (45.8, 30.8, 60)], atol=1e-3)
        self.assertAlmostEqual(lid.moved(0, 0, 1).gap(ledge, 2), 0.2, delta=1e-3)

    def test_a_knob_stands_on_it(self) -> None:
        plain, held = made(LidMaker(), OPEN_BOX), made(LidMaker(knob_mm=16, knob_high_mm=12), OPEN_BOX)
        self.assertAlmostEqual(held.bounds[1][2] - plain.bounds[1][2], 12, places=3)
        self.assertEqual(len(held.lumps()), 1)

    def test_it_needs_a_part(self) -> None:
        with self.assertRaisesRegex(NotMade, "A lid needs a part"):
            made(LidMaker(), None)


class PlugsDrawersAndBlocks(unittest.TestCase):
    def test_a_plug_fills_its_hole_but_for_the_clearance(self) -> None:
        plate = box(60, 40, 10).minus([box(12, 8, 30).moved(0, 0, -5)])
        plug = made(PlugMaker(deep_mm=6, lead_mm=0, head_mm=0), plate, 0.1)
        self.assertAlmostEqual(plug.volume_mm3, 11.8 * 7.8 * 6, delta=0.1)
        headed = made(PlugMaker(deep_mm=6, lead_mm=0.5, head_mm=2, head_over_mm=3), plate, 0.1)
        np.testing.assert_allclose(headed.bounds, [(-9, -7, 4), (9, 7, 12)], atol=1e-3)

    def test_a_drawer_holds_what_its_room_is(self) -> None:
        found = DrawerMaker(wall_mm=2, floor_mm=2, back_mm=1, knob_mm=0).make(CABINET, 0.3, quiet)
        inside = (91.4 - 4) * (53.4 - 2) * (65 - 4) / 1000
        self.assertIn(f"holds {inside:.0f} cm³", found.said[0])
        low, high = found.solid.bounds
        np.testing.assert_allclose((low[0], high[0]), (-48, 48), atol=1e-3)  # the front reaches 2 mm over the opening
        self.assertAlmostEqual(high[1], 30, places=3)  # 1 mm is left behind it
        self.assertAlmostEqual(found.solid.moved(0, -5, 0).gap(CABINET, 1), 0.3, delta=1e-3)

    def test_a_drawer_for_an_opening_that_looks_up_is_refused(self) -> None:
        with self.assertRaisesRegex(NotMade, "does not look sideways"):
            made(DrawerMaker(), OPEN_BOX)

    def test_a_block_has_the_corners_angle_and_room_for_glue(self) -> None:
        block = made(FilletBlockMaker(at_mm=(46, 0, 3), leg_mm=10, long_mm=30), OPEN_BOX)
        self.assertAlmostEqual(block.volume_mm3, 10 * 10 / 2 * 30, delta=0.1)
        self.assertAlmostEqual(block.gap(OPEN_BOX, 1), 0.1, delta=1e-3)
        np.testing.assert_allclose(block.bounds, [(35.9, -15, 3.1), (45.9, 15, 13.1)], atol=1e-3)

    def test_a_block_is_not_longer_than_its_corner(self) -> None:
        block = made(FilletBlockMaker(at_mm=(46, 31, 30), leg_mm=10, long_mm=500), OPEN_BOX)
        self.assertAlmostEqual(block.bounds[1][2] - block.bounds[0][2], 57 - 0.2, delta=1e-3)

    def test_a_body_without_inner_corners_has_none(self) -> None:
        with self.assertRaisesRegex(NotMade, "no inner corner"):
            made(FilletBlockMaker(), box(20, 20, 20))
        with self.assertRaisesRegex(NotMade, "no room for legs so long"):
            made(FilletBlockMaker(at_mm=(46, 0, 3), leg_mm=200), OPEN_BOX)
