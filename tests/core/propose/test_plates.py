"""Cuts that run within a wall: told by sections, counted in the search, passed over for one beside it."""

import unittest

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.cache import Cache
from hinoki.core.divide.partings import EvenParting, FlatParting
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.propose import Wishes, propose
from hinoki.core.propose.search.candidates import Judged, room_of
from hinoki.core.propose.search.plates import plate_share, plates
from tests.shapes import box, ellipsoid, plan_for, stl_of

CARCASS = box(180, 100, 300).minus([Solid.box([-84, -60, low], [84, 44, high]) for low, high in ((6, 147), (153, 294))])
"""two rooms and a shelf of 6 mm right in the middle between them, open in front"""


def over(solid: Solid, at: float) -> tuple[MultiPolygon, MultiPolygon]:
    """A section across Z, and where it is over a plate."""
    section = solid.slice(at)
    return section, plates(section, [solid.slice(at - 5), solid.slice(at + 5)])


class Told(unittest.TestCase):
    def test_within_a_shelf_all_but_the_walls_is_a_plate(self) -> None:
        section, plate = over(CARCASS, 150)
        self.assertAlmostEqual(plate.area, 168 * 94, delta=1)
        self.assertAlmostEqual(plate_share([section], [plate]), 168 * 94 / (180 * 100), places=3)

    def test_across_walls_there_is_none(self) -> None:
        for at in (60.0, 140.0, 160.0):
            self.assertTrue(over(CARCASS, at)[1].is_empty, at)

    def test_thin_shells_that_lean_have_none_and_their_nearly_level_tops_have(self) -> None:
        dome = ellipsoid(100, 100, 100).minus([ellipsoid(97, 97, 97).moved(0, 0, 0)])
        middle = float(dome.bounds[0][2] + dome.bounds[1][2]) / 2
        for up in (0.0, 40.0, 70.0):
            self.assertTrue(over(dome, middle + up)[1].is_empty, up)
        self.assertFalse(over(dome, middle + 98.5)[1].is_empty)

    def test_what_is_left_for_joints_is_without_it(self) -> None:
        section, plate = over(CARCASS, 150)
        self.assertAlmostEqual(as_multi(shapely.difference(section, plate)).area, section.area - plate.area, places=3)
        even = EvenParting(id="p1", axis="z", parts=2)
        self.assertAlmostEqual(room_of(Judged(even, 2, 0.0, 0.5, (section,), plates=(plate,))), 3.0, delta=0.6)
        self.assertGreater(room_of(Judged(even, 2, 0.0, 0.5, (section,), plates=(MultiPolygon(),))), 45)


class Ragged(unittest.TestCase):
    def test_a_ragged_rim_over_a_smaller_one_is_measured(self) -> None:
        """Widened with mitred corners its parts lie one in the other, which no further step takes; three of these end so."""
        for seed in (3578, 4745, 10274, 12164):
            rng = np.random.default_rng(seed)
            turns = np.sort(rng.uniform(0, 2 * np.pi, rng.integers(40, 200)))
            radii = 60 + rng.normal(0, rng.choice([0.01, 0.5, 8]), len(turns))
            section = as_multi(Polygon(np.column_stack([radii * np.cos(turns), radii * np.sin(turns)])).buffer(0))
            beside = []
            for _ in range(2):
                off, share = 10.0 ** rng.uniform(-13, 0.5), 1 - rng.choice([0, 0.3])
                rings = [np.asarray(part.exterior.coords)[:-1] for part in section.geoms]
                moved = [Polygon(ring * share + rng.normal(0, off, ring.shape)).buffer(0) for ring in rings]
                beside.append(as_multi(shapely.union_all(moved)))
            self.assertLess(plates(section, beside).area, section.area)


class Chosen(unittest.TestCase):
    def test_a_carcass_is_cut_across_its_walls_beside_the_shelf(self) -> None:
        data = stl_of(CARCASS)
        found = propose(plan_for(data), lambda _: data, Cache(), Wishes(), lambda _f, _p: None)
        best = found.proposals[0]
        self.assertEqual(best.figures.pieces, 2)
        (parting,) = best.partings
        assert isinstance(parting, FlatParting)
        self.assertEqual(parting.axis, "z")
        self.assertGreaterEqual(abs(parting.at_mm - 150), 8)
        self.assertLess(abs(parting.at_mm - 150), 40, "near the middle all the same")


if __name__ == "__main__":
    unittest.main()
