"""Splice plates: their clearance on the walls of random shells; what they hold; how they print and go in."""

import math
import unittest

import numpy as np
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.build import Build
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.apply import standing_on
from hinoki.core.join.contract.hidden_side import hidden_lines
from hinoki.core.join.contract.strength import GLUE_MPA, Stuff
from hinoki.core.join.contract.terms import Standing
from hinoki.core.join.joints import PinJoint, SpliceJoint
from hinoki.core.join.placing import Depths
from hinoki.core.join.sizing.recommended_sizes import suggest
from hinoki.core.propose.recommend_joints import SuitWish, suited
from hinoki.core.workshop.hardware import GLUE_POINT
from tests.assembling import assembly, proofs
from tests.checked import findings_of
from tests.core.join.test_joint_kinds import FACE, codes, joined, sides
from tests.effort import tried
from tests.shapes import across, box, built, leaning_tube, level, plan_for, shell_of, stl_of, tube

WALLS = box(100, 80, 60).minus([Solid.box([-48, -38, -1], [48, 38, 61])])


def splice(**more: object) -> SpliceJoint:
    return SpliceJoint(id="j1", face=FACE, **more)  # type: ignore[arg-type]


def gaps(result: Build) -> list[list[float]]:
    """From every plate to both pieces."""
    there = sides(result)
    return [[loose.solid.gap(there[s], 3.0) for s in "ab"] for placed in result.placed for loose in placed.tools.loose]


def skirt() -> Solid:
    """A cone on a low ring, open below and above: its wall bends by 49° where they meet."""
    outer = Solid.cylinder(140, 0, 4.01).plus([Solid.cone(140, 74, 4, 60)])
    inner = Solid.cylinder(136.4, -1, 4.01).plus([Solid.cone(136.4, 71.6, 4, 60), Solid.cylinder(71.6, 59.9, 61)])
    return outer.minus([inner])


