"""What bends a seam and what it bears: by statics and by the section moduli of handbooks."""

import math
import unittest

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Point

from hinoki.core.build import Build
from hinoki.core.check.bending import bent_seams, loads
from hinoki.core.divide.partings import WedgesParting
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.strength import ACROSS_LAYERS, GLUE_MPA, Stuff, pulled_apart, section_modulus_mm3
from hinoki.core.join.joints import ButtJoint, DovetailJoint, DowelJoint, FaceRef, Joint, LipJoint, MagnetJoint, PinJoint
from hinoki.core.plan.assembly_settings import Assembling
from hinoki.core.workshop.materials import GRAVITY
from tests.checked import findings_of
from tests.shapes import box, built, level, plan_for, stl_of, tube

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


def post(solid: Solid, *joints: Joint, at: float = 100.0, **plan: object) -> Build:
    """A body parted level at some height, with joints."""
    data = stl_of(solid)
    return built(data, plan_for(data, level(1, at), joints=joints, **plan))


def disc(diameter: float) -> MultiPolygon:
    return MultiPolygon([Point(0, 0).buffer(diameter / 2, quad_segs=90)])


class Sections(unittest.TestCase):
    """Section moduli as handbooks of mechanical engineering give them (formulas from memory)."""

    def test_round_hollow_and_square_ones(self) -> None:
        self.assertAlmostEqual(section_modulus_mm3(disc(10)), math.pi * 10**3 / 32, delta=0.02)
        hollow = MultiPolygon([shapely.difference(disc(10).geoms[0], disc(8).geoms[0])])
        self.assertAlmostEqual(section_modulus_mm3(hollow), math.pi * (10**4 - 8**4) / 32 / 10, delta=0.02)
        # bent obliquely a corner is strained by both axes: 1/Z² = (6/(b·h²))² + (6/(h·b²))²
        oblique = 1 / math.hypot(6 / (20 * 10**2), 6 / (10 * 20**2))
        self.assertAlmostEqual(section_modulus_mm3(MultiPolygon([shapely.box(3, 5, 13, 25)])), oblique, delta=1e-6)
        # a square is weakest about its diagonal
        self.assertAlmostEqual(
            section_modulus_mm3(MultiPolygon([shapely.box(0, 0, 6, 6)])), 6**3 / (6 * math.sqrt(2)), delta=1e-6
        )

    def test_parts_that_lie_apart_bear_together_about_their_middle(self) -> None:
        two = MultiPolygon([shapely.box(0, 0, 4, 30), shapely.box(20, 0, 24, 30)])
        along = 2 * 4 * 30**3 / 12 / 15
        across = 2 * (30 * 4**3 / 12 + 4 * 30 * 10**2) / 12
        self.assertAlmostEqual(section_modulus_mm3(two), 1 / math.hypot(1 / along, 1 / across), delta=1e-6)

    def test_nothing_bears_nothing(self) -> None:
        self.assertEqual(section_modulus_mm3(MultiPolygon()), 0.0)


class Loads(unittest.TestCase):
    def test_the_lighter_side_hangs_level_and_is_pushed_at_its_far_end(self) -> None:
        (load,) = loads(post(box(20, 10, 260), at=200.0))
        weight = 20 * 10 * 60 * 1.24e-6 * GRAVITY
        arm = math.hypot(60, 10, 5)
        self.assertAlmostEqual(load.weight_n, weight, delta=1e-3)
        self.assertAlmostEqual(load.arm_mm, arm, delta=1e-6)
        self.assertAlmostEqual(load.nmm, weight * 30 + 20 * arm, delta=0.1)

    def test_what_hangs_from_a_seam_is_all_that_is_beyond_it(self) -> None:
        data = stl_of(box(20, 20, 300))
        build = built(data, plan_for(data, level(1, 80), level(2, 180), handling_n=0))
        self.assertEqual(sorted(round(load.weight_n / (20 * 20 * 1.24e-6 * GRAVITY)) for load in loads(build)), [80, 120])

    def test_in_a_ring_the_seams_share_what_bends_them_and_nothing_is_told(self) -> None:
        data = stl_of(tube(80, 60, 30))
        wedges = WedgesParting(id="p1", axis="z", through_mm=(0, 0), count=4, start_deg=0)
        build = built(data, plan_for(data, wedges))
        self.assertEqual(len(build.faces), 4)
        self.assertEqual(loads(build), [])


