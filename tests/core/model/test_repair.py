"""Repair: each means does its part, nothing more; the mildest that works is recommended."""

import unittest
from unittest.mock import patch

import numpy as np

from hinoki.core.errors import Cancelled
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.shape import Body, Shape, closed_solid
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.health.components import specks_of, split_lumps
from hinoki.core.model.repair.compare import compared
from hinoki.core.model.repair.holes import border_loops, filled
from hinoki.core.model.repair.rebuild import rebuilt
from hinoki.core.model.repair.tidy import merged, oriented, without_duplicates, without_slivers, without_specks
from hinoki.core.model.repair.visible_surface import lost, seen_from_outside
from hinoki.core.model.steps import RepairStep
from hinoki.core.model.steps.repair import recommended, repaired
from tests.core.model.test_health import BRICK, moved, together, turned, without
from tests.shapes import box, ellipsoid, torus

RING = torus(40, 12, 72, 36, 1.0)
TOP = np.flatnonzero(BRICK.face_vectors[:, 2] > 1).tolist()
QUIET = lambda _f, _p: None  # noqa: E731


def soup(mesh: Mesh) -> Mesh:
    """Every face with corners of its own."""
    return Mesh(mesh.vertices[mesh.faces].reshape(-1, 3), np.arange(3 * len(mesh.faces)).reshape(-1, 3))


class Mild(unittest.TestCase):
    def test_merging_corners_closes_a_soup(self) -> None:
        again = merged(soup(RING), 1e-4)
        self.assertEqual(len(again.vertices), len(RING.vertices))
        self.assertTrue(again.edges.closed)

    def test_orienting_turns_flipped_faces_and_whole_lumps(self) -> None:
        for mesh in (turned(RING, 3, 77, 900), turned(RING, *range(len(RING.faces)))):
            again = oriented(mesh)
            self.assertTrue(again.edges.closed)
            self.assertAlmostEqual(again.volume_mm3, RING.volume_mm3, places=6)

    def test_orienting_leaves_a_cavity_a_cavity(self) -> None:
        cavity = moved(turned(BRICK, *range(12)), 0, 0, 10)
        big = Mesh(BRICK.vertices * 3, BRICK.faces)
        before = together(big, cavity)
        self.assertAlmostEqual(oriented(before).volume_mm3, before.volume_mm3, places=6)

    def test_duplicates_go_and_pairs_that_face_each_other_go_both(self) -> None:
        twice = Mesh(BRICK.vertices, np.concatenate([BRICK.faces, BRICK.faces[:3]]))
        self.assertEqual(len(without_duplicates(twice).faces), 12)
        facing = np.concatenate([BRICK.faces, [[0, 3, 7]], [[0, 7, 3]]])
        self.assertTrue(closed_solid(without_duplicates(Mesh(BRICK.vertices, facing))))

    def test_slivers_with_a_short_side_collapse(self) -> None:
        v = np.concatenate([BRICK.vertices, BRICK.vertices[:1] + np.array([0, 0, 1e-5])])
        a, b, c = BRICK.faces[np.flatnonzero((BRICK.faces == 0).any(axis=1))[0]]
        faces = np.concatenate([BRICK.faces, [[a, b, 8], [b, c, 8]]])
        again = without_slivers(Mesh(v, faces), 1e-3)
        self.assertEqual(len(again.vertices), 8)

    def test_specks_are_dropped_and_counted(self) -> None:
        speck = Mesh(BRICK.vertices * 0.001 + 90, BRICK.faces)
        again, gone = without_specks(together(BRICK, speck, moved(speck, 3)))
        self.assertEqual((gone, len(again.faces)), (2, 12))


class Holes(unittest.TestCase):
    def test_flat_filling_brings_a_missing_side_back(self) -> None:
        closed, count = filled(without(BRICK, *TOP), smooth=False)
        self.assertEqual(count, 1)
        self.assertAlmostEqual(closed.volume_mm3, BRICK.volume_mm3, places=6)
        self.assertTrue(closed.edges.closed)

    def test_filling_a_curved_hole_closes_it_either_way(self) -> None:
        middles = RING.vertices[RING.faces].mean(axis=1)
        hole = np.flatnonzero(np.linalg.norm(middles - middles[500], axis=1) < 4)
        for smooth in (False, True):
            closed, _ = filled(without(RING, *hole.tolist()), smooth)
            self.assertTrue(closed.edges.closed, smooth)
            self.assertAlmostEqual(closed.volume_mm3 / RING.volume_mm3, 1, delta=5e-3)

    def test_two_holes_that_touch_at_a_corner_are_two(self) -> None:
        star = np.flatnonzero((RING.faces == 700).any(axis=1)).tolist()
        other = next(f for f in star if len(set(RING.faces[f]) & set(RING.faces[star[0]])) == 1)
        mesh = without(RING, star[0], other)
        self.assertEqual(sorted(len(r) for r in border_loops(mesh)), [3, 3])
        closed, count = filled(mesh, smooth=False)
        self.assertEqual((count, closed.edges.closed), (2, True))


