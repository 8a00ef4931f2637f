"""Ways through several pieces: rods and cable ways, what they cut, and what is noticed."""

import itertools
import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from hinoki.core.build import Build
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channels import CableWay, RodWay, StandWay, Way
from hinoki.core.join.joints import FaceRef, Joint, LipJoint, PinJoint, ThreadJoint
from hinoki.core.workshop.hardware import spares_of
from tests.assembling import assembly, way_in
from tests.checked import findings_of
from tests.effort import tried
from tests.shapes import box, built, level, plan_for, stl_of, tube

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+ p2-")
TOWER = box(40, 40, 90)


def through(*ways: Way, joints: tuple[Joint, ...] = (), solid: Solid = TOWER) -> Build:
    data = stl_of(solid)
    return built(data, plan_for(data, level(1, 30), level(2, 60), ways=ways, joints=joints))


def rod(start: tuple[float, float, float], end: tuple[float, float, float], **more: object) -> RodWay:
    return RodWay(id="w1", start_mm=start, end_mm=end, **more)  # type: ignore[arg-type]


def cable(*points: tuple[float, float, float], **more: object) -> CableWay:
    return CableWay(id="w1", start_mm=points[0], via_mm=points[1:-1], end_mm=points[-1], **more)  # type: ignore[arg-type]


def codes(result: Build) -> set[str]:
    return {f.code for f in findings_of(result) if f.code.startswith("way")}


def lost(result: Build) -> float:
    before = {p.key: p.solid.volume_mm3 for p in result.before}
    return sum(before[p.key] - p.solid.volume_mm3 for p in result.parts)


class Rods(unittest.TestCase):
    def test_a_rod_goes_through_three_pieces_with_its_clearance(self) -> None:
        result = through(rod((0, 0, 10), (0, 0, 80), diameter_mm=4))
        self.assertEqual((codes(result), [result.numbers[k] for k in result.ways[0].pieces]), (set(), [1, 2, 3]))
        self.assertAlmostEqual(lost(result), math.pi * 2.2**2 * 71, delta=0.01 * lost(result))
        body = result.ways[0].way.body()
        assert isinstance(body, Solid)
        for part in result.parts:
            self.assertAlmostEqual(body.gap(part.solid, 3), 0.2, delta=0.02)

    def test_the_length_to_cut_is_told(self) -> None:
        bought = through(
            rod((0, 0, 10), (0, 0, 80)), rod((9, 0, 20), (9, 0, 70), diameter_mm=3).model_copy(update={"id": "w2"})
        )
        self.assertEqual(
            [(h.name, h.count, h.length_mm, spares_of(h)) for h in bought.hardware],
            [("rod ø3, steel", 1, 50.0, 0), ("rod ø4, steel", 1, 70.0, 0)],
        )

    def test_a_rod_takes_as_much_whichever_way_it_lies(self) -> None:
        cube = box(60, 60, 60)
        upright = lost(through(rod((0, 0, -10), (0, 0, 70), diameter_mm=6), solid=cube))
        for k in range(3):
            ends = np.array([[0.0, 0.0, 30.0]] * 2)
            ends[:, k] = (-40.0, 40.0) if k < 2 else (-10.0, 70.0)
            took = lost(through(rod(tuple(ends[0]), tuple(ends[1]), diameter_mm=6), solid=cube))  # type: ignore[arg-type]
            self.assertAlmostEqual(took, upright, delta=1)

    def test_a_square_rod_cuts_a_square(self) -> None:
        result = through(rod((0, 0, 10), (0, 0, 80), shape="square", diameter_mm=6))
        self.assertAlmostEqual(lost(result), 6.4**2 * 71, delta=0.01)

    def test_one_that_comes_out_at_the_side_is_told_with_the_place(self) -> None:
        result = through(rod((15, 0, 5), (30, 0, 85)))
        self.assertIn("way-comes-out", codes(result))
        finding = next(f for f in findings_of(result) if f.code == "way-comes-out")
        assert finding.at_mm is not None
        self.assertGreater(finding.at_mm[0], 15)

    def test_from_face_to_face_it_may_end_outside(self) -> None:
        self.assertEqual(codes(through(rod((0, 0, 0), (0, 0, 90)))), set())

    def test_what_it_takes_of_a_rim_is_noted(self) -> None:
        lip = LipJoint(id="j1", face=FACE.model_copy(update={"b": "p1+"}), thickness_mm=2, runs="outer")
        data = stl_of(box(40, 40, 60))
        way = rod((18.5, 0, 10), (18.5, 0, 50), diameter_mm=2)
        result = built(data, plan_for(data, level(1, 30), ways=(way,), joints=(lip,)))
        (note,) = (f for f in findings_of(result) if f.code == "way-through-rim")
        # its bore is ø2.4 and reaches from the rim's inside at 18 mm to 18.5 + 1.2
        self.assertAlmostEqual(note.params["long_mm"], math.hypot(1.7, 2.4), places=2)  # type: ignore[arg-type]

    def test_a_hollow_is_not_outside(self) -> None:
        hollow = box(40, 40, 90).minus([Solid.box([-15, -15, 10], [15, 15, 80])])
        self.assertEqual(codes(through(rod((0, 0, 2), (0, 0, 88)), solid=hollow)), set())

    def test_it_meets_a_pin_and_pins_keep_off_it(self) -> None:
        way = rod((0, 0, 10), (0, 0, 80))
        on_it = PinJoint(id="j1", face=FACE, count=1, places=((0, 0),))
        (met,) = (f for f in findings_of(through(way, joints=(on_it,))) if f.code == "way-meets-joint")
        self.assertEqual(met.params, {"way": "rod ø4, 70 long", "name": "Pin A", "face": "1|2"})
        self.assertEqual((met.joint, met.about), ("j1", "w1"))
        free = through(way, joints=(PinJoint(id="j1", face=FACE, count=1),))
        self.assertNotIn("way-meets-joint", codes(free))
        self.assertGreater(np.hypot(*free.placed[0].places[0]), 2.2 + 2.5 + 1.6)

    def test_pieces_go_together_along_their_rod(self) -> None:
        aslant = rod((-10, 0, 10), (10, 0, 80))
        straight = PinJoint(id="j1", face=FACE, count=1, places=((0, 15),))
        self.assertIn("way-at-odds", codes(through(aslant, joints=(straight,))))
        self.assertNotIn("way-at-odds", codes(through(rod((0, 0, 10), (0, 0, 80)), joints=(straight,))))
        steps = assembly(through(aslant)).order.steps
        way = np.subtract((10, 0, 80), (-10, 0, 10)) / np.linalg.norm((20, 0, 70))
        self.assertEqual([s.lead for s in steps[-2:]], ["w1", "p1+ p2+"])  # the rod goes in, and the last piece onto it
        for step in steps[-2:]:
            self.assertAlmostEqual(abs(float(np.dot(way_in(step), way))), 1.0, places=4)

    def test_nothing_turns_about_a_thread_with_a_rod_beside_it(self) -> None:
        screw = ThreadJoint(id="j1", face=FACE, diameter_mm=16, pitch_mm=2, length_mm=8, places=((0, 0),))
        self.assertIn("way-at-odds", codes(through(rod((15, 0, 10), (15, 0, 80)), joints=(screw,))))

    def test_a_slender_rod_bends_and_one_beside_the_model_meets_nothing(self) -> None:
        self.assertIn("way-slender", codes(through(rod((0, 0, 2), (0, 0, 88), diameter_mm=0.5))))
        self.assertEqual(codes(through(rod((90, 0, 2), (90, 0, 88)))), {"way-misses"})

    def test_two_ends_in_one_place_are_refused(self) -> None:
        with self.assertRaisesRegex(ValidationError, "one place"):
            rod((1, 1, 1), (1, 1, 1.5))


