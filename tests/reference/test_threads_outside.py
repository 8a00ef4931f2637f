"""Threads against ISO 68-1 / ISO 724 (formulas), an independent integration, published size tables and the trade."""

import csv
import importlib.util
import itertools
import math
import unittest
from pathlib import Path

import numpy as np

from hinoki.core.build import Build
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.clearance import measured_clearance
from hinoki.core.join.joints import FaceRef, ThreadJoint
from hinoki.core.join.turning.screw_threads import minor_diameter_mm, pitch_diameter_mm, thread_sizes, threaded
from tests.checked import findings_of
from tests.shapes import box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


def tables() -> Path:
    """The folder of bd_warehouse's CSV tables (its CAD part is not installed)."""
    found = importlib.util.find_spec("bd_warehouse")
    assert found is not None
    assert found.origin is not None
    return Path(found.origin).parent / "data"


def axial(solid: Solid) -> np.ndarray:
    """Corners (n, 2) of the section through the axis, on its right side: radius and height."""
    upright = np.array([[1.0, 0, 0, 0], [0, 0, 1.0, 0], [0, -1.0, 0, 0]])
    (whole,) = solid.placed(upright).slice(0.0).geoms
    ring = np.asarray(whole.exterior.coords)
    return ring[ring[:, 0] > 0]


class IsoProfile(unittest.TestCase):
    """ISO 724: d2 = D − 0.649519·P, d1 = D − 1.082532·P. The figures for M8, M25 and M30 are the standard's, from memory."""

    SIZES = ((8, 1.25, 7.188, 6.647), (25, 2, 23.701, 22.835), (30, 3.5, 27.727, 26.211))

    def test_pitch_and_minor_diameter_by_formula(self) -> None:
        for major, pitch, middle, minor in self.SIZES:
            self.assertAlmostEqual(pitch_diameter_mm(major, pitch), middle, delta=6e-4)
            self.assertAlmostEqual(minor_diameter_mm(major, pitch), minor, delta=6e-4)

    def test_diameters_flank_angle_and_pitch_on_the_solid(self) -> None:
        for major, pitch, middle, minor in self.SIZES:
            corners = axial(threaded(major, pitch, 0.0, 10 * pitch))
            inside = corners[(corners[:, 1] > pitch) & (corners[:, 1] < 9 * pitch)]
            self.assertAlmostEqual(2 * inside[:, 0].max(), major, delta=0.01)
            self.assertAlmostEqual(2 * inside[:, 0].min(), minor, delta=0.01)
            crests = np.sort(inside[inside[:, 0] > middle / 2][:, 1])
            self.assertAlmostEqual(float(np.ptp(crests[::2])) / (len(crests[::2]) - 1), pitch, delta=1e-3)
            runs = np.diff(corners, axis=0)
            flanks = runs[(np.abs(runs[:, 0]) > 0.4 * pitch) & (corners[:-1, 1] > pitch) & (corners[:-1, 1] < 8 * pitch)]
            angles = np.degrees(np.arctan2(np.abs(flanks[:, 1]), np.abs(flanks[:, 0])))
            self.assertGreater(len(angles), 5)
            np.testing.assert_allclose(2 * angles, 60.0, atol=0.5)

    def test_at_the_pitch_diameter_ridge_and_groove_are_equally_wide(self) -> None:
        for major, pitch, middle, _ in self.SIZES:
            corners = axial(threaded(major, pitch, 0.0, 10 * pitch))
            heights = [
                low[1] + (middle / 2 - low[0]) / (high[0] - low[0]) * (high[1] - low[1])
                for low, high in itertools.pairwise(corners)
                if (low[0] - middle / 2) * (high[0] - middle / 2) < 0 and pitch < low[1] < 8.5 * pitch
            ]
            np.testing.assert_allclose(np.abs(np.diff(heights)), pitch / 2, atol=0.01 * pitch)

    def test_volume_by_an_independent_integration(self) -> None:
        """∫ π r² dz over the profile is the mean over a pitch: for every angle the same, whatever the hand and starts."""
        for major, pitch, starts in ((30, 3.5, 1), (25, 2, 2), (60, 5.5, 4)):
            share = np.abs((np.arange(100_000) + 0.5) / 100_000 - 0.5)
            low, high = minor_diameter_mm(major, pitch) / 2, major / 2
            radius = np.interp(share, [1 / 16, 6 / 16], [high, low])
            exact = math.pi * float(np.mean(radius**2)) * 10 * pitch
            for right in (True, False):
                volume = threaded(major, pitch, 0.0, 10 * pitch, starts=starts, right=right).volume_mm3
                self.assertAlmostEqual(volume / exact, 1.0, delta=2e-3)

    def test_the_hand(self) -> None:
        """Turned by a quarter along its hand a thread of one start climbs by a quarter of its pitch."""
        bar = threaded(20, 4, -20, 20)
        quarter = bar.placed(np.array([[0, -1.0, 0, 0], [1.0, 0, 0, 0], [0, 0, 1.0, 1.0]]))
        middle = Solid.box([-20, -20, -10], [20, 20, 10])
        self.assertLess(quarter.common(middle).minus([bar]).volume_mm3, 2e-3 * bar.volume_mm3)
        left = threaded(20, 4, -20, 20, right=False)
        self.assertGreater(quarter.common(middle).minus([left]).volume_mm3, 2e-2 * bar.volume_mm3)


class Sizes(unittest.TestCase):
    def test_coarse_pitches_against_a_published_table(self) -> None:
        """bd_warehouse 0.4.0 (PyPI), the table of hexagon nuts of ISO 4032: each size is named by diameter and coarse pitch."""
        with (tables() / "hex_nut_parameters.csv").open() as file:
            named = {row[0].removeprefix("M").split("-")[0]: row[0].split("-")[1] for row in csv.reader(file) if "-" in row[0]}
        known = {f"{s.diameter_mm:g}": s.pitch_mm for s in thread_sizes()}
        both = [size for size in known if size in named]
        self.assertGreater(len(both), 15)
        for size in both:
            self.assertEqual(known[size], float(named[size]), size)


class Trade(unittest.TestCase):
    """Facts of the trade (common practice)."""

    def joined(self, **more: object) -> Build:
        data = stl_of(box(60, 60, 60))
        joint = ThreadJoint(id="j1", face=FACE, **more)  # type: ignore[arg-type]
        return built(data, plan_for(data, level(1, 30), joints=(joint,)))

    def test_m25_with_five_millimetres_wobbles_and_with_ten_is_firm(self) -> None:
        for length, wobbles in ((5, True), (10, False)):
            result = self.joined(diameter_mm=25, pitch_mm=2, length_mm=length)
            self.assertEqual("thread-wobbles" in {f.code for f in findings_of(result)}, wobbles)

    def test_two_and_three_tenths_off_the_radius_are_there(self) -> None:
        for off in (0.2, 0.3):
            result = self.joined(diameter_mm=25, pitch_mm=2, length_mm=10, clearance_mm=off)
            pieces = {p.key: p.solid for p in result.parts}
            gap = measured_clearance(result.placed[0], pieces)
            assert gap is not None
            self.assertAlmostEqual(gap, off, delta=0.01)
            tip = pieces["p1-"].common(Solid.box([-30, -30, 33], [30, 30, 36]))
            self.assertAlmostEqual(float(tip.size[0]) / 2, 12.5 - off, delta=0.011)


if __name__ == "__main__":
    unittest.main()
