"""Bayonets: clearance on blocks and shells, going in and locking by their turn, what holds, what is told."""

import math
import unittest

import numpy as np
from hypothesis import assume, given
from hypothesis import strategies as st
from pydantic import ValidationError
from shapely.geometry import Point, Polygon

from hinoki.core.assemble.motion.blocking_graph import Blocking
from hinoki.core.assemble.motion.moves import Moves
from hinoki.core.assemble.scene.from_build import scene_of
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.snap_fits import OFTEN, PushedRing
from hinoki.core.join.contract.strength import Stuff
from hinoki.core.join.contract.terms import Turn
from hinoki.core.join.joints import BayonetJoint
from hinoki.core.join.turning.bayonet_body import turned_sector
from hinoki.core.plan.contents import PieceNote
from hinoki.core.propose.recommend_joints import SuitWish, suited
from hinoki.core.workshop.materials import Material
from tests.assembling import assembly, proofs
from tests.checked import findings_of
from tests.core.join.test_joint_kinds import BLOCK, FACE, codes, joined, measured, sides
from tests.effort import either, tried
from tests.shapes import built, level, plan_for, shell_of, stl_of, tube

WALL = tube(40, 30, 60)
BARE, FULL = 6, 25


def bayonet(**more: object) -> BayonetJoint:
    return BayonetJoint.model_validate({"id": "j1", "face": FACE, **more})


def ring(**more: object) -> BayonetJoint:
    return bayonet(**{"diameter_mm": 72.0, "bore_mm": 61.0, "lug_mm": 1.5, "length_mm": 9.0, **more})


def turned(solid: Solid, degrees: float, up: float = 0.0) -> Solid:
    """A body turned about Z, and lifted."""
    cos, sin = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return solid.placed(np.array([[cos, -sin, 0, 0], [sin, cos, 0, 0], [0, 0, 1.0, up]]))


class Bodies(unittest.TestCase):
    def test_a_turned_sector_has_the_volume_of_pappus(self) -> None:
        """Pappus and Guldinus: area times the way of its centre."""
        profile = Polygon([(8, 0), (12, 1), (12, 3), (8, 4)])
        body = turned_sector(profile, 0.3, 1.7)
        self.assertAlmostEqual(body.volume_mm3, profile.area * profile.centroid.x * 1.4, delta=0.005 * body.volume_mm3)
        wide = turned_sector(profile, 0.3, 1.7, around=True)
        a = np.linspace(0.3, 1.7, 200)[1:-1]
        (round_,) = wide.slice(2.0).geoms
        self.assertTrue(all(round_.covers(Point(11.999 * np.cos(x), 11.999 * np.sin(x))) for x in a))


