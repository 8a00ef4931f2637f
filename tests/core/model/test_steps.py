"""Prepare steps: what each does, in what order, and how one that cannot be done is refused."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting
from hinoki.core.errors import BadPlan
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.shape import Body, Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.health.components import Lump, split_lumps
from hinoki.core.model.offsets.offset import cavity_of
from hinoki.core.model.prepared_model import Prepared, prepared
from hinoki.core.model.steps import (
    BoreStep,
    FlattenStep,
    HollowStep,
    LengthStep,
    MatchStep,
    MirrorStep,
    PairStep,
    ReliefStep,
    RoundBoresStep,
    ScaleStep,
    StandStep,
    StepBase,
    StepRefused,
    StretchStep,
    TurnStep,
)
from hinoki.core.model.steps.hollow import suggested_drains
from hinoki.core.plan.plan import Plan, plan_from
from hinoki.core.progress import quiet
from tests.effort import tried
from tests.shapes import box, built, plan_for, torus

QUIET = lambda _f, _p: None  # noqa: E731
WEDGE = Solid.hull_of(np.array([[0, 0, 0], [30, 0, 0], [0, 20, 0], [0, 0, 60.0], [30, 0, 10]]))


def shape_of(*solids: Solid) -> Shape:
    return Shape(tuple(Body(f"body {k}", solid=s) for k, s in enumerate(solids, start=1)))


def after(step: StepBase, *solids: Solid) -> Shape:
    return step.apply(shape_of(*solids), QUIET).shape


def ready(mesh: Mesh, *steps: StepBase) -> Prepared:
    data = write_stl(mesh)
    plan = plan_for(data).model_copy(update={"prepare": tuple(steps)})
    return prepared(plan, lambda _: data, Cache(), QUIET)


def size(shape: Shape) -> list[float]:
    low, high = shape.bounds
    return [round(float(v), 4) for v in high - low]


class Standing(unittest.TestCase):
    def test_which_way_is_up(self) -> None:
        self.assertEqual(size(after(StandStep(id="s1", down=(0, -1, 0)), box(10, 20, 30))), [10, 30, 20])
        self.assertEqual(size(after(StandStep(id="s1", down=(1, 0, 0)), box(10, 20, 30))), [30, 20, 10])

    def test_on_a_leaning_face(self) -> None:
        faces = WEDGE.mesh.face_vectors
        lean = faces[np.argmax(np.linalg.norm(faces, axis=1))]
        down = tuple(float(v) for v in lean / np.linalg.norm(lean))
        stood = after(StandStep(id="s1", down=down), WEDGE).settled()
        low = stood.mesh.vertices[:, 2] < 1e-6
        self.assertGreaterEqual(int(low.sum()), 3)

    def test_turning_by_degrees_turns_about_x_then_y_then_z(self) -> None:
        self.assertEqual(size(after(TurnStep(id="s1", turn_deg=(90, 0, 0)), box(10, 20, 30))), [10, 30, 20])
        self.assertEqual(size(after(TurnStep(id="s1", turn_deg=(90, 0, 90)), box(10, 20, 30))), [30, 10, 20])
        there = after(TurnStep(id="s1", turn_deg=(0, 0, 33)), WEDGE)
        back = TurnStep(id="s1", turn_deg=(0, 0, -33)).apply(there, QUIET).shape
        np.testing.assert_allclose(size(back), np.ptp(WEDGE.bounds, axis=0), atol=1e-3)

    def test_mirroring_keeps_the_volume_and_looks_outwards(self) -> None:
        mirrored = after(MirrorStep(id="s1", axis="x"), WEDGE)
        self.assertAlmostEqual(mirrored.volume_mm3, WEDGE.volume_mm3, places=6)
        twice = after(MirrorStep(id="s1", axis="x"), mirrored.bodies[0].solid)
        np.testing.assert_allclose(np.sort(twice.mesh.vertices, axis=0), np.sort(WEDGE.mesh.vertices, axis=0), atol=1e-9)

    def test_a_pair_is_named_and_stands_side_by_side(self) -> None:
        pair = after(PairStep(id="s1", axis="x", gap_mm=7), WEDGE)
        self.assertEqual([b.name for b in pair.bodies], ["body 1, left", "body 1, right"])
        self.assertEqual(size(pair)[0], 2 * 30 + 7)
        left, right = (b.solid for b in pair.bodies)
        self.assertEqual(left.common(right).volume_mm3, 0)

    def test_the_model_is_centred_on_the_bed_again(self) -> None:
        found = ready(WEDGE.mesh, StandStep(id="s1", down=(0, 1, 0)), ScaleStep(id="s2", factor=(2, 1, 1)))
        low, high = found.shape.bounds
        np.testing.assert_allclose([low[0] + high[0], low[1] + high[1], low[2]], 0, atol=1e-9)


class Size(unittest.TestCase):
    def test_by_factor_length_and_two_points(self) -> None:
        self.assertEqual(size(after(ScaleStep(id="s1", factor=(2, 1, 0.5)), box(10, 20, 30))), [20, 20, 15])
        self.assertEqual(size(after(LengthStep(id="s1", axis="y", length_mm=50), box(10, 20, 30))), [25, 50, 75])
        match = MatchStep(id="s1", from_mm=(0, 0, 0), to_mm=(3, 4, 0), distance_mm=10)
        self.assertEqual(size(after(match, box(10, 20, 30))), [20, 40, 60])

    def test_points_in_one_place_and_absurd_sizes_are_refused(self) -> None:
        with self.assertRaisesRegex(StepRefused, "one place"):
            after(MatchStep(id="s1", from_mm=(1, 1, 1), to_mm=(1, 1, 1)), box(1, 1, 1))
        with self.assertRaisesRegex(StepRefused, "mm across"):
            after(ScaleStep(id="s1", factor=(9000, 9000, 9000)), box(100, 100, 100))


class Cutting(unittest.TestCase):
    def test_stretch_keeps_features_away_from_the_plane(self) -> None:
        plate = box(80, 30, 10).minus([Solid.cylinder(4, -1, 11).moved(x, 0, 0) for x in (-25.0, 25.0)])
        long = after(StretchStep(id="s1", axis="x", at_mm=0, by_mm=24), plate)
        self.assertAlmostEqual(long.volume_mm3 - plate.volume_mm3, 30 * 10 * 24, places=6)
        # the holes are as round as before, and further apart by the distance
        self.assertAlmostEqual(size(long)[0], 104)
        for x in (-37.0, 37.0):
            gone = long.solid.common(Solid.cylinder(3.9, -1, 11).moved(x, 0, 0))
            self.assertAlmostEqual(gone.volume_mm3, 0, places=6)

    def test_stretch_moves_only_the_side_that_is_asked_for(self) -> None:
        up = after(StretchStep(id="s1", axis="x", at_mm=5, by_mm=10, side="upper"), box(40, 10, 10))
        self.assertEqual([round(float(b[0]), 6) for b in up.bounds], [-20, 30])
        down = after(StretchStep(id="s1", axis="x", at_mm=5, by_mm=10, side="lower"), box(40, 10, 10))
        self.assertEqual([round(float(b[0]), 6) for b in down.bounds], [-30, 20])

    @tried(12)
    @given(at=st.floats(-18, 18), by=st.floats(0.2, 60), axis=st.sampled_from(["x", "y"]))
    def test_stretch_adds_area_times_distance(self, at: float, by: float, axis: str) -> None:
        ring = Solid.from_mesh(torus(20, 6, 36, 18, 1.0))
        before = shape_of(ring)
        step = StretchStep(id="s1", axis=axis, at_mm=at, by_mm=by)  # type: ignore[arg-type]
        outcome = step.apply(before, QUIET)
        area = float(outcome.said[0].split(": ")[1].split(" mm²")[0])
        self.assertAlmostEqual(outcome.shape.volume_mm3 - ring.volume_mm3, area * by, delta=0.06 * by + 1e-6 * ring.volume_mm3)
        self.assertTrue(outcome.shape.mesh.edges.closed)

    def test_bore_with_counterbore(self) -> None:
        step = BoreStep(id="s1", from_mm=(0, 0, 20), to_mm=(0, 0, 0), diameter_mm=4, head_diameter_mm=10, head_depth_mm=6)
        gone = 40 * 30 * 20 - after(step, box(40, 30, 20)).volume_mm3
        self.assertAlmostEqual(gone / (np.pi * (25 * 6 + 4 * 14)), 1, delta=3e-3)

    def test_a_bore_that_stops_at_its_second_point(self) -> None:
        step = BoreStep(id="s1", from_mm=(0, 0, 20), to_mm=(0, 0, 12), diameter_mm=4, through=False)
        gone = 40 * 30 * 20 - after(step, box(40, 30, 20)).volume_mm3
        self.assertAlmostEqual(gone / (np.pi * 4 * 8), 1, delta=5e-3)

    def test_what_misses_or_leaves_nothing_is_refused(self) -> None:
        with self.assertRaisesRegex(StepRefused, "does not meet"):
            after(BoreStep(id="s1", from_mm=(500, 0, 0), to_mm=(500, 0, 10)), box(10, 10, 10))
        with self.assertRaisesRegex(StepRefused, "misses the model, which reaches from -5.0 to 5.0 mm along X"):
            after(StretchStep(id="s1", axis="x", at_mm=90), box(10, 10, 10))
        with self.assertRaisesRegex(StepRefused, "leaves nothing"):
            after(FlattenStep(id="s1", height_mm=11), box(10, 10, 10))

    def test_flat_bottom(self) -> None:
        flat = ready(torus(30, 10, 48, 24), FlattenStep(id="s1", height_mm=3))
        self.assertAlmostEqual(size(flat.shape)[2], 17, places=3)
        self.assertAlmostEqual(float(flat.shape.bounds[0][2]), 0, places=9)

    def test_round_bores_again(self) -> None:
        plate = box(60, 60, 20).minus([Solid.prism(12.5, -1, 21, 12)])
        out = after(RoundBoresStep(id="s1"), plate)
        self.assertAlmostEqual((60 * 60 * 20 - out.volume_mm3) / (np.pi * 12.5**2 * 20), 1, delta=2e-3)
        with self.assertRaisesRegex(StepRefused, "no coarse"):
            after(RoundBoresStep(id="s1"), box(10, 10, 10))


class Hollowing(unittest.TestCase):
    def test_open_at_a_side(self) -> None:
        out = after(HollowStep(id="s1", wall_mm=3, open_side="z+", open_at_mm=30), box(50, 40, 40))
        mouth = out.solid.common(Solid.box([-20, -15, 36], [20, 15, 41]))
        self.assertAlmostEqual(mouth.volume_mm3, 0, places=6)
        self.assertEqual(len(out.solid.lumps()), 1)

    def test_a_plane_the_cavity_does_not_reach_is_refused(self) -> None:
        with self.assertRaisesRegex(StepRefused, "does not reach the open plane at 39 mm"):
            after(HollowStep(id="s1", wall_mm=3, open_side="z+", open_at_mm=39), box(50, 40, 40))

    def test_nothing_to_take_out_of_a_thin_plate(self) -> None:
        with self.assertRaisesRegex(StepRefused, "nowhere thicker than twice 4 mm"):
            after(HollowStep(id="s1", wall_mm=4), box(50, 40, 6))

    def test_drain_holes_at_the_lowest_and_highest_point_reach_the_cavity(self) -> None:
        ball = Solid.from_mesh(torus(24, 10, 48, 24))
        cavity = cavity_of(ball, 2, 1, QUIET)
        drains = suggested_drains(ball, cavity, np.array([0.0, 0.0, -1.0]), 3)
        closed = after(HollowStep(id="s1", wall_mm=2), ball)
        drained = after(HollowStep(id="s1", wall_mm=2, drains=tuple(drains)), ball)
        self.assertEqual(len(_shells(closed)), 2)
        self.assertEqual(len(_shells(drained)), 1)  # the cavity's surface now joins the outside
        self.assertLess(drained.volume_mm3, closed.volume_mm3)

    def test_a_wall_thinner_than_asked_for_is_pointed_out_with_its_place(self) -> None:
        step = HollowStep(id="s1", wall_mm=2)
        at = np.array([3.0, 4.0, 5.0])
        self.assertEqual(step._too_thin(1.9, at), [])
        (finding,) = step._too_thin(0.43, at)
        self.assertEqual((finding.code, finding.step, finding.at_mm), ("wall-thinner", "s1", (3, 4, 5)))
        self.assertEqual((finding.params["wall_mm"], finding.params["wanted_mm"]), (0.43, 2))

    def test_the_wall_of_a_long_thin_body_is_kept(self) -> None:
        """Cells are counted in the box around the model, not along its longest side."""
        rod = box(700, 24, 20)
        done = HollowStep(id="s1", wall_mm=1.6).apply(Shape((Body("rod", solid=rod),)), quiet)
        self.assertEqual(done.findings, [])
        least = float(next(s for s in done.said if s.startswith("least")).split()[3])
        self.assertAlmostEqual(least, 1.6, delta=0.16)

    def test_lattice_and_formers_stand_inside(self) -> None:
        block = box(60, 50, 40)
        plain = after(HollowStep(id="s1", wall_mm=2), block).volume_mm3
        latticed = after(HollowStep(id="s1", wall_mm=2, lattice_mm=12, strut_mm=2), block)
        self.assertGreater(latticed.volume_mm3, plain + 1000)
        self.assertLess(latticed.volume_mm3, block.volume_mm3 * 0.7)
        self.assertEqual(len(latticed.solid.lumps()), 1)
        formed = after(HollowStep(id="s1", wall_mm=2, former_mm=20, former_axis="x", rod_mm=6), block)
        rod = formed.solid.common(Solid.cylinder(3, -29, 29).placed(np.array([[0, 0, 1.0, 0], [0, 1, 0, 0], [-1, 0, 0, 20]])))
        ends = 2 * np.pi * 9 * 1.0
        self.assertLess(rod.volume_mm3, ends + 5)  # the rod's way through the formers is free
        self.assertGreater(formed.volume_mm3, plain + 500)

    def test_spacings_without_room_are_refused(self) -> None:
        with self.assertRaisesRegex(StepRefused, "leaves no room"):
            after(HollowStep(id="s1", wall_mm=2, lattice_mm=3, strut_mm=2), box(40, 40, 40))
        with self.assertRaisesRegex(StepRefused, "would fill the model"):
            after(HollowStep(id="s1", wall_mm=2, former_mm=2, former_wall_mm=2), box(40, 40, 40))


def _shells(shape: Shape) -> list[Lump]:
    return split_lumps(shape.mesh)


GRID = 120


def _sheet(height) -> Mesh:  # type: ignore[no-untyped-def]
    """A square of 60 mm with the given height over it."""
    n = GRID
    x, y = np.meshgrid(np.linspace(0, 60, n), np.linspace(0, 60, n), indexing="ij")
    faces = [(i * n + j, (i + 1) * n + j, (i + 1) * n + j + 1) for i in range(n - 1) for j in range(n - 1)]
    faces += [(i * n + j, (i + 1) * n + j + 1, i * n + j + 1) for i in range(n - 1) for j in range(n - 1)]
    return Mesh(np.column_stack([x.ravel(), y.ravel(), height(x, y).ravel()]), np.array(faces))


class Relief(unittest.TestCase):
    def test_small_waves_grow_and_the_large_form_stays(self) -> None:
        wave = lambda x, _y: 0.2 * np.cos(2 * np.pi * x / 3) + 4 * np.cos(2 * np.pi * x / 120)  # noqa: E731
        sheet = _sheet(wave)
        z = sheet.vertices[:, 2].reshape(GRID, GRID)
        out = ReliefStep(id="s1", detail_mm=6, factor=2).apply(Shape((Body("sheet", sheet),)), QUIET)
        raised = out.shape.mesh.vertices[:, 2].reshape(GRID, GRID)[20:100, 60]
        before = z[20:100, 60]
        ripple = lambda v: np.abs(v - np.convolve(np.pad(v, 6, mode="edge"), np.ones(13) / 13, "valid")).max()  # noqa: E731
        self.assertGreater(ripple(raised), 1.6 * ripple(before))
        self.assertLess(abs(float(raised.mean() - before.mean())), 0.1)

    def test_factor_one_changes_nothing(self) -> None:
        mesh = torus(20, 6, 36, 18, 1.0)
        out = ReliefStep(id="s1", factor=1).apply(Shape((Body("ring", mesh),)), QUIET)
        np.testing.assert_allclose(out.shape.mesh.vertices, mesh.vertices, atol=1e-9)

    def test_folding_is_said(self) -> None:
        # ripples across a steep valley: where they are raised, its two sides run into each other
        sheet = _sheet(lambda x, y: 1.5 * np.abs(x - 30) + 0.6 * np.cos(2 * np.pi * y / 3))
        out = ReliefStep(id="s1", detail_mm=6, factor=6).apply(Shape((Body("valley", sheet),)), QUIET)
        self.assertEqual([f.code for f in out.findings], ["relief-folds"])
        self.assertIsNotNone(out.findings[0].at_mm)


class InOrder(unittest.TestCase):
    def test_steps_are_done_in_order_and_can_be_switched_off(self) -> None:
        hole = BoreStep(id="s2", from_mm=(0, 0, 0), to_mm=(0, 0, 1), diameter_mm=4)
        one = ready(box(10, 10, 10).mesh, ScaleStep(id="s1", factor=(2, 2, 2)), hole)
        two = ready(box(10, 10, 10).mesh, hole, ScaleStep(id="s1", factor=(2, 2, 2)))
        off = ready(box(10, 10, 10).mesh, ScaleStep(id="s1", factor=(2, 2, 2), on=False), hole)
        # a 4 mm hole through 20 mm; the same hole doubled with the block; the hole alone
        expected = (8000 - np.pi * 4 * 20, 8000 - np.pi * 16 * 20, 1000 - np.pi * 4 * 10)
        for found, volume in zip((one, two, off), expected, strict=True):
            self.assertAlmostEqual(found.shape.volume_mm3 / volume, 1, delta=2e-3)

    def test_a_step_that_cannot_be_done_becomes_a_finding_and_the_rest_goes_on(self) -> None:
        found = ready(box(10, 10, 10).mesh, StretchStep(id="s1", at_mm=400), ScaleStep(id="s2", factor=(3, 3, 3)))
        self.assertEqual(size(found.shape), [30, 30, 30])
        self.assertEqual([(f.code, f.step) for done in found.done for f in done.findings], [("step-refused", "s1")])

    def test_an_open_surface_waits_for_a_repair(self) -> None:
        mesh = Mesh(box(10, 10, 10).mesh.vertices, box(10, 10, 10).mesh.faces[1:])
        found = ready(mesh, HollowStep(id="s1"))
        self.assertIn("step-needs-closed", [f.code for done in found.done for f in done.findings])
        self.assertIsNone(found.solid)

    def test_a_pair_can_be_parted_like_any_model(self) -> None:
        data = write_stl(box(30, 20, 100).mesh)
        plan = plan_for(data, FlatParting(id="p1", axis="z", at_mm=50))
        result = built(data, plan.model_copy(update={"prepare": (PairStep(id="s1"),)}))
        self.assertEqual(len(result.pieces), 4)
        assert result.balance is not None
        self.assertLess(result.balance.relative_error, 1e-9)

    def test_only_the_changed_step_is_done_again(self) -> None:
        data, cache = write_stl(box(40, 40, 40).mesh), Cache()
        first = HollowStep(id="s1", wall_mm=3)
        plan = plan_for(data).model_copy(update={"prepare": (first, ScaleStep(id="s2", factor=(2, 2, 2)))})
        prepared(plan, lambda _: data, cache, QUIET)
        made = cache.made
        renamed = plan.model_copy(update={"prepare": (first.model_copy(update={"name": "shell"}), plan.prepare[1])})
        prepared(renamed, lambda _: data, cache, QUIET)
        self.assertEqual(cache.made, made)

    def test_a_plan_with_an_unknown_step_is_refused_by_name(self) -> None:
        data = Plan().model_dump(mode="json", by_alias=True) | {"prepare": [{"kind": "knead", "id": "s1"}]}
        with self.assertRaisesRegex(BadPlan, "prepare.0.*'knead' is not known"):
            plan_from(data)

    def test_two_steps_of_one_name_are_refused(self) -> None:
        step = {"kind": "mirror", "id": "s1"}
        data = Plan().model_dump(mode="json", by_alias=True) | {"prepare": [step, step]}
        with self.assertRaisesRegex(BadPlan, "two steps are named s1"):
            plan_from(data)

    def test_an_older_plan_without_steps_still_reads(self) -> None:
        old = Plan().model_dump(mode="json", by_alias=True)
        for name in ("prepare", "also", "material", "more_printers"):
            del old[name]
        self.assertEqual(plan_from(old).prepare, ())


if __name__ == "__main__":
    unittest.main()