class Strong(unittest.TestCase):
    def test_uniting_counts_what_is_shared_once(self) -> None:
        again, said = repaired(together(BRICK, moved(BRICK, 30)), RepairStep(id="s1", unite=True), QUIET)
        self.assertAlmostEqual(again.volume_mm3, 2 * BRICK.volume_mm3 - 10 * 30 * 20, places=4)
        self.assertIn("1 lumps became one", said)

    def test_untangling_gives_a_closed_surface(self) -> None:
        tangled = without(together(RING, moved(RING, 9, 4, 3)), 10, 11, 12)
        again, _ = repaired(tangled, RepairStep(id="s1", untangle=True), QUIET)
        self.assertIsNotNone(closed_solid(again))

    def test_rebuilding_a_soup_with_holes_follows_the_surface(self) -> None:
        mesh = without(soup(RING), *range(0, 900, 90))
        again = rebuilt(mesh, 1.0, QUIET)
        self.assertTrue(again.edges.closed)
        self.assertAlmostEqual(again.volume_mm3 / RING.volume_mm3, 1, delta=0.02)
        self.assertLess(compared(RING, again).deviation_mm, 0.6)

    def test_crumbs_that_a_rebuild_leaves_of_what_is_thin_are_dropped(self) -> None:
        """A bead on a needle that is thinner than the rebuild's cells."""
        needle = Solid.box([59, -0.15, 10], [75, 0.15, 10.3])
        bead = Solid.united([box(120, 60, 20), needle, ellipsoid(0.7, 0.7, 0.7, 16).moved(75, 0, 10.15)])
        for specks, left in ((False, 2), (True, 0)):
            again, said = repaired(bead.mesh, RepairStep(id="s1", holes="leave", specks=specks, rebuild_mm=1.0), QUIET)
            self.assertEqual(len(specks_of(split_lumps(again))), left)
            self.assertEqual("2 specks dropped" in said, specks)


class Recommended(unittest.TestCase):
    def test_what_lies_far_from_the_surface_is_filled_in_without_changing_it(self) -> None:
        """The same surface as with the winding number worked out at every corner, holes bridged and cavities included."""
        holed = without(ellipsoid(40, 18, 12).mesh, *range(0, 400, 9))
        for mesh in (together(BRICK, moved(holed, 15, 10, 4)), together(holed, turned(moved(BRICK, 2, 1, 3), *range(12)))):
            quick = rebuilt(mesh, 1.6, QUIET)
            with patch("hinoki.core.model.repair.rebuild.COARSE", 1):
                full = rebuilt(mesh, 1.6, QUIET)
            np.testing.assert_array_equal(quick.faces, full.faces)
            np.testing.assert_allclose(quick.vertices, full.vertices, atol=1e-6)

    def test_nothing_is_recommended_for_a_good_surface(self) -> None:
        self.assertIsNone(recommended(RING, "s1"))

    def test_the_mildest_that_works(self) -> None:
        cases = {
            "soup": (soup(RING), {"holes": "leave", "untangle": False, "rebuild_mm": 0}),
            "flipped": (turned(RING, 5, 6), {"holes": "leave", "untangle": False}),
            "missing side": (without(BRICK, *TOP), {"holes": "flat", "untangle": False}),
            "overlapping": (together(BRICK, moved(BRICK, 30)), {"unite": True, "holes": "leave"}),
            "specks": (together(BRICK, Mesh(BRICK.vertices * 0.001 + 90, BRICK.faces)), {"specks": True}),
        }
        for name, (mesh, wanted) in cases.items():
            with self.subTest(name):
                how = recommended(mesh, "s1")
                assert how is not None
                for field, value in wanted.items():
                    self.assertEqual(getattr(how, field), value, field)
                self.assertIsNotNone(closed_solid(repaired(mesh, how, QUIET)[0]))

    def test_what_nothing_mild_can_mend_is_rebuilt_or_untangled(self) -> None:
        rng = np.random.default_rng(3)
        keep = rng.random(len(RING.faces)) > 0.15
        faces = RING.faces[keep]
        swap = rng.random(len(faces)) < 0.05
        faces[swap] = faces[swap][:, ::-1]
        how = recommended(soup(Mesh(RING.vertices, faces)), "s1")
        assert how is not None
        again, _ = repaired(soup(Mesh(RING.vertices, faces)), how, QUIET)
        self.assertIsNotNone(closed_solid(again))
        self.assertAlmostEqual(again.volume_mm3 / RING.volume_mm3, 1, delta=0.15)

    def test_being_stopped_stops_the_search(self) -> None:
        def stop(_fraction: float, _phrase: str) -> None:
            raise Cancelled("Stopped.")

        with self.assertRaises(Cancelled):
            recommended(without(RING, 0), "s1", stop)

    def test_before_and_after_are_counted(self) -> None:
        both = compared(without(RING, 0), RING)
        self.assertEqual((both.before.holes, both.before.open_edges, both.after.holes), (1, 3, 0))
        self.assertEqual(both.deviation_mm, 0)
        self.assertAlmostEqual(compared(RING, moved(RING, 0, 0, 2)).deviation_mm, 2, delta=0.3)

    def test_bodies_are_repaired_each_for_itself_and_keep_their_names(self) -> None:
        shape = Shape((Body("brick", without(BRICK, *TOP)), Body("ring", turned(RING, 4))))
        outcome = RepairStep(id="s1", holes="flat").apply(shape, QUIET)
        self.assertEqual([b.name for b in outcome.shape.bodies], ["brick", "ring"])
        self.assertTrue(all(b.solid is not None for b in outcome.shape.bodies))
        self.assertEqual(outcome.findings, [])

    def test_a_repair_that_does_not_close_says_so(self) -> None:
        shape = Shape((Body("brick", without(BRICK, *TOP)),))
        outcome = RepairStep(id="s1", holes="leave").apply(shape, QUIET)
        self.assertEqual([f.code for f in outcome.findings], ["repair-not-closed"])


