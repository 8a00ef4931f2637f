"""Meshes for the view: thinned where they are large, with the thickness under every corner."""

import unittest

import numpy as np

from hinoki.core.geometry.mesh import Mesh
from hinoki.present.display_mesh import MAGIC, MOST_TRIANGLES, display_arrays, display_buffer, thickness_buffer
from tests.shapes import box, torus

BRICK = box(40, 30, 20).mesh


class Display(unittest.TestCase):
    def test_thickness_has_a_value_for_every_corner_of_the_display_mesh(self) -> None:
        positions, _, indices = display_arrays(BRICK)
        under = np.frombuffer(thickness_buffer(BRICK, positions, indices), "<f4")
        self.assertEqual(len(under), len(positions))
        self.assertEqual(sorted(set(np.round(under[indices.ravel()], 3).tolist())), [20, 30, 40])

    def test_a_sheet_has_no_thickness_to_draw(self) -> None:
        sheet = Mesh(np.array([[0.0, 0, 0], [9, 0, 0], [0, 9, 0]]), np.array([[0, 1, 2]]))
        positions, _, indices = display_arrays(sheet)
        under = np.frombuffer(thickness_buffer(sheet, positions, indices), "<f4")
        self.assertTrue((under > 1e8).all())

    def test_large_meshes_are_thinned_for_the_screen_only(self) -> None:
        big = torus(90, 20, 720, 360, 1.5)
        self.assertGreater(len(big.faces), MOST_TRIANGLES)
        content = display_buffer(big)
        self.assertEqual(content[:4], MAGIC)
        self.assertLessEqual(int.from_bytes(content[8:12], "little"), MOST_TRIANGLES)


if __name__ == "__main__":
    unittest.main()
