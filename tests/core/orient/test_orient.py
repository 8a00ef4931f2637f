"""Orientation: support, overhang and tip angles by formula, and known shapes laid the obvious way."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.errors import Cancelled
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.rotations import spread_over_sphere
from hinoki.core.geometry.solid import Solid
from hinoki.core.orient.directions import candidates
from hinoki.core.orient.fast_scores import quick
from hinoki.core.orient.resting.bed_fit import fits, to_spare
from hinoki.core.orient.scoring import PRESETS, Weights, weighed
from hinoki.core.orient.search import Attitude, Candidate, measured, ranked, search
from hinoki.core.orient.support import Support, support_of
from hinoki.core.orient.surface import JOINT, MATING, PLAIN, SHOW, surface_of
from hinoki.core.workshop.printers import KeptFree, Printer
from tests.effort import tried
from tests.shapes import box, ellipsoid, tube

BED = Printer(bed_mm=(220, 220), height_mm=250)
DOWN = np.array([0.0, 0, -1])


def standing(solid: Solid) -> Points:
    """The matrix that stands a solid as it is, on Z 0."""
    low, _ = solid.bounds
    return np.column_stack([np.eye(3), [0.0, 0.0, -float(low[2])]])


def support(solid: Solid) -> Support:
    return support_of(surface_of(solid), standing(solid), 45.0)


def best(solid: Solid, **more: object) -> Candidate:
    return search(solid, surface_of(solid), BED, **more)[0]  # type: ignore[arg-type]


class Columns(unittest.TestCase):
    def test_a_t_needs_the_volume_under_its_arms(self) -> None:
        solid = box(10, 20, 30).plus([Solid.box([-20, -10, 30], [20, 10, 36])])
        found = support(solid)
        self.assertAlmostEqual(found.volume_mm3, 30 * 20 * 30, delta=0.04 * 18000)
        self.assertAlmostEqual(found.area_mm2, 30 * 20, delta=0.04 * 600)

    def test_a_cone_on_its_tip_needs_two_thirds_of_its_cylinder(self) -> None:
        solid = Solid.cone(0.01, 30, 0, 10)
        self.assertAlmostEqual(support(solid).volume_mm3, 2 / 3 * math.pi * 900 * 10, delta=500)

    def test_a_steep_cone_needs_none(self) -> None:
        self.assertEqual(support(Solid.cone(0.5, 10, 0, 30)).volume_mm3, 0)

    def test_a_sphere_needs_what_lies_under_its_lower_cap(self) -> None:
        radius = 30.0
        cap = radius * math.sin(math.radians(45))
        wanted = math.pi * radius * cap**2 - 2 * math.pi / 3 * (radius**3 - (radius**2 - cap**2) ** 1.5)
        self.assertAlmostEqual(support(ellipsoid(radius, radius, radius, 192)).volume_mm3, wanted, delta=0.06 * wanted)

    def test_a_short_bridge_needs_none_and_a_long_one_does(self) -> None:
        for span, needed in ((8, False), (24, True)):
            legs = Solid.box([-span / 2 - 8, -10, 0], [span / 2 + 8, 10, 30]).minus(
                [Solid.box([-span / 2, -20, -1], [span / 2, 20, 24])]
            )
            found = support(legs)
            self.assertAlmostEqual(found.volume_mm3, span * 20 * 24 if needed else 0, delta=0.06 * span * 20 * 24)

    def test_a_ledge_as_narrow_as_a_bridge_is_none(self) -> None:
        solid = box(20, 20, 30).plus([Solid.box([-10, -10, 24], [16, 10, 30])])
        self.assertAlmostEqual(support(solid).volume_mm3, 6 * 20 * 24, delta=0.1 * 6 * 20 * 24)

    def test_columns_that_stand_on_the_piece_leave_scars_below(self) -> None:
        solid = box(60, 20, 5).plus([Solid.box([-30, -10, 0], [-20, 10, 40]), Solid.box([-30, -10, 30], [20, 10, 40])])
        found = support(solid)
        self.assertAlmostEqual(found.volume_mm3, 40 * 20 * 25, delta=0.05 * 20000)
        self.assertAlmostEqual(float(found.touch_mm2[PLAIN]), 2 * 40 * 20, delta=0.05 * 1600)
        self.assertTrue((found.columns[:, 2] > 4.9).all())

    def test_an_arch_needs_what_hangs_below_its_crown(self) -> None:
        # a round vault of radius r hangs where its surface leans by more than 45°: between x = ±r/√2 below z = √(r² − x²)
        radius, deep = 30.0, 40.0
        vault = Solid.cylinder(radius, -deep, deep).placed(np.array([[0.0, 1, 0, 0], [0, 0, 1, 0], [1.0, 0, 0, 0]]))
        arch = Solid.box([-40, -deep / 2, 0], [40, deep / 2, 45]).minus([vault])
        half = radius / math.sqrt(2)
        area = half * half + radius**2 * math.asin(half / radius)
        self.assertAlmostEqual(support(arch).volume_mm3, area * deep, delta=0.06 * area * deep)

    def test_a_thread_standing_upright_needs_none(self) -> None:
        # common practice: threads are printed upright and never with support
        rings = [Solid.cone(18, 20, 4 * k, 4 * k + 2).plus([Solid.cone(20, 18, 4 * k + 2, 4 * k + 4)]) for k in range(6)]
        ridged = Solid.cylinder(18, 0, 24).plus(rings)
        shallow = Solid.cylinder(18, 0, 24).plus([Solid.cylinder(19.2, 4 * k + 2, 4 * k + 4) for k in range(6)])
        self.assertEqual((support(ridged).volume_mm3, support(shallow).volume_mm3), (0, 0))
        wide = Solid.cylinder(18, 0, 24).plus([Solid.cylinder(26, 12, 14)])
        self.assertGreater(support(wide).volume_mm3, 0)


class Measures(unittest.TestCase):
    def test_overhang_and_height_of_all_directions_at_once_are_those_of_each(self) -> None:
        solid = box(10, 20, 30).plus([Solid.box([-20, -10, 30], [20, 10, 36])])
        surface = surface_of(solid)
        q = quick(surface, np.array([DOWN, -DOWN, [1.0, 0, 0]]), 45.0)
        self.assertTrue(np.allclose(q.hanging, [10 * 20 + 30 * 20, 40 * 20, 2 * 15 * 20 / 2 * 0 + 20 * 6 + 20 * 30], atol=1e-6))
        self.assertTrue(np.allclose(q.height, [36, 36, 40]))

    def test_steps_count_shallow_faces_by_how_shallow_they_are(self) -> None:
        _, low = box(20, 20, 40).halves(plane_frame(np.array([0.0, 0, 20]), np.array([0.0, 1.0, 2.0])))
        q = quick(surface_of(low), np.array([DOWN]), 45.0)
        cosine = 2 / math.sqrt(5)
        self.assertAlmostEqual(float(q.steps[0]), 20 * 20 / cosine * cosine, delta=2)

    def test_the_tip_angle_is_half_the_width_over_the_height_of_the_centre(self) -> None:
        solid = box(20, 30, 80)
        found = measured(solid, surface_of(solid), BED, DOWN, "as it stands", Attitude())
        self.assertAlmostEqual(found.tip_deg, math.degrees(math.atan(10 / 40)), delta=0.01)
        self.assertAlmostEqual(found.loose, 80 / (2 * math.sqrt(600 / math.pi)), delta=1e-6)

    def test_pins_across_the_layers_hold_half(self) -> None:
        solid = box(30, 30, 30)
        for pin, share in ((np.array([0.0, 0, 1]), 0.5), (np.array([1.0, 0, 0]), 1.0)):
            found = measured(solid, surface_of(solid), BED, DOWN, "", Attitude(pins=(pin,)))
            self.assertAlmostEqual(found.strength, share)

    def test_faces_are_known_by_what_they_are_for(self) -> None:
        solid = Solid.from_mesh(box(40, 40, 40).mesh, model=True)
        frame = plane_frame(np.array([0.0, 0, 20]), np.array([0.0, 0, 1]))
        _, low = solid.halves(frame)
        low = low.minus([Solid.cylinder(5, 10, 30)])
        shown = np.flatnonzero(solid.mesh.face_normals[:, 0] > 0.9)
        surface = surface_of(low, [frame], np.unique(solid.source_faces[shown]))
        by_kind = [float(surface.areas[surface.kinds == k].sum()) for k in (PLAIN, SHOW, MATING, JOINT)]
        self.assertAlmostEqual(by_kind[SHOW], 20 * 40, delta=1e-6)
        self.assertAlmostEqual(by_kind[MATING], 1600 - math.pi * 25, delta=0.5)
        self.assertAlmostEqual(by_kind[JOINT], math.pi * 25 + 2 * math.pi * 5 * 10, delta=1)


class Search(unittest.TestCase):
    def test_at_least_five_hundred_directions_evenly_spread(self) -> None:
        fine = spread_over_sphere()
        self.assertGreaterEqual(len(candidates(surface_of(ellipsoid(20, 15, 10)))), 500)
        nearest = np.sort(fine @ fine.T, axis=1)[:, -2]
        gaps = np.degrees(np.arccos(nearest))
        self.assertLess(gaps.max() / gaps.min(), 2.0)

    def test_known_shapes_lie_the_obvious_way(self) -> None:
        corners = np.array([[-30.0, 0, 0], [30, 0, 0], [-30, 0, 40]])
        across_y = np.array([0.0, 10, 0])
        wedge = Solid.hull_of(np.vstack([corners - across_y, corners + across_y]))
        ell = Solid.box([0, 0, 0], [60, 15, 12]).plus([Solid.box([0, 0, 0], [15, 15, 60])])
        cup = tube(30, 27, 60).plus([Solid.cylinder(30, 0, 3)])
        plate = Solid.box([0, 0, 0], [3, 80, 60])
        self.assertEqual(best(wedge).support.volume_mm3, 0)
        self.assertAlmostEqual(float(best(ell).rest.size_mm[2]), 15, delta=0.01)
        upside = search(cup, surface_of(cup), BED)
        self.assertGreater(float(upside[0].rest.down @ DOWN), 0.99)
        self.assertAlmostEqual(float(best(plate).rest.size_mm[2]), 3, delta=0.01)

    def test_a_thread_stands_upright_whatever_else_would_be_better(self) -> None:
        solid = box(20, 60, 20)
        axis = np.array([0.0, 1.0, 0.0])
        found = search(solid, surface_of(solid), BED, attitude=Attitude(upright=(axis,)))
        self.assertEqual(found[0].broken, ())
        self.assertGreater(abs(float(found[0].rest.down @ axis)), 0.99)

    def test_only_what_fits_is_offered_where_anything_does(self) -> None:
        small = Printer(bed_mm=(50, 50), height_mm=120)
        solid = box(20, 20, 100)
        found = search(solid, surface_of(solid), small)
        self.assertEqual(found[0].broken, ())
        self.assertAlmostEqual(float(found[0].rest.size_mm[2]), 100, delta=0.01)
        self.assertTrue(all(c.fits for c in found))
        long = box(20, 20, 300)
        self.assertEqual({"does not fit the bed" in c.broken for c in search(long, surface_of(long), small)}, {True})

    def test_a_way_that_fits_is_found_where_only_a_leaning_one_does(self) -> None:
        """A rod longer than the bed and the height, but not than the room's diagonal."""
        bed = Printer(bed_mm=(100, 100), height_mm=100)
        solid = Solid.cylinder(3, -74, 74)
        self.assertGreater(math.sqrt(3) * 100, 148 + 2 * 6)
        self.assertGreater(148, math.sqrt(2) * 100)
        found = search(solid, surface_of(solid), bed)
        self.assertTrue(found[0].fits)
        self.assertTrue(fits(solid.hull.mesh.vertices, found[0].rest.down, bed))

    @tried(6, seconds=6)
    @given(
        points=st.lists(st.tuples(*[st.floats(-1, 1)] * 3), min_size=5, max_size=9, unique=True),
        stretch=st.tuples(*[st.floats(0.3, 1)] * 3), share=st.floats(1.0, 1.25),
    )  # fmt: skip
    def test_whatever_a_search_through_everything_finds_is_found(
        self, points: list[tuple[float, ...]], stretch: tuple[float, ...], share: float
    ) -> None:
        """2 000 directions at 90 turns: where one leaves 2 mm to spare, what is offered first fits."""
        corners = np.array(points) * np.array(stretch) * 100
        solid = Solid.hull_of(corners)
        if solid.empty or solid.volume_mm3 < 1000:
            return
        hull = solid.hull.mesh.vertices
        bed = Printer(bed_mm=(110, 90), height_mm=100)
        room = [to_spare(hull, down, bed) for down in spread_over_sphere(2000)]
        scale = (100 - 2) / (100 - max(room)) * share  # so that the best leaves about 2 mm, or less where share is more
        solid = solid.placed(np.diag([scale, scale, scale, 0.0])[:3])
        room = [to_spare(solid.hull.mesh.vertices, down, bed) for down in spread_over_sphere(2000)]
        if max(room) >= 2:
            self.assertTrue(search(solid, surface_of(solid), bed)[0].fits)

    def test_what_lies_on_lines_alone_however_it_is_laid_stands_on_its_end(self) -> None:
        """Round rods across each other: their hull has wide flats, which the rods touch along lines."""
        turn = np.array([[0.0, 0, 1, 0], [0, 1, 0, 0], [-1, 0, 0, 0]])
        yards = [Solid.cylinder(3, -long, long).placed(turn).moved(0, 0, at) for long, at in ((85, 40), (70, 110), (45, 165))]
        mast = Solid.cylinder(4.4, 0, 200).plus(yards)
        self.assertGreater(search(mast, surface_of(mast), BED)[0].rest.contact_mm2, 50)

    def test_the_first_is_never_worse_in_everything_and_has_the_least_support(self) -> None:
        for solid in (
            ellipsoid(30, 20, 10).minus([Solid.box([-40, -40, -40], [40, 40, 0])]),
            Solid.box([0, 0, 0], [60, 15, 12]).plus([Solid.box([0, 0, 0], [15, 15, 60])]),
            tube(30, 27, 60).plus([Solid.cylinder(30, 0, 3)]),
            Solid.cone(4, 30, 0, 60).plus([Solid.cylinder(2, 60, 120)]),
        ):
            found = search(solid, surface_of(solid), BED)
            first, allowed = found[0], [c for c in found if not c.broken]
            self.assertIn(first, allowed)
            for other in allowed:
                worse = [other.measures[name] < first.measures[name] - 1e-9 for name in first.measures]
                self.assertFalse(all(worse))
                self.assertGreaterEqual(2 * other.support.volume_mm3 + 100, first.support.volume_mm3)

    def test_what_would_fall_over_is_no_way_to_lie(self) -> None:
        """A needle on its end tips at atan(r/h): on a foot of 3 mm, with its middle 100 mm up, at 0.9°."""
        needle = Solid.cylinder(1.5, 0, 200)
        one = measured(needle, surface_of(needle), BED, DOWN, "as it stands", Attitude())
        self.assertAlmostEqual(one.tip_deg, math.degrees(math.atan(1.5 / 100)), delta=0.01)
        self.assertEqual([b for b in one.broken if b.startswith("falls over")], ["falls over when tilted by 0.9°"])
        self.assertFalse(best(needle).broken)

    def test_corners_kept_free_are_minded(self) -> None:
        corner = (KeptFree(corner="front left", size_mm=(60, 60)), KeptFree(corner="back right", size_mm=(60, 60)))
        bed = Printer(bed_mm=(100, 100), height_mm=120, kept_free=corner)
        solid = box(80, 30, 35)
        found = search(solid, surface_of(solid), bed)
        self.assertIn("does not lie beside the corners of the bed that are kept free", {b for c in found for b in c.broken})
        self.assertAlmostEqual(float(found[0].rest.size_mm[2]), 80, delta=0.01)  # upright it does

    def test_when_time_runs_out_the_best_so_far_is_given_and_marked(self) -> None:
        ticks = iter(range(0, 10_000, 10))
        solid = ellipsoid(30, 20, 10)
        found = search(solid, surface_of(solid), BED, clock=lambda: float(next(ticks)), seconds=25)
        self.assertEqual({c.cut_short for c in found}, {True})
        self.assertLess(len(found), 5)

    def test_a_search_is_stopped_where_it_tells_how_far_it_is(self) -> None:
        def stop(fraction: float, _: str) -> None:
            if fraction > 0.3:
                raise Cancelled("Stopped.")

        solid = ellipsoid(30, 20, 10)
        with self.assertRaises(Cancelled):
            search(solid, surface_of(solid), BED, tell=stop)

    def test_equal_searches_give_equal_answers(self) -> None:
        solid = ellipsoid(30, 20, 10).minus([Solid.box([-40, -40, -40], [40, 40, 0])])
        one, two = (search(solid, surface_of(solid), BED) for _ in range(2))
        self.assertTrue(all(np.array_equal(a.rest.matrix, b.rest.matrix) for a, b in zip(one, two, strict=True)))


class Weighing(unittest.TestCase):
    def test_only_what_differs_counts(self) -> None:
        same = {"support": 5.0, "scars": 0.0, "steps": 1.0, "hold": 1.0, "strength": 0.0, "time": 60.0}
        penalties = weighed([same, {**same, "time": 90.0}], PRESETS["fastest"])
        self.assertEqual(penalties, [0.0, PRESETS["fastest"].time])

    def test_presets_prefer_what_they_are_named_for(self) -> None:
        solid = box(10, 10, 60).plus([Solid.box([-5, -5, 50], [40, 5, 60])])
        surface = surface_of(solid)
        found = search(solid, surface, BED)
        by = {name: ranked(found, weights)[0] for name, weights in PRESETS.items()}
        good = [c for c in found if not c.broken]
        self.assertEqual(by["least support"].support.volume_mm3, min(c.support.volume_mm3 for c in good))
        fast = ranked(found, Weights(support=0, scars=0, steps=0, hold=0, strength=0, time=5))[0]
        self.assertEqual(fast.minutes, min(c.minutes for c in good))
