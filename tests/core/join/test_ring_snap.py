"""Ring snaps: a shell's theory, beads and grooves with their clearance, going in and letting go, what is told."""

import math
import unittest

from hypothesis import assume, given
from hypothesis import strategies as st

from hinoki.core.assemble.motion.blocking_graph import Blocking
from hinoki.core.assemble.scene.from_build import scene_of
from hinoki.core.cache import Cache
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.snap_fits import POISSON, Ring, along_n
from hinoki.core.join.contract.strength import Stuff
from hinoki.core.join.joints import LipJoint
from hinoki.core.join.rims.snap_rim import BEAD_LAND_MM, STEP_MM, bead_slabs
from hinoki.core.plan.plan import PieceNote
from hinoki.core.workshop.materials import Material
from tests.assembling import assembly, proofs
from tests.checked import findings_of
from tests.core.join.test_joint_kinds import FACE, codes, joined, measured, sides
from tests.effort import tried
from tests.shapes import box, tube

WALL = tube(40, 35, 60)
SQUARE = box(80, 80, 60).minus([Solid.box([-35, -35, -1], [35, 35, 61])])


def lip(**more: object) -> LipJoint:
    return LipJoint.model_validate({"id": "j1", "face": FACE, "height_mm": 5.0, "snap_mm": 0.4, **more})


class Published(unittest.TestCase):
    def test_the_force_at_the_edge_of_a_shell(self) -> None:
        """The shell as strips on elastic ground, E t/r² for each square of surface (hoop stress): a beam of D that is long,
        loaded at its end by Q, gives way there by Q/(2 β³ D), 4 β⁴ D = E t/r² (Timoshenko, Strength of Materials II, beams on
        elastic foundation; from memory)."""
        radius, thick, modulus, by = 35.0, 1.6, 2500.0, 0.3
        bends = modulus * thick**3 / (12 * (1 - POISSON**2))
        beta = (modulus * thick / radius**2 / (4 * bends)) ** 0.25
        self.assertAlmostEqual(
            Ring(radius, thick).force_n(by, modulus), 2 * math.pi * radius * 2 * beta**3 * bends * by, places=6
        )
        self.assertAlmostEqual(Ring(radius, thick).strain(by), by / radius)

    def test_a_bead_is_as_steep_as_45_degrees_in_steps_no_higher_than_a_layer(self) -> None:
        for stands in (0.1, 0.3, 0.8):
            slabs = bead_slabs(stands)
            self.assertAlmostEqual(slabs[-1][0], stands)
            for off, half in slabs:  # what stands out by `off` begins where the slope has come so far
                self.assertGreaterEqual(half + 1e-9, BEAD_LAND_MM / 2 + stands - off)
                self.assertLessEqual(half, BEAD_LAND_MM / 2 + stands - off + STEP_MM + 1e-9)


class Stands(unittest.TestCase):
    @tried(6)
    @given(
        bead=st.floats(0.25, 0.7), runs=st.sampled_from(["inner", "outer"]), on=st.sampled_from(["a", "b"]),
        clearance=st.floats(0.05, 0.12), square=st.booleans(),
    )  # fmt: skip
    def test_bead_and_groove_keep_the_clearance_and_go_together_bent(
        self, bead: float, runs: str, on: str, clearance: float, square: bool
    ) -> None:
        joint = lip(snap_mm=bead, runs=runs, on=on)
        result = joined(SQUARE if square else WALL, joint, clearance=clearance)
        there = sides(result)
        gaps = measured(result)
        assume(gaps)
        self.assertAlmostEqual(min(gaps), clearance, delta=0.02)
        self.assertLess(abs(there["a"].common(there["b"]).volume_mm3), 1e-3)
        for piece in there.values():
            self.assertEqual(len(piece.lumps()), 1)
            self.assertLess(piece.minus([SQUARE if square else WALL]).volume_mm3, 0.05)  # files are in single precision
        self.assertEqual(proofs(assembly(result)), ["proved", "proved"])

    def test_it_holds_because_it_must_give_way(self) -> None:
        scene = scene_of(joined(WALL, lip(), clearance=0.1))
        up = (0.0, 0.0, 1.0)
        self.assertTrue(Blocking(scene, Cache()).free("p1+", "p1-", up))
        scene.gives.clear()
        self.assertFalse(Blocking(scene, Cache()).free("p1+", "p1-", up))

    def test_without_a_bead_nothing_gives_way(self) -> None:
        self.assertEqual(scene_of(joined(WALL, lip(snap_mm=0), clearance=0.1)).gives, {})
        self.assertEqual(lip(runs="middle").bead_mm, 0)


class Holds(unittest.TestCase):
    def test_by_the_force_that_widens_it(self) -> None:
        (placed,) = joined(WALL, lip(thickness_mm=2.0), clearance=0.1).placed
        joint, stuff = placed.joint, Stuff(50.0, 2500.0)
        closes, holds = (f(placed.standing, (), stuff) for f in (joint.closing, joint.strength))
        assert closes is not None
        assert holds is not None
        ring = Ring(36.0, 2.0)  # the rim stands from 35 to 37
        self.assertAlmostEqual(closes.newtons, along_n(ring.force_n(0.3, 2500.0), 45.0), delta=0.01 * closes.newtons)
        self.assertEqual(holds.newtons, closes.newtons)
        self.assertTrue(joint.opens)
        flex = joint.flexes(placed.standing)
        assert flex is not None
        self.assertAlmostEqual(flex.strain, 0.3 / 36, delta=1e-4)

    def test_strain_round_it_and_across_its_layers(self) -> None:
        plastic = Material(strain_percent=1.0)
        for bead, down, wanted in (
            (0.4, (0.0, 0.0, -1.0), []), (0.7, (0.0, 0.0, -1.0), ["any way"]), (0.4, (1.0, 0.0, 0.0), ["layers"]),
        ):  # fmt: skip
            pieces = {"p1-": PieceNote(down=down)}
            result = joined(WALL, lip(snap_mm=bead), clearance=0.1, material=plastic, pieces=pieces)
            found = [f for f in findings_of(result) if f.code == "joint-strain"]
            self.assertEqual([f.params["case"] for f in found], wanted)
            for fix in (fix for f in found for fix in f.fixes):
                mended = joined(WALL, LipJoint.model_validate(fix.joint), clearance=0.1, material=plastic, pieces=pieces)
                self.assertNotIn("joint-strain", codes(mended))


class Told(unittest.TestCase):
    def test_low_beads_low_rims_and_corners(self) -> None:
        self.assertIn("joint-snap-catch", codes(joined(WALL, lip(snap_mm=0.15), clearance=0.1)))
        self.assertIn("joint-snap-low", codes(joined(WALL, lip(height_mm=1.5), clearance=0.1)))
        self.assertIn("joint-snap-round", codes(joined(SQUARE, lip(), clearance=0.1)))
        self.assertEqual({c for c in codes(joined(WALL, lip(), clearance=0.1)) if c.startswith("joint-snap")}, set())


if __name__ == "__main__":
    unittest.main()
