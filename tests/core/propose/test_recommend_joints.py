"""What Hinoki chooses itself breaks none of its own rules, and can be put together."""

import unittest
from typing import Any
from unittest.mock import patch

import numpy as np

from hinoki.core.assemble.assembled import assembled
from hinoki.core.build import Build, build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting, Parting, WedgesParting
from hinoki.core.errors import Cancelled
from hinoki.core.geometry.solid import Solid
from hinoki.core.join import apply
from hinoki.core.join.contract.sliding_profile import RunningJoint
from hinoki.core.join.joints import Joint, PinJoint
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell
from hinoki.core.propose import recommend_joints, slide_in
from hinoki.core.propose.recommend_joints import SuitWish, suited
from hinoki.core.propose.unlock_joints import suited_together, unlocked
from tests.checked import findings_of
from tests.shapes import across, box, leaning_tube, level, plan_for, stl_of, tube


def _circle(radius: float) -> np.ndarray:
    turn = np.linspace(0, 2 * np.pi, 72, endpoint=False)
    return radius * np.column_stack([np.cos(turn), np.sin(turn)])


SLANTED: tuple[str, ...] = ("pin", "dovetail", "key", "lip", "tongue", "thread", "magnet", "screw", "hinge")
TRIED: tuple[str, ...] = ("pin", "dowel", "dovetail", "key", "lip", "tongue", "magnet")
SHAPES: dict[str, tuple[Solid, Parting]] = {
    "leaning outwards": (leaning_tube((40, 30), (60, 50), 80), level(1, 40)),
    "cone": (Solid.frustum(_circle(40), _circle(12), 0, 90), level(1, 60)),
    "slim bar": (box(200, 9, 9), across(1, "x", 0)),
}