class Seen(unittest.TestCase):
    """Every means is judged by what it keeps of the surface that is seen from outside."""

    def test_what_is_inside_is_not_seen(self) -> None:
        big = Mesh(BRICK.vertices * 3, BRICK.faces)
        points = seen_from_outside(together(big, moved(BRICK, 0, 0, 10)))
        off = np.minimum(np.abs(points - big.bounds[0]).min(axis=1), np.abs(points - big.bounds[1]).min(axis=1))
        self.assertLess(off.max(), 1e-3)

    def test_the_share_that_is_gone_is_that_of_its_surface(self) -> None:
        """Of two equal bricks far apart one is gone: half of what is seen."""
        both = together(BRICK, moved(BRICK, 200))
        gone = lost(seen_from_outside(both), BRICK, 240)
        self.assertAlmostEqual(gone.share, 0.5, delta=0.06)
        self.assertGreater(gone.at_mm[0], 150)
        self.assertEqual(lost(seen_from_outside(both), both, 240).share, 0)

    def test_open_shells_that_overlap_keep_their_wings(self) -> None:
        """A body and two wings, each open at the end that stands in the body: no means that is recommended takes them off."""
        body = ellipsoid(80, 18, 18).mesh
        wing = box(30, 90, 6).mesh
        root = np.flatnonzero(wing.face_vectors[:, 1] < -1)  # its end in the body is missing
        opened = Mesh(wing.vertices, np.delete(wing.faces, root, axis=0))
        left = Mesh(opened.vertices + np.array([0, 52.0, 0]), opened.faces)
        right = Mesh(opened.vertices * np.array([1, -1, 1]) - np.array([0, 52.0, 0]), opened.faces[:, ::-1])
        plane = together(body, left, right)
        how = recommended(plane, "s1")
        assert how is not None
        after, _ = repaired(plane, how, QUIET)
        self.assertTrue(after.edges.closed)
        self.assertFalse(lost(seen_from_outside(plane), after, 194).too_much)
        np.testing.assert_allclose(np.ptp(after.vertices, axis=0), np.ptp(plane.vertices, axis=0), atol=1.0)

    def test_a_means_that_loses_says_so(self) -> None:
        plane = together(BRICK, moved(BRICK, 200))
        shape = Shape((Body("two", plane),))
        dropped = RepairStep(id="s1", holes="leave")._lost(shape, Shape((Body("one", BRICK),)))
        self.assertEqual([f.code for f in dropped], ["repair-loses"])
        self.assertAlmostEqual(dropped[0].params["percent"], 50, delta=10)  # type: ignore[arg-type]

    def test_closed_shells_put_together_are_united(self) -> None:
        figure = together(BRICK, moved(BRICK, 6, 4, 3), moved(BRICK, -5, 2, -2))
        how = recommended(figure, "s1")
        assert how is not None
        self.assertTrue(how.unite)
        after, _ = repaired(figure, how, QUIET)
        self.assertEqual(compared(figure, after).after.lumps, 1)


if __name__ == "__main__":
    unittest.main()
