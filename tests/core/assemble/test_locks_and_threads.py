"""Joints that are at odds, threads and wires: why a step does not work, and what would free it, by codes and figures."""

import unittest

import numpy as np

from hinoki.core.assemble.assembled import Assembled
from hinoki.core.assemble.ballasts import ballast_options
from hinoki.core.assemble.findings import assembly_findings
from hinoki.core.assemble.scene.from_build import scene_of
from hinoki.core.assemble.scene.parts import Scene
from hinoki.core.assemble.validate_order import Refusal
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channels import CableWay, RodWay
from hinoki.core.join.joints import DovetailJoint, FaceRef, HingeJoint, Joint, PinJoint, ThreadJoint
from hinoki.core.plan.assembly_settings import Assembling, PinnedStep
from hinoki.core.plan.plan import Plan
from tests.assembling import assembly, of_bodies
from tests.core.assemble.bodies import square_link
from tests.shapes import box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
THREAD = ThreadJoint(id="j1", face=FACE, diameter_mm=24, pitch_mm=3, length_mm=10)
UNDER, OVER = "p1-", "p1+"


def block(*joints: Joint, wide: float = 60, order: tuple[tuple[str, str | None], ...] = (), **more: object) -> Assembled:
    """A block in two with joints, put together in an order of the maker's own where one is given."""
    data = stl_of(box(wide, 60, 60))
    pinned = tuple(PinnedStep(unit=u, onto=o) for u, o in order)
    plan = plan_for(data, level(1, 30), joints=joints, bed=(400, 400, 400), assembling=Assembling(order=pinned), **more)
    return assembly(built(data, plan), plan)


def alone(solid: Solid) -> Assembled:
    """A model in one piece."""
    data = stl_of(solid)
    plan = plan_for(data, bed=(400, 400, 400))
    return assembly(built(data, plan), plan)


def dovetail(name: str, along: float, at: tuple[float, float]) -> DovetailJoint:
    return DovetailJoint(id=name, face=FACE, count=1, along_deg=along, places=(at,))


class Locked(unittest.TestCase):
    def test_a_dovetail_and_a_pin_on_one_face_lock_and_either_made_loose_frees_them(self) -> None:
        out = block(DovetailJoint(id="j1", face=FACE), PinJoint(id="j2", face=FACE, count=1, places=((0.0, 20.0),)))
        ((units, frees),) = out.freed
        self.assertEqual(units, {UNDER, OVER})
        self.assertEqual(
            [(f.way, f.joint, f.params["into"]) for f in frees], [("loosen", "j1", "butterfly"), ("loosen", "j2", "butterfly")]
        )
        self.assertEqual({f.params["between"] for f in frees}, {"pieces 1 and 2"})

    def test_the_first_that_frees_is_told_with_the_lock(self) -> None:
        out = block(DovetailJoint(id="j1", face=FACE), PinJoint(id="j2", face=FACE, count=1, places=((0.0, 20.0),)))
        (lock,) = [f for f in assembly_findings(Plan(), out) if f.code == "no-order"]
        self.assertEqual((lock.params["frees"], lock.params["into"]), ("loosen", "butterfly"))
        self.assertTrue(str(lock.params["joint"]).startswith("dovetail"))
        self.assertEqual(lock.params["nothing_frees"], False)

    def test_two_dovetails_across_each_other_are_freed_by_turning_one(self) -> None:
        out = block(dovetail("j1", 0.0, (0.0, 0.0)), dovetail("j2", 90.0, (20.0, 20.0)))
        ((_, frees),) = out.freed
        self.assertEqual([(f.way, f.joint, f.params["turn_deg"]) for f in frees], [("turn", "j1", 90), ("turn", "j2", 90)])
        self.assertEqual([np.abs(f.direction).tolist() for f in frees if f.direction], [[0, 1, 0], [1, 0, 0]])

    def test_a_thread_beside_a_pin_is_freed_by_taking_either_out(self) -> None:
        out = block(THREAD, PinJoint(id="j2", face=FACE, count=1, places=((24.0, 24.0),)))
        ((_, frees),) = out.freed
        self.assertEqual([(f.way, f.joint) for f in frees], [("leave out", "j1"), ("loosen", "j2")])

    def test_links_without_a_joint_are_freed_by_parting_one(self) -> None:
        out = of_bodies({"one": square_link((0, 0, 0), "xy"), "two": square_link((30, 0, 0), "xz")})
        ((units, frees),) = out.freed
        self.assertEqual((units, [f.way for f in frees]), ({"one", "two"}, ["split"]))

    def test_each_of_several_sets_is_told_whether_time_ran_out_or_not(self) -> None:
        links = {"one": square_link((0, 0, 0), "xy"), "two": square_link((30, 0, 0), "xz")}
        links |= {"three": square_link((200, 0, 0), "xy"), "four": square_link((230, 0, 0), "xz")}
        for seconds, code in ((0.0, "order-not-found"), (20.0, "no-order")):
            found = assembly_findings(Plan(), of_bodies(links, seconds=seconds))
            told = [(f.code, f.params["what"]) for f in found if "order" in f.code]
            self.assertEqual(told, [(code, "pieces 1 and 2"), (code, "pieces 3 and 4")])