class Lies(unittest.TestCase):
    def test_off_a_bend_of_the_wall_on_both_sides_of_what_is_symmetric(self) -> None:
        data = stl_of(skirt())
        plan = plan_for(data, across(1, "x", 0.0), across(2, "y", 0.0), bed=(400, 400, 400))
        bare = built(data, plan)
        seams = [face.ref.id for face in bare.faces if face.ref.parting == "p1"]
        self.assertEqual(len(seams), 2)
        found = suited(bare, plan, SuitWish(kind="splice", faces=seams))
        self.assertEqual((found.without, len(found.joints)), ([], 2))
        result = built(data, plan.model_copy(update={"joints": tuple(found.joints)}))
        self.assertEqual({f.code for f in findings_of(result) if f.severity == "must-fix"}, set())

    @tried(6)
    @given(
        radius=st.floats(25, 45), wall=st.floats(1.2, 4), clearance=st.floats(0.05, 0.3), length=st.floats(8, 20),
        width=st.floats(6, 14), thick=st.floats(1.2, 3), studs=st.booleans(),
        made=st.sampled_from(["tube", "ellipsoid", "leaning", "walls"]),
    )  # fmt: skip
    def test_on_walls_that_curve_and_lean(  # noqa: PLR0913 - one for each measure
        self, radius: float, wall: float, clearance: float, length: float, width: float, thick: float, studs: bool, made: str
    ) -> None:
        solid = {
            "tube": lambda: tube(radius, radius - wall, 60),
            "ellipsoid": lambda: shell_of(radius, radius + 8, 40, wall).moved(0, 0, 24),
            "leaning": lambda: leaning_tube((radius, radius - wall), (radius - 12, radius - 12 - wall), 60),
            "walls": lambda: WALLS,
        }[made]()
        result = joined(solid, splice(length_mm=length, width_mm=width, thickness_mm=thick, studs=studs), clearance=clearance)
        (placed,) = result.placed
        assume(placed.tools.loose)
        self.assertEqual(codes(result) - {"turned-assembly"}, set())
        for to_a, to_b in gaps(result):
            self.assertAlmostEqual(min(to_a, to_b), clearance, delta=0.01)
        for loose in placed.tools.loose:
            self.assertEqual(len(loose.solid.lumps()), 1)
            for part in sides(result).values():
                self.assertLess(abs(loose.solid.common(part).volume_mm3), 1e-6)
        bare = {p.key: p.solid for p in result.before}
        for key, part in ((p.key, p.solid) for p in result.parts):  # nothing is cut, and nothing gained but studs
            self.assertLess(bare[key].minus([part]).volume_mm3, 1e-6)
            if not studs:
                self.assertLess(part.minus([bare[key]]).volume_mm3, 1e-6)

    def test_a_wall_that_leans_by_more_than_half_a_right_angle_has_one_square_to_itself(self) -> None:
        """The seam across a flat cone, as across the cap of an egg: 53° to the normal of the face."""
        steep = leaning_tube((100, 93), (20, 13), 60)
        data = stl_of(steep)
        plan = plan_for(data, level(1, 30))
        (joint,) = suited(built(data, plan), plan, SuitWish(kind="splice")).joints
        result = built(data, plan.model_copy(update={"joints": (joint,)}))
        self.assertEqual([f.code for f in findings_of(result) if f.severity == "must-fix"], [])
        self.assertEqual(set(proofs(assembly(result))), {"proved"})
        (placed,) = result.placed
        self.assertGreaterEqual(len(placed.places), 2)
        for to_a, to_b in gaps(result):
            self.assertAlmostEqual(min(to_a, to_b), placed.clearance_mm, delta=0.01)

    def test_where_a_shell_is_cut_along_they_lie_on_its_hollow_side(self) -> None:
        """The face of such a seam is a straight strip that goes round nothing; a flat sheet hides neither of its sides."""
        cone = leaning_tube((90, 87.6), (60, 57.6), 130)
        quarter = cone.common(Solid.box([0, -100, 0], [100, 100, 130]))
        sheet = box(200, 2.4, 130)
        for solid, parting, many in ((quarter, across(1, "y", 0.0), True), (sheet, across(1, "x", 0.0), False)):
            data = stl_of(solid)
            plan = plan_for(data, parting)
            bare = built(data, plan)
            (face,) = bare.faces
            self.assertEqual(bool(hidden_lines(standing_on(face, plan, "snug"))), many)
            joints = suited(bare, plan, SuitWish(kind="splice")).joints
            self.assertEqual(len(joints), int(many))
            result = built(data, plan.model_copy(update={"joints": tuple(joints)}))
            self.assertEqual([f.code for f in findings_of(result) if f.severity == "must-fix"], [])
            for loose in (one for placed in result.placed for one in placed.tools.loose):
                x, y, z = loose.solid.centre_of_mass
                self.assertLess(math.hypot(x, y), 87.6 - 30 * z / 130)

    def test_low_on_an_egg_where_its_outside_sees_it_too(self) -> None:
        """A short arc encloses nothing, and above its outside the wall leans out."""
        data = stl_of(shell_of(140, 140, 190, 4))
        plan = plan_for(data, level(1, 23), across(2, "x", 0.0, ("p1+",)), across(3, "y", 38.0, ("p1+ p2-",)))
        bare = built(data, plan)
        arc = next(f for f in bare.faces if f.ref.b == "p1+ p2- p3+" and f.ref.parting == "p1")
        (line,) = hidden_lines(standing_on(arc, plan, "snug"))
        at = arc.frame.world(np.asarray(line.coords))
        outer = arc.frame.world(np.asarray(arc.shape.geoms[0].exterior.coords))
        self.assertLess(float(np.hypot(*at[:, :2].T).max()), float(np.hypot(*outer[:, :2].T).max()) - 4)
        self.assertEqual(len(suited(bare, plan, SuitWish(kind="splice", faces=[arc.ref.id])).joints), 1)

    def test_on_a_flat_wall_it_is_a_box_that_prints_lying(self) -> None:
        placed = joined(WALLS, splice(length_mm=20, width_mm=14, thickness_mm=2)).placed[0]
        for loose in placed.tools.loose:
            np.testing.assert_allclose(loose.solid.placed(loose.printed).size, (14, 20, 2), atol=1e-3)

    def test_a_bent_one_prints_on_its_end_and_comes_off_into_the_hollow(self) -> None:
        placed = joined(tube(40, 38.4, 60), splice(length_mm=20, width_mm=14, thickness_mm=2)).placed[0]
        for loose, (x, y) in zip(placed.tools.loose, placed.places, strict=True):
            self.assertAlmostEqual(float(loose.solid.placed(loose.printed).size[2]), 20, places=3)
            assert loose.way is not None
            self.assertLess(np.dot(loose.way[:2], (x, y)) / math.hypot(x, y), -0.99)

    def test_studs_go_through_and_place_it(self) -> None:
        placed = joined(WALLS, splice(length_mm=20, width_mm=14, thickness_mm=2, studs=True), clearance=0.2).placed[0]
        joint = placed.joint
        assert isinstance(joint, SpliceJoint)
        for loose in placed.tools.loose:
            holes = 2 * math.pi * (joint.stud_mm / 2 + 0.2) ** 2 * 2
            self.assertAlmostEqual(14 * 20 * 2 - loose.solid.volume_mm3, holes, delta=0.02 * holes)
        self.assertEqual(len(placed.tools.each), 2 * len(placed.places))


