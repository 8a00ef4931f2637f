"""Equal rows, against numpy's own comparison of rows."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import array_shapes, arrays

from hinoki.core.geometry.equal_rows import different
from tests.effort import tried

WIDE = st.one_of(st.integers(-3, 3), st.integers(-(10**15), 10**15))


class EqualRows(unittest.TestCase):
    @tried(60)
    @given(arrays(np.int64, array_shapes(min_dims=2, max_dims=2, max_side=12), elements=WIDE))
    def test_as_comparing_rows_would(self, rows: np.ndarray) -> None:
        every, first, number, counts = np.unique(rows, axis=0, return_index=True, return_inverse=True, return_counts=True)
        found = different(rows)
        np.testing.assert_array_equal(rows[found.first], every)
        np.testing.assert_array_equal(found.first, first)
        np.testing.assert_array_equal(found.number, number.ravel())
        np.testing.assert_array_equal(found.counts, counts)

    def test_nothing(self) -> None:
        self.assertEqual(len(different(np.zeros((0, 3), dtype=np.int64)).first), 0)
