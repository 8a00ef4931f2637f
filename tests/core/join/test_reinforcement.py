"""Collars: pins in shells too thin for them, with the outside as it was."""

import itertools
import unittest

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely import MultiPolygon, Polygon

from hinoki.core.build import Build, build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import Parting, WedgesParting
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.collar import hollow_beside
from hinoki.core.join.joints import DowelJoint, FaceRef, Joint, MagnetJoint, PinJoint
from hinoki.core.propose.recommend_joints import SuitWish, suited
from tests.checked import findings_of
from tests.effort import either, tried
from tests.shapes import across, box, built, leaning_tube, level, plan_for, shell_of, stl_of, tube

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
THIN = tube(40, 38, 60)


def pins(**more: object) -> PinJoint:
    measures = {"count": 3, "diameter_mm": 5, "length_mm": 5, "collar_mm": 8, **more}
    return PinJoint(id="j1", face=FACE, **measures)  # type: ignore[arg-type]


def joined(solid: Solid, joint: Joint, at: float = 30) -> Build:
    data = stl_of(solid)
    return built(data, plan_for(data, level(1, at), joints=(joint,)))


def found(result: Build) -> set[str]:
    return {f.code for f in findings_of(result) if f.station == "join" and f.severity != "note"}


def outer(solid: Solid) -> float:
    """Area within the outlines of 60 sections, every hollow filled: what the outside encloses."""
    low, high = solid.bounds
    levels = np.linspace(low[2] + 0.013, high[2] - 0.013, 60)
    return sum(Polygon(part.exterior).area for z in levels for part in solid.slice(float(z)).geoms)


def _beside(corner: np.ndarray, place: np.ndarray) -> float:
    """How far a point lies beside the radius through a place."""
    x, y = place / np.linalg.norm(place)
    return abs(float(corner @ [-y, x])) if corner @ place > 0 else np.inf


class Collars(unittest.TestCase):
    def test_a_thin_shell_holds_pins_in_a_collar_only(self) -> None:
        self.assertIn("joint-no-room", found(joined(THIN, pins(collar_mm=0))))
        result = joined(THIN, pins())
        self.assertEqual((found(result), len(result.placed[0].places)), (set(), 3))

    def test_the_outside_stays_and_pieces_do_not_overlap(self) -> None:
        result = joined(THIN, pins())
        low, high = result.parts
        self.assertLess(abs(low.solid.common(high.solid).volume_mm3), 1e-6)
        self.assertAlmostEqual(low.solid.bounds[1][2], 30 + 5, places=6)
        for joined_part, bare in zip(result.parts, result.before, strict=True):
            np.testing.assert_allclose(joined_part.solid.bounds[0][:2], bare.solid.bounds[0][:2], atol=1e-9)
            np.testing.assert_allclose(joined_part.solid.bounds[1][:2], bare.solid.bounds[1][:2], atol=1e-9)
        self.assertAlmostEqual(outer(high.solid), outer(result.before[1].solid), delta=0.5)

    def test_its_volume_is_that_of_a_ring_and_a_cone(self) -> None:
        """A ring 38 to 30 mm, straight over the bore's depth and wall, then a cone of 45° (Guldin's rule for its triangle)."""
        placed = joined(THIN, pins()).placed[0]
        deep = 5 + placed.standing.end_gap_mm + placed.standing.least_wall_mm
        ring = np.pi * (38**2 - 30**2) * deep
        cone = 2 * np.pi * (38 - 8 / 3) * 8 * 8 / 2
        self.assertAlmostEqual(placed.gains["b"].volume_mm3 / (ring + cone), 1.0, delta=0.03)

    def test_its_end_prints_without_support(self) -> None:
        """Whichever way round the piece prints, no slice of the collar stands out over the one below by more than a line."""
        gained = joined(THIN, pins()).placed[0].gains["b"]
        low, high = gained.bounds[0][2], gained.bounds[1][2]
        slices = [gained.slice(float(z)) for z in np.arange(low + 0.1, high, 0.2)]
        for below, above in itertools.pairwise(slices):
            self.assertTrue(below.buffer(0.06).covers(above), "lying on the face")
            self.assertTrue(above.buffer(0.45).covers(below), "the other way round")

    def test_wedges_of_a_shell_get_collars_on_their_own_side(self) -> None:
        data = stl_of(shell_of(40, 40, 40, 2))
        plan = plan_for(data, WedgesParting(id="p1", count=3))
        cache = Cache()
        first = build(plan, lambda _: data, cache)
        faces = [f for f in first.faces if f.shape.area > 50]
        joints = tuple(
            PinJoint(id=f"j{k + 1}", face=f.ref, count=2, diameter_mm=4, length_mm=4, collar_mm=7) for k, f in enumerate(faces)
        )
        result = build(plan.model_copy(update={"joints": joints}), lambda _: data, cache)
        self.assertEqual(found(result), set())
        parts = [p.solid for p in result.parts]
        for k, one in enumerate(parts):
            self.assertEqual(len(one.lumps()), 1)
            for other in parts[k + 1 :]:
                self.assertLess(abs(one.common(other).volume_mm3), 1e-3)

    def test_a_full_face_has_no_collar_and_says_so(self) -> None:
        notes = {f.code for f in findings_of(joined(box(60, 60, 60), pins()))}
        self.assertIn("joint-collar", notes)

    def test_what_suits_a_thin_shell_stands_in_a_collar(self) -> None:
        data = stl_of(tube(40, 38.6, 60))
        plan = plan_for(data, level(1, 30))
        result = built(data, plan)
        for kind in either(("auto",), ("auto", "dowel")):
            joint = suited(result, plan, SuitWish(kind=kind)).joints[0]  # type: ignore[arg-type]
            assert isinstance(joint, PinJoint | DowelJoint)
            self.assertGreater(joint.collar_mm, 3)
            again = plan.model_copy(update={"joints": (joint,)})
            self.assertEqual(found(built(data, again)), set())

    def test_no_room_offers_a_collar_and_that_helps(self) -> None:
        result = joined(THIN, pins(collar_mm=0))
        finding = next(f for f in findings_of(result) if f.code == "joint-no-room")
        fix = next(f for f in finding.fixes if f.code == "collar")
        assert fix.joint is not None
        self.assertEqual(found(joined(THIN, PinJoint.model_validate(fix.joint))), set())

    @tried(4)
    @given(
        low=st.floats(30, 45), lean=st.floats(-12, 12), wall=st.floats(1.2, 2.5), diameter=st.floats(2, 5),
        thick=st.floats(6, 12), loose=st.booleans(), runs=st.sampled_from(["along", "ears"]),
    )  # fmt: skip
    def test_leaning_walls(  # noqa: PLR0913 - one for each measure
        self, low: float, lean: float, wall: float, diameter: float, thick: float, loose: bool, runs: str
    ) -> None:
        shell = leaning_tube((low, low - wall), (low + lean, low + lean - wall), 60)
        more = {"id": "j1", "face": FACE, "count": 2, "diameter_mm": diameter, "collar_mm": thick, "collar_runs": runs}
        joint = DowelJoint(length_mm=8, **more) if loose else PinJoint(length_mm=4, **more)  # type: ignore[arg-type]
        result = joined(shell, joint)
        a, b = (p.solid for p in result.parts)
        self.assertLess(abs(a.common(b).volume_mm3), 1e-6)
        self.assertEqual([len(a.lumps()), len(b.lumps())], [1, 1])
        assert result.prepared is not None
        assert result.prepared.solid is not None
        hull = result.prepared.solid.hull
        for piece in (a, b):
            self.assertLess(piece.minus([hull]).volume_mm3, 1e-3)
        if result.placed[0].places and "joint-thin-wall" not in found(result):
            for placed in result.placed:
                gaps = [t.probe.gap(b if t.side == "a" else a, 2.0) for t in placed.tools.each if t.probe is not None]
                gaps += [part.solid.gap(s, 2.0) for part in placed.tools.loose for s in (a, b)]
                np.testing.assert_allclose(gaps, placed.clearance_mm, atol=0.01)


