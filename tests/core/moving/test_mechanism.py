"""Where moved things are: slider-cranks, four-bar linkages and gears by published formulas; what cannot be a mechanism."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.errors import BadPlan
from hinoki.core.moving.mechanism import Mechanism, OutOfReach
from hinoki.core.moving.movements import RailMovement, RodMovement, SlideMovement, TurnMovement
from tests.effort import tried


def crank(**more: object) -> TurnMovement:
    return TurnMovement(id="v1", begin=0, end=360, **more)  # type: ignore[arg-type]


def four_bar(*pins: tuple[float, float]) -> Mechanism:
    """Crank O–A, coupler A–B, rocker C–B."""
    o, a, b, c = ((x, y, 0.0) for x, y in pins)
    rod = RodMovement(id="v2", a_mm=a, b_mm=b, begins_on="v1", ends_on="v3")
    return Mechanism([crank(at_mm=o), rod, TurnMovement(id="v3", at_mm=c, driven="rod", by="v2")])


class Cranks(unittest.TestCase):
    @tried(60)
    @given(st.floats(5, 40), st.floats(1.05, 5), st.floats(-360, 720), st.sampled_from([1.0, -1.0]))
    def test_a_slider_crank(self, r: float, times: float, degrees: float, side: float) -> None:
        """x = r cos θ ± √(l² − r² sin² θ) (textbooks of machine dynamics, such as Norton)."""
        long = r * times
        rod = RodMovement(id="v2", a_mm=(r, 0, 0), b_mm=(r + side * long, 0, 0), begins_on="v1", ends_on="v3")
        piston = SlideMovement(id="v3", along=(1, 0, 0), driven="rod", by="v2")
        values, places = Mechanism([crank(), rod, piston]).state({"v1": degrees})
        angle = math.radians(degrees)
        at = r * math.cos(angle) + side * math.sqrt(long**2 - (r * math.sin(angle)) ** 2)
        self.assertAlmostEqual(values["v3"], at - (r + side * long), places=6)
        far = places["v2"][:, :3] @ rod.b_mm + places["v2"][:, 3]  # the rod's end is where the piston's pin is
        np.testing.assert_allclose(far, (at, 0, 0), atol=1e-6)

    @tried(40)
    @given(st.floats(-170, 170))
    def test_a_four_bar_linkage(self, degrees: float) -> None:
        """The loop closes: O→A→B = O→C→B, with the rod as long as ever; crank shortest, so it goes right round (Grashof)."""
        pins = ((0.0, 0.0), (20.0, 0.0), (75.0, 45.0), (60.0, 0.0))
        values, _ = four_bar(*pins).state({"v1": degrees})
        o, a, b, c = (np.array(p) for p in pins)
        moved = [pin + _turned(p - pin, angle) for p, pin, angle in ((a, o, degrees), (b, c, values["v3"]))]
        self.assertAlmostEqual(float(np.linalg.norm(moved[1] - moved[0])), float(np.linalg.norm(b - a)), places=6)
        # and it is the branch it was built in
        self.assertGreater(_side(moved[1] - c, moved[0] - c) * _side(b - c, a - c), 0)

    @tried(30)
    @given(st.floats(-85, 85))
    def test_a_parallelogram_keeps_its_bar_level(self, degrees: float) -> None:
        values, places = four_bar((0, 0), (0, 30), (50, 30), (50, 0)).state({"v1": degrees})
        self.assertAlmostEqual(values["v3"], degrees, places=6)
        np.testing.assert_allclose(places["v2"][:, :3], np.eye(3), atol=1e-9)

    def test_a_crank_that_is_too_long_does_not_get_round(self) -> None:
        mechanism = four_bar((0, 0), (40, 0), (60, 30), (60, 0))
        with self.assertRaises(OutOfReach) as found:
            mechanism.state({"v1": 170.0})
        self.assertEqual(found.exception.movement, "v3")


class Trains(unittest.TestCase):
    def test_gears_racks_and_what_rides_on_them(self) -> None:
        """ω₂/ω₁ = −z₁/z₂; a rack goes m z/2 · θ."""
        wheel = TurnMovement(id="v2", at_mm=(30, 0, 0), driven="other", by="v1", ratio=-20 / 40)
        rack = SlideMovement(id="v3", along=(0, 1, 0), driven="other", by="v2", ratio=math.radians(1) * 40)
        rider = TurnMovement(id="v4", at_mm=(0, 0, 0), on="v1", driven="itself", begin=-10, end=10)
        mechanism = Mechanism([rider, rack, wheel, crank()])
        self.assertEqual([one.id for one in mechanism.drivers], ["v1", "v4"])
        values, places = mechanism.state({"v1": 90.0, "v4": 10.0})
        self.assertAlmostEqual(values["v2"], -45.0)
        self.assertAlmostEqual(values["v3"], -40 * math.pi / 4)
        np.testing.assert_allclose(places["v4"][:, :3] @ (1, 0, 0), (*_turned(np.array([1.0, 0]), 100.0), 0), atol=1e-9)
        self.assertAlmostEqual(mechanism.rate(rack, "v1"), -0.5 * 40 * math.radians(1))

    @tried(40)
    @given(st.floats(-20, 90))
    def test_a_rail_is_followed_by_length(self, gone: float) -> None:
        rail = RailMovement(id="v1", through=((0, 0, 0), (30, 0, 0), (30, 40, 0)))
        at = rail.moved(gone)[:, 3]
        np.testing.assert_allclose(at, (gone, 0, 0) if gone <= 30 else (30, gone - 30, 0), atol=1e-9)


class NoMechanism(unittest.TestCase):
    def refused(self, why: str, *movements: object) -> None:
        with self.assertRaisesRegex(BadPlan, why):
            Mechanism(movements).state({})  # type: ignore[arg-type]

    def test_what_goes_along_with_itself_or_with_nothing(self) -> None:
        self.refused("goes along with itself", TurnMovement(id="v1", on="v2"), TurnMovement(id="v2", on="v1"))
        self.refused("needs the movement v9", TurnMovement(id="v1", on="v9"))
        self.refused("Say what drives Turn 1", TurnMovement(id="v1", driven="other"))

    def test_rods_that_pull_nothing(self) -> None:
        rod = RodMovement(id="v2", begins_on="v1", ends_on=None)
        self.refused("which has no pin on it", crank(), rod, SlideMovement(id="v3", driven="rod", by="v2"))
        self.refused("by a ratio, but that is a rod", crank(), rod, SlideMovement(id="v3", driven="other", by="v2"))
        rail = RailMovement(id="v3", driven="rod", by="v2")
        pulled = RodMovement(id="v2", begins_on="v1", ends_on="v3")
        self.refused("a rod pulls what turns or slides", crank(), pulled, rail)

    def test_figures_that_cannot_be(self) -> None:
        for kind, figures, why in (
            (TurnMovement, {"begin": 10, "end": 10}, "must end beyond"),
            (TurnMovement, {"along": (0, 0, 0)}, "not all three figures can be 0"),
            (RodMovement, {"a_mm": (1, 1, 1), "b_mm": (1, 1, 1)}, "must be apart"),
        ):
            with self.assertRaisesRegex(ValueError, why):
                kind(id="v1", **figures)


def _turned(way: np.ndarray, degrees: float) -> np.ndarray:
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.array([c * way[0] - s * way[1], s * way[0] + c * way[1]])


def _side(one: np.ndarray, other: np.ndarray) -> float:
    return float(one[0] * other[1] - one[1] * other[0])