class BesideOthers(unittest.TestCase):
    """A tube cut level, its lower half once more along: pins of the level seam stand in ears inside."""

    def test_a_plate_where_an_ear_is_is_told_and_what_suits_keeps_off(self) -> None:
        data = stl_of(tube(60, 57.6, 130))
        bare = plan_for(data, level(1, 65), across(2, "x", 0.0, only=("p1-",)))
        faces = [f.ref for f in built(data, bare).faces]
        along = next(ref for ref in faces if ref.parting == "p2")
        ears = tuple(
            PinJoint(
                id=f"j{k}", face=ref, count=6, diameter_mm=3, length_mm=3, collar_mm=8, collar_runs="ears", stand="outwards"
            )
            for k, ref in enumerate((ref for ref in faces if ref.parting == "p1"), 1)
        )
        plan = bare.model_copy(update={"joints": ears})
        near = SpliceJoint(id="j3", face=along, count=4, length_mm=30, width_mm=20)
        met = built(data, plan.model_copy(update={"joints": (*ears, near)}))
        told = [f for f in findings_of(met) if f.code == "joints-meet"]
        self.assertTrue(told)
        self.assertTrue(all(f.joint in ("j1", "j2") for f in told))
        (joint,) = suited(built(data, plan), plan, SuitWish(kind="splice")).joints
        result = built(data, plan.model_copy(update={"joints": (*ears, joint)}))
        self.assertEqual([f.code for f in findings_of(result) if f.severity == "must-fix"], [])
        for loose in (one for placed in result.placed for one in placed.tools.loose):
            for part in result.parts:
                self.assertLess(loose.solid.common(part.solid).volume_mm3, 1e-6)


class OnCrumbs(unittest.TestCase):
    def test_on_a_face_smaller_than_a_plate_is_round_it_is_there(self) -> None:
        """Seams of a dome leave such faces; what a plate covers is asked before there is known to be no room."""
        corners = [(-134.07105703875544, 56.483143809704586), (-132.28193349785647, 57.95144083427862)]
        corners += [(-130.66545559879896, 56.69230792631237), (-132.42009710984075, 55.252308201163)]
        standing = Standing(plane_frame(np.zeros(3), np.array([0.0, 0.0, 1.0])), MultiPolygon([Polygon(corners)]), 0.1, 1.2)
        covered = splice(width_mm=12, thickness_mm=2).footprint(standing, (0.0, 0.0))
        self.assertTrue(0 < covered.area < 12 * 2.5 * 2)
        self.assertTrue(covered.is_valid)


class Held(unittest.TestCase):
    def test_the_glue_under_half_of_it_or_the_plate_itself(self) -> None:
        """F = τ · A of a lap, half the plate on either side; F = σ · A of the plate's section where that is less."""
        placed = joined(WALLS, splice(count=2, length_mm=20, width_mm=14, thickness_mm=2)).placed[0]
        for length, stuff, newtons in (
            (20, Stuff(40.0), 2 * GLUE_MPA * 14 * 10), (20, Stuff(10.0), 2 * 10 * 14 * 2),
            (8, Stuff(10.0), 2 * GLUE_MPA * 14 * 4),
        ):  # fmt: skip
            joint = splice(count=2, length_mm=length, width_mm=14, thickness_mm=2)
            holds = joint.strength(placed.standing, placed.places, stuff)
            assert holds is not None
            self.assertAlmostEqual(holds.newtons, newtons)
        self.assertEqual([(h.name, h.count) for h in placed.joint.hardware(placed.standing, placed.places)], [(GLUE_POINT, 4)])
        self.assertEqual(placed.joint.hardware(placed.standing, []), [])