class Stands(unittest.TestCase):
    @tried(BARE, FULL)
    @given(
        lugs=st.integers(2, 4), turn=st.floats(25, 60), lug=st.floats(1.0, 2.2), click=st.sampled_from([0.0, 0.2, 0.4]),
        clearance=st.floats(0.05, 0.3), on=st.sampled_from(["a", "b"]), hand=st.sampled_from(["right", "left"]),
        shell=st.booleans(),
    )  # fmt: skip
    def test_it_keeps_the_clearance_and_goes_together_by_its_turn(  # noqa: PLR0913 - a draw
        self, lugs: int, turn: float, lug: float, click: float, clearance: float, on: str, hand: str, shell: bool
    ) -> None:
        wish = {"lugs": lugs, "turn_deg": turn, "lug_mm": lug, "click_mm": click, "on": on, "hand": hand}
        assume(turn <= 360 / lugs - 18)
        joint = ring(**wish, clearance_mm=clearance) if shell else bayonet(**wish, clearance_mm=clearance, length_mm=9.0)
        solid = WALL if shell else BLOCK
        result = joined(solid, joint)
        there = sides(result)
        self.assertAlmostEqual(min(measured(result)), clearance, delta=0.01)
        self.assertLess(abs(there["a"].common(there["b"]).volume_mm3), 1e-4)
        for piece in there.values():
            self.assertEqual(len(piece.lumps()), 1)
            self.assertLess(piece.minus([solid]).volume_mm3, 0.05)  # files are in single precision
        out = assembly(result)
        self.assertEqual(proofs(out), ["proved", "tried by sampling"])
        motion = out.order.steps[1].motion
        assert motion is not None
        self.assertEqual(motion.kind, "turn")
        self.assertAlmostEqual(motion.turns, turn / 360)

    def test_by_the_exact_path_of_its_lugs_nothing_is_met(self) -> None:
        """What its lugs pass on the way in as one body: the hull of each small step, since a lug off its core is convex. The
        socket must leave all of that free."""
        result = joined(BLOCK, bayonet(click_mm=0.0, clearance_mm=0.2))
        there = sides(result)
        (placed,) = result.placed
        plug = placed.tools.of("a")[0].add
        assert plug is not None
        lugs = plug.minus([Solid.cylinder(9.81, 0, 60, around=True)]).lumps()
        self.assertEqual(len(lugs), 3)
        for lug in lugs:
            for degrees in range(0, 45, 3):  # on the way in B turns from 45° back to 0: seen from it, A's lugs the other way
                two = [turned(lug, -d).mesh.vertices for d in (degrees, min(45, degrees + 3))]
                self.assertLess(Solid.hull_of(np.vstack(two)).common(there["b"]).volume_mm3, 1e-6, degrees)
            up = [turned(lug, -45, -d).mesh.vertices for d in (0.0, 12.0)]
            self.assertLess(Solid.hull_of(np.vstack(up)).common(there["b"]).volume_mm3, 1e-6)

    def test_it_comes_off_by_its_turn_alone_and_the_right_way_round(self) -> None:
        low, high = (sides(joined(BLOCK, bayonet(click_mm=0.0)))[side] for side in "ab")
        self.assertGreater(low.common(turned(high, 0, 2.0)).volume_mm3, 5)  # straight: lugs meet the ledge
        self.assertGreater(low.common(turned(high, -10)).volume_mm3, 5)  # the wrong way: they meet the end of their channel
        self.assertLess(abs(low.common(turned(high, 45)).volume_mm3), 1e-4)
        self.assertLess(abs(low.common(turned(high, 45, 5.0)).volume_mm3), 1e-4)
        left = sides(joined(BLOCK, bayonet(click_mm=0.0, hand="left")))
        self.assertLess(abs(left["a"].common(turned(left["b"], -45, 5.0)).volume_mm3), 1e-4)

    def test_a_click_holds_because_it_must_give_way(self) -> None:
        scene = scene_of(joined(WALL, ring()))
        under, over = frozenset({"p1-"}), frozenset({"p1+"})

        def comes_off() -> bool:
            return Moves(Blocking(scene, Cache()), Cache()).off(over, under) is not None

        self.assertTrue(comes_off())
        scene.gives.clear()
        self.assertFalse(comes_off())


class Suits(unittest.TestCase):
    def suit(self, solid: Solid) -> tuple[BayonetJoint, Build]:
        data, plan = stl_of(solid), plan_for(stl_of(solid), level(1, 30))
        (joint,) = suited(built(data, plan), plan, SuitWish(kind="bayonet")).joints
        assert isinstance(joint, BayonetJoint)
        return joint, joined(solid, joint)

    def test_in_a_wall_that_slopes_it_stands_in_a_neck_of_its_own(self) -> None:
        cone = Solid.cone(60, 25, 0, 80).minus([Solid.cone(57.5, 22.5, 2, 78)])
        high = shell_of(90, 90, 110, 2.4).moved(0, 0, 110)
        for solid, at, kind in ((cone, 30.0, "bayonet"), *either((), ((cone, 50.0, "thread"), (high, 200.0, "bayonet")))):
            data = stl_of(solid)
            plan = plan_for(data, level(1, at), bed=(400, 400, 400))
            (joint,) = suited(built(data, plan), plan, SuitWish(kind=kind)).joints
            self.assertGreater(joint.collar_mm, 0)  # type: ignore[union-attr]
            whole = plan.model_copy(update={"joints": (joint,)})
            result = built(data, whole)
            self.assertEqual({f.code for f in findings_of(result) if f.station == "join" and f.severity != "note"}, set())
            self.assertEqual(proofs(assembly(result, whole)), ["proved", "tried by sampling"])
            for part in result.parts:
                self.assertLess(part.solid.minus([solid.plus([solid.hull])]).volume_mm3, 0.1)

    def test_a_full_face_a_thick_wall_and_a_thin_one_in_a_collar(self) -> None:
        for solid, bore, collar in ((BLOCK, False, False), *either((), ((WALL, True, False),)), (tube(40, 38, 60), True, True)):
            joint, result = self.suit(solid)
            self.assertEqual((joint.bore_mm > 0, joint.collar_mm > 0, joint.fit), (bore, collar, "sliding"))
            self.assertEqual(codes(result), set())
            self.assertEqual(joint.click_mm > 0, bore)
            self.assertEqual(proofs(assembly(result)), ["proved", "tried by sampling"])


