"""Planes along flat faces are tried as cuts, and what lies in such a plane belongs to the side it is part of."""

import unittest

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting
from hinoki.core.geometry.solid import Solid
from hinoki.core.progress import quiet
from hinoki.core.propose import Wishes, propose
from hinoki.core.propose.search.flat_faces import MOST, flat_offsets, slabs
from tests.core.propose.test_block_worlds import CUBE_MM, fewest, solid_of
from tests.shapes import box, ellipsoid, plan_for, stl_of

UP = np.array([0.0, 0.0, 1.0])
STEPPED = box(100, 100, 20).plus([box(60, 60, 50), box(20, 20, 70)])
"""tops at 20, 50 and 70 mm"""


class Offsets(unittest.TestCase):
    def test_are_the_heights_of_steps_the_largest_first(self) -> None:
        # at 20 mm 100² − 60², at 50 mm 60² − 20²; the end is no border
        np.testing.assert_allclose(flat_offsets(STEPPED.mesh, UP), [20, 50], atol=1e-6)

    def test_what_is_round_or_slopes_has_none(self) -> None:
        self.assertEqual(flat_offsets(ellipsoid(40, 30, 50).mesh, UP), [])
        self.assertEqual(flat_offsets(STEPPED.mesh, np.array([0.6, 0.0, 0.8])), [])

    def test_there_are_few(self) -> None:
        steps = Solid.united([box(100 - 8 * k, 100 - 8 * k, 5 + 5 * k) for k in range(12)])
        self.assertEqual(len(flat_offsets(steps.mesh, UP)), MOST)


class Slabs(unittest.TestCase):
    def test_a_step_belongs_to_what_is_under_it(self) -> None:
        mesh = STEPPED.mesh
        heights = mesh.vertices @ UP
        low, high = slabs(mesh.faces, heights, [20.0])
        at_step = np.abs(heights - 20) < 1e-6
        wide = at_step & (np.abs(mesh.vertices[:, 0]) > 40)
        narrow = at_step & ~wide
        self.assertTrue(low[wide].all() and not high[wide].any())
        self.assertTrue(high[narrow].all())  # where the tower begins
        self.assertEqual(float(np.ptp(mesh.vertices[high][:, 0])), 60.0)

    def test_between_planes_all_belongs_to_one(self) -> None:
        mesh = STEPPED.mesh
        parts = slabs(mesh.faces, mesh.vertices @ UP, [10.0, 60.0])
        self.assertEqual(int(sum(part.sum() for part in parts)), len(mesh.vertices))


class Tried(unittest.TestCase):
    def test_two_pieces_where_only_the_plane_of_a_face_gives_them(self) -> None:
        world = frozenset([(0, 0, 0), (0, 0, 1), (0, 1, 0), (0, 1, 1), (1, 1, 0), (1, 2, 0), (2, 1, 0)])
        data, bed = stl_of(solid_of(world)), 2 * CUBE_MM + 1
        found = propose(plan_for(data, bed=(bed, bed, bed)), lambda _: data, Cache(), Wishes(), quiet)
        self.assertEqual(fewest(world), 2)
        self.assertEqual(min(p.figures.pieces for p in found.proposals), 2)

    def test_no_cut_runs_flush_with_a_thin_wall_inside_a_tray(self) -> None:
        """There what is on the other side of the wall would end at it bare."""
        rooms = [Solid.box([-99 + 66 * k + 0.8, -39, 2], [-99 + 66 * (k + 1) - 0.8, 39, 31]) for k in range(3)]
        tray = Solid.box([-99.8, -39.8, 0], [99.8, 39.8, 30]).minus(rooms)
        data, bed = stl_of(tray), 150.0
        found = propose(plan_for(data, bed=(bed, bed, bed)), lambda _: data, Cache(), Wishes(), quiet)
        walls = [side * (33 + off) for side in (-1, 1) for off in (-0.8, 0.8)]
        for proposal in found.proposals:
            for parting in proposal.partings:
                if isinstance(parting, FlatParting) and parting.axis == "x":
                    self.assertGreater(min(abs(parting.at_mm - wall) for wall in walls), 3.0, proposal.title)
