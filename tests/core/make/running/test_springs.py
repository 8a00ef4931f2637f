"""Coil springs and living hinges against worked examples, beam theory, and their bodies' own figures."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.make import LivingHingeMaker, NotMade, SpringMaker
from hinoki.core.make.running.elastic import Coil, Web, shear_modulus_mpa
from hinoki.core.workshop.materials import Material
from tests.core.make.test_fitted import made

INCH, POUND = 25.4, 4.4482216
STIFF = Material(modulus_mpa=2700.0, tension_mpa=50.0, strain_percent=2.0)


class Rates(unittest.TestCase):
    def test_a_worked_example_of_a_handbook(self) -> None:
        """Music wire of 0.037 in., 10.5 turns that give way, G = 11.85 Mpsi: mean diameter 0.400 in.:
        4.13 lbf/in.; C = 10.8 (Shigley's Mechanical Engineering Design, the first example on springs; from memory)."""
        coil = Coil(0.037 * INCH, 0.400 * INCH, 10.5)
        shear = 11.85e6 * POUND / INCH**2
        self.assertAlmostEqual(coil.rate_n_mm(shear) * INCH / POUND, 4.13, delta=0.01)
        self.assertAlmostEqual(coil.index, 10.8, delta=0.05)

    def test_square_wire_is_twisted_like_a_square_bar(self) -> None:
        """Saint-Venant: a square bar has the torsion constant 0.1406 a⁴ and the stress T / (0.208 a³) (Timoshenko, from
        memory); a coil of n turns is a bar of n π D under the torque F D / 2 that turns its end by D / 2 times as much."""
        square = Coil(2.0, 18.0, 5.0, square=True)
        by_torsion = 1000.0 * 0.1406 * 2.0**4 / (5.0 * math.pi * 18.0) / (18.0 / 2) ** 2
        self.assertAlmostEqual(square.rate_n_mm(1000.0) / by_torsion, 1.0, delta=0.01)
        wahl = (4 * 9 - 1) / (4 * 9 - 4) + 0.615 / 9
        self.assertAlmostEqual(square.stress_mpa(1.0) / (wahl * 9.0 / (0.208 * 8.0)), 1.0, delta=0.01)

    def test_wahls_factor(self) -> None:
        """1.25 at an index of 6, 1.14 at 10 (the curve in handbooks, from memory)."""
        for index, factor in ((6.0, 1.25), (10.0, 1.14)):
            plain = 8 * index / math.pi
            self.assertAlmostEqual(Coil(1.0, index, 5.0).stress_mpa(1.0) / plain, factor, delta=0.01)

    @given(st.floats(1, 8), st.floats(0.2, 1), st.floats(1, 180))
    def test_a_web_is_a_beam_bent_to_an_arc(self, long: float, thick: float, folded: float) -> None:
        """The outer fibre of an arc of radius R is longer by t / 2R; the moment is E I / R."""
        web, radius = Web(long, thick, 10.0), long / math.radians(folded)
        self.assertAlmostEqual(web.strain(folded), ((radius + thick / 2) * math.radians(folded) - long) / long, places=9)
        self.assertAlmostEqual(web.moment_nmm(folded, 2000.0), 2000 * 10 * thick**3 / 12 / radius, delta=1e-6 * 2000 * 10)


class Springs(unittest.TestCase):
    def test_its_body_is_wire_along_a_helix_between_two_rings(self) -> None:
        """Volume: section × length of the helix (Pappus), and two rings; what lies in the rings of the first and last turn is
        counted once, and is less than a turn's worth."""
        for wire, area in (("round", math.pi * 1.2**2), ("square", 2.4**2)):
            with self.subTest(wire):
                maker = SpringMaker(wire=wire)  # type: ignore[arg-type]
                spring = made(maker, None)
                np.testing.assert_allclose(spring.bounds, [(-10, -10, 0), (10, 10, 40)], atol=0.05)
                self.assertEqual(len(spring.lumps()), 1)
                turn = math.hypot(math.pi * 17.6, maker.rise_mm / 6)
                whole = area * 6 * turn + 2 * 2.4 * math.pi * (10**2 - 7.6**2)
                self.assertLess(spring.volume_mm3, whole)
                self.assertGreater(spring.volume_mm3, whole - area * turn)

    def test_it_is_wound_either_way_and_closed(self) -> None:
        right, left = (made(SpringMaker(wound=way), None) for way in ("right", "left"))  # type: ignore[arg-type]
        self.assertAlmostEqual(right.volume_mm3, left.volume_mm3, places=3)
        mirrored = right.placed(np.diag([1.0, -1.0, 1.0, 1.0])[:3])
        self.assertLess(mirrored.minus([left]).volume_mm3, 0.5)
        self.assertGreater(right.minus([left]).volume_mm3, 100)

    def test_what_cannot_be_wound_is_refused(self) -> None:
        for maker, why in (
            (SpringMaker(outside_mm=6), "3 to 20 times as wide"),
            (SpringMaker(wire_mm=0.6, outside_mm=60), "3 to 20 times"),
            (SpringMaker(turns=15), "do not stand apart"),
        ):
            with self.subTest(why), self.assertRaisesRegex(NotMade, why):
                made(maker, None)

    def test_its_force_and_what_is_too_much(self) -> None:
        calm, far = SpringMaker(pressed_mm=2), SpringMaker(pressed_mm=30)
        self.assertEqual(calm.problems(STIFF), [])
        rate = Coil(2.4, 17.6, 6, square=True).rate_n_mm(shear_modulus_mpa(STIFF))
        self.assertIn(f"{rate:.3g} N for each mm", calm.behaves(STIFF)[0])
        self.assertEqual([f.code for f in far.problems(STIFF)], ["spring-shut"])
        thick = SpringMaker(wire_mm=4, turns=3, pressed_mm=15)
        self.assertEqual([f.code for f in thick.problems(STIFF)], ["spring-stress"])


class LivingHinges(unittest.TestCase):
    def test_two_leaves_and_a_web_by_hand(self) -> None:
        hinge = made(LivingHingeMaker(screws="0"), None)
        self.assertAlmostEqual(hinge.volume_mm3, 40 * (2 * 20 * 3 + 4 * 0.4), places=2)
        np.testing.assert_allclose(hinge.bounds, [(-22, -20, 0), (22, 20, 3)], atol=1e-6)

    def test_strain_is_told_against_what_the_material_bears(self) -> None:
        """t θ / 2 L = 0.4 × (π/2) / 8 = 7.9 %: far too much for a stiff plastic; a pliant one bears it."""
        hinge = LivingHingeMaker()
        (found,) = hinge.problems(STIFF)
        self.assertEqual((found.code, found.severity), ("web-strain", "must-fix"))
        self.assertAlmostEqual(float(found.params["strain_percent"] or 0), 100 * 0.4 * math.pi / 2 / 8, places=6)
        longer = hinge.model_copy(update={"web_mm": float(found.params["needs_mm"] or 0) + 0.01})
        self.assertEqual(longer.problems(STIFF), [])
        self.assertEqual(hinge.problems(STIFF.model_copy(update={"strain_percent": 40.0})), [])

    def test_leaves_whose_tops_come_together_need_a_longer_web(self) -> None:
        """Folded by a half turn the web is half a circle, and the leaves need π (T − t / 2)."""
        soft = STIFF.model_copy(update={"strain_percent": 50.0})
        short = LivingHingeMaker(folded_deg=180, meets="tops", web_mm=8)
        (found,) = short.problems(soft)
        self.assertEqual(found.code, "web-short")
        self.assertAlmostEqual(float(found.params["least_mm"] or 0), math.pi * 2.8, places=6)
        self.assertEqual(short.model_copy(update={"web_mm": 8.9}).problems(soft), [])

    def test_it_has_room_for_its_screws_or_says_so(self) -> None:
        self.assertLess(made(LivingHingeMaker(), None).volume_mm3, made(LivingHingeMaker(screws="0"), None).volume_mm3)
        with self.assertRaisesRegex(NotMade, "no room for 3 screws"):
            made(LivingHingeMaker(screws="3", wide_mm=20), None)
        with self.assertRaisesRegex(NotMade, "as thick as the leaves"):
            made(LivingHingeMaker(web_thick_mm=3), None)