class Borne(unittest.TestCase):
    def bears(self, joint: Joint, solid: Solid) -> float:
        (placed,) = post(solid, joint).placed
        found = joint.bears(placed.standing, placed.places, Stuff(50.0))
        assert found is not None
        return found.nmm

    def test_pegs_by_their_section_modulus(self) -> None:
        for kind, count in ((PinJoint, 1), (PinJoint, 2), (DowelJoint, 2)):
            joint = kind(id="j1", face=FACE, count=count, diameter_mm=6, length_mm=8)
            expected = count * ACROSS_LAYERS * 50 * math.pi * 6**3 / 32
            self.assertAlmostEqual(self.bears(joint, box(60, 40, 200)), expected, delta=0.02 * expected)

    def test_a_rim_by_that_of_its_ring(self) -> None:
        joint = LipJoint(id="j1", face=FACE)
        (placed,) = post(tube(40, 34, 200), joint).placed
        ring = placed.joint.footprint(placed.standing, (0.0, 0.0)).bounds
        outer, inner = ring[2], 34.0
        expected = ACROSS_LAYERS * 50 * math.pi * (outer**4 - inner**4) / 4 / outer
        self.assertAlmostEqual(self.bears(joint, tube(40, 34, 200)), expected, delta=0.03 * expected)

    def test_what_holds_against_pull_opens_about_the_edge_of_its_face(self) -> None:
        for joint in (DovetailJoint(id="j1", face=FACE), MagnetJoint(id="j1", face=FACE, count=1, places=((0.0, 0.0),))):
            (placed,) = post(box(60, 40, 200), joint).placed
            holds = joint.strength(placed.standing, placed.places, Stuff(50.0))
            assert holds is not None
            self.assertAlmostEqual(self.bears(joint, box(60, 40, 200)), holds.newtons * 20, delta=1e-6)

    def test_several_share_it_as_the_bolts_of_a_bracket_that_tips(self) -> None:
        """F · Σ y² / y of the farthest, worked by hand: on a face of 60 × 40 with one F at each place."""
        face = MultiPolygon([shapely.box(-30, -20, 30, 20)])
        for places, arms in (
            ([(0.0, -15.0), (0.0, 15.0)], (5**2 + 35**2) / 35),
            ([(-25.0, 0.0), (25.0, 0.0)], 2 * 20.0),
            ([(0.0, -20.0), (0.0, 20.0), (-30.0, 0.0), (30.0, 0.0)], (40**2 + 2 * 20**2) / 40),
            ([(0.0, 20.0)], 0.0),  # at the very edge about which it opens
        ):
            found = pulled_apart(7.0 * len(places), face, places, "pull")
            self.assertAlmostEqual(found.nmm, 7.0 * arms, delta=1e-3)

    def test_plates_round_a_ring_bear_a_plates_force_and_three_quarters_of_its_width_or_so(self) -> None:
        """Many plates evenly round a ring of radius r: Σ y² / 2r → n (r² + r²/2) / 2r."""
        ring = MultiPolygon([shapely.Point(0, 0).buffer(40, 64).difference(shapely.Point(0, 0).buffer(38, 64))])
        turns = np.arange(24) * np.pi / 12
        places = [(float(39 * np.cos(t)), float(39 * np.sin(t))) for t in turns]
        wanted = 24 * (40**2 + 39**2 / 2) / (40 + 39)
        self.assertAlmostEqual(pulled_apart(24.0, ring, places, "plates").nmm, wanted, delta=0.02 * wanted)

    def test_the_section_modulus_of_a_thin_ring_and_of_a_ring_with_a_flange(self) -> None:
        """π r² t of a thin ring (Roark's *Formulas for Stress and Strain*, from memory); with a flange π (R⁴ − r⁴) / 4R."""
        for inner, wanted in ((39.0, math.pi * 39.5**2 * 1.0), (32.0, math.pi * (40**4 - 32**4) / 4 / 40)):
            ring = MultiPolygon([shapely.Point(0, 0).buffer(40, 128).difference(shapely.Point(0, 0).buffer(inner, 128))])
            self.assertAlmostEqual(section_modulus_mm3(ring), wanted, delta=0.02 * wanted)

    def test_glue_counts_where_it_is_usual_and_nothing_is_to_come_off(self) -> None:
        pins = PinJoint(id="j1", face=FACE, count=2)
        glue = GLUE_MPA / math.hypot(6 / (60 * 40**2), 6 / (40 * 60**2))
        self.assertAlmostEqual(bent_seams(post(box(60, 40, 200), pins))[0].glue_nmm, glue, delta=1e-3 * glue)
        off = post(box(60, 40, 200), pins, assembling=Assembling(comes_off=("p1+",)))
        self.assertEqual(bent_seams(off)[0].glue_nmm, 0.0)
        for joints in ((), (DovetailJoint(id="j1", face=FACE),)):
            self.assertEqual(bent_seams(post(box(60, 40, 200), *joints))[0].glue_nmm, 0.0)


class Findings(unittest.TestCase):
    def codes(self, build: Build) -> list[str]:
        return [f.code for f in findings_of(build) if f.code == "seam-bends"]

    def test_a_mast_on_a_thin_peg_is_told_with_its_figures_and_a_thick_post_is_not(self) -> None:
        mast = post(Solid.cylinder(4.4, 0, 240), PinJoint(id="j1", face=FACE, count=1, diameter_mm=5, length_mm=10))
        (finding,) = [f for f in findings_of(mast) if f.code == "seam-bends"]
        self.assertEqual((finding.face, finding.joint), ("1|2", "j1"))
        self.assertAlmostEqual(float(str(finding.params["load_nm"])), 20 * math.hypot(100, 4.4) / 1000, delta=0.05)
        self.assertLess(float(str(finding.params["bears_nm"])), 2 * float(str(finding.params["load_nm"])))
        self.assertEqual(self.codes(post(box(60, 40, 200), PinJoint(id="j1", face=FACE, count=2))), [])

    def test_nothing_is_told_without_a_force_nor_of_a_bare_face(self) -> None:
        pin = PinJoint(id="j1", face=FACE, count=1, diameter_mm=5, length_mm=10)
        self.assertEqual(self.codes(post(Solid.cylinder(4.4, 0, 240), pin, handling_n=0)), [])
        self.assertEqual(self.codes(post(Solid.cylinder(4.4, 0, 240))), [])

    def test_a_lid_on_magnets_is_there_to_be_opened(self) -> None:
        lid = post(box(60, 40, 240), MagnetJoint(id="j1", face=FACE))
        self.assertLess(bent_seams(lid)[0].times, 2)
        self.assertEqual(self.codes(lid), [])

    def test_glue_alone_on_a_slender_face_is_told_too(self) -> None:
        self.assertEqual(self.codes(post(Solid.cylinder(4.4, 0, 240), ButtJoint(id="j1", face=FACE))), ["seam-bends"])
