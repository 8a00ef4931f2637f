"""Ring snaps and friction bumps: the theory of shells, plates and rings, beads and grooves with their clearance, going in and
letting go, what is told."""

import math
import unittest

import numpy as np
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st

from hinoki.core.assemble.motion.blocking_graph import Blocking
from hinoki.core.assemble.scene.from_build import scene_of
from hinoki.core.cache import Cache
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.snap_fits import POISSON, BowedSide, PushedRing, Ring, along_n
from hinoki.core.join.contract.strength import Stuff
from hinoki.core.join.joints import LipJoint
from hinoki.core.join.rims.bumps import bumps_along
from hinoki.core.join.rims.snap_rim import BEAD_LAND_MM, STEP_MM, bead_slabs
from hinoki.core.plan.contents import PieceNote
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

    def test_a_side_that_bows_is_a_plate_pushed_at_its_free_edge(self) -> None:
        """Ritz's method (W. Ritz 1909; the energy of a plate by Timoshenko and Woinowsky-Krieger): a plate of length 1, held at
        both sides and far below, pushed over a tenth of its free edge."""
        w, bent = _ritz(high=1.0, pushed=0.1)
        side = BowedSide(free_mm=0.5, thick_mm=1.0)  # E t³ = 12 (1 − ν²) D with D = 1, t = 1
        self.assertAlmostEqual(side.force_n(w, 12 * (1 - POISSON**2)), 1.0, delta=0.03)
        self.assertAlmostEqual(side.strain(w), bent / 2, delta=0.03 * bent / 2)

    def test_a_ring_pushed_at_places_is_a_curved_beam(self) -> None:
        """An arc from the middle between two places to one of them, its slope kept at both ends: the work of its moments
        (Castigliano's theorem), integrated."""
        for count in (2, 3, 4, 6):
            angle = math.pi / count
            phi = np.linspace(0.0, angle, 20001)
            arm = (1 - np.cos(phi)) / (2 * math.sin(angle))  # of the normal force there, for a load of 1 and a radius of 1
            bends = arm - float(np.trapezoid(arm, phi)) / angle  # and of a moment that keeps the slope
            moves = 2 * float(np.trapezoid(bends * bends, phi))  # at the load: twice the work of both of its arcs
            ring = PushedRing(1.0, 1.0, count)
            strain = float(abs(bends[-1])) / moves / 2
            self.assertAlmostEqual(ring.strain(1.0), strain, delta=1e-3 * strain)
            force = count * 0.45 * angle / 12 / moves
            self.assertAlmostEqual(ring.force_n(1.0, 1.0), force, delta=1e-3 * force)

    def test_a_bead_is_as_steep_as_45_degrees_in_steps_no_higher_than_a_layer(self) -> None:
        for stands in (0.1, 0.3, 0.8):
            slabs = bead_slabs(stands)
            self.assertAlmostEqual(slabs[-1][0], stands)
            for off, half in slabs:  # what stands out by `off` begins where the slope has come so far
                self.assertGreaterEqual(half + 1e-9, BEAD_LAND_MM / 2 + stands - off)
                self.assertLessEqual(half, BEAD_LAND_MM / 2 + stands - off + STEP_MM + 1e-9)


def _ritz(high: float, pushed: float, across: int = 8, along: int = 10) -> tuple[float, float]:
    """How far the edge of a plate of stiffness 1 gives way to a load of 1, and how far it is curved there."""
    roots, weights = np.polynomial.legendre.leggauss(24)
    at, weights = (roots + 1) / 2, weights / 2
    poly = np.polynomial.Polynomial
    shapes_x = [poly([0, 0, 1, -2, 1]) * poly([-0.5, 1]) ** (2 * k) for k in range(across)]
    shapes_y = [poly([high**2, -2 * high, 1]) / high**2 * poly([0, 1 / high]) ** k for k in range(along)]

    def table(shapes: list[np.polynomial.Polynomial], at: np.ndarray) -> list[np.ndarray]:
        return [np.array([(s.deriv(d) if d else s)(at) for s in shapes]) for d in range(3)]

    xs, ys = table(shapes_x, at), table(shapes_y, at * high)
    in_x = [[(xs[a] * weights) @ xs[b].T for b in range(3)] for a in range(3)]
    in_y = [[(ys[a] * weights * high) @ ys[b].T for b in range(3)] for a in range(3)]
    stiff = np.kron(in_x[2][2], in_y[0][0]) + np.kron(in_x[0][0], in_y[2][2])
    stiff += POISSON * (np.kron(in_x[2][0], in_y[0][2]) + np.kron(in_x[0][2], in_y[2][0]))
    stiff += 2 * (1 - POISSON) * np.kron(in_x[1][1], in_y[1][1])
    over = table(shapes_x, np.linspace(0.5 - pushed / 2, 0.5 + pushed / 2, 41))[0].mean(axis=1)
    edge = table(shapes_y, np.zeros(1))[0][:, 0]
    load = np.kron(over, edge)
    shares = np.linalg.solve(stiff, load)
    curved = table(shapes_x, np.array([0.5]))[2][:, 0]
    return float(load @ shares), abs(float(np.kron(curved, edge) @ shares))


