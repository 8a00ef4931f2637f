"""Where places go in a room: far apart, off its edges, and along strips narrower than its widest place."""

import unittest

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.polygons import as_multi
from hinoki.core.join.contract.point_spacing import spread
from tests.effort import tried

BAR_WITH_HEAD = as_multi(shapely.union_all([shapely.box(0, -1, 120, 1), shapely.box(-6, -6, 6, 6)]))
"""a strip of 2 mm, with a place of 12 mm at one end"""


class Spread(unittest.TestCase):
    def test_one_stands_at_the_centre_of_the_widest_place(self) -> None:
        ((x, y),) = spread(BAR_WITH_HEAD, 1, 5.0)
        self.assertLess(np.hypot(x, y), 0.3)

    def test_several_go_along_what_is_narrower_as_well(self) -> None:
        places = spread(BAR_WITH_HEAD, 4, 5.0)
        self.assertEqual(len(places), 4)
        ends = sorted(x for x, _ in places)
        self.assertLess(ends[0], 0.0)
        self.assertGreater(ends[-1], 115.0)
        self.assertLess(max(np.diff(ends)), 70.0)
        for x, y in places:
            if x > 8:  # in the strip half of its own width is kept
                self.assertLessEqual(abs(y), 0.51)

    def test_off_the_edge_as_far_as_asked(self) -> None:
        square = MultiPolygon([shapely.box(-30, -30, 30, 30)])
        for edge, at in ((3.0, 27.0), (np.inf, 15.0)):
            places = np.array(spread(square, 4, 5.0, edge))
            self.assertTrue(np.allclose(np.abs(places), at, atol=0.6), (edge, places))

    @tried(40)
    @given(
        boxes=st.lists(st.tuples(*[st.floats(0, 60)] * 2, *[st.floats(0.5, 30)] * 2), min_size=1, max_size=5),
        count=st.integers(1, 6), apart=st.floats(1, 20),
    )  # fmt: skip
    def test_in_any_room_they_lie_within_it_and_apart(self, boxes: list[tuple[float, ...]], count: int, apart: float) -> None:
        room = as_multi(shapely.union_all([shapely.box(x, y, x + w, y + h) for x, y, w, h in boxes]))
        places = spread(room, count, apart)
        self.assertTrue(1 <= len(places) <= count)
        for k, one in enumerate(places):
            self.assertLess(shapely.Point(one).distance(room), 0.02)
            for other in places[:k]:
                self.assertGreater(np.hypot(one[0] - other[0], one[1] - other[1]), apart - 0.03)


if __name__ == "__main__":
    unittest.main()
