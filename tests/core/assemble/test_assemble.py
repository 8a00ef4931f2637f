"""Orders that the maker changes, what must come off again, what holds, and wishes that cannot be met."""

import unittest
from dataclasses import replace

from hinoki.core.assemble.assembled import Assembled, assembled
from hinoki.core.assemble.findings import assembly_findings
from hinoki.core.assemble.from_meshes import assembled_meshes
from hinoki.core.assemble.reorder import GroupSteps, MoveStep, Ungroup, members, rearranged
from hinoki.core.assemble.retention import WAYS
from hinoki.core.assemble.validate_order import pinned_steps
from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan
from hinoki.core.findings import Finding
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.assembly_settings import Assembling, Glued, PinnedStep
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.recommend_joints import suggested
from tests.assembling import of_bodies, proofs
from tests.core.assemble.bodies import cabinet, open_box, rings_on_a_post, square_link
from tests.shapes import box, built, level, plan_for, stl_of


def wished(bodies: dict[str, Solid], **wish: object) -> Assembled:
    """The assembly of bodies with wishes."""
    return of_bodies(bodies, Plan(assembling=Assembling(**wish)))  # type: ignore[arg-type]


def steps(*pairs: tuple[str, str | None]) -> tuple[PinnedStep, ...]:
    return tuple(PinnedStep(unit=u, onto=o) for u, o in pairs)


def found(out: Assembled, **wish: object) -> list[Finding]:
    return assembly_findings(Plan(assembling=Assembling(**wish)), out)  # type: ignore[arg-type]


def codes(out: Assembled, **wish: object) -> list[str]:
    return [f.code for f in found(out, **wish)]


class Pinned(unittest.TestCase):
    """An order of the maker's own."""

    def test_one_that_works_is_proved_as_it_is(self) -> None:
        order = steps(("foot", None), ("ring 0", "foot"), ("ring 1", "ring 0"))
        out = wished(rings_on_a_post(2), order=order)
        self.assertEqual(proofs(out), ["proved"] * 3)
        self.assertTrue(out.pinned)
        self.assertEqual(tuple(pinned_steps(out.order)), order)

    def test_a_step_that_comes_too_late_says_what_it_meets_with_the_overlap(self) -> None:
        order = steps(("foot", None), ("ring 1", "foot"), ("ring 0", "foot"))
        out = wished(rings_on_a_post(2), order=order)
        self.assertEqual(list(out.refusals), [2])
        late = out.refusals[2]
        self.assertEqual(late.met, ("ring 1",))
        assert late.overlap is not None
        self.assertGreater(late.overlap.volume_mm3, 1.0)
        self.assertGreater(late.overlap_mm3, 1.0)
        assert late.at is not None
        self.assertAlmostEqual(late.at[2], 30.0, delta=2.5)  # where the upper ring begins
        self.assertIn("step-blocked", codes(out, order=order))

    def test_the_frame_before_the_drawer_is_refused_and_put_right_by_moving_a_step(self) -> None:
        wrong = steps(("carcass", None), ("frame", "carcass"), ("drawer", "carcass"))
        out = wished(cabinet(), order=wrong)
        self.assertEqual(proofs(out), ["proved", "proved", "refused"])
        self.assertEqual(out.refusals[2].met, ("frame",))
        right = rearranged(wrong, MoveStep(unit="drawer", before="frame"))
        self.assertEqual(proofs(wished(cabinet(), order=right)), ["proved"] * 3)

    def test_what_came_later_stands_at_the_end_and_what_is_gone_waits(self) -> None:
        order = steps(("foot", None), ("ring 0", "foot"), ("ring 7", "ring 0"))
        out = wished(rings_on_a_post(2), order=order)
        self.assertEqual([s.lead for s in out.order.steps], ["foot", "ring 0", "ring 1"])
        self.assertEqual((out.added, out.gone), (["ring 1"], ["ring 7"]))
        self.assertLessEqual({"order-added", "order-gone"}, set(codes(out, order=order)))

    def test_what_is_set_down_beside_is_brought_onto_too_where_it_is_touched(self) -> None:
        """A lintel goes onto both posts, though the order names one; a third post stands elsewhere."""
        bodies = {"a": box(10, 10, 40), "b": box(10, 10, 40).moved(50, 0, 0), "c": box(10, 10, 40).moved(0, 60, 0)}
        bodies["lintel"] = box(70, 10, 10).moved(25, 0, 40)
        order = steps(("a", None), ("b", None), ("c", None), ("lintel", "a"))
        out = wished(bodies, order=order)
        self.assertEqual((proofs(out), sorted(out.order.steps[-1].into)), (["proved"] * 4, ["a", "b"]))

    def test_a_circle_is_said_not_followed(self) -> None:
        order = steps(("foot", None), ("ring 0", "foot"), ("ring 1", "ring 0"), ("ring 0", "ring 1"))
        out = wished(rings_on_a_post(2), order=order)
        self.assertEqual(proofs(out), ["proved", "proved", "proved", "refused"])
        self.assertEqual((out.refusals[3].lead, out.refusals[3].met), ("ring 0", ()))


