"""What a file with 32-bit coordinates holds stays closed for whoever tells corners by their bits."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.formats.stl import read_stl, write_stl
from hinoki.core.geometry.mesh import Mesh, rounded_to_single, stacked
from hinoki.core.geometry.solid import Solid
from tests.effort import tried
from tests.shapes import box, ellipsoid


def in_file(mesh: Mesh) -> Mesh:
    """A mesh as it is read again from the file that is written."""
    return read_stl(write_stl(rounded_to_single(mesh)))


class Rounded(unittest.TestCase):
    def stays_closed(self, mesh: Mesh) -> None:
        again = in_file(mesh)
        self.assertEqual((again.edges.open, again.edges.turned, again.edges.crowded), (0, 0, 0))
        self.assertEqual((len(again.faces), len(again.vertices)), (len(mesh.faces), len(mesh.vertices)))
        np.testing.assert_allclose(again.bounds, mesh.bounds, atol=1e-4)

    def test_specks_smaller_than_the_last_bit(self) -> None:
        speck = Mesh(box(1e-7, 1e-7, 1e-7).mesh.vertices + np.array([300.0, 200.0, 100.0]), box(1, 1, 1).mesh.faces)
        self.stays_closed(stacked([box(50, 50, 50).mesh, speck]))

    def test_bodies_that_touch_along_an_edge(self) -> None:
        touching = box(10, 10, 10).plus([box(10, 10, 10).moved(10, 10, 0)])
        self.stays_closed(touching.mesh)

    def test_around_nothing(self) -> None:
        """Beside 0 the next number is far too small for many readers: the corners are kept a nanometre (1e-6 mm) apart."""
        tiny = Mesh(1e-50 * box(1, 1, 1).mesh.vertices, box(1, 1, 1).mesh.faces)
        again = in_file(stacked([box(20, 20, 20).mesh, tiny]))
        apart = np.linalg.norm(again.vertices[:, None] - again.vertices[None], axis=2) + 1e9 * np.eye(len(again.vertices))
        self.assertGreaterEqual(apart.min(), 9e-7)

    @tried(30)
    @given(
        height=st.floats(-19, 19), far=st.sampled_from((0.0, 150.0, 900.0)), width=st.floats(1e-6, 1e-2),
        turn=st.floats(0, 90),
    )  # fmt: skip
    def test_slices_thinner_than_files_can_hold(self, height: float, far: float, width: float, turn: float) -> None:
        body = Solid(ellipsoid(30, 25, 20, 48)._body.rotate([turn, 0, turn]))
        slot = Solid.box([-40, -40, height], [40, 40, height + width])
        self.stays_closed(body.minus([slot]).moved(far, far, 0).mesh)

    def test_of_an_open_surface_equal_corners_are_merged(self) -> None:
        mesh = box(10, 10, 10).mesh
        half = Mesh(np.concatenate([mesh.vertices, mesh.vertices]), np.concatenate([mesh.faces[:5], mesh.faces[5:9] + 8]))
        self.assertEqual(len(rounded_to_single(half).vertices), 8)


if __name__ == "__main__":
    unittest.main()