class Placed(unittest.TestCase):
    def test_off_corners_ends_and_seams_that_cross(self) -> None:
        for solid in (WALLS, tube(40, 38, 60).minus([Solid.box([0, -50, -1], [50, 50, 70])])):
            data = stl_of(solid)
            plan = plan_for(data, level(1, 30), joints=(splice(count=9, width_mm=14),))
            (placed,) = built(data, plan).placed
            self.assertGreater(len(placed.places), 1)
            self.assertEqual(placed.problems, [])

    def test_a_wall_that_bends_too_much_and_a_plate_too_thin_are_told(self) -> None:
        bent = tube(8, 6.5, 60)
        self.assertIn("joint-splice-bent", codes(joined(bent, splice(width_mm=14, places=((6.5, 0.0),)))))
        self.assertIn("joint-under-line", codes(joined(WALLS, splice(thickness_mm=0.6))))

    def test_on_the_face_a_plate_is_drawn_beside_the_wall_as_it_bends(self) -> None:
        for solid in (WALLS, tube(40, 38.4, 60)):
            placed = joined(solid, splice(width_mm=14, thickness_mm=2)).placed[0]
            for place in placed.places:
                foot = placed.joint.footprint(placed.standing, place)
                self.assertAlmostEqual(foot.area, 14 * 2, delta=1.5)
                self.assertAlmostEqual(foot.distance(placed.standing.shape), placed.clearance_mm, delta=1e-3)

    def test_sizes_are_as_thick_as_the_wall_and_one_for_every_80_mm(self) -> None:
        for wall, thick in ((1.2, 1.6), (2.0, 2.0), (6.0, 3.0)):
            solid = box(200, 160, 60).minus([Solid.box([-100 + wall, -80 + wall, -1], [100 - wall, 80 - wall, 61])])
            data = stl_of(solid)
            plan = plan_for(data, level(1, 30))
            face = built(data, plan).faces[0]
            joint = suggest("splice", "j1", Depths(face), "snug", standing_on(face, plan, "snug"))
            assert isinstance(joint, SpliceJoint)
            self.assertEqual((joint.thickness_mm, joint.count), (thick, 9))  # 712 mm and less of it inside

    def test_a_full_face_has_none(self) -> None:
        data = stl_of(box(60, 60, 60))
        plan = plan_for(data, level(1, 30))
        face = built(data, plan).faces[0]
        self.assertIsNone(suggest("splice", "j1", Depths(face), "snug", standing_on(face, plan, "snug")))


class LooseParts(unittest.TestCase):
    def test_plates_on_equal_stretches_are_one_part_and_others_have_a_letter(self) -> None:
        flat = joined(WALLS, splice(count=4)).loose
        self.assertEqual([(part.name, part.count) for part in flat], [("splice plate 20 × 14 × 2", 4)])
        oval = joined(shell_of(45, 30, 40, 2).moved(0, 0, 30), splice(count=2, places=((0.0, 28.0), (43.0, 0.0)))).loose
        self.assertEqual([part.count for part in oval], [1, 1])
        self.assertEqual(len({part.name for part in oval}), 2)

    def test_they_are_put_in_by_a_proved_order(self) -> None:
        data = stl_of(tube(40, 38.4, 60))
        plan = plan_for(data, level(1, 30), joints=(splice(count=3),))
        out = assembly(built(data, plan), plan)
        self.assertEqual((out.order.locked, set(proofs(out))), ([], {"proved"}))

    def test_where_nothing_else_has_room_they_go_before_glue(self) -> None:
        # a flat box whose hollow is too low for a collar: pegs find no room in it
        flat = box(120, 90, 14).minus([Solid.box([-58.8, -43.8, 1.2], [58.8, 43.8, 12.8])])
        data = stl_of(flat)
        plan = plan_for(data, across(1, "x", 0))
        (joint,) = suited(built(data, plan), plan, SuitWish(kind="auto")).joints
        self.assertEqual(joint.kind, "splice")
        result = built(data, plan.model_copy(update={"joints": (joint,)}))
        self.assertEqual([f.code for f in findings_of(result) if f.station == "join" and f.severity == "must-fix"], [])

    def test_smaller_and_their_names(self) -> None:
        joint = splice(count=1, length_mm=20, width_mm=10)
        self.assertEqual((joint.label(), splice().label()), ("1 splice plate 20 × 10 × 2", "2 splice plates 20 × 14 × 2"))
        smaller = joint.smaller()
        assert smaller is not None
        self.assertEqual((smaller.length_mm, smaller.width_mm), (16.0, 8.0))
        self.assertIsNone(splice(width_mm=7).smaller())


if __name__ == "__main__":
    unittest.main()
