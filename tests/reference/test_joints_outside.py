"""Joints against handbook formulas, worked examples of the trade and shapely: what is measured is the finished solid."""

import math
import unittest

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.build import Build
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.sections import section_of
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.clearance import measured_clearance
from hinoki.core.join.contract.pegs import section_ring
from hinoki.core.join.joints import DovetailJoint, FaceRef, Joint, KeyJoint, LipJoint, PinJoint, TongueJoint
from hinoki.core.workshop.fits import Fits
from tests.shapes import box, built, level, plan_for, shell_of, stl_of, tube

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
Z = np.array([0.0, 0.0, 1.0])


def joined(solid: Solid, joint: Joint, at: float = 30, clearance: float = 0.1) -> Build:
    data = stl_of(solid)
    return built(data, plan_for(data, level(1, at), joints=(joint,), fits=Fits(snug=clearance)))


def piece(result: Build, key: str) -> Solid:
    return next(p.solid for p in result.parts if p.key == key)


def across_slide(solid: Solid) -> MultiPolygon:
    """The section across a slide along X, as (y, height above the face)."""
    section = section_of(solid, plane_frame(np.array([3.0, 0.0, 0.0]), np.array([1.0, 0.0, 0.0])))
    return shapely.transform(section, lambda p: p - np.array([0.0, 30.0]))


class Dovetail(unittest.TestCase):
    """The worked example neck 5, head 10, depth 3 (common practice): flanks at 50.2° to the face."""

    JOINT = DovetailJoint(id="j1", face=FACE, neck_mm=5, head_mm=10, height_mm=3, lock_mm=0, edge_mm=0, lead_mm=0)

    def test_the_flanks_stand_at_50_2_degrees(self) -> None:
        self.assertAlmostEqual(self.JOINT.flank_deg, 50.2, delta=0.05)
        tail = shapely.get_coordinates(across_slide(piece(joined(box(60, 60, 60), self.JOINT), "p1-")))
        head, neck = tail[tail[:, 1] > 2.99], tail[np.abs(tail[:, 1]) < 0.01]
        neck = neck[np.abs(neck[:, 0]) < 5]
        lean = math.degrees(math.atan2(3, float(head[:, 0].max() - neck[:, 0].max())))
        self.assertAlmostEqual(lean, 50.2, delta=0.1)

    def test_measurement_over_two_gauge_pins(self) -> None:
        """Machinery's Handbook, dovetail slides (formulas from memory): over pins of diameter D in the corners of the male part
        x = D (1 + cot ½α) + a, between them in the female part y = b − D (1 + cot ½α); α the angle of the flank to the
        face, a the narrow width of the male, b the wide width of the female part."""
        result = joined(box(60, 60, 60), self.JOINT)
        alpha, pin = math.radians(self.JOINT.flank_deg), 2.0
        reach = pin * (1 + 1 / math.tan(alpha / 2))
        male, female = across_slide(piece(result, "p1-")), across_slide(piece(result, "p1+"))
        beside = shapely.difference(shapely.box(0, 0, 20, 12), male)
        self.assertAlmostEqual(2 * self.innermost(beside, pin, 0.0) + pin, reach + 5, delta=0.01)
        # the groove is moved outwards by the clearance, along with its floor
        floor = 3 + 0.1
        wide = 2 * (2.5 + floor / math.tan(alpha) + 0.1 / math.sin(alpha))
        groove = shapely.difference(shapely.box(-20, 0, 20, floor), female)
        inside = groove.buffer(-pin / 2, join_style="mitre")
        between = 2 * float(shapely.get_coordinates(inside)[:, 0].max()) - pin
        self.assertAlmostEqual(between, wide - reach, delta=0.01)

    def innermost(self, free: shapely.Geometry, pin: float, face: float) -> float:
        """Distance from the middle at which a pin's centre lies when it touches the face and the flank."""
        centres = shapely.get_coordinates(free.buffer(-pin / 2, join_style="mitre"))
        low = centres[np.abs(centres[:, 1] - face - pin / 2) < 1e-3]
        return float(low[:, 0].min())


class Key(unittest.TestCase):
    """Butterfly key 10 long, ends 6, waist 4, 3 thick: slope 1 : 5 (common practice)."""

    def test_slope_area_and_volume(self) -> None:
        joint = KeyJoint(id="j1", face=FACE, length_mm=10, end_mm=6, waist_mm=4, thickness_mm=3, surface="outside", count=1)
        self.assertAlmostEqual(1 / joint.slope, 5)
        result = joined(box(60, 60, 60), joint)
        loose = result.placed[0].tools.loose[0]
        flat = loose.solid.placed(loose.flat)
        # two trapezoids: (6 + 4) / 2 × 10
        self.assertAlmostEqual(flat.slice(1.0).area, 50.0, delta=1e-6)
        self.assertAlmostEqual(shapely.Polygon(joint.ring(0.0)).area, 50.0, delta=1e-9)
        half = (60 * 60 * 60 - sum(p.solid.volume_mm3 for p in result.parts)) / 2
        grown = shapely.Polygon(joint.ring(0.1)).area * (3 + 0.1)
        self.assertAlmostEqual(2 * half, grown, delta=0.01)


