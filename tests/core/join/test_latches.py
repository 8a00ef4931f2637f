"""Turning latches: bolts that go through a lid, lock behind a ledge by a quarter of a turn, and come out by turning back."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from hinoki.core.build import Build
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.strength import ACROSS_LAYERS, Stuff
from hinoki.core.join.joints import SIDES, FaceRef, LatchJoint, PinJoint
from hinoki.core.join.turning.bayonet_body import lug_high_mm
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.recommend_joints import SuitWish, suited
from hinoki.core.workshop.fits import Fits
from tests.assembling import assembly, proofs
from tests.checked import findings_of
from tests.effort import tried
from tests.shapes import box, built, level, plan_for, stl_of

BLOCK = box(80, 60, 40)
FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
"""a lid 8 mm thick on a block"""


def latched(at_mm: float = 32.0, fits: Fits | None = None, **wish: object) -> Build:
    latch = LatchJoint(id="j1", face=FACE, **wish)  # type: ignore[arg-type]
    return built(stl_of(BLOCK), plan_for(stl_of(BLOCK), level(1, at_mm), joints=(latch,), fits=fits or Fits()))


def must(result: Build) -> list[tuple[str, object]]:
    return [(f.code, f.params) for f in findings_of(result) if f.severity != "note"]


def about(at: np.ndarray, axis: np.ndarray, radians: float) -> np.ndarray:
    """The matrix (3, 4) of a turn about an axis through a place."""
    x, y, z = axis
    cross = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    turn = np.eye(3) + math.sin(radians) * cross + (1 - math.cos(radians)) * cross @ cross
    return np.column_stack([turn, at - turn @ at])


class Locks(unittest.TestCase):
    def test_it_goes_in_turned_back_and_is_turned_until_it_locks(self) -> None:
        for on in SIDES:
            for hand in ("right", "left"):
                result = latched(20, on=on, hand=hand)
                self.assertEqual(must(result), [], (on, hand))
                out = assembly(result)
                self.assertEqual(set(proofs(out)), {"proved", "tried by sampling"})
                self.assertEqual(out.order.steps[-1].motion.kind, "turn")  # type: ignore[union-attr]

    def test_several_are_turned_one_by_one(self) -> None:
        out = assembly(latched(count=3))
        turned = [step for step in out.order.steps if step.motion is not None and step.motion.kind == "turn"]
        self.assertEqual(len(turned), 3)

    @tried(4)
    @given(
        on=st.sampled_from(SIDES), hand=st.sampled_from(("right", "left")), clearance=st.floats(0.1, 0.3),
        size=st.sampled_from(((12.0, 2.0), (16.0, 2.5), (18.0, 3.0))), length=st.floats(9, 12),
    )  # fmt: skip
    def test_it_turns_freely_is_stopped_at_both_ends_and_cannot_be_pulled(
        self, on: str, hand: str, clearance: float, size: tuple[float, float], length: float
    ) -> None:
        result = latched(
            20,
            on=on,
            hand=hand,
            diameter_mm=size[0],
            lug_mm=size[1],
            length_mm=length,
            head_mm=2.0,
            fits=Fits(sliding=clearance),
        )
        placed = result.placed[0]
        (bolt,) = (loose.solid for loose in placed.tools.loose)
        frame = placed.standing.frame
        other = next(part.solid for part in result.parts if part.key == placed.part(placed.joint.other).key)  # type: ignore[attr-defined]
        at = frame.world(np.array([placed.places[0]]))[0]
        out = frame.n if placed.joint.other == "a" else -frame.n  # type: ignore[attr-defined]
        self.assertAlmostEqual(min(bolt.gap(part.solid, 1.0) for part in result.parts), 0.0, delta=1e-3)  # its head bears
        sign = 1.0 if hand == "right" else -1.0  # seen from where it comes out, it is turned back the other way
        for degrees in range(0, 91, 5):
            turned = bolt.placed(about(at, out, sign * math.radians(degrees)))
            self.assertLess(sum(turned.common(part.solid).volume_mm3 for part in result.parts), 1e-3, degrees)
        for degrees in (-12.0, 102.0):
            turned = bolt.placed(about(at, out, sign * math.radians(degrees)))
            self.assertGreater(turned.common(other).volume_mm3, 0.1, degrees)
        pulled = bolt.moved(*(1.5 * out))
        self.assertGreater(pulled.common(other).volume_mm3, 1.0)
        free = bolt.placed(about(at, out, sign * math.pi / 2)).moved(*(1.5 * out))
        self.assertLess(free.common(other).volume_mm3, 1e-3)

    def test_its_lugs_keep_the_clearance(self) -> None:
        result = latched(fits=Fits(sliding=0.25))
        placed = result.placed[0]
        (bolt,) = (loose.solid for loose in placed.tools.loose)
        base = result.parts[0].solid
        self.assertAlmostEqual(bolt.gap(base, 1.0), 0.25, delta=0.01)

    def test_it_prints_on_its_head_without_support(self) -> None:
        """Nothing of it looks down by less than 45°, but for what lies on the bed and the floor of its slot."""
        for head in ("slot", "knob"):
            loose = latched(head=head).placed[0].tools.loose[0]
            lies = loose.solid.placed(loose.printed)
            normals, corners = lies.mesh.face_normals, lies.mesh.vertices[lies.mesh.faces]
            down = (normals[:, 2] < -0.72) & (corners[:, :, 2].min(axis=1) > 2.0)
            edges = corners[down]
            areas = np.linalg.norm(np.cross(edges[:, 1] - edges[:, 0], edges[:, 2] - edges[:, 0]), axis=1) / 2
            self.assertLess(float(areas.sum()), 0.5, head)  # slivers between round and drawn round


class Told(unittest.TestCase):
    def test_what_is_wrong_with_it(self) -> None:
        short = must(latched(length_mm=6.0))
        self.assertIn("latch-ledge", {code for code, _ in short})
        self.assertIn("latch-head-deep", {code for code, _ in must(latched(head_mm=7.5))})
        self.assertIn("latch-catch", {code for code, _ in must(latched(lug_mm=0.9, fits=Fits(sliding=0.3)))})
        with self.assertRaises(ValidationError):
            LatchJoint(id="j1", face=FACE, diameter_mm=10, lug_mm=4)

    def test_what_it_holds_is_the_least_of_its_core_and_its_lugs(self) -> None:
        result = latched(diameter_mm=16, lug_mm=2.5, length_mm=10)
        placed = result.placed[0]
        stuff = Stuff.of(Plan().material)
        core = 5.5 - placed.clearance_mm
        tension = ACROSS_LAYERS * stuff.tension_mpa * math.pi * core**2
        shear = (
            stuff.shear_mpa * 2 * math.radians(55) * core * min(lug_high_mm(2.5), 10 - lug_high_mm(2.5) - placed.clearance_mm)
        )
        holds = placed.joint.strength(placed.standing, placed.places, stuff)
        assert holds is not None
        self.assertAlmostEqual(holds.newtons, min(tension, shear), places=3)


class Suits(unittest.TestCase):
    def test_a_lid_gets_those_it_has_room_for_beside_its_pins(self) -> None:
        plan = plan_for(stl_of(BLOCK), level(1, 32))
        pins = PinJoint(id="j2", face=FACE, count=2, diameter_mm=4, length_mm=4, places=((-34.0, 0.0), (34.0, 0.0)))
        (latch,) = suited(built(stl_of(BLOCK), plan), plan, SuitWish(kind="latch")).joints
        assert isinstance(latch, LatchJoint)
        self.assertEqual((latch.on, latch.diameter_mm), ("b", 20.0))
        result = built(stl_of(BLOCK), plan.model_copy(update={"joints": (latch, pins)}))
        self.assertEqual(must(result), [])
        self.assertEqual(set(proofs(assembly(result))), {"proved", "tried by sampling"})

    def test_in_a_thin_plate_its_head_stands_out(self) -> None:
        solid = box(80, 60, 34.4)
        plan = plan_for(stl_of(solid), level(1, 32))
        (latch,) = suited(built(stl_of(solid), plan), plan, SuitWish(kind="latch")).joints
        assert isinstance(latch, LatchJoint)
        self.assertEqual(latch.head, "knob")
        result = built(stl_of(solid), plan.model_copy(update={"joints": (latch,)}))
        self.assertEqual(must(result), [])
        bolt = result.placed[0].tools.loose[0].solid
        self.assertAlmostEqual(float(bolt.bounds[1][2]), 34.4 + 5.0, delta=0.05)
        self.assertIsInstance(bolt, Solid)