class Own(unittest.TestCase):
    def base(self, solid: Solid, *partings: Parting) -> tuple[Plan, Cache]:
        self.data = stl_of(solid)
        return plan_for(self.data, *partings), Cache()

    def built(self, plan: Plan, cache: Cache) -> Build:
        return build(plan, lambda _: self.data, cache)

    def test_measures_are_told_as_chosen_by_hinoki_and_shape_nothing_by_that(self) -> None:
        plan, cache = self.base(box(60, 60, 60), level(1, 30))
        for kind in ("auto", "dovetail", "lip"):
            with self.subTest(kind):
                (joint,) = suited(self.built(plan, cache), plan, SuitWish(kind=kind), cache=cache).joints
                self.assertEqual(joint.typed, ())
                typed = joint.model_copy(update={"typed": ("length_mm",)})
                self.assertEqual(typed.fingerprint, joint.fingerprint)
                (kept,) = Plan.model_validate_json(plan.model_copy(update={"joints": (typed,)}).model_dump_json()).joints
                self.assertEqual(kept.typed, ("length_mm",))
        self.assertIsNone(PinJoint(id="j1", face=joint.face).typed)

    def test_no_kind_breaks_a_rule_on_any_shape(self) -> None:
        found = set()
        for name, (solid, parting) in SHAPES.items():
            plan, cache = self.base(solid, parting)
            bare = self.built(plan, cache)
            for kind in TRIED:
                joints = suited(bare, plan, SuitWish(kind=kind), cache=cache).joints
                found |= {j.kind for j in joints}
                after = self.built(plan.model_copy(update={"joints": tuple(joints)}), cache)
                wrong = [(f.code, f.params) for f in findings_of(after) if f.severity == "must-fix" and f.station == "join"]
                self.assertEqual(wrong, [], (name, kind))
        self.assertTrue({"dovetail", "lip", "pin", "dowel", "tongue", "magnet"} <= found, found)

    def test_what_is_tried_stands_where_the_build_will_put_it(self) -> None:
        """Beside neighbours that stand where they do beside theirs, each worked out once."""
        plan, cache = self.base(box(150, 34, 34), across(1, "x", -20), across(2, "x", 0), across(3, "x", 20), level(4, 1))
        bare = self.built(plan, cache)
        tried: dict[str, list[PlacedJoint]] = {}
        real = apply.place_joints

        def noted(*args: Any) -> tuple[list[PlacedJoint], list[Joint]]:
            placed, unplaced = real(*args)
            known = {one.joint.id for one in args[5]}
            for one in placed:
                if one.joint.id not in known:
                    tried.setdefault(one.joint.id, []).append(one)
            return placed, unplaced

        with patch.object(recommend_joints, "place_joints", noted):
            joints = suited(bare, plan, SuitWish(kind="auto"), cache=cache).joints
        self.assertEqual(len(joints), 10)
        after = self.built(plan.model_copy(update={"joints": tuple(joints)}), cache)
        for own in after.placed:
            self.assertEqual(tried[own.joint.id][-1].places, own.places, own.joint.id)
        sizes = [[one.joint for one in ones] for ones in tried.values()]
        self.assertEqual([len(set(of_one)) for of_one in sizes], [len(of_one) for of_one in sizes])

    def test_on_slanting_planes_no_kind_leaves_a_slit_or_a_film(self) -> None:
        """Planes whose corners have no round coordinates; every direction of what slides."""
        found = set()
        thick = Solid.cylinder(45, 0, 50)
        for name, solid, parting in (
            ("wedges", tube(90, 60, 40), WedgesParting(id="p1", axis="z", count=3)),
            ("tilted", thick, FlatParting(id="p1", axis="z", at_mm=25, tilt_deg=(23, 17))),
        ):
            plan, cache = self.base(solid, parting)
            bare = self.built(plan, cache)
            face = [f.ref.id for f in bare.faces][-1:]
            for kind in SLANTED:
                for joint in suited(bare, plan, SuitWish(kind=kind, faces=face), cache=cache).joints:
                    turns = (0.0, 90.0, -90.0) if isinstance(joint, RunningJoint) else (None,)
                    for along in turns:
                        one = joint if along is None else joint.model_copy(update={"along_deg": along, "places": None})
                        after = self.built(plan.model_copy(update={"joints": (one,)}), cache)
                        self.assertEqual([f.params for f in findings_of(after) if f.code == "film"], [], (name, kind, along))
                        self.assertEqual({len(p.solid.lumps()) for p in after.parts}, {1}, (name, kind, along))
                        found.add(kind)
        self.assertEqual(found, set(SLANTED))

    def ring(self) -> tuple[Plan, Cache]:
        return self.base(tube(90, 60, 40), WedgesParting(id="p1", axis="z", count=3))

    def test_joints_all_round_a_ring_do_not_lock_it(self) -> None:
        for kind, left in (("dovetail", {"dovetail": 3}), ("pin", {"pin": 2, "key": 1})):
            plan, cache = self.ring()
            bare = self.built(plan, cache)
            alone = plan.model_copy(update={"joints": tuple(suited(bare, plan, SuitWish(kind=kind)).joints)})
            self.assertTrue(assembled(alone, self.built(alone, cache), cache).order.locked)
            found = suited_together(bare, plan, SuitWish(kind=kind), lambda p, c=cache: self.built(p, c), cache)  # type: ignore[misc]
            kinds = [j.kind for j in found.joints]
            self.assertEqual({k: kinds.count(k) for k in kinds}, left)
            both = plan.model_copy(update={"joints": tuple(found.joints)})
            after = self.built(both, cache)
            self.assertEqual(assembled(both, after, cache).order.locked, [])
            self.assertEqual([(f.code, f.params) for f in findings_of(after) if f.severity == "must-fix"], [])

    def test_where_keys_have_no_room_the_last_part_of_a_ring_slides_in_from_above(self) -> None:
        """A wall of 6 mm, upright: lips or pins on the third seam would lock it, and tongues along Z do not."""
        plan, cache = self.base(tube(60, 54, 60), WedgesParting(id="p1", axis="z", count=3))
        bare = self.built(plan, cache)
        for kind in ("auto", "pin"):
            found = suited_together(bare, plan, SuitWish(kind=kind), lambda p, c=cache: self.built(p, c), cache)  # type: ignore[misc]
            self.assertEqual([j.kind for j in found.joints].count("tongue"), 2, found.joints)
            both = plan.model_copy(update={"joints": tuple(found.joints)})
            order = assembled(both, self.built(both, cache), cache).order
            self.assertEqual(order.locked, [])
            last = order.steps[-1].motion
            assert last is not None
            self.assertGreater(abs(float(np.array(last.way)[2])), 0.99)

    def test_looking_for_a_way_to_slide_in_is_told_and_can_be_stopped(self) -> None:
        plan, cache = self.base(tube(60, 54, 60), WedgesParting(id="p1", axis="z", count=3))
        bare = self.built(plan, cache)
        heard: list[tuple[float, str]] = []

        def find(tell: Tell) -> None:
            wish = SuitWish(kind="pin")
            suited_together(bare, plan, wish, lambda p: self.built(p, cache), cache, tell)

        find(lambda fraction, phrase: heard.append((fraction, phrase)))
        fractions = [fraction for fraction, _ in heard]
        self.assertEqual(fractions, sorted(fractions))
        told = [fraction for fraction, phrase in heard if phrase == slide_in.SLIDES]
        self.assertTrue(told)
        self.assertGreater(len([f for f in fractions if f > told[0]]), 10)

        def stop(fraction: float, _phrase: str) -> None:
            if fraction > told[0]:
                raise Cancelled("Stopped.")

        with self.assertRaises(Cancelled):
            find(stop)

    def test_what_stands_on_other_faces_stays_while_a_part_is_made_to_slide_in(self) -> None:
        """Two joints on one face, both there afterwards."""
        plan, cache = self.base(tube(60, 54, 60), WedgesParting(id="p1", axis="z", count=3))
        bare = self.built(plan, cache)
        lips = suited(bare, plan, SuitWish(kind="auto")).joints
        (kept,) = (j for j in lips if {j.face.a, j.face.b} == {"p1:0", "p1:1"})
        twice = kept.model_copy(update={"id": "j9"})
        both = plan.model_copy(update={"joints": (*lips, twice)})
        with patch.object(slide_in, "_goes_together", lambda *_: True):  # only what becomes of the joints is looked at
            found = slide_in.slid_in(both, bare, ["p1:2"], set(), lambda p: self.built(p, cache), cache)
        assert found is not None
        self.assertEqual([j.id for j in found[0].joints if j.face.id == kept.face.id], [kept.id, "j9"])

    def test_joints_of_the_makers_own_stay_as_they_are(self) -> None:
        plan, cache = self.ring()
        bare = self.built(plan, cache)
        pins = suited(bare, plan, SuitWish(kind="pin")).joints
        both = plan.model_copy(update={"joints": tuple(pins)})
        after, _, locked = unlocked(both, self.built(both, cache), lambda p: self.built(p, cache), cache, kept=pins)
        self.assertEqual((after.joints, locked), (both.joints, True))