class Arranged(unittest.TestCase):
    """Changes to an order, as steps."""

    order = steps(("a", None), ("b", "a"), ("c", "b"), ("d", "a"))

    def test_a_step_is_put_before_another_or_at_the_end(self) -> None:
        moved = rearranged(self.order, MoveStep(unit="d", before="b"))
        self.assertEqual([s.unit for s in moved], ["a", "d", "b", "c"])
        self.assertEqual([s.unit for s in rearranged(self.order, MoveStep(unit="b"))], ["a", "c", "d", "b"])

    def test_another_one_begins(self) -> None:
        moved = rearranged(self.order, MoveStep(unit="b", before="a"))
        self.assertEqual([(s.unit, s.onto) for s in moved], [("b", None), ("a", "b"), ("c", "b"), ("d", "a")])
        later = rearranged(self.order, MoveStep(unit="a"))
        self.assertEqual([(s.unit, s.onto) for s in later], [("b", None), ("c", "b"), ("d", "a"), ("a", "b")])

    def test_a_group_is_built_first_and_resolved_again(self) -> None:
        grouped = rearranged(self.order, GroupSteps(units=("b", "c")))
        self.assertEqual([(s.unit, s.onto) for s in grouped], [("a", None), ("c", "b"), ("b", "a"), ("d", "a")])
        self.assertEqual(members(grouped, "b"), ["c", "b"])
        again = rearranged(grouped, Ungroup(unit="b"))
        self.assertEqual([s.unit for s in again], ["a", "b", "c", "d"])

    def test_a_group_keeps_what_comes_after_it_where_it_was(self) -> None:
        order = steps(("a", None), ("b", "a"), ("c", "a"), ("d", "b"), ("e", "a"), ("f", "e"))
        grouped = rearranged(order, GroupSteps(units=("b", "d")))
        wanted = [("a", None), ("c", "a"), ("d", "b"), ("b", "a"), ("e", "a"), ("f", "e")]
        self.assertEqual([(s.unit, s.onto) for s in grouped], wanted)
        self.assertEqual(members(grouped, "b"), ["d", "b"])
        self.assertEqual(members(grouped, "c"), ["c"])
        self.assertEqual(members(grouped, "a"), ["a"])
        again = rearranged(grouped, Ungroup(unit="b"))
        self.assertEqual([(s.unit, s.onto) for s in again], [wanted[0], wanted[1], ("b", "a"), ("d", "b"), *wanted[4:]])

    def test_of_two_that_go_onto_the_rest_the_first_leads_and_the_other_goes_onto_it(self) -> None:
        order = steps(("a", None), ("b", "a"), ("c", "a"), ("d", "c"))
        grouped = rearranged(order, GroupSteps(units=("b", "c", "d")))
        self.assertEqual([(s.unit, s.onto) for s in grouped], [("a", None), ("c", "b"), ("d", "c"), ("b", "a")])

    def test_what_goes_onto_the_rest_leads_wherever_it_stands_in_the_order(self) -> None:
        grouped = rearranged(steps(("a", None), ("c", "b"), ("b", "a")), GroupSteps(units=("b", "c")))
        self.assertEqual([(s.unit, s.onto) for s in grouped], [("a", None), ("c", "b"), ("b", "a")])

    def test_one_that_begins_later_goes_onto_what_begins_then(self) -> None:
        order = steps(("a", None), ("b", "a"), ("c", "b"), ("d", "a"))
        later = rearranged(order, MoveStep(unit="a", before="d"))
        self.assertEqual([(s.unit, s.onto) for s in later], [("b", None), ("c", "b"), ("a", "b"), ("d", "a")])

    def test_what_cannot_be_is_refused_in_words(self) -> None:
        for change, said in (
            (MoveStep(unit="z"), "There is no step for z"),
            (GroupSteps(units=("a", "b")), "begins with cannot be part of a group"),
            (Ungroup(unit="d"), "no group to resolve"),
        ):
            with self.assertRaisesRegex(BadPlan, said):
                rearranged(self.order, change)
        circle = steps(("a", None), ("b", "c"), ("c", "b"))
        with self.assertRaisesRegex(BadPlan, "in a circle"):
            rearranged(circle, GroupSteps(units=("b", "c")))


