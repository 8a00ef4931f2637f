"""Snap hooks: published formulas and a worked example, clearance on random blocks, strain, going in bent, letting go."""

import math
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import assume, given
from hypothesis import strategies as st
from pydantic import ValidationError
from scipy.integrate import quad

from hinoki.core.assemble.motion.blocking_graph import Blocking
from hinoki.core.assemble.scene.from_build import scene_of
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.findings import Finding
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.closures.hook import freed_at_once
from hinoki.core.join.contract.snap_fits import STRAIGHT, TAPERED, Cantilever, along_n, bent_at
from hinoki.core.join.contract.strength import ACROSS_LAYERS, Stuff
from hinoki.core.join.joints import HookJoint
from hinoki.core.plan.contents import PieceNote
from hinoki.core.propose.recommend_joints import SuitWish, suited
from hinoki.core.workshop.materials import Material, materials
from tests.assembling import assembly, proofs, way_in
from tests.checked import findings_of
from tests.core.join.test_joint_kinds import BLOCK, FACE, codes, joined, measured, sides
from tests.effort import tried
from tests.shapes import box, built, level, plan_for, stl_of, tube

PLASTIC = Material(strain_percent=1.0, modulus_mpa=3000)


def hook(**more: object) -> HookJoint:
    return HookJoint(id="j1", face=FACE, **more)  # type: ignore[arg-type]


def strained(result: Build) -> list[Finding]:
    return [f for f in findings_of(result) if f.code == "joint-strain"]


class Published(unittest.TestCase):
    def test_a_worked_example(self) -> None:
        """A plastics maker's guide to snap fits, polycarbonate hook half as thick at its end, 19 long, 9.5 wide, 2.4 bent, 2 %
        strain, E 1815 N/mm², μ 0.6, 30°: 3.28 thick, P 32.5 N, W 58.5 N (from memory)."""
        thick = 1.09 * 0.02 * 19**2 / 2.4
        self.assertAlmostEqual(thick, 3.28, places=2)
        beam = Cantilever(19, 9.5, thick, tapered=True)
        self.assertAlmostEqual(beam.strain(2.4), 0.02, delta=1e-5)
        self.assertAlmostEqual(beam.force_n(2.4, 1815), 32.5, delta=0.2)
        self.assertAlmostEqual(along_n(32.5, 30, 0.6), 58.5, delta=0.1)

    def test_strain_by_the_beam_equation(self) -> None:
        """y = ∫ F (L − x)² / (E I) dx and ε = F L t / (2 E I₀) for a load at the end (Euler and Bernoulli)."""
        for end, factor in ((1.0, STRAIGHT), (0.5, TAPERED)):
            thick = lambda s, end=end: 1 - (1 - end) * s  # noqa: E731 - as a share of that at the root
            bends, _ = quad(lambda s, t=thick: (1 - s) ** 2 / t(s) ** 3, 0, 1)
            self.assertAlmostEqual(2 * bends, factor, places=9)  # y = 12 F L³/(E b t³) ∫, ε = 6 F L/(E b t²)
            worst = max((1 - s) / thick(s) ** 2 for s in np.linspace(0, 1, 201))
            self.assertAlmostEqual(worst, 1.0, places=9)  # nowhere more than at the root
        self.assertAlmostEqual(Cantilever(10, 5, 2, tapered=False).strain(1), 1.5 * 2 * 1 / 10**2)
        self.assertAlmostEqual(TAPERED, 1.09, places=2)

    def test_the_bent_line(self) -> None:
        """y(s) = F L³/(6 E I) s² (3 − s), 1/2 · (3 − 1) at the end; the tangent goes on beyond."""
        self.assertEqual([bent_at(s) for s in (-1, 0, 1)], [0, 0, 1])
        self.assertAlmostEqual(bent_at(0.5), 0.25 * 2.5 / 2)
        self.assertAlmostEqual(bent_at(1.2), 1 + 0.2 * (bent_at(1.0) - bent_at(1 - 1e-6)) / 1e-6, places=4)

    def test_friction_locks_a_steep_slope(self) -> None:
        self.assertEqual(along_n(10, 90), math.inf)
        self.assertEqual(along_n(10, 69, friction=0.4), math.inf)  # tan 69° > 1/0.4
        self.assertLess(along_n(10, 67, friction=0.4), math.inf)
        self.assertAlmostEqual(along_n(10, 45, friction=0.0), 10)