class Scenes(unittest.TestCase):
    """What the order of assembly is worked out from."""

    def scene(self, **more: object) -> Scene:
        data = stl_of(box(60, 50, 60))
        return scene_of(built(data, plan_for(data, level(1, 30), bed=(100, 100, 100), **more)))

    def test_what_prints_as_one_is_one_unit_named_by_its_first_piece(self) -> None:
        scene = self.scene(joints=(HingeJoint(id="j1", face=FACE, pin="in place", opens_deg=180),))
        self.assertEqual(scene.printed, [(OVER, UNDER)])
        self.assertEqual(list(scene.units), [UNDER])
        self.assertEqual((scene.units[UNDER].keys, scene.units[UNDER].numbers), ((UNDER, OVER), (1, 2)))

    def test_pieces_meet_by_the_area_of_their_face_and_rods_by_none(self) -> None:
        rod = RodWay(id="w1", start_mm=(0, 0, -2), end_mm=(0, 0, 62), diameter_mm=4)
        together = {tuple(sorted(pair)): area for pair, area in self.scene(ways=(rod,)).together.items()}
        self.assertEqual(together, {(OVER, UNDER): 3000.0, (UNDER, "w1"): 0.0, (OVER, "w1"): 0.0})


class Threads(unittest.TestCase):
    def refused(self, out: Assembled) -> Refusal:
        (one,) = out.refusals.values()
        return one

    def test_a_wire_pulled_in_before_would_be_twisted_and_after_it_is_not(self) -> None:
        wire = CableWay(id="w1", start_mm=(0, 0, -5), end_mm=(0, 0, 65), diameter_mm=5)
        natural = block(THREAD, ways=(wire,))
        self.assertEqual(
            [(s.lead, s.motion.kind if s.motion else None) for s in natural.order.steps][1:], [(OVER, "screw"), ("w1", "pull")]
        )
        late = block(THREAD, ways=(wire,), order=((UNDER, None), ("w1", UNDER), (OVER, UNDER)))
        found = self.refused(late)
        self.assertEqual((found.code, found.met, found.params["what"]), ("twists-wire", ("w1",), "piece 2"))

    def test_a_wire_whose_way_is_closed_at_both_ends_cannot_be_brought_in_later(self) -> None:
        wire = CableWay(id="w1", start_mm=(0, 0, 10), end_mm=(0, 0, 50), diameter_mm=5)
        found = self.refused(block(ways=(wire,), order=((UNDER, None), (OVER, UNDER), ("w1", OVER))))
        self.assertEqual((found.lead, found.code, found.met), ("w1", "wire-closed", (OVER, UNDER)))

    def test_nothing_is_screwed_onto_two_threads_at_once(self) -> None:
        two = [THREAD.model_copy(update={"id": f"j{k}", "places": ((x, 0.0),)}) for k, x in ((1, -30.0), (2, 30.0))]
        found = self.refused(block(*two, wide=120, order=((UNDER, None), (OVER, UNDER))))
        self.assertEqual((found.lead, found.code, found.params), (OVER, "two-threads", {"what": "piece 2", "things": 1}))

    def test_what_it_meets_while_it_turns_is_told_with_the_place_and_the_overlap(self) -> None:
        out = block(THREAD, PinJoint(id="j2", face=FACE, count=1, places=((24.0, 24.0),)), order=((UNDER, None), (OVER, UNDER)))
        found = self.refused(out)
        self.assertEqual((found.code, found.met, found.params["met"]), ("meets-turning", (UNDER,), "piece 1"))
        assert found.at is not None
        self.assertGreater(found.overlap_mm3, 0)
        # the pin stands 34 mm from the axis, between the two pieces
        self.assertAlmostEqual(float(np.hypot(*found.at[:2])), 34.0, delta=6.0)
        self.assertTrue(20 <= found.at[2] <= 40)

    def test_both_ways_round_the_same_is_refused(self) -> None:
        out = block(THREAD, PinJoint(id="j2", face=FACE, count=1, places=((24.0, 24.0),)), order=((OVER, None), (UNDER, OVER)))
        found = self.refused(out)
        self.assertEqual((found.code, found.met), ("meets-turning", (OVER,)))
        self.assertEqual((found.params["what"], found.params["met"]), ("piece 1", "piece 2"))


class Ballast(unittest.TestCase):
    def test_each_filling_is_tried_to_a_quarter_a_half_and_all_of_the_hollow(self) -> None:
        """A closed box 60 × 60 × 200 with walls of 3 mm standing on the table: its hollow reaches from 3 to 197 mm."""
        shell = Solid.box([-30, -30, 0], [30, 30, 200]).minus([Solid.box([-27, -27, 3], [27, 27, 197])])
        out = alone(shell)
        found = ballast_options(out)
        levels = sorted({round(b.up_to_mm) for b in found})
        self.assertEqual(len(levels), 3)
        assert out.hollow is not None
        for level_mm, share in zip(levels, (0.25, 0.5, 1.0), strict=True):
            self.assertAlmostEqual(level_mm, 3 + share * 194, delta=0.6 + out.hollow.thick_mm / 2)
        for option in found:
            wanted = 54 * 54 * (option.up_to_mm - 3) / 1000 * option.filling.bulk_g_cm3
            self.assertAlmostEqual(option.weight.grams, wanted, delta=0.03 * wanted + 6)

    def test_what_is_full_has_none(self) -> None:
        self.assertEqual(ballast_options(alone(box(60, 60, 200))), [])


if __name__ == "__main__":
    unittest.main()
