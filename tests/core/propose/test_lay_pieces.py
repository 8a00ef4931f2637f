"""All pieces laid at once: pins go to the piece that stands with them, and nothing is left standing on its pins."""

import unittest

from hinoki.core.build import Build, build
from hinoki.core.cache import Cache
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import DowelJoint, FaceRef, Joint, LipJoint, PinJoint
from hinoki.core.orient.pieces import OrientWish
from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.lay_pieces import Laid, laid, still_fitting
from hinoki.core.propose.recommend_joints import SuitWish, joined
from tests.checked import findings_of
from tests.shapes import across, ellipsoid, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
EGG = ellipsoid(40, 40, 40)


def snout() -> Solid:
    """Half an egg, at X below 0, on a block."""
    half = EGG.minus([Solid.box([0, -50, -50], [50, 50, 50])])
    return half.plus([Solid.box([-1, -40, -40], [40, 40, 40])])


class Sides(unittest.TestCase):
    def lay(self, solid: Solid, on: str, dowels: bool = False, **note: object) -> tuple[Plan, Build, Laid]:
        data, cache = stl_of(solid), Cache()

        def rebuild(plan: Plan) -> Build:
            return build(plan, lambda _: data, cache)

        pins: Joint = PinJoint(id="j1", face=FACE, count=2, diameter_mm=5, length_mm=8, on=on)
        plan = plan_for(data, across(1, "x", 0.0), joints=(pins,), **note)
        built = rebuild(plan)
        return plan, built, laid(plan, built, rebuild, OrientWish(), cache, dowels=dowels)

    def codes(self, one: Laid) -> set[str]:
        return {f.code for f in findings_of(one.built) if f.code.startswith("piece-")}

    def test_pins_go_to_the_piece_that_has_another_base(self) -> None:
        plan, built, found = self.lay(snout(), "a")
        self.assertEqual(found.sides(plan), {"j1": "b"})
        self.assertEqual(self.codes(found), set())
        half, block = found.built.pieces
        self.assertGreater(half.rest.contact_mm2, 4000)
        self.assertTrue(block.rest.stands)
        self.assertEqual([p.joint.stands_on for p in built.placed], ["a"])

    def test_they_stay_where_that_is_well(self) -> None:
        plan, _, found = self.lay(snout(), "b")
        self.assertEqual((found.sides(plan), self.codes(found)), ({}, set()))

    def test_where_both_have_but_one_base_it_is_told_with_dowels_as_a_fix(self) -> None:
        plan, _, found = self.lay(EGG, "a")
        self.assertEqual((found.sides(plan), self.codes(found)), ({}, {"piece-on-pins"}))
        (told,) = [f for f in findings_of(found.built) if f.code == "piece-on-pins"]
        self.assertEqual((told.params["elements"], int(told.params["area_mm2"]) // 100), ("pins", 50))  # type: ignore[arg-type]
        self.assertLess(told.params["contact_mm2"], 500)  # type: ignore[operator]
        (fix,) = told.fixes  # the other half lies on the same face: it is no place for the pins
        assert fix.joint is not None
        joint = DowelJoint.model_validate(fix.joint)
        after = self.mended(found, joint)
        self.assertEqual([(f.code, f.params) for f in findings_of(after) if f.severity != "note"], [])

    def mended(self, one: Laid, joint: Joint) -> Build:
        data = stl_of(EGG)
        return build(one.plan.model_copy(update={"joints": (joint,)}), lambda _: data, Cache())

    def test_hinoki_takes_dowels_there_where_the_choice_is_its_own(self) -> None:
        _, _, found = self.lay(EGG, "auto", dowels=True)
        self.assertEqual(([j.kind for j in found.plan.joints], self.codes(found)), (["dowel"], set()))
        self.assertTrue(all(p.rest.contact_mm2 > 4000 for p in found.built.pieces))

    def test_what_is_locked_stays(self) -> None:
        lies = {"p1-": {"down": (1.0, 0.0, 0.0), "locked": True}, "p1+": {"down": (1.0, 0.0, 0.0), "locked": True}}
        plan, _, found = self.lay(snout(), "a", pieces=lies)
        self.assertEqual(found.sides(plan), {})
        self.assertEqual({k: n.down for k, n in found.plan.pieces.items()}, {k: v["down"] for k, v in lies.items()})

    def test_pins_that_came_to_a_piece_as_it_was_turned_go_back_where_they_make_it_too_high(self) -> None:
        """A section of 175 mm on a bed of 180 stands upside down; pins on its other face would point up, and make it 181."""
        staff = Solid.united([Solid.cylinder(14, 0, 400), Solid.cylinder(20, 340, 525), Solid.cylinder(45, 480, 525)])
        data, cache = stl_of(staff), Cache()

        def rebuild(plan: Plan, _: object = None) -> Build:
            return build(plan, lambda _: data, cache)

        bare = plan_for(data, level(1, 175), level(2, 350), bed=(180.0, 180.0, 180.0))
        plan, built = joined(rebuild(bare), bare, SuitWish(kind="auto"), rebuild)
        found = laid(plan, built, rebuild, OrientWish(), cache, dowels=True)
        self.assertEqual(found.against, (0, 0))
        self.assertTrue(all(p.fits and p.rest.stands for p in found.built.pieces))

    def test_what_would_fall_without_its_pins_too_does_not_take_the_tries_of_what_they_lift(self) -> None:
        """A ball on a long stalk falls with or without pins in the stalk; half an egg stands once its pins are gone."""
        stalked = Solid.united([ellipsoid(40, 40, 40).moved(-85, 0, 0), Solid.box([-50, -3.5, -3.5], [26, 3.5, 3.5])])
        egg = EGG.minus([Solid.box([-50, -50, -50], [0, 50, 50])]).moved(85, 0, 0)
        data, cache = stl_of(Solid.united([stalked, Solid.box([25, -40, -40], [85.5, 40, 40]), egg])), Cache()

        def rebuild(plan: Plan) -> Build:
            return build(plan, lambda _: data, cache)

        bare = plan_for(data, across(1, "x", 25.0), across(2, "x", 85.0), bed=(100.0, 100.0, 200.0))
        stalk, base = (f.ref for f in rebuild(bare).faces)
        pins = PinJoint(id="j1", face=stalk, count=1, diameter_mm=2, length_mm=4, on="a")
        more = PinJoint(id="j2", face=base, count=2, diameter_mm=5, length_mm=8, on="b")
        plan = bare.model_copy(update={"joints": (pins, more)})
        found = laid(plan, rebuild(plan), rebuild, OrientWish(), cache, most_moved=1)
        self.assertEqual(found.sides(plan), {"j2": "a"})
        ball, *others = sorted(found.built.pieces, key=lambda p: p.key != "p1-")
        self.assertEqual((ball.rest.stands, [p.rest.stands for p in others]), (False, [True, True]))

    def test_new_joints_that_would_make_a_piece_too_high_stand_on_the_other_unless_its_side_was_chosen(self) -> None:
        """A post of 90 and 70 mm on a bed of 94: pins of 8 mm on the longer part make it 98."""
        data, cache = stl_of(Solid.box([-20, -20, 0], [20, 20, 160])), Cache()

        def rebuild(plan: Plan) -> Build:
            return build(plan, lambda _: data, cache)

        pins = PinJoint(id="j1", face=FACE, count=2, diameter_mm=5, length_mm=8, on="a")
        bare = plan_for(data, level(1, 90), bed=(60.0, 60.0, 94.0))
        before, plan = rebuild(bare), bare.model_copy(update={"joints": (pins,)})
        self.assertEqual([p.fits for p in before.pieces + rebuild(plan).pieces], [True, True, False, True])
        after, turned = still_fitting(plan, before, rebuild, cache)
        self.assertEqual(([p.fits for p in rebuild(after).pieces], after.joints[0].stands_on, turned), ([True, True], "b", ()))
        self.assertEqual(still_fitting(after, before, rebuild, cache), (after, ()))
        lies = bare.model_copy(update={"pieces": {"p1-": PieceNote(down=(0.0, 0.0, -1.0))}})
        chosen = lies.model_copy(update={"joints": (pins,)})
        self.assertEqual(still_fitting(chosen, rebuild(lies), rebuild, cache), (chosen, ()))

    def test_a_rim_under_half_of_a_cap_goes_to_the_piece_below(self) -> None:
        """A cap on two parts of a tube: with the rim of one seam on it and that of the other below, it would lie on an arc."""
        hat = Solid.united([ellipsoid(60, 60, 60).moved(0, 0, 60), Solid.cylinder(60, 0, 60)])
        data, cache = stl_of(hat.minus([Solid.cylinder(52, -1, 80)])), Cache()

        def rebuild(plan: Plan, _: object = None) -> Build:
            return build(plan, lambda _: data, cache)

        bare = plan_for(data, level(1, 40), across(2, "x", 20.0, only=("p1-",)))
        two, one = (f.ref for f in rebuild(bare).faces if f.ref.parting == "p1")
        lip = LipJoint(id="j1", face=one, on="b", height_mm=6, stop_mm=8)
        lips = (lip, lip.model_copy(update={"id": "j2", "face": two, "on": "a"}))
        plan = bare.model_copy(update={"joints": lips})
        built = rebuild(plan)
        cap = next(p for p in built.pieces if p.key == "p1+")
        found = laid(plan, built, rebuild, OrientWish(), cache, only=("p1+",))
        self.assertEqual((found.sides(plan), found.against[1]), ({"j1": "a"}, 0))
        after = next(p for p in found.built.pieces if p.key == "p1+")
        self.assertGreater(after.rest.contact_mm2, 2 * cap.rest.contact_mm2)
        self.assertTrue(after.rest.stands)
