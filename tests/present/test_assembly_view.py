"""The assembly in words: how steps are told, what locks, what glue means, which way magnets look."""

import unittest

from hinoki.core.build import Build
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import BayonetJoint, FaceRef, Joint, LatchJoint, MagnetJoint, ThreadJoint
from hinoki.core.plan.assembly_settings import Assembling, Glued, PinnedStep
from hinoki.core.plan.plan import Plan
from hinoki.present.report import assembly_report
from hinoki.present.schemas.assemble import AssemblyView
from tests.core.assemble.bodies import rings_on_a_post, square_link
from tests.core.join.test_hinges import door
from tests.doors import cupboard, folding_plan, rail
from tests.presented import assembly_seen, bodies_seen
from tests.shapes import box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


def shown(result: Build) -> AssemblyView:
    """The assembly of a build as screens see it."""
    return assembly_seen(result, result.plan)[1]


def wished(bodies: dict[str, Solid], seconds: float = 60.0, **wish: object) -> AssemblyView:
    """The assembly of bodies with wishes, as screens see it."""
    return bodies_seen(bodies, Plan(assembling=Assembling(**wish)), seconds)[1]  # type: ignore[arg-type]


def joined(*joints: Joint) -> Build:
    data = stl_of(box(60, 60, 60))
    return built(data, plan_for(data, level(1, 30), joints=joints))


class Told(unittest.TestCase):
    def test_a_bayonet_is_pushed_on_turned_back_and_turned(self) -> None:
        for hand, words in (("right", "turn it clockwise until"), ("left", "turn it anticlockwise until")):
            lock = BayonetJoint(id="j1", face=FACE, hand=hand)  # type: ignore[arg-type]
            step = shown(joined(lock)).steps[1]
            self.assertEqual(step.motion.kind, "turn")
            self.assertEqual((abs(step.motion.turns), step.motion.screw_mm), (0.125, 0))
            self.assertIn("Push piece 2 onto piece 1, turned back by 45°", step.how)
            self.assertIn(words, step.how)

    def test_which_way_to_screw(self) -> None:
        for hand, words in (("right", "Screw piece 2 onto piece 1, clockwise, "), ("left", "left-handed")):
            screw = ThreadJoint(id="j1", face=FACE, diameter_mm=24, pitch_mm=3, length_mm=12, hand=hand)  # type: ignore[arg-type]
            self.assertIn(words, shown(joined(screw)).steps[1].how)

    def test_that_the_pin_of_a_hinge_is_pushed_in(self) -> None:
        body, leaf, pin = shown(door()).steps
        self.assertIn("Then the pin ø2 × 20 goes into the hinge of 1|2.", leaf.notes)
        self.assertEqual(([h.name for h in pin.hardware], pin.piece), (["hinge pin 2 × 20"], None))
        self.assertEqual((body.motion.kind, pin.motion.kind), ("set down", "slide"))

    def test_how_doors_on_rails_and_leaves_open(self) -> None:
        seen = shown(cupboard(rail(travel_mm=45.0)))
        self.assertEqual([o.says for o in seen.opens], ["Piece 2 slides open by 45 mm on its rail."])
        self.assertIn("Press it past the catch of 1|2 until it clicks; then it slides, and stays on.", seen.steps[1].notes)
        (free,) = shown(built(*folding_plan())).opens
        self.assertTrue(free.says.startswith("Piece 2 folds open by "), free.says)
        self.assertIn("free of everything", free.says)
        (met,) = shown(built(*folding_plan(right_jamb=15.0))).opens
        self.assertIn("but touches piece 4 at 1°", met.says)

    def test_a_latch_is_turned_until_it_locks(self) -> None:
        latch = LatchJoint(id="j1", face=FACE, diameter_mm=16, length_mm=9)
        how = shown(joined(latch)).steps[-1].how
        self.assertIn("turned back by 90°, and turn it clockwise until it locks", how)

    def test_that_a_hinge_is_printed_in_place(self) -> None:
        (step,) = shown(door(pin="in place", gap_mm=0.4)).steps
        self.assertEqual(step.adds, [1, 2])
        self.assertIn("printed in place", step.notes[0])

    def test_which_way_magnets_look(self) -> None:
        step = shown(joined(MagnetJoint(id="j1", face=FACE, poles=("n", "s")))).steps[-1]
        self.assertEqual(
            step.notes, ["Magnets of 1|2: out of piece 1 looks N at A, S at B; in piece 2 each the other way round."]
        )

    def test_a_glued_step_cannot_be_undone_and_its_note_is_kept(self) -> None:
        view = wished(rings_on_a_post(2), glued=(Glued(a="ring 0", b="foot"),), notes={"ring 0": "sand the post first"})
        step = next(s for s in view.steps if s.lead == "ring 0")
        self.assertEqual((step.glue, step.undo, step.note), (True, False, "sand the post first"))
        self.assertTrue(next(s for s in view.steps if s.lead == "ring 1").undo)

    def test_what_glue_has_to_be_broken(self) -> None:
        view = wished(rings_on_a_post(3), glued=(Glued(a="ring 1", b="ring 2"),))
        self.assertIn("glue", next(r for r in view.replacing if r.unit == "ring 1").says)

    def test_why_a_step_does_not_work(self) -> None:
        order = tuple(PinnedStep(unit=u, onto=o) for u, o in (("foot", None), ("ring 1", "foot"), ("ring 0", "foot")))
        late = wished(rings_on_a_post(2), order=order).steps[2]
        assert late.meets is not None
        self.assertEqual((late.proof, late.meets.units), ("does not work", ["ring 1"]))
        self.assertIn("Bring it in before", late.why or "")
        self.assertIsNotNone(late.meets.overlap)

    def test_what_locks(self) -> None:
        view = wished({"one": square_link((0, 0, 0), "xy"), "two": square_link((30, 0, 0), "xz")})
        self.assertIn("lock each other", view.locked[0].says)

    def test_what_stands_by_itself_is_set_down_beside(self) -> None:
        view = wished({"a": box(20, 20, 20), "b": box(20, 20, 20).moved(90, 0, 0)})
        self.assertIn("beside", [s.how for s in view.steps if s.onto is None][1])

    def test_an_order_that_was_not_finished_is_reported_as_such(self) -> None:
        view = wished(rings_on_a_post(4), 0.0)
        self.assertTrue(view.cut_short)
        self.assertTrue(assembly_report(view)["cut_short"])


if __name__ == "__main__":
    unittest.main()
