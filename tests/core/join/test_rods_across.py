"""What rods across seams bear: by handbooks of mechanical engineering, and as they lie in their pieces."""

import math
import unittest

from hinoki.core.join.channels.rod import RodWay
from hinoki.core.join.contract.strength import Stuff
from hinoki.core.join.joints import FaceRef
from hinoki.core.join.rods_across import embedded_mm, held_long_mm, rod_bears
from hinoki.core.workshop.hardware import rod_strengths, table
from tests.shapes import box, built, level, plan_for, stl_of

PLA = Stuff(50.0)
FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


def rod(low: float, high: float, diameter: float = 6.0, x: float = 0.0, **more: object) -> RodWay:
    """A level or upright rod of steel."""
    fields = {"id": "w1", "start_mm": (x, 0, low), "end_mm": (x, 0, high), "diameter_mm": diameter, **more}
    return RodWay.model_validate(fields)


class Bears(unittest.TestCase):
    def test_a_round_and_a_square_bar(self) -> None:
        """Section moduli of a circle and a square (handbooks), yield of S235 (EN 10025-2); from memory."""
        self.assertAlmostEqual(rod(0, 100).bends_nmm or 0, 235 * math.pi * 6**3 / 32, places=6)
        self.assertAlmostEqual(rod(0, 100, shape="square", of="brass").bends_nmm or 0, 250 * 6**3 / 6, places=6)
        self.assertIsNone(rod(0, 100, of="cheese").bends_nmm)

    def test_held_short_its_bore_gives_first(self) -> None:
        """A worked example: ø6 held on 10 mm in a plastic of 50 N/mm² presses with 50 · 6 · 10² / 6 = 5000 N mm at the most."""
        short = rod_bears(rod(0, 20, of="carbon"), 10.0, PLA)
        self.assertAlmostEqual(short.nmm, 5000.0)
        self.assertIn("bore", short.how)
        long = rod_bears(rod(0, 20, of="carbon"), 100.0, PLA)
        self.assertAlmostEqual(long.nmm, 350 * math.pi * 6**3 / 32)
        self.assertIn("bending", long.how)

    def test_as_long_as_it_must_be_held(self) -> None:
        self.assertAlmostEqual(held_long_mm(5000.0, 6.0, PLA), 10.0)


class Embedded(unittest.TestCase):
    """A post of 60 mm, cut at 100 and 160 of 240 mm."""

    def held(self, way: RodWay) -> tuple[float, float] | None:
        data = stl_of(box(60, 60, 240))
        build = built(data, plan_for(data, level(1, 100.0), level(2, 160.0)))
        face = next(f for f in build.faces if f.ref.parting == "p1")
        return embedded_mm(face, way)

    def test_as_far_as_the_rod_or_the_piece_reaches(self) -> None:
        for way, below, above in (
            (rod(60, 130), 40, 30),
            (rod(130, 60), 40, 30),  # whichever end is named first
            (rod(60, 200), 40, 60),  # the piece above ends at 160
        ):
            with self.subTest(way=way.label()):
                found = self.held(way)
                assert found is not None
                self.assertAlmostEqual(min(found), min(below, above), delta=0.1)
                self.assertAlmostEqual(max(found), max(below, above), delta=0.1)

    def test_a_rod_elsewhere_is_not_through_the_face(self) -> None:
        self.assertIsNone(self.held(rod(105, 150)))
        self.assertIsNone(self.held(rod(60, 130, x=80)))
        level_one = RodWay(id="w1", start_mm=(-20, 0, 100), end_mm=(20, 0, 100))
        self.assertIsNone(self.held(level_one))


class OnSale(unittest.TestCase):
    def test_every_rod_has_a_strength(self) -> None:
        self.assertEqual({r["of"] for r in table("rods")} - set(rod_strengths()), set())


if __name__ == "__main__":
    unittest.main()
