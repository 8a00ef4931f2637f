"""What the drawing of a mating face shows besides its outline: where rods go through."""

import math
import unittest

from shapely.geometry import Polygon

from hinoki.core.cache import Cache
from hinoki.core.join.channels.rod import RodWay
from hinoki.present.joints import draw_faces, faces_view
from tests.shapes import box, built, level, plan_for, stl_of


class Bores(unittest.TestCase):
    def test_a_rod_is_drawn_on_the_faces_it_goes_through(self) -> None:
        data = stl_of(box(60, 40, 240))
        ways = (
            RodWay(id="w1", start_mm=(10, 5, 60), end_mm=(10, 5, 130), diameter_mm=6),
            RodWay(id="w2", start_mm=(-20, 0, 20), end_mm=(-20, 0, 80), diameter_mm=4),
        )
        plan = plan_for(data, level(1, 100.0), level(2, 160.0), ways=ways)
        build = built(data, plan)
        shown = faces_view(build)
        draw_faces(shown, build, Cache())
        first, second = (next(f for f in shown if f.ref.parting == name) for name in ("p1", "p2"))
        (bore,) = first.bores
        self.assertEqual((bore.way, bore.label), ("w1", "rod ø6, 70 long"))
        drawn = Polygon(bore.outline[0][0])
        radius = 3 + build.ways[0].clearance_mm
        self.assertAlmostEqual(drawn.area, math.pi * radius**2, delta=0.02 * math.pi * radius**2)
        self.assertAlmostEqual(math.hypot(drawn.centroid.x, drawn.centroid.y), math.hypot(10, 5), delta=0.05)
        self.assertEqual(second.bores, [])


if __name__ == "__main__":
    unittest.main()