class Ears(unittest.TestCase):
    """A collar at the places only: flanges as ears."""

    def test_they_are_what_of_the_ring_lies_around_each_place(self) -> None:
        ring, ears = (joined(THIN, pins(collar_runs=runs)).placed[0] for runs in ("along", "ears"))
        self.assertEqual(ring.places, ears.places)
        joint = ears.joint
        assert isinstance(joint, PinJoint)
        far = 5 / 2 + ears.standing.clearance_mm + ears.standing.least_wall_mm + 1.0
        self.assertAlmostEqual(joint.ear_mm(ears.standing), far)
        for side, gained in ears.gains.items():
            self.assertEqual(len(gained.lumps()), 3)
            self.assertLess(gained.minus([ring.gains[side]]).volume_mm3, 1e-6)
            self.assertLess(gained.volume_mm3, 0.45 * ring.gains[side].volume_mm3)
            for corner in gained.mesh.vertices[:, :2]:
                self.assertLess(min(_beside(corner, np.array(place)) for place in ears.places), far + 0.2)
        self.assertEqual(found(joined(THIN, pins(collar_runs="ears"))), set())

    def test_they_print_without_support_either_way_round(self) -> None:
        gained = joined(THIN, pins(collar_runs="ears")).placed[0].gains["b"]
        low, high = gained.bounds[0][2], gained.bounds[1][2]
        slices = [gained.slice(float(z)) for z in np.arange(low + 0.1, high, 0.2)]
        for below, above in itertools.pairwise(slices):
            self.assertTrue(below.buffer(0.06).covers(above))
            self.assertTrue(above.buffer(0.45).covers(below))

    def test_a_long_wall_gets_ears_by_itself_and_a_small_ring_one_round_it(self) -> None:
        for radius, runs in ((45, "ears"), (16, "along")):
            data = stl_of(tube(radius, radius - 1.4, 60))
            plan = plan_for(data, level(1, 30))
            (joint,) = suited(built(data, plan), plan, SuitWish(kind="pin")).joints
            assert isinstance(joint, PinJoint)
            self.assertEqual(joint.collar_runs, runs, radius)
            self.assertEqual(found(built(data, plan.model_copy(update={"joints": (joint,)}))), set())

    def test_magnets_stand_in_ears_of_a_thin_shell(self) -> None:
        data = stl_of(THIN)
        plan = plan_for(data, level(1, 30))
        (joint,) = suited(built(data, plan), plan, SuitWish(kind="magnet")).joints
        assert isinstance(joint, MagnetJoint)
        result = built(data, plan.model_copy(update={"joints": (joint,)}))
        (placed,) = result.placed
        self.assertEqual((joint.collar_runs, found(result), len(placed.places)), ("ears", set(), joint.count))
        self.assertGreaterEqual(len(placed.places), 2)
        a, b = (p.solid for p in result.parts)
        gaps = [t.probe.gap(a if t.side == "b" else b, 2.0) for t in placed.tools.each if t.probe is not None]
        np.testing.assert_allclose(gaps, placed.clearance_mm, atol=0.01)

    def test_magnets_without_room_are_offered_a_collar_and_that_helps(self) -> None:
        bare = MagnetJoint(id="j1", face=FACE, count=2, diameter_mm=5, thick_mm=2)
        finding = next(f for f in findings_of(joined(THIN, bare)) if f.code == "joint-no-room")
        fix = next(f for f in finding.fixes if f.code == "collar")
        assert fix.joint is not None
        self.assertEqual(found(joined(THIN, MagnetJoint.model_validate(fix.joint))), set())