class ComesOff(unittest.TestCase):
    """Glue, and what must come off again."""

    def test_glue_makes_two_one_when_something_is_taken_out(self) -> None:
        out = wished(rings_on_a_post(3), glued=(Glued(a="ring 1", b="ring 2"),))
        how = next(r for r in out.replacing if r.unit == "ring 0")
        self.assertEqual([sorted(units) for units, _ in how.first], [["ring 1", "ring 2"]])
        glued = next(r for r in out.replacing if r.unit == "ring 1")
        self.assertEqual(glued.breaks, (("ring 1", "ring 2"),))

    def test_what_must_come_off_and_is_glued_is_refused(self) -> None:
        wish = {"glued": (Glued(a="ring 1", b="ring 0"),), "comes_off": ("ring 1",)}
        self.assertIn("comes-off-glued", codes(wished(rings_on_a_post(2), **wish), **wish))
        both = {"comes_off": ("nothing", "ring 1"), "glued": (Glued(a="ring 1", b="ring 0"), Glued(a="ring 0", b="nobody"))}
        told = codes(wished(rings_on_a_post(2), **both), **both)
        self.assertEqual([c for c in told if c.startswith("comes-off")], ["comes-off-gone", "comes-off-glued"])
        gone = {"comes_off": ("nothing",)}
        self.assertIn("comes-off-gone", codes(wished(rings_on_a_post(2), **gone), **gone))


class Holds(unittest.TestCase):
    """What holds each body, and what falls."""

    def ways(self, out: Assembled, unit: str) -> dict[str, str]:
        assert out.holding is not None
        return {name: out.holding.of(unit, way, Assembling().attitude).kind for name, way in WAYS}

    def test_rings_are_held_all_round_but_only_by_weight_upwards(self) -> None:
        ways = self.ways(wished(rings_on_a_post(2)), "ring 1")
        self.assertEqual(ways["up"], "weight")
        self.assertEqual({ways[w] for w in ("down", "left", "right", "front", "back")}, {"shape"})

    def test_glue_holds_too(self) -> None:
        out = wished(rings_on_a_post(1), glued=(Glued(a="ring 0", b="foot"),))
        self.assertEqual(self.ways(out, "ring 0")["up"], "glue")

    def test_carried_upside_down_loose_rings_fall(self) -> None:
        self.assertEqual(wished(rings_on_a_post(2)).falls, [])
        out = wished(rings_on_a_post(2), attitude="upside down")
        fallen = {u for f in out.falls if f.falls for u in f.units}
        self.assertEqual(fallen, {"ring 0", "ring 1"})
        self.assertIn("falls-off", codes(out, attitude="upside down"))