class Stands(unittest.TestCase):
    @tried(8)
    @given(
        length=st.floats(6, 20), thick=st.floats(1.8, 2.6), wide=st.floats(3, 9), nose=st.floats(0.6, 1.6),
        tapered=st.booleans(), lead=st.floats(20, 45), go=st.sampled_from([30.0, 45.0, 60.0, 90.0]),
        looks=st.sampled_from(["edge", "middle", "along"]), on=st.sampled_from(["a", "b"]), clearance=st.floats(0.05, 0.3),
        shell=st.booleans(),
    )  # fmt: skip
    def test_on_blocks_and_in_collars(  # noqa: PLR0913 - one for each measure
        self, length: float, thick: float, wide: float, nose: float, tapered: bool, lead: float, go: float, looks: str, on: str,
        clearance: float, shell: bool,
    ) -> None:  # fmt: skip
        solid = tube(40, 37.5, 60) if shell else BLOCK
        joint = hook(
            length_mm=length, thick_mm=thick, wide_mm=wide, nose_mm=nose, tapered=tapered, lead_deg=lead, lets_go_deg=go,
            looks=looks, on=on, count=3, collar_mm=12.0 if shell else 0.0,
        )  # fmt: skip
        result = joined(solid, joint, clearance=clearance)
        there = sides(result)
        gaps = measured(result)
        assume(gaps)
        for gap in gaps:
            self.assertAlmostEqual(gap, clearance, delta=0.01)
        self.assertLess(abs(there["a"].common(there["b"]).volume_mm3), 1e-4)
        outside = Solid.cylinder(40, 0, 60) if shell else BLOCK
        for piece in there.values():
            self.assertEqual(len(piece.lumps()), 1)
            if not shell:
                self.assertLess(piece.minus([outside]).volume_mm3, 1e-6)
        self.assertEqual(proofs(assembly(result)), ["proved", "proved"])

    def test_they_go_in_only_because_they_bend(self) -> None:
        result = joined(BLOCK, hook(count=2, on="a"), clearance=0.15)
        scene = scene_of(result)
        up, down = (0.0, 0.0, 1.0), (0.0, 0.0, -1.0)
        self.assertEqual(set(scene.gives), {("p1-", "p1+")})
        self.assertTrue(Blocking(scene, Cache()).free("p1+", "p1-", up))
        self.assertFalse(Blocking(scene, Cache()).free("p1+", "p1-", down))
        scene.gives.clear()
        self.assertFalse(Blocking(scene, Cache()).free("p1+", "p1-", up))

    def test_what_fills_the_room_in_which_they_bend_stops_them(self) -> None:
        joint = hook(count=1, places=((20.0, 0.0),), on="a", tapered=False)
        result = joined(BLOCK, joint, clearance=0.15)
        scene = scene_of(result)
        behind = 20 - joint.thick_mm / 2 - 0.5  # the nose looks to the nearest edge, at x = 30
        block = Solid.box([-0.2, -2, 33], [0.2, 2, 35]).moved(behind, 0, 0)
        self.assertLess(sides(result)["a"].common(block).volume_mm3, 1e-6)
        upper = scene.units["p1+"]
        scene.units["p1+"] = replace(upper, solids=(*upper.solids, block), made_by="filled")
        self.assertFalse(Blocking(scene, Cache()).free("p1+", "p1-", (0.0, 0.0, 1.0)))

    def test_the_way_in_is_straight(self) -> None:
        out = assembly(joined(BLOCK, hook(count=2), clearance=0.15))
        np.testing.assert_allclose(np.abs(way_in(out.order.steps[1])), (0, 0, 1), atol=1e-9)

    def test_bad_measures_are_refused(self) -> None:
        for more in ({"length_mm": 3.0, "thick_mm": 2.0}, {"nose_mm": 0.1}, {"lets_go_deg": 95}, {"lead_deg": 5}):
            with self.assertRaises(ValidationError):
                hook(**more)


