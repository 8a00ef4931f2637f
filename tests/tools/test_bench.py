"""The bench measures what the product does: its first row is made, at the smallest size."""

import unittest
from unittest.mock import patch

from bench import run


class Measured(unittest.TestCase):
    def test_a_row_is_measured_from_reading_to_writing(self) -> None:
        with patch.dict(run.SIZES, {8_000: (80, 50)}, clear=True), patch.object(run, "ROUNDS", 1):
            row = run.measure(8_000)
        self.assertTrue(0 < row.read_s < row.full_s)
        self.assertTrue(0 < row.write_s < row.full_s)
        self.assertGreater(row.floor_s, 0)


if __name__ == "__main__":
    unittest.main()