class BadInput(unittest.TestCase):
    """Nothing, too much, or what cannot be."""

    def test_nothing_has_no_steps(self) -> None:
        out = wished({})
        self.assertEqual((out.order.steps, out.order.locked, found(out)), ([], [], []))

    def test_bodies_that_overlap_are_said_with_how_much(self) -> None:
        out = wished({"a": box(20, 20, 20), "b": box(20, 20, 20).moved(5, 0, 0)})
        overlap = next(f for f in found(out) if f.code == "pieces-overlap")
        self.assertAlmostEqual(overlap.params["volume_mm3"], 6000)  # type: ignore[arg-type]
        self.assertEqual(proofs(out)[1:], ["refused"])

    def test_only_the_step_that_brings_two_into_one_place_is_refused(self) -> None:
        bodies = {"a": box(20, 20, 20), "b": box(20, 20, 20).moved(15, 0, 0), "c": box(10, 10, 10).moved(0, 0, 20)}
        out = wished(bodies)
        self.assertEqual({out.order.steps[k].lead for k in out.refusals} & {"c"}, set())
        self.assertEqual([r.code for r in out.refusals.values()], ["overlap"])

    def test_of_two_that_are_free_the_lower_one_goes_on_first_though_it_is_small(self) -> None:
        bodies = {"foot": box(80, 40, 10), "tall": box(20, 30, 90).moved(-25, 0, 10), "knob": box(8, 8, 8).moved(25, 0, 10)}
        self.assertEqual([s.lead for s in wished(bodies).order.steps], ["foot", "knob", "tall"])

    def test_an_overlap_of_half_a_millimetre_is_found_whichever_is_named_first(self) -> None:
        for low, high in (("a", "b"), ("b", "a")):
            heights = {low: 0.0, high: 19.5}
            out = wished({name: box(20, 20, 20).moved(0, 0, heights[name]) for name in ("a", "b")})
            self.assertEqual(out.overlaps, [("a", "b", 200.0)])

    def test_what_is_advised_about_an_overlap_depends_on_whether_a_joint_is_there(self) -> None:
        """Two parts of a model that reach into each other have no joint whose clearance could be greater."""
        out = wished({"a": box(20, 20, 20), "b": box(20, 20, 20).moved(5, 0, 0)})
        self.assertEqual(next(f.params["case"] for f in found(out) if f.code == "pieces-overlap"), "apart")
        data = stl_of(box(40, 40, 60))
        plan = plan_for(data, level(1, 20))
        plan = suggested(built(data, plan), plan, "pin", "snug")
        result = built(data, plan)
        out = assembled(plan, result, Cache())
        held = out.scene.held[0]
        tight = replace(out, overlaps=[(held.a, held.b, 12.0)])
        said = next(f for f in assembly_findings(plan, tight) if f.code == "pieces-overlap")
        self.assertEqual((said.params["case"], said.params["volume_mm3"]), ("joined", 12.0))

    def test_a_time_limit_says_what_is_not_known(self) -> None:
        out = of_bodies(rings_on_a_post(4), seconds=0.0)
        self.assertTrue(out.order.cut_short)
        self.assertNotIn("proved", proofs(out))
        self.assertIn("order-not-found", codes(out))
        self.assertNotIn("no-order", codes(out))

    def test_progress_goes_up_to_the_end(self) -> None:
        shares: list[float] = []
        assembled_meshes(list(rings_on_a_post(4).items()), Plan(), Cache(), 60.0, lambda share, _: shares.append(share))
        self.assertEqual(shares, sorted(shares))
        self.assertTrue(0.0 <= shares[0] < 0.2 < 0.8 < shares[-1] <= 1.0, shares)

    def test_two_hundred_loose_dowels_are_put_in_one_after_another(self) -> None:
        spots = [(10.0 * (k % 20), 10.0 * (k // 20)) for k in range(200)]
        board = Solid.box([-6, -6, 0], [196, 96, 12]).minus([Solid.cylinder(2.1, 4, 13).moved(x, y, 0) for x, y in spots])
        dowels = {f"dowel {k:03}": Solid.cylinder(2, 4.1, 20).moved(x, y, 0) for k, (x, y) in enumerate(spots)}
        out, _ = assembled_meshes([("board", board), *dowels.items()], Plan(), Cache(), 120.0)
        self.assertEqual((out.order.steps[0].lead, len(out.order.steps)), ("board", 201))
        self.assertEqual({s.motion.proof for s in out.order.steps if s.motion}, {"proved"})

    def test_an_l_key_needs_two_slides(self) -> None:
        # a block in an L-shaped channel: up to the bend, then out
        shell = open_box(60, 40, 10, 40).plus([Solid.box([-30, -30, 40], [30, 30, 50])])
        shell = shell.minus([Solid.box([-20, -30, 10], [-4, 20, 20]), Solid.box([-20, -31, 9.9], [-3.9, -19, 26.2])])
        out = wished({"shell": shell, "bar": Solid.box([-19, -18, 24], [-5, -2, 39])})
        motion = out.order.steps[1].motion
        assert motion is not None
        self.assertEqual((motion.kind, motion.then is None), ("two slides", False))
        self.assertTrue(0 < motion.first_mm < motion.distance_mm)
        # the floor of the channel lies 14 mm below: it goes as far as it can, but for a hair
        self.assertEqual((motion.way, motion.first_mm), ((0.0, 0.0, -1.0), 13.95))
        pinned = wished(
            {"shell": shell, "bar": Solid.box([-19, -18, 24], [-5, -2, 39])}, order=steps(("shell", None), ("bar", "shell"))
        )
        found = pinned.order.steps[1].motion
        assert found is not None
        self.assertEqual((found.kind, pinned.refusals), ("two slides", {}))

    def test_a_locked_set_has_no_step_that_is_called_proved(self) -> None:
        out = wished({"one": square_link((0, 0, 0), "xy"), "two": square_link((30, 0, 0), "xz")})
        self.assertEqual(set(proofs(out)), {"no order"})
        self.assertEqual(out.order.locked, [frozenset({"one", "two"})])
