"""Balance against formulas of statics: centres of mass, tip angles, how things hang. The formulas are those of any handbook of
mechanics (cone h/4; half ring 4/3π·(R³-r³)/(R²-r²); an L by its two rectangles), written here from memory."""

import math
import unittest

import numpy as np

from hinoki.core.assemble.balance import Hollow, fillings, hang_points, hollow_of, hung, standing
from hinoki.core.assemble.scene.weights import Weight, combined, printed
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.assembly_settings import Ballast
from tests.shapes import box, tube


def l_shape() -> Solid:
    """An L standing on its long leg: 60 × 20 × 10 lying, and an upright of 10 × 20 × 50 at its left end."""
    return Solid.united([Solid.box([0, 0, 0], [60, 20, 10]), Solid.box([0, 0, 10], [10, 20, 60])])


def half_ring(outer: float, inner: float, wide: float) -> Solid:
    """Half a ring lying flat, the half with y > 0."""
    return tube(outer, inner, wide).minus([Solid.box([-outer - 1, -outer - 1, -1], [outer + 1, 0, wide + 1])])


class Centres(unittest.TestCase):
    """Centres of mass."""

    def test_a_cone_has_it_at_a_quarter_of_its_height(self) -> None:
        cone = Solid.cone(30, 0.001, 0, 80)
        np.testing.assert_allclose(cone.centre_of_mass, [0, 0, 20], atol=0.02)

    def test_an_l_has_it_between_those_of_its_legs(self) -> None:
        legs = [(60 * 10, 30, 5), (10 * 50, 5, 35)]
        area = sum(a for a, _, _ in legs)
        x, z = (sum(leg[0] * leg[k] for leg in legs) / area for k in (1, 2))
        np.testing.assert_allclose(l_shape().centre_of_mass, [x, 10, z], atol=1e-6)

    def test_half_a_ring_has_it_in_its_hole(self) -> None:
        expected = 4 / (3 * math.pi) * (40**3 - 30**3) / (40**2 - 30**2)
        centre = half_ring(40, 30, 10).centre_of_mass
        np.testing.assert_allclose(centre, [0, expected, 5], atol=0.02)
        self.assertLess(expected, 30)

    def test_a_printed_box_weighs_its_walls_and_a_share_of_its_inside(self) -> None:
        made = printed(box(40, 40, 40), 1.24, 1.2, 0.15)
        shell = 6 * 40 * 40 * 1.2  # the six sides times the thickness of the walls
        self.assertAlmostEqual(made.grams, (shell + (40**3 - shell) * 0.15) * 1.24 / 1000, places=6)
        np.testing.assert_allclose(made.centre, [0, 0, 20], atol=1e-6)

    def test_two_weights_balance_by_the_lever_rule(self) -> None:
        both = combined([Weight(30.0, np.zeros(3)), Weight(10.0, np.array([40.0, 0, 0]))])
        self.assertEqual((both.grams, both.centre.tolist()), (40.0, [10.0, 0.0, 0.0]))


class Tipping(unittest.TestCase):
    """A body falls once its centre of mass is beyond the edge it is tipped over: tan α = distance / height."""

    def test_a_cone_tips_at_the_angle_of_its_radius_to_a_quarter_of_its_height(self) -> None:
        cone = Solid.cone(30, 0.001, 0, 80)
        _, angle = standing([cone], cone.centre_of_mass).least
        self.assertAlmostEqual(angle, math.degrees(math.atan(30 / 20)), delta=0.3)

    def test_an_l_tips_most_easily_over_its_nearest_edge(self) -> None:
        body = l_shape()
        x, y, z = body.centre_of_mass
        stands = standing([body], body.centre_of_mass)
        self.assertAlmostEqual(stands.least[1], math.degrees(math.atan(min(x, y) / z)), delta=1e-4)
        for towards, reach in ((0.0, 60 - x), (90.0, 20 - y), (180.0, x)):
            angle = dict(stands.tips)[towards]
            self.assertAlmostEqual(angle, math.degrees(math.atan(reach / z)), delta=1e-4)

    def test_half_a_ring_standing_on_its_two_ends_tips_by_its_thickness(self) -> None:
        # stood up as an arch: the ends at y = 0 are its feet
        upright = np.array([[1.0, 0, 0, 0], [0, 0, -1, 0], [0, 1, 0, 0]])
        arch = half_ring(40, 30, 10).placed(upright)
        high = 4 / (3 * math.pi) * (40**3 - 30**3) / (40**2 - 30**2)
        _, angle = standing([arch], arch.centre_of_mass).least
        self.assertAlmostEqual(angle, math.degrees(math.atan(5 / high)), delta=0.1)

    def test_what_leans_over_its_foot_falls_by_itself(self) -> None:
        body = Solid.united([Solid.box([0, 0, 0], [10, 20, 60]), Solid.box([10, 0, 50], [90, 20, 60])])
        self.assertEqual(standing([body], body.centre_of_mass).least[1], 0.0)

    def test_on_the_least_base_a_tall_box_may_be_tipped_by_ten_degrees(self) -> None:
        tall = box(10, 10, 200)
        wide = standing([tall], tall.centre_of_mass).least_base_mm(10)
        based = Solid.united([tall.moved(0, 0, 0.01), Solid.cylinder(wide / 2, 0, 0.02)])
        _, angle = standing([based], tall.centre_of_mass).least
        self.assertAlmostEqual(angle, 10.0, delta=0.1)