class Cables(unittest.TestCase):
    def test_a_bend_at_any_angle_begins_where_the_straight_ends(self) -> None:
        """A bend of radius r by the angle t begins r · tan(t / 2) before the corner, as on any drawing."""
        for turn in (30.0, 60.0, 120.0):
            t = math.radians(turn)
            path = cable((-60, 0, 0), (0, 0, 0), (60 * math.cos(t), 0, 60 * math.sin(t)), bend_mm=10).path()
            self.assertAlmostEqual(float(np.linalg.norm(path[1])), 10 * math.tan(t / 2), places=6)
            self.assertAlmostEqual(float(np.linalg.norm(path[-2])), 10 * math.tan(t / 2), places=6)
            self.assertAlmostEqual(float(path[1][2]), 0.0, places=6)

    def test_bends_have_the_radius_wished_and_the_path_is_smooth(self) -> None:
        way = cable((0, 0, -5), (0, 0, 50), (60, 0, 50), bend_mm=10)
        path = way.path()
        arc = path[1:-1]
        np.testing.assert_allclose(np.linalg.norm(arc - [10, 0, 40], axis=1), 10, atol=1e-9)
        self.assertAlmostEqual(way.long_mm, 45 + 50 + math.pi / 2 * 10, delta=0.05)
        ways = np.diff(path, axis=0)
        ways = ways / np.linalg.norm(ways, axis=1, keepdims=True)
        turns = np.degrees(np.arccos(np.clip((ways[1:] * ways[:-1]).sum(axis=1), -1, 1)))
        self.assertLess(float(turns.max()), 5.01)

    def test_a_straight_tunnel_has_the_volume_of_a_cylinder(self) -> None:
        result = through(cable((0, 0, -1), (0, 0, 91), diameter_mm=6))
        self.assertAlmostEqual(lost(result), math.pi * 9 * 90, delta=0.02 * lost(result))
        self.assertEqual(codes(result), set())

    def test_points_too_near_each_other_are_told(self) -> None:
        result = through(cable((0, 0, -1), (0, 0, 45), (4, 0, 45), (4, 0, 91), bend_mm=12))
        self.assertIn("way-too-tight", codes(result))

    @tried(12)
    @given(
        points=st.lists(st.tuples(st.floats(-12, 12), st.floats(-12, 12), st.floats(15, 75)), min_size=1, max_size=3),
        diameter=st.floats(2, 6),
    )  # fmt: skip
    def test_any_path_leaves_closed_pieces(self, points: list[tuple[float, float, float]], diameter: float) -> None:
        ordered = sorted(points, key=lambda p: p[2])
        if any(b[2] - a[2] < 12 for a, b in itertools.pairwise(ordered)):
            ordered = ordered[:1]
        way = cable((0, 0, -1), *ordered, (0, 0, 91), diameter_mm=diameter, bend_mm=8)
        result = through(way)
        self.assertAlmostEqual(lost(result) / TOWER.common(way.bore(0.0)).volume_mm3, 1.0, delta=1e-3)
        for part in result.parts:
            self.assertEqual(len(part.solid.lumps()), 1)

    def test_entries_of_a_lamp_in_a_tower(self) -> None:
        tower = tube(20, 14, 90).plus([Solid.cylinder(20, 60, 90)])
        result = through(cable((0, 0, 50), (0, 0, 91), diameter_mm=5), solid=tower)
        self.assertEqual(codes(result), set())
        self.assertEqual([result.numbers[k] for k in result.ways[0].pieces], [3])


