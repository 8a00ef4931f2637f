"""A parting moved or mirrored cuts the moved or mirrored body into the moved or mirrored pieces, whatever its kind."""

import unittest

import numpy as np

from hinoki.core.divide.partings import (
    DetachParting,
    EvenParting,
    FlatParting,
    HatchParting,
    LapParting,
    Parting,
    ProfileParting,
    WedgesParting,
)
from hinoki.core.divide.partings.base import Reach
from hinoki.core.divide.partings.outlines import Free, FreePoint, Rectangle
from hinoki.core.divide.partings.profile import LinePoint
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from tests.core.divide.test_partings import parted
from tests.shapes import box

BODY = Solid.united(
    [Solid.box([-50, -30, 0], [60, 25, 40]), Solid.box([20, -12, 39], [34, 6, 90]), Solid.box([-45, 10, 39], [-20, 20, 60])]
)
"""lopsided: no two of its mirror images are alike"""
LINE = tuple(LinePoint(x_mm=x, y_mm=y) for x, y in ((-80.0, 12.0), (-5.0, 12.0), (8.0, 25.0), (90.0, 22.0)))
CORNERS = tuple(FreePoint(x_mm=x, y_mm=y) for x, y in ((-9, -6), (11, -7), (3, 9)))
PARTINGS: tuple[Parting, ...] = (
    FlatParting(id="p1", axis="z", at_mm=17.0),
    FlatParting(id="p1", axis="x", at_mm=4.0, tilt_deg=(20.0, -10.0)),
    EvenParting(id="p1", axis="y", parts=3),
    EvenParting(id="p1", axis="x", greatest_mm=31.0, first_mm=12.0),
    WedgesParting(id="p1", axis="z", count=5, start_deg=17.0, through_mm=(3.0, -4.0)),
    WedgesParting(id="p1", axis="z", angles_deg=(10.0, 75.0, 200.0), through_mm=(3.0, -4.0)),
    WedgesParting(id="p1", axis="y", angles_deg=(0.0, 130.0, 260.0), through_mm=(8.0, 20.0), hub_mm=9.0),
    WedgesParting(id="p1", axis="x", count=3, start_deg=30.0, through_mm=(-2.0, 18.0)),
    ProfileParting(id="p1", points=LINE),
    ProfileParting(id="p1", points=LINE, eye=(0.0, 0.0, 1.0)),
    LapParting(id="p1", axis="x", at_mm=5.0, overlap_mm=18.0, turn_deg=30.0, shoulder_mm=11.0),
    HatchParting(id="p1", at_mm=(0.0, 0.0, 40.0), outline=Rectangle(width_mm=22, height_mm=14), turn_deg=25.0, depth_mm=5),
    HatchParting(id="p1", at_mm=(-5.0, -30.0, 20.0), outward=(0.0, -1.0, 0.0), outline=Free(corners=CORNERS), depth_mm=6),
    DetachParting(id="p1", through_mm=(27.0, -3.0, 55.0), normal=(0.0, 0.0, 1.0)),
)


def facts(body: Solid, parting: Parting, back: Points | None = None) -> list[tuple[float, ...]]:
    """Volume and centre of every piece, brought back by a matrix (3, 4), in a fixed order."""
    found = []
    for part in parted(body, parting).parts:
        centre = part.solid.centre_of_mass
        there = centre if back is None else back[:, :3] @ centre + back[:, 3]
        found.append((round(part.solid.volume_mm3, 3), *(round(float(v), 4) + 0.0 for v in there)))
    return sorted(found)


class Everywhere(unittest.TestCase):
    def same(self, one: list[tuple[float, ...]], two: list[tuple[float, ...]], parting: Parting) -> None:
        self.assertGreater(len(one), 1, parting)
        self.assertEqual(len(one), len(two), parting)
        np.testing.assert_allclose(two, one, atol=2e-3, rtol=1e-6, err_msg=str(parting))

    def test_mirrored_across_any_axis(self) -> None:
        for parting in PARTINGS:
            wanted = facts(BODY, parting)
            for axis in range(3):
                about = (5.0, -7.0, 11.0)[axis]
                across = np.column_stack([np.diag([-1.0 if k == axis else 1.0 for k in range(3)]), np.zeros(3)])
                across[axis, 3] = 2 * about
                with self.subTest(parting=parting.label(), axis="xyz"[axis]):
                    self.same(wanted, facts(BODY.placed(across), parting.mirrored(axis, about), across), parting)

    def test_moved(self) -> None:
        shift = np.array([13.0, -8.0, 21.0])
        back = np.column_stack([np.eye(3), -shift])
        for parting in PARTINGS:
            if isinstance(parting, EvenParting):
                continue  # its planes lie by the ends of what it cuts, and move with it
            with self.subTest(parting=parting.label()):
                self.same(facts(BODY, parting), facts(BODY.moved(*shift), parting.moved(shift), back), parting)


class Reached(unittest.TestCase):
    def test_the_box_around_all_and_its_middle(self) -> None:
        reach = Reach([box(20, 20, 20), box(10, 10, 10).moved(40, 0, 50)])
        np.testing.assert_allclose(reach.low, [-10, -10, 0])
        np.testing.assert_allclose(reach.high, [45, 10, 60])
        np.testing.assert_allclose(reach.middle, [17.5, 0, 30])
        np.testing.assert_allclose(reach.along(np.array([0.0, 0.6, 0.8])), (-6.0, 51.0))


if __name__ == "__main__":
    unittest.main()
