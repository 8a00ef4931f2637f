"""What joints hold: estimates that grow as their formulas say, told by face, and noticed where they are too little."""

import math
import unittest

from hinoki.core.build import Build
from hinoki.core.check.strength import held_faces, strength_of
from hinoki.core.join.contract.strength import Stuff
from hinoki.core.join.joints import (
    ButtJoint,
    DovetailJoint,
    DowelJoint,
    FaceRef,
    Joint,
    KeyJoint,
    LipJoint,
    MagnetJoint,
    PinJoint,
    ScrewJoint,
    ThreadJoint,
    TongueJoint,
)
from hinoki.core.workshop.materials import Material
from tests.checked import findings_of, strength
from tests.shapes import box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
PLASTIC = Material(tension_mpa=50)


def joined(joint: Joint, material: Material = PLASTIC) -> Build:
    data = stl_of(box(60, 60, 60))
    return built(data, plan_for(data, level(1, 30), joints=(joint,), material=material))


def holds(joint: Joint) -> float:
    return strength(joined(joint)).newtons


class Formulas(unittest.TestCase):
    def test_pins_in_shear(self) -> None:
        """Worked by hand: τ = 50 / √3 = 28.87 N/mm², between layers half of it; two pins of 8 mm have 100.5 mm²: 1451 N."""
        pins = PinJoint(id="j1", face=FACE, count=2, diameter_mm=8, length_mm=6)
        self.assertAlmostEqual(holds(pins), 0.5 * 50 / math.sqrt(3) * 2 * math.pi * 16, delta=8)
        self.assertAlmostEqual(holds(pins), 1451, delta=8)

    def test_a_dovetails_neck_in_tension(self) -> None:
        """Neck 5 mm over 60 mm at 50 N/mm², between layers half of it: 7500 N."""
        tail = DovetailJoint(id="j1", face=FACE, neck_mm=5, head_mm=10, height_mm=3)
        self.assertAlmostEqual(holds(tail), 7500, delta=1)

    def test_the_waist_of_the_trades_key(self) -> None:
        """Waist 4 mm, 3 mm thick, along its layers: 600 N for one."""
        self.assertAlmostEqual(holds(KeyJoint(id="j1", face=FACE, count=1)), 600, delta=0.1)

    def test_thread_stripping(self) -> None:
        """τ · π · d2 · L / 2 for M25 × 2 over 10 mm: 28.87 · π · 23.701 · 5 = 10 747 N."""
        self.assertAlmostEqual(
            holds(ThreadJoint(id="j1", face=FACE, diameter_mm=25, pitch_mm=2, length_mm=10)), 10747, delta=10
        )

    def test_glue_holds_by_area(self) -> None:
        self.assertAlmostEqual(holds(ButtJoint(id="j1", face=FACE)), 5 * 3600, delta=0.1)
        bare = joined(ButtJoint(id="j1", face=FACE, glue=""))
        self.assertIsNone(strength_of(bare.placed[0], bare.plan))

    def test_nuts_bear_on_their_six_sides_less_the_hole(self) -> None:
        """A nut M4 is 7 mm across its flats (ISO 4032): √3/2 · 7² = 42.4 mm², less the hole; at 50 N/mm²."""
        for count in (1, 2):
            screw = ScrewJoint(id="j1", face=FACE, size="M4", into="nut", count=count)
            area = math.sqrt(3) / 2 * 49 - math.pi / 4 * screw.hole_mm**2
            self.assertAlmostEqual(holds(screw), count * 50 * area, delta=0.1)

    def test_ridges_and_rims_in_shear(self) -> None:
        """τ between layers is 50 / √3 / 2 = 14.43 N/mm²: a ridge of 4 mm over 60 mm; half of a rim of 2 mm round 60 × 60
        mm, which has 60² − 56² = 464 mm²."""
        tongue = TongueJoint(id="j1", face=FACE, width_mm=4, ends="through")
        self.assertAlmostEqual(holds(tongue), 14.434 * 4 * 60, delta=20)
        lip = LipJoint(id="j1", face=FACE, runs="outer", thickness_mm=2)
        self.assertAlmostEqual(holds(lip), 14.434 * 464 / 2, delta=1)

    def test_every_kind_has_an_estimate_with_its_formula_named(self) -> None:
        for kind in (DowelJoint, LipJoint, TongueJoint, MagnetJoint, ScrewJoint):
            found = strength(joined(kind(id="j1", face=FACE)))
            self.assertGreater(found.newtons, 1, kind)
            self.assertRegex(found.how, "[AB]|L/2", kind)

    def test_shear_by_von_mises(self) -> None:
        """σ / √3 (textbook)."""
        self.assertAlmostEqual(Stuff(100).shear_mpa, 57.735, places=3)


class Told(unittest.TestCase):
    def test_a_face_tells_what_it_holds_and_what_hangs_from_it(self) -> None:
        (held,) = held_faces(joined(PinJoint(id="j1", face=FACE, diameter_mm=8, length_mm=6))).values()
        assert held is not None
        self.assertAlmostEqual(held.weight_n, 60 * 60 * 30 / 1000 * 1.24 / 1000 * 9.81, delta=0.03)
        self.assertGreater(held.strength.newtons, 1000)

    def test_a_joint_too_weak_for_the_weight_is_noticed(self) -> None:
        foam = Material(tension_mpa=1, density_g_cm3=20)
        weak = joined(PinJoint(id="j1", face=FACE, count=1, diameter_mm=2, length_mm=2), foam)
        (figures,) = (f.params for f in findings_of(weak) if f.code == "joint-weak")
        self.assertEqual((figures["how"], round(figures["holds_n"])), ("pegs in shear, τ·A", 1))  # type: ignore[arg-type]
        self.assertAlmostEqual(figures["weight_n"], 60 * 60 * 30 / 1000 * 20 / 1000 * 9.81, delta=0.5)  # type: ignore[arg-type]
        strong = joined(PinJoint(id="j1", face=FACE, count=3, diameter_mm=8, length_mm=6))
        self.assertEqual([f for f in findings_of(strong) if f.code == "joint-weak"], [])


if __name__ == "__main__":
    unittest.main()