class Holds(unittest.TestCase):
    def test_what_pulls_them_off_and_presses_them_in(self) -> None:
        placed = joined(BLOCK, hook(count=2), clearance=0.2).placed[0]
        stuff = Stuff(50.0, 3000.0)
        for joint in (hook(count=2), hook(count=2, lets_go_deg=90)):
            bends = joint.beam.force_n(joint.nose_mm - 0.2, 3000)
            tears = ACROSS_LAYERS * 50 * joint.wide_mm * joint.end_mm
            holds, closes = (f(placed.standing, placed.places, stuff) for f in (joint.strength, joint.closing))
            assert holds is not None
            assert closes is not None
            self.assertAlmostEqual(holds.newtons, 2 * min(tears, along_n(bends, joint.lets_go_deg)))
            self.assertAlmostEqual(closes.newtons, 2 * along_n(bends, 30))
        self.assertTrue(hook().opens)
        self.assertFalse(hook(lets_go_deg=90).opens)

    def test_strain_along_and_across_layers(self) -> None:
        """As it stands on the bed the layers of block A lie across its hooks; on its side along them."""
        lying = {"p1-": PieceNote(down=(1.0, 0.0, 0.0))}
        for joint, pieces, wanted in (
            (hook(length_mm=20, nose_mm=1.0), {}, []),
            (hook(length_mm=14, nose_mm=1.0), {}, [("layers", "look-at")]),
            (hook(length_mm=14, nose_mm=1.0), lying, []),
            (hook(length_mm=10, nose_mm=1.5), lying, [("any way", "must-fix")]),
            (hook(length_mm=12, nose_mm=1.0, used="often"), lying, [("any way", "must-fix")]),
        ):
            result = joined(BLOCK, joint.model_copy(update={"on": "a"}), clearance=0.1, material=PLASTIC, pieces=pieces)
            found = strained(result)
            self.assertEqual([(f.params["case"], f.severity) for f in found], wanted, joint.label())
            for one in found:  # its fix is enough, and so is the length it names
                (fix,) = one.fixes
                mended = joined(BLOCK, HookJoint.model_validate(fix.joint), clearance=0.1, material=PLASTIC, pieces=pieces)
                self.assertEqual(strained(mended), [])
                longer = joint.model_copy(update={"length_mm": one.params["long_mm"], "on": "a"})
                self.assertEqual(strained(joined(BLOCK, longer, clearance=0.1, material=PLASTIC, pieces=pieces)), [])

    def test_materials_that_ship_have_figures_in_the_usual_range(self) -> None:
        """Common plastics: modulus 0.7 to 3.6 kN/mm², permissible once 0.5 to 4 %; with chopped fibres 4 to 9 kN/mm²; those
        like rubber 10 to 100 N/mm² and tens of percent (common practice). With fibres a polymer is denser, and stiffer."""
        by_id = {material.id: material for material in materials()}
        for material in by_id.values():
            soft, filled = material.id.startswith("tpu"), material.id.startswith("cf")
            stiff = (10, 100) if soft else (4000, 9000) if filled else (700, 3600)
            self.assertTrue(stiff[0] <= material.modulus_mpa <= stiff[1], material.id)
            strained = (10, 40) if soft else (0.5, 4)
            self.assertTrue(strained[0] <= material.strain_percent <= strained[1], material.id)
            self.assertTrue(material.source, material.id)
        self.assertGreater(by_id["cf-pla"].density_g_cm3, by_id["pla"].density_g_cm3)
        self.assertGreater(by_id["tpu-95a"].modulus_mpa, by_id["tpu-85a"].modulus_mpa)


