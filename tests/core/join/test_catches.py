"""Catches of tongues: a bump holds a panel that slid in, gives way on its way, and leaves the rest as it was."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.build import Build
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import SideName
from hinoki.core.join.giving_way import given_way
from hinoki.core.join.joints import TongueJoint
from tests.core.join.test_joint_kinds import BLOCK, FACE, codes, joined, sides
from tests.effort import tried


def tongue(**more: object) -> TongueJoint:
    return TongueJoint(id="j1", face=FACE, ends="through", **more)  # type: ignore[arg-type]


def bent(result: Build) -> dict[str, Solid]:
    """Both pieces with what gives way of them bent."""
    (placed,) = result.placed
    out = sides(result)
    side: SideName
    for side in ("a", "b"):
        given = given_way(placed.tools, side)
        out[side] = out[side].minus(given.straight).plus(given.bent)
    return out


def met(a: Solid, b: Solid, way: np.ndarray, by: float) -> float:
    return float(a.common(b.moved(*(by * way))).volume_mm3)


class Catch(unittest.TestCase):
    @tried(6)
    @given(
        catch=st.floats(0.2, 0.6), at=st.sampled_from(["start", "end"]), along=st.sampled_from([0.0, 90.0, 180.0]),
        on=st.sampled_from(["a", "b"]), clearance=st.floats(0.05, 0.3), width=st.floats(3, 8),
    )  # fmt: skip
    def test_it_holds_what_slid_in_and_gives_way_on_its_way(
        self, catch: float, at: str, along: float, on: str, clearance: float, width: float
    ) -> None:
        joint = tongue(catch_mm=catch, catch_at=at, along_deg=along, on=on, width_mm=width)
        result = joined(BLOCK, joint, clearance=clearance)
        (placed,) = result.placed
        self.assertEqual(len(placed.places), 1)
        self.assertEqual(codes(result) - {"turned-assembly"}, set())
        there, free = sides(result), bent(result)
        self.assertLess(met(there["a"], there["b"], np.zeros(3), 0), 1e-3)
        way = joint.way(placed.standing.frame)
        for sign in (-1, 1):
            self.assertGreater(met(there["a"], there["b"], sign * way, 1.5), 0.05, "the bump is in the way")
            for by in (0.0, 1.0, 4.0, 15.0, 40.0):
                self.assertLess(met(free["a"], free["b"], sign * way, by), 1e-3)

    def test_it_stands_near_the_end_at_which_the_panel_slides_out_and_leaves_the_rest_as_it_was(self) -> None:
        plain, volumes = sides(joined(BLOCK, tongue(width_mm=5))), {}
        for at, sign in (("end", 1.0), ("start", -1.0)):
            caught = sides(joined(BLOCK, tongue(width_mm=5, catch_mm=0.4, catch_at=at)))
            more = caught["a"].minus([plain["a"]])
            low, high = more.bounds
            self.assertGreater(sign * float(low[0] + high[0]) / 2, 20)
            self.assertAlmostEqual(float(high[2]), 30 + 3 + 0.3 + 0.4, delta=1e-3)
            self.assertLess(plain["a"].minus([caught["a"]]).volume_mm3, 1e-3)
            volumes[at] = more.volume_mm3
        # a trapezoid 0.7 high, 0.7 wide at its top and at 45°, over a ridge 5 wide
        self.assertAlmostEqual(volumes["end"], 5 * (0.7 + 2.1) / 2 * 0.7, delta=0.05)
        self.assertAlmostEqual(volumes["end"], volumes["start"], delta=1e-3)

    def test_its_label_and_how_deep_it_cuts_tell_of_it(self) -> None:
        (placed,) = joined(BLOCK, tongue(width_mm=5, catch_mm=0.4), clearance=0.1).placed
        self.assertEqual(placed.joint.label(), "tongue 5 × 3, catch 0.4")
        self.assertAlmostEqual(placed.joint.cut_depth_mm(placed.standing, placed.places), 3 + 0.3 + 0.4 + 0.1)

    def test_one_that_stops_inside_has_none_and_one_that_is_too_short_says_so(self) -> None:
        stopped = TongueJoint(id="j1", face=FACE, ends="stopped", catch_mm=0.4)
        self.assertFalse(any(t.bent is not None for t in joined(BLOCK, stopped).placed[0].tools.each))
        short = joined(Solid.box([-6, -30, 0], [6, 30, 60]), tongue(along_deg=0.0, catch_mm=2.0))
        self.assertIn("joint-catch-short", codes(short))