if __name__ == "__main__":
    unittest.main()


class Stands(unittest.TestCase):
    def stand(self, up: float = 25, **more: object) -> StandWay:
        return StandWay(id="w1", start_mm=(0, 0, up), end_mm=(0, 0, -30), **more)  # type: ignore[arg-type]

    def test_a_socket_in_the_model_and_a_base_with_its_peg(self) -> None:
        for shape, area in (("round", math.pi * 4.1**2), ("square", 8.2**2)):
            result = through(self.stand(shape=shape))
            self.assertAlmostEqual(lost(result), area * 25.5, delta=0.003 * lost(result))
            (base,) = result.loose
            self.assertEqual((base.count, base.size_mm.round(3).tolist()), (1, [100.0, 100.0, 63.0]))
            body = result.ways[0].way.body()
            assert isinstance(body, Solid)
            self.assertAlmostEqual(min(body.gap(p.solid, 3) for p in result.parts), 0.1, delta=0.02)

    def test_a_bought_rod_stands_in_both(self) -> None:
        result = through(self.stand(peg="rod", of="brass", base="square", base_mm=80, base_thick_mm=10))
        self.assertEqual([(h.name, h.length_mm) for h in result.hardware], [("rod ø8, brass", 63.8)])
        base = result.loose[0].solid
        bored = 80 * 80 * 10 - base.volume_mm3
        self.assertAlmostEqual(bored, math.pi * 4.1**2 * 8.8 + 320 * 0.5, delta=8)

    def test_the_tip_angle_is_the_bases_half_over_the_height_of_the_centre(self) -> None:
        # a block 90 mm high, its base 38 mm below it: the centre lies 83 mm above the table
        figures = {f.code: f.params for f in findings_of(through(self.stand()))}
        tip = figures["way-stand-holds"]["angle_deg"]
        self.assertAlmostEqual(tip, math.degrees(math.atan(50 / 83)), delta=0.5)  # type: ignore[arg-type]
        figures = {f.code: f.params for f in findings_of(through(self.stand(base_mm=20)))}
        needed = figures["way-stand-tips"]["needed_mm"]
        self.assertAlmostEqual(needed, 2 * 83 * math.tan(math.radians(10)), delta=0.5)  # type: ignore[arg-type]
        beside = StandWay(id="w1", start_mm=(16, 0, 25), end_mm=(16, 0, -30), diameter_mm=5, base_mm=20)
        self.assertIn("way-stand-falls", codes(through(beside)))

    def test_a_leaning_peg_keeps_its_base_level(self) -> None:
        way = StandWay(id="w1", start_mm=(0, 0, 25), end_mm=(20, 0, -30), diameter_mm=5)
        result = through(way)
        self.assertEqual(codes(result), {"way-stand-holds"})
        base = result.loose[0].solid
        self.assertAlmostEqual(base.slice(1.0).area, base.slice(4.0).area, delta=1e-6)

    def test_what_cannot_stand_is_refused_and_what_hardly_holds_is_told(self) -> None:
        for wrong in ({"up": -40}, {"base_mm": 9}, {"peg": "rod", "base_thick_mm": 3}):
            with self.assertRaises(ValidationError):
                self.stand(**wrong)  # type: ignore[arg-type]
        self.assertIn("way-stand-shallow", codes(through(self.stand(up=6))))
        meets = StandWay(id="w1", start_mm=(0, 0, 40), end_mm=(0, 0, 4))
        self.assertIn("way-stand-meets", codes(through(meets)))
        self.assertIn("way-misses", codes(through(StandWay(id="w1", start_mm=(0, 80, 40), end_mm=(0, 80, -4)))))

    def test_the_centre_of_mass_is_that_of_textbooks(self) -> None:
        cone = Solid.cone(30, 0.001, 0, 40).moved(100, 50, 20)
        self.assertTrue(np.allclose(cone.centre_of_mass, [100, 50, 30], atol=0.01))  # a quarter of its height (textbook)
