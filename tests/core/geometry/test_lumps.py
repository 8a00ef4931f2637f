"""Lumps of a surface, against networkx's connected components of its corners."""

import unittest

import networkx as nx
import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.geometry.lumps import at_most_lumps, lumps_of
from hinoki.core.geometry.mesh import Mesh
from tests.effort import tried
from tests.shapes import torus

FACES = st.lists(st.lists(st.integers(0, 20), min_size=3, max_size=3, unique=True), min_size=1, max_size=12)


class Lumps(unittest.TestCase):
    @tried(60)
    @given(FACES)
    def test_faces_that_share_corners_are_one_lump_and_numbers_follow_the_corners(self, faces: list[list[int]]) -> None:
        graph = nx.Graph()
        for a, b, c in faces:
            graph.add_edges_from([(a, b), (b, c)])
        expected = sorted(nx.connected_components(graph), key=min)
        count, own = lumps_of(Mesh(np.zeros((21, 3)), np.array(faces, dtype=np.int64)))
        self.assertEqual(count, len(expected))
        for face, lump in zip(faces, own, strict=True):
            self.assertIn(face[0], expected[lump])

    @tried(60)
    @given(FACES, st.integers(0, 100))
    def test_there_are_never_more_than_at_most(self, faces: list[list[int]], seed: int) -> None:
        level = np.random.default_rng(seed).integers(0, 3, (21, 3)).astype(np.float64)  # corners that lie level, too
        mesh = Mesh(level, np.array(faces, dtype=np.int64))
        self.assertGreaterEqual(at_most_lumps(mesh), lumps_of(mesh)[0])

    def test_a_smooth_body_is_seen_to_be_one_or_two_at_a_glance(self) -> None:
        self.assertIn(at_most_lumps(torus(60, 20, 200, 100)), (1, 2))

    def test_nothing_has_no_lumps(self) -> None:
        count, own = lumps_of(Mesh(np.zeros((4, 3)), np.zeros((0, 3), dtype=np.int64)))
        self.assertEqual((count, len(own)), (0, 0))