class Told(unittest.TestCase):
    def test_small_noses_thin_ends_and_hooks_that_come_free(self) -> None:
        self.assertIn("joint-hook-catch", codes(joined(BLOCK, hook(nose_mm=0.4), clearance=0.2)))
        self.assertIn("joint-under-line", codes(joined(BLOCK, hook(thick_mm=1.4), clearance=0.1)))
        self.assertIn("joint-hook-free", codes(joined(BLOCK, hook(count=1, tapered=False), clearance=0.1)))
        self.assertNotIn("joint-hook-free", codes(joined(BLOCK, hook(count=4, tapered=False), clearance=0.1)))

    def test_a_tapered_hook_is_held_at_its_root_and_an_even_one_slides_free(self) -> None:
        for tapered in (True, False):
            result = joined(BLOCK, hook(count=1, tapered=tapered), clearance=0.1)
            one, two = (part.solid for part in result.parts)
            (tool,) = [t for t in result.placed[0].tools.each if t.add is not None and t.bent is not None]
            n = result.placed[0].face.frame.n
            back = tool.bent.centre_of_box - tool.add.centre_of_box  # type: ignore[union-attr]
            back -= n * float(back @ n)
            slid = 0.9 * back / np.linalg.norm(back) * (1 if tool.side == "b" else -1)  # its nose less the clearance
            held = one.common(two.moved(*slid)).volume_mm3 > 1e-2
            self.assertEqual((held, "joint-hook-free" in codes(result)), (tapered, not tapered))

    @tried(30)
    @given(
        places=st.lists(st.tuples(st.integers(-20, 20), st.integers(-20, 20)), min_size=1, max_size=4, unique=True),
        turns=st.lists(st.integers(0, 7), min_size=4, max_size=4), move=st.tuples(*[st.integers(-3, 3)] * 3),
    )  # fmt: skip
    def test_what_one_move_frees(self, places: list[tuple[int, int]], turns: list[int], move: tuple[int, int, int]) -> None:
        """A move that frees all of them is made up, and must be found; noses turned round against it must hold."""
        dx, dy, spin = move
        at = np.array(places, dtype=float)
        moved = np.column_stack([dx - spin * at[:, 1] / 20, dy + spin * at[:, 0] / 20])
        assume((np.linalg.norm(moved, axis=1) > 0.1).all())
        self.assertTrue(freed_at_once(at, -moved / np.linalg.norm(moved, axis=1, keepdims=True)))
        # round a middle they all look to the outside: no push along the face frees them
        angle = 2 * np.pi * np.arange(3) / 3 + turns[0]
        ring = np.column_stack([np.cos(angle), np.sin(angle)])
        self.assertFalse(freed_at_once(20 * ring, ring))
        self.assertTrue(freed_at_once(at[:1], ring[:1]))


class Chosen(unittest.TestCase):
    def test_long_ones_in_a_block_and_in_ears_of_a_shell(self) -> None:
        walls = box(100, 80, 60).minus([Solid.box([-48, -38, -1], [48, 38, 61])])
        for solid, collar in ((BLOCK, False), (walls, True), (tube(40, 38, 60), True)):
            data = stl_of(solid)
            plan = plan_for(data, level(1, 30))
            (joint,) = suited(built(data, plan), plan, SuitWish(kind="hook")).joints
            assert isinstance(joint, HookJoint)
            self.assertGreaterEqual(joint.count, 2)
            self.assertEqual(joint.collar_mm > 0, collar)
            result = built(data, plan.model_copy(update={"joints": (joint,)}))
            self.assertEqual([f.code for f in findings_of(result) if f.severity == "must-fix"], [])

    def test_a_strip_too_narrow_has_none(self) -> None:
        data = stl_of(box(60, 6, 60))
        plan = plan_for(data, level(1, 30))
        self.assertEqual(suited(built(data, plan), plan, SuitWish(kind="hook")).joints, [])


if __name__ == "__main__":
    unittest.main()