class Stands(unittest.TestCase):
    @tried(6)
    @given(
        bead=st.floats(0.25, 0.7), runs=st.sampled_from(["inner", "outer"]), on=st.sampled_from(["a", "b"]),
        clearance=st.floats(0.05, 0.12), square=st.booleans(), bumps=st.sampled_from([0, 2, 3, 4]),
    )  # fmt: skip
    def test_bead_and_groove_keep_the_clearance_and_go_together_bent(
        self, bead: float, runs: str, on: str, clearance: float, square: bool, bumps: int
    ) -> None:
        joint = lip(snap_mm=bead, runs=runs, on=on, bumps=bumps)
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

    def test_bumps_stand_evenly_on_a_round_and_amid_the_sides_of_a_box(self) -> None:
        around = bumps_along(shapely.Point(0, 0).buffer(30, quad_segs=64).exterior, 4)
        self.assertEqual(len(around), 4)
        for bump in around:
            self.assertAlmostEqual(float(np.hypot(*bump.at)), 30.0, delta=0.05)
            self.assertAlmostEqual(bump.free_mm, 30 * math.pi / 4, delta=0.1)
            self.assertAlmostEqual(min(float(np.linalg.norm(bump.at - o.at)) for o in around if o is not bump), 42.4, delta=0.2)
        long = bumps_along(shapely.box(0, 0, 80, 30).exterior, 4)
        self.assertEqual(sorted(tuple(np.round(b.at).tolist()) for b in long), [(27, 0), (27, 30), (53, 0), (53, 30)])
        self.assertTrue(all(abs(bump.along[1]) < 1e-6 for bump in long))
        self.assertEqual(len(bumps_along(shapely.box(0, 0, 20, 3).exterior, 6)), 2)

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

    def test_bumps_strain_a_box_less_than_a_bead_does_and_are_known(self) -> None:
        (placed,) = joined(SQUARE, lip(bumps=4, snap_mm=0.3), clearance=0.1).placed
        flex = placed.joint.flexes(placed.standing)
        closes = placed.joint.closing(placed.standing, (), Stuff(50.0, 2500.0))
        assert flex is not None
        assert closes is not None
        side = BowedSide(75.0 / 2, 5.0)  # the rim's outer edge lies half way through a wall of 5 round a room of 70
        self.assertAlmostEqual(flex.strain, side.strain(0.2), delta=0.15 * flex.strain)
        self.assertAlmostEqual(closes.newtons, along_n(4 * side.force_n(0.2, 2500.0), 45.0), delta=0.15 * closes.newtons)
        self.assertEqual(placed.joint.label(), "inner lip 5 with 4 bumps 0.3")


class Told(unittest.TestCase):
    def test_low_beads_low_rims_and_corners(self) -> None:
        self.assertIn("joint-snap-catch", codes(joined(WALL, lip(snap_mm=0.15), clearance=0.1)))
        self.assertIn("joint-snap-low", codes(joined(WALL, lip(height_mm=1.5), clearance=0.1)))
        self.assertIn("joint-snap-round", codes(joined(SQUARE, lip(), clearance=0.1)))
        self.assertNotIn("joint-snap-round", codes(joined(SQUARE, lip(bumps=4), clearance=0.1)))
        oval = Solid.cylinder(40, 0, 60).minus([Solid.cylinder(35, -1, 61)])
        oval = oval.placed(np.array([[1.0, 0, 0, 0], [0, 0.7, 0, 0], [0, 0, 1, 0]]))
        self.assertIn("joint-snap-round", codes(joined(oval, lip(bumps=2, thickness_mm=1.5), clearance=0.1)))
        small = box(12, 12, 60).minus([Solid.box([-3, -3, -1], [3, 3, 61])])
        self.assertIn("joint-snap-bumps", codes(joined(small, lip(bumps=12, thickness_mm=1.0), clearance=0.1)))
        self.assertEqual({c for c in codes(joined(WALL, lip(), clearance=0.1)) if c.startswith("joint-snap")}, set())


if __name__ == "__main__":
    unittest.main()