class Holds(unittest.TestCase):
    def test_by_shear_of_its_lugs_or_of_the_ledge(self) -> None:
        stuff = Stuff(50.0, 2500.0)
        for length, high in ((14.0, 2 * 1.5 + 1.2), (6.0, 6.0 - 4.2 - 0.1)):
            (placed,) = joined(WALL, ring(length_mm=length, clearance_mm=0.1)).placed
            holds = placed.joint.strength(placed.standing, placed.places, stuff)
            assert holds is not None
            wide = 3 * math.radians(0.85 * 45) * (69 / 2 - 0.1)
            self.assertAlmostEqual(holds.newtons, stuff.shear_mpa * wide * high, delta=1)

    def test_its_clicks_strain_a_ring_that_is_opened_often(self) -> None:
        (placed,) = joined(WALL, ring(clearance_mm=0.1)).placed
        flex = placed.joint.flexes(placed.standing)
        assert flex is not None
        thick = 34.5 - 0.1 - 30.5
        self.assertAlmostEqual(flex.strain, PushedRing(30.5 + thick / 2, thick, 3).strain(0.2))
        self.assertEqual(flex.share, OFTEN)
        closes = placed.joint.closing(placed.standing, placed.places, Stuff(50.0, 2500.0))
        self.assertGreater(closes.newtons if closes else 0.0, 0.0)
        weak = joined(WALL, ring(clearance_mm=0.1), material=Material(strain_percent=0.5))
        (told,) = [f for f in findings_of(weak) if f.code == "joint-strain"]
        (fix,) = told.fixes
        self.assertNotIn("joint-strain", codes(joined(WALL, BayonetJoint.model_validate(fix.joint), material=Material(
            strain_percent=0.5))))  # fmt: skip

    def test_it_is_turned_by_a_part_of_a_turn(self) -> None:
        self.assertEqual(ring().turn, Turn(0.125, 0.0, 9.0, 1))
        self.assertEqual(ring(hand="left", turn_deg=36).turn, Turn(0.1, 0.0, 9.0, -1))


class Told(unittest.TestCase):
    def test_what_is_too_thin_or_not_known(self) -> None:
        for code, joint in {
            "bayonet-ledge": bayonet(length_mm=6.0),
            "bayonet-catch": bayonet(lug_mm=0.9, clearance_mm=0.2),
            "bayonet-thin-ring": ring(bore_mm=68.0),
            "bayonet-click": bayonet(),
            "joint-no-room": bayonet(diameter_mm=70.0, lug_mm=2.0),
        }.items():
            self.assertIn(code, codes(joined(BLOCK if joint.bore_mm == 0 else WALL, joint)), code)

    def test_too_much_for_one_turn_is_refused_in_a_sentence(self) -> None:
        for wish, word in (({"lugs": 4, "turn_deg": 80.0}, "72°"), ({"diameter_mm": 12.0, "lug_mm": 5.0}, "core")):
            with self.assertRaisesRegex(ValidationError, word):
                bayonet(**wish)

    def test_one_that_lies_is_told_to_stand(self) -> None:
        lying = joined(BLOCK, bayonet(), pieces={"p1+": PieceNote(down=(1.0, 0.0, 0.0))})
        (leans,) = [f for f in findings_of(lying) if f.code == "thread-leans"]
        self.assertEqual(leans.params["joint"], "bayonet")

    def test_smaller_ones_keep_their_lugs(self) -> None:
        less = bayonet(diameter_mm=30.0).smaller()
        assert less is not None
        self.assertEqual((less.diameter_mm, less.lug_mm), (24.0, 2.0))
        self.assertIsNone(ring().smaller())
        self.assertEqual(ring().label(), "bayonet ø72, 3 lugs, 9 long")


if __name__ == "__main__":
    unittest.main()