class OpenWalls(unittest.TestCase):
    """A cup of 1.2 mm, open above, whose seam is a U: too thin for a lip."""

    CUP = Solid.cylinder(40, 0, 60).minus([Solid.cylinder(38.8, 1.2, 61)])

    def parted(self, *partings: Parting) -> tuple[Build, Build]:
        """As it is parted, and with the joints that suit it."""
        data = stl_of(self.CUP)
        plan = plan_for(data, *partings)
        bare = built(data, plan)
        joints = suited(bare, plan, SuitWish(kind="auto")).joints
        return bare, built(data, plan.model_copy(update={"joints": tuple(joints)}))

    def test_pegs_stand_in_a_collar_that_is_seen_from_nowhere_outside(self) -> None:
        _, result = self.parted(across(1, "x", 0))
        (placed,) = result.placed
        self.assertEqual((placed.joint.kind, found(result)), ("pin", set()))
        self.assertGreaterEqual(len(placed.places), 2)
        inside = Solid.cylinder(38.85, 1.15, 58.01)  # a hair into the wall, and off its end above
        for gained in placed.gains.values():
            self.assertLess(gained.minus([inside]).volume_mm3, 0.01 * gained.volume_mm3)
            self.assertGreater(gained.volume_mm3, 500)
            across_it = Solid.box([-40, -20, 30], [40, 20, 60])  # it runs along the wall, not over from one side to the other
            self.assertEqual(gained.common(across_it).volume_mm3, 0)
        low, high = (p.solid for p in result.parts)
        self.assertLess(low.common(high).volume_mm3, 1e-4)

    def test_collars_of_seams_that_cross_keep_off_each_other(self) -> None:
        """Both stop before the line in which the two partings meet."""
        _, result = self.parted(across(1, "x", 0), across(2, "y", 0))
        gains = [(p.part(side).key, gained) for p in result.placed for side, gained in p.gains.items()]
        self.assertEqual(len(gains), 8)
        for (key, one), (other, two) in itertools.combinations(gains, 2):
            if key == other:
                self.assertEqual(one.common(two).volume_mm3, 0)
        self.assertEqual({f.code for f in findings_of(result) if f.severity == "must-fix"}, set())

    def test_compartments_beside_each_other_get_collars_each(self) -> None:
        """A tray of three, walls of 1.6 mm, cut through them: pegs stand in the corners, nothing over the walls' upper ends."""
        cells = [Solid.box([-30, y, 2], [30, y + 28.4, 31]) for y in (-43.4, -14.2, 15.0)]
        tray = Solid.box([-31.6, -45, 0], [31.6, 45, 30]).minus(cells)
        data = stl_of(tray)
        plan = plan_for(data, across(1, "x", 0))
        joints = suited(built(data, plan), plan, SuitWish(kind="auto")).joints
        result = built(data, plan.model_copy(update={"joints": tuple(joints)}))
        (placed,) = result.placed
        self.assertEqual((placed.joint.kind, found(result)), ("pin", set()))
        self.assertGreaterEqual(len(placed.places), 2)
        for gained in placed.gains.values():
            self.assertEqual(len(gained.lumps()), 3)
            self.assertLess(gained.bounds[1][2], 28.1)
        self.assertEqual({f.code for f in findings_of(result) if f.severity == "must-fix"}, set())

    def test_what_lies_between_two_legs_is_no_hollow(self) -> None:
        legs = MultiPolygon([shapely.box(0, 0, 20, 20), shapely.box(40, 0, 60, 20)])
        self.assertTrue(hollow_beside(legs, legs, 3.0).is_empty)


if __name__ == "__main__":
    unittest.main()