class Ballasted(unittest.TestCase):
    """Filling the hollow."""

    hollow: Hollow

    @classmethod
    def setUpClass(cls) -> None:
        closed = tube(40, 30, 120).plus([Solid.cylinder(40, -5, 0), Solid.cylinder(40, 120, 125)])
        cls.hollow = hollow_of(closed)

    def test_the_hollow_is_as_large_as_what_was_taken_out(self) -> None:
        self.assertAlmostEqual(self.hollow.volume_mm3 / (math.pi * 30**2 * 120), 1.0, delta=0.02)
        self.assertFalse(self.hollow.open_below)

    def test_sand_weighs_its_grains_times_their_packing(self) -> None:
        # quartz 2.65 g/cm³; grains poured loosely take 0.60 to 0.64 of the space (random packing of spheres, Scott and Kilgour
        # 1969: 0.60 loose, 0.637 close): 1.6 to 1.7 g/cm³ is what tables give for dry sand
        sand = fillings()["sand"]
        self.assertAlmostEqual(sand.solid_g_cm3, 2.65, delta=0.02)
        self.assertTrue(0.58 <= sand.packing <= 0.64)
        self.assertTrue(0.58 <= fillings()["steel shot"].packing <= 0.64)
        self.assertTrue(1.5 <= sand.bulk_g_cm3 <= 1.75)
        filled = self.hollow.filled(Ballast(filling="sand", up_to_mm=65), -5.0)
        self.assertAlmostEqual(filled.grams, math.pi * 3**2 * 6 * sand.bulk_g_cm3, delta=8)
        self.assertAlmostEqual(float(filled.centre[2]), 30.0, delta=0.6)

    def test_half_full_it_stands_more_safely_than_full(self) -> None:
        shell = Weight(200.0, np.array([0.0, 0, 60]))
        angles = []
        for up_to in (0.0, 40.0, 125.0):
            both = combined([shell, self.hollow.filled(Ballast(filling="steel shot", up_to_mm=up_to), -5.0)])
            angles.append(standing([Solid.cylinder(40, -5, 125)], both.centre).least[1])
        self.assertGreater(angles[1], angles[0])
        self.assertGreater(angles[1], angles[2])


class Hung(unittest.TestCase):
    """A body that hangs has its centre of mass below the point, or below the line through both."""

    def test_from_one_point_it_turns_until_its_centre_is_below(self) -> None:
        body = l_shape()
        at = np.array([0.0, 10.0, 60.0])
        hanging = hung(body.centre_of_mass, [at])
        assert hanging is not None
        x, _, z = body.centre_of_mass
        self.assertAlmostEqual(hanging.leans_deg, math.degrees(math.atan(x / (60 - z))), delta=1e-6)
        below = hanging.turn @ (body.centre_of_mass - at)
        np.testing.assert_allclose(below[:2], 0, atol=1e-9)

    def test_two_points_share_the_weight_by_the_lever_rule(self) -> None:
        hanging = hung(np.array([10.0, 0, 0]), [np.array([0.0, 0, 50]), np.array([40.0, 0, 50])])
        assert hanging is not None
        np.testing.assert_allclose(hanging.shares, [0.75, 0.25], atol=1e-9)
        self.assertAlmostEqual(hanging.leans_deg, 0.0, places=6)

    def test_the_point_offered_hangs_it_straight(self) -> None:
        body = half_ring(40, 20, 30)
        for what, points in hang_points(body, body.centre_of_mass):
            hanging = hung(body.centre_of_mass, points)
            assert hanging is not None
            self.assertLess(hanging.leans_deg, 0.5, what)