class LipAndPins(unittest.TestCase):
    def test_a_two_millimetre_wall_gets_a_lip_one_thick_and_three_high(self) -> None:
        """Lip of half the wall, 1.5 times the wall high: 1 × 3 in a 2 mm wall, 0.1 each side (common practice)."""
        from hinoki.core.join.apply import standing_on
        from hinoki.core.join.placing import Depths
        from hinoki.core.join.sizing.recommended_sizes import suggest

        solid = tube(30, 28, 60)
        data = stl_of(solid)
        plan = plan_for(data, level(1, 30))
        face = built(data, plan).faces[0]
        lip = suggest("lip", "j1", Depths(face), "snug", standing_on(face, plan, "snug"))
        assert isinstance(lip, LipJoint)
        self.assertAlmostEqual(lip.height_mm, 3.0)
        result = joined(solid, lip)
        ring = section_of(piece(result, "p1-"), plane_frame(np.array([0, 0, 31.0]), Z))
        expected = shapely.Point(0, 0).buffer(29, quad_segs=64).difference(shapely.Point(0, 0).buffer(28, quad_segs=64))
        self.assertLess(shapely.symmetric_difference(ring, expected).area, 0.02 * expected.area)
        gap = measured_clearance(result.placed[0], {p.key: p.solid for p in result.parts})
        self.assertAlmostEqual(gap or 0, 0.1, delta=0.01)

    def test_lips_on_a_sphere_and_an_ellipsoid_follow_the_outside(self) -> None:
        for half_axes in ((40, 40, 40), (50, 35, 40)):
            solid = shell_of(*half_axes, wall=3).moved(0, 0, 40)
            outer = LipJoint(id="j1", face=FACE, runs="outer", height_mm=6, thickness_mm=1.5)
            result = joined(solid, outer, at=48)
            whole = section_of(solid, plane_frame(np.array([0, 0, 51.0]), Z))
            lower, upper = (section_of(piece(result, k), plane_frame(np.array([0, 0, 51.0]), Z)) for k in ("p1-", "p1+"))
            self.assertGreater(lower.area, 0)
            # rim and wall beside it lie within the shell and keep their distance; outside, the rim is the shell's own outline
            self.assertLess(shapely.union(lower, upper).difference(whole.buffer(1e-6)).area, 1e-6)
            self.assertAlmostEqual(lower.distance(upper), 0.1, delta=0.01)
            own = shapely.Polygon(lower.geoms[0].exterior)
            self.assertLess(shapely.hausdorff_distance(own.exterior, shapely.Polygon(whole.geoms[0].exterior).exterior), 1e-3)

    def test_a_square_pin_of_ten_is_ten_across(self) -> None:
        """Square pins of 10 × 10 mm also stop turning (common practice)."""
        joint = PinJoint(id="j1", face=FACE, count=1, diameter_mm=10, length_mm=12, shape="square", places=((0.0, 0.0),))
        result = joined(box(60, 60, 60), joint)
        frame = plane_frame(np.array([0, 0, 35.0]), Z)
        pin = section_of(piece(result, "p1-"), frame)
        self.assertAlmostEqual(pin.area, 100.0, delta=1e-6)
        self.assertEqual(tuple(round(v, 6) for v in pin.bounds), (-5, -5, 5, 5))
        turned = shapely.affinity.rotate(pin, 10)
        self.assertGreater(shapely.intersection(turned, section_of(piece(result, "p1+"), frame)).area, 0.1)

    def test_polygons_lie_inside_the_circle_of_a_pin_and_around_that_of_its_bore(self) -> None:
        for radius in (1.0, 2.5, 6.0):
            pin, bore = section_ring("round", radius, 0.0), section_ring("round", radius, 0.1, around=True)
            self.assertLessEqual(float(np.linalg.norm(pin, axis=1).max()), radius + 1e-9)
            edges = shapely.LinearRing(bore)
            self.assertGreaterEqual(edges.distance(shapely.Point(0, 0)), radius + 0.1 - 1e-9)


class Depths(unittest.TestCase):
    """Areas of sections at several depths by shapely, against those of the finished piece."""

    def test_tails_and_tongues_at_every_height(self) -> None:
        tail = DovetailJoint(id="j1", face=FACE, neck_mm=6, head_mm=9, height_mm=4, lock_mm=0, edge_mm=0, lead_mm=0)
        tongue = TongueJoint(id="j1", face=FACE, width_mm=6, height_mm=4, taper_deg=10, ends="through", edge_mm=0)
        for joint, width in (
            (tail, lambda h: 6 + 3 * h / 4),
            (tongue, lambda h: 6 - 2 * h * math.tan(math.radians(10))),
        ):
            result = joined(box(60, 60, 60), joint)
            for height in (0.5, 1.0, 2.0, 3.5):
                frame = plane_frame(np.array([0, 0, 30 + height]), Z)
                strip = shapely.box(-30, -width(height) / 2, 30, width(height) / 2)
                self.assertAlmostEqual(section_of(piece(result, "p1-"), frame).area, strip.area, delta=1e-3)
                left = section_of(piece(result, "p1+"), frame)
                self.assertGreater(left.distance(strip), 0.099)
