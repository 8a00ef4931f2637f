"""Proposals: twenty shapes made by code, marks heeded, one piece only, variants, refusals."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.build import build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import EvenParting, WedgesParting
from hinoki.core.errors import BadPlan, Cancelled
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.plan import Plan
from hinoki.core.plan.regions import Mark
from hinoki.core.progress import quiet
from hinoki.core.propose import Proposals, Wishes, propose, prove, taken, tried_with_joints
from hinoki.core.propose.feasibility import carry
from hinoki.core.propose.figures import batches_of
from hinoki.core.propose.search.bed_fit import Room
from hinoki.core.propose.variants import VariantWish, after_wish, of_variant
from hinoki.core.symmetry.revolution import axis_of_revolution
from hinoki.core.workshop.printers import Printer
from tests.checked import findings_of
from tests.effort import either, tried
from tests.shapes import box, level, plan_for, stl_of, torus, tube

BED = (220.0, 220.0, 250.0)


def turned(solid: Solid, degrees: float, axis: int = 1) -> Solid:
    """A solid turned about one axis."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    matrix = np.eye(3)
    k, m = [(1, 2), (2, 0), (0, 1)][axis]
    matrix[k, k], matrix[k, m], matrix[m, k], matrix[m, m] = c, -s, s, c
    return solid.placed(np.column_stack([matrix, np.zeros(3)]))


def tree(arms: int, reach: float) -> Solid:
    """A trunk with slanting branches all round."""
    trunk = Solid.cylinder(28, 0, reach * 1.6)
    branches = [
        turned(turned(Solid.cylinder(16, 0, reach), 55), k * 360 / arms, 2).moved(0, 0, reach * 0.5) for k in range(arms)
    ]
    return trunk.plus(branches)


SHAPES = {
    "bar": box(640, 200, 200),
    "cube": box(440, 440, 440),
    "block just over": box(260, 230, 260),
    "slab": box(500, 380, 40),
    "thin plate": box(600, 420, 4),
    "long rod": Solid.cylinder(10, 0, 900),
    "slanting rod": turned(Solid.cylinder(12, 0, 600), 35),
    "tube": tube(120, 100, 700),
    "ring": tube(300, 260, 60),
    "torus": Solid.from_mesh(torus(200, 50, 64, 24)).moved(0, 0, 50),
    "shell": box(400, 300, 260).minus([Solid.box([-196, -146, 4], [196, 146, 256])]),
    "open shell": box(400, 300, 200).minus([Solid.box([-195, -145, 5], [195, 145, 210])]),
    "L": box(500, 100, 100).plus([Solid.box([150, -50, 0], [250, 50, 400])]),
    "U": box(520, 90, 300).minus([Solid.box([-180, -60, 80], [180, 60, 310])]),
    "cross": box(480, 80, 80).plus([Solid.box([-40, -240, 0], [40, 240, 80])]),
    "tree of five": tree(5, 220),
    "tree of three": tree(3, 320),
    "arm": box(120, 120, 300).plus([turned(Solid.cylinder(22, 0, 380), 80).moved(0, 0, 240)]),
    "cone": Solid.cone(200, 20, 0, 520),
    "stairs": box(420, 120, 60).plus([Solid.box([-210 + 140 * k, -60, 0], [210, 60, 60 + 90 * k]) for k in (1, 2)]),
}

USUAL = ("block just over", "long rod", "ring", "L")
"""of these, proposals are made in every run: hardly too large, long and thin, round, branching"""


def proposed(solid: Solid, wishes: Wishes | None = None, **more: object) -> tuple[Plan, Proposals]:
    """The proposals for a solid."""
    data = stl_of(solid)
    plan = plan_for(data, bed=BED, **more)
    return plan, propose(plan, lambda _: data, Cache(), wishes or Wishes(), lambda _f, _p: None)


class Shapes(unittest.TestCase):
    def test_twenty_shapes_all_fit_and_none_takes_far_more_than_its_boxes_need(self) -> None:
        self.assertEqual(len(SHAPES), 20)
        for name in either(USUAL, tuple(SHAPES)):
            solid = SHAPES[name]
            with self.subTest(name):
                _, found = proposed(solid)
                bound = Room([Printer(bed_mm=BED[:2], height_mm=BED[2])]).needed(solid.size)
                for one in found.proposals:
                    self.assertEqual(one.figures.fitting, one.figures.pieces, one.title)
                self.assertLessEqual(found.proposals[0].figures.pieces, 1.5 * bound + 2)
                looks = {(p.says, p.figures.pieces, p.figures.seam_mm, p.figures.balance) for p in found.proposals}
                self.assertEqual(len(looks), len(found.proposals))
                least = math.ceil(solid.volume_mm3 / math.prod(BED))
                self.assertTrue(all(p.figures.pieces >= least for p in found.proposals))
                if name == "ring":
                    self.assertTrue(any("wedges around Z" in p.says for p in found.proposals))
                if name == "L":
                    self.assertEqual(proposed(solid)[1], found, "the same model, the same proposals")

    def test_when_time_runs_out_the_best_so_far_is_carried_to_its_end_and_said(self) -> None:
        for name in ("tree of three", "L"):
            data = stl_of(SHAPES[name])
            said: list[str] = []
            plan = plan_for(data, bed=BED)
            found = propose(plan, lambda _, d=data: d, Cache(), Wishes(), lambda _, phrase, s=said: s.append(phrase), seconds=0)
            self.assertTrue(all(one.figures.fitting == one.figures.pieces for one in found.proposals))
            self.assertTrue("proposals-time" in {r.code for r in found.remarks}, found.remarks)
            self.assertTrue(any("round 2" in phrase for phrase in said))
        self.assertFalse("proposals-time" in {r.code for r in proposed(SHAPES["L"])[1].remarks})

    def test_on_boxes_the_product_of_the_beds_is_met_exactly(self) -> None:
        for sides, pieces in (((440, 440, 440), 8), ((640, 200, 200), 3), ((440, 220, 500), 4), ((230, 100, 100), 1)):
            _, found = proposed(box(*sides))
            self.assertEqual(found.proposals[0].figures.pieces, pieces, sides)

    def test_the_preferred_comes_first(self) -> None:
        _, sturdy = proposed(SHAPES["L"], Wishes(prefer="sturdy"))
        self.assertEqual(sturdy.proposals[0].title, "Sturdiest joints")


class Marks(unittest.TestCase):
    def mark(self, kind: str, low: tuple[float, float, float], high: tuple[float, float, float]) -> Mark:
        return Mark.model_validate({"id": "k1", "kind": kind, "name": "plate", "box": {"low_mm": low, "high_mm": high}})

    def crossed(self, plan: Plan, data: bytes, found: Proposals) -> list[str]:
        out = []
        for one in found.proposals:
            built = build(taken(plan, Wishes(), one), lambda _: data, Cache())
            out += [(f.code, f.params) for f in findings_of(built) if f.code == "mark-crossed"]
        return out

    def test_nothing_crosses_what_stays_whole(self) -> None:
        cases = {
            "bar": ((-70, -200, 150), (60, 200, 205)),
            "cross": ((-42, -42, 70), (42, 42, 90)),
            "L": ((-30, -60, -1), (90, 60, 1)),
            "slab": ((-60, -60, 39), (100, 60, 41)),
        }
        for name in either(("bar", "L"), tuple(cases)):
            low, high = cases[name]
            with self.subTest(name):
                # many small faces, so that the mark is no larger than its box
                fine = Solid.from_mesh(SHAPES[name].mesh).refined(20)
                plan, found = proposed(fine, marks=(self.mark("keep", low, high),))
                self.assertEqual(self.crossed(plan, stl_of(fine), found), [])

    def test_a_mark_larger_than_the_bed_is_named_with_its_size(self) -> None:
        mark = self.mark("keep", (-330, -110, -1), (330, 110, 1))
        with self.assertRaisesRegex(BadPlan, "“Keep whole · plate” is 640 × 200 × 0 mm"):
            proposed(SHAPES["bar"], marks=(mark,))

    def test_hidden_seams_lie_less_on_show_faces(self) -> None:
        show = self.mark("show", (-330, -101, -1), (330, -99, 201))
        fine = SHAPES["bar"].refined(25)
        _, found = proposed(fine, Wishes(prefer="hidden"), marks=(show,))
        self.assertEqual(found.proposals[0].title, "Hidden seams")
        self.assertEqual(found.proposals[0].figures.seam_show_mm, min(p.figures.seam_show_mm for p in found.proposals))


class Parts(unittest.TestCase):
    def test_one_oversize_piece_is_divided_and_the_rest_stays(self) -> None:
        data = stl_of(box(640, 200, 200))
        plan = plan_for(data, EvenParting(id="p1", axis="x", parts=2), bed=BED)
        wishes = Wishes(piece="p1:0")
        found = propose(plan, lambda _: data, Cache(), wishes, lambda _f, _p: None)
        after = taken(plan, wishes, found.proposals[0])
        result = build(after, lambda _: data, Cache())
        self.assertEqual(sum(p.key.startswith("p1:0") for p in result.pieces), 2)
        self.assertIn("p1:1", result.numbers)
        self.assertEqual(found.proposals[0].figures.pieces, 3)

    def test_a_larger_printer_is_used_where_it_is_allowed_and_noted_for_the_pieces(self) -> None:
        large = Printer(id="large", name="Large", bed_mm=(400, 400), height_mm=400)
        _, found = proposed(box(640, 200, 200), Wishes(printers=("typed", "large")), more_printers=(large,))
        self.assertEqual(found.proposals[0].figures.pieces, 2)
        self.assertIn("large", found.proposals[0].printers.values())

    def test_what_fits_is_said(self) -> None:
        _, found = proposed(box(100, 100, 100))
        self.assertEqual(([p.figures.pieces for p in found.proposals], found.remarks[0].code), ([1], "proposals-as-it-is"))

    def test_fewer_pieces_than_can_be_are_said(self) -> None:
        _, found = proposed(box(640, 200, 200), Wishes(most_pieces=2))
        self.assertEqual((found.remarks[0].code, found.remarks[0].params["least"]), ("proposals-too-many", 3))

    def test_refusals(self) -> None:
        for wishes, bed, said in (
            (Wishes(), (5, 5, 5), "more than 600 pieces"),
            (Wishes(printers=("none",)), BED, "no printer 'none'"),
            (Wishes(piece="p9-"), BED, "not there any more"),
        ):
            data = stl_of(box(640, 200, 200))
            with self.assertRaisesRegex(BadPlan, said):
                propose(plan_for(data, bed=bed), lambda _, d=data: d, Cache(), wishes, lambda _f, _p: None)

    def test_it_can_be_stopped(self) -> None:
        def stop(fraction: float, _phrase: str) -> None:
            if fraction > 0.15:
                raise Cancelled("Stopped.")

        data = stl_of(SHAPES["cross"])
        with self.assertRaises(Cancelled):
            propose(plan_for(data, bed=BED), lambda _: data, Cache(), Wishes(), stop)

    def test_a_proposal_from_a_thinned_copy_is_proved_on_the_model(self) -> None:
        solid = Solid.from_mesh(torus(200, 50, 200, 60, wave=1.0)).moved(0, 0, 55)
        data = stl_of(solid)
        plan, cache = plan_for(data, bed=BED), Cache()
        found = propose(plan, lambda _: data, cache, Wishes(), lambda _f, _p: None)
        again = prove(plan, lambda _: data, cache, Wishes(), found.proposals[0], lambda _f, _p: None)
        self.assertEqual(again.figures.fitting, again.figures.pieces)
        self.assertEqual(again.partings, found.proposals[0].partings)


class Rooms(unittest.TestCase):
    @tried(30)
    @given(st.tuples(*[st.floats(1, 900)] * 3))
    def test_what_needs_one_bed_fits_it_some_way_up(self, size: tuple[float, float, float]) -> None:
        printer = Printer(bed_mm=(220, 200), height_mm=250)
        self.assertEqual(Room([printer]).needed(np.array(size)) == 1, printer.holds(np.array(size)))

    def test_batches_of_equal_squares(self) -> None:
        printer = Printer(bed_mm=(212, 212), height_mm=200)
        self.assertEqual(batches_of([(np.array([50.0, 50.0]), printer)] * 16), 1)
        self.assertEqual(batches_of([(np.array([50.0, 50.0]), printer)] * 17), 2)
        self.assertEqual(batches_of([(np.array([150.0, 150.0]), printer)] * 3), 3)

    def test_the_axis_of_what_is_round_and_none_of_what_is_not(self) -> None:
        for name in ("ring", "torus", "tube", "cone"):
            axis = axis_of_revolution(SHAPES[name].mesh)
            self.assertIsNotNone(axis, name)
            self.assertGreater(abs(axis.direction[2]), 0.9999, name)
            self.assertLess(np.linalg.norm(axis.point[:2]), 0.5, name)
        leaning = axis_of_revolution(turned(SHAPES["tube"], 30).mesh)
        self.assertGreater(abs(leaning.direction @ [0.5, 0, math.sqrt(0.75)]), 0.9999)
        for name in ("bar", "L", "cross"):
            self.assertIsNone(axis_of_revolution(SHAPES[name].mesh), name)


class WithJoints(unittest.TestCase):
    """Proposals are shown in the order in which they can be carried through."""

    def proposals(self, **second: object) -> tuple[Plan, bytes, Proposals]:
        data = stl_of(box(120, 100, 300))
        plan = plan_for(data, bed=BED)
        found = propose(plan, lambda _: data, Cache(), Wishes(), quiet)
        lopsided = found.proposals[0].model_copy(update={"title": "Lopsided", "partings": (level(1, 20),), **second})
        return plan, data, found.model_copy(update={"proposals": [lopsided, found.proposals[0]]})

    def test_one_that_cannot_be_carried_through_comes_last_and_says_why(self) -> None:
        plan, data, found = self.proposals()
        tried_ones = tried_with_joints(plan, lambda _: data, Cache(), Wishes(), found)
        good, bad = tried_ones.proposals
        self.assertEqual((good.tried, good.against, bad.title), (True, None, "Lopsided"))
        assert bad.against is not None
        self.assertEqual(bad.against.code, "piece-over")
        self.assertEqual(
            (tried_ones.remarks[-1].code, tried_ones.remarks[-1].params["first"]), ("proposals-reordered", good.title)
        )

    def test_without_time_only_the_first_is_tried_and_a_thinned_one_never(self) -> None:
        plan, data, found = self.proposals()
        tried_ones = tried_with_joints(plan, lambda _: data, Cache(), Wishes(), found, seconds=0.0)
        self.assertEqual([p.tried for p in tried_ones.proposals], [False, True])
        plan, data, found = self.proposals(proved=False)
        tried_ones = tried_with_joints(plan, lambda _: data, Cache(), Wishes(), found)
        self.assertEqual([(p.proved, p.tried) for p in tried_ones.proposals], [(True, True), (False, False)])
        self.assertIsNone(tried_ones.proposals[0].against)

    def test_a_piece_that_only_has_to_lie_otherwise_is_nothing_against_it(self) -> None:
        """A rod across X stands on its end at first, higher than the bed; laid on its side it fits."""
        data = stl_of(box(20, 20, 480))
        plan = plan_for(data, bed=(300.0, 300.0, 200.0))
        found = propose(plan, lambda _: data, Cache(), Wishes(), quiet)
        first = tried_with_joints(plan, lambda _: data, Cache(), Wishes(), found).proposals[0]
        self.assertEqual((first.tried, first.against, len(first.numbers)), (True, None, 2))

    def test_pieces_that_only_fit_where_they_fall_over_are_told(self) -> None:
        """Thirds of a wide ring fit the bed on end only, on the round of their outside."""
        data = stl_of(tube(180, 150, 40))
        plan = plan_for(data, bed=BED)
        thirds = WedgesParting(id="p1", axis="z", count=3)
        found = propose(plan, lambda _: data, Cache(), Wishes(), quiet).proposals[0]
        tried_one = carry(plan, Wishes(), found.model_copy(update={"partings": (thirds,)}), None, lambda _: data, Cache())
        self.assertEqual(tried_one.over, 0)
        assert tried_one.why_not is not None
        self.assertEqual(tried_one.why_not.code, "piece-unsteady")
        self.assertLess(tried_one.why_not.params["tip_deg"], 10)  # type: ignore[operator]


class Variants(unittest.TestCase):
    def plan(self) -> Plan:
        return plan_for(stl_of(box(640, 200, 200)), EvenParting(id="p1", axis="x", parts=3), bed=BED)

    def test_keep_switch_rename_and_drop(self) -> None:
        kept, label = after_wish(self.plan(), VariantWish(do="keep", name="three"))
        self.assertEqual((label, kept.variants[0].partings), ("Keep variant “three”", kept.partings))
        other = kept.model_copy(update={"partings": (EvenParting(id="p1", axis="x", parts=4),)})
        back, _ = after_wish(other, VariantWish(do="switch", variant="v1"))
        self.assertEqual((back.division_name, back.partings[0].parts), ("three", 3))
        self.assertEqual((back.variants[0].name, back.variants[0].partings[0].parts), ("Division 1", 4))
        self.assertEqual(of_variant(back, back.variants[0]).partings[0].parts, 4)
        renamed, _ = after_wish(back, VariantWish(do="rename", variant="v1", name="four"))
        self.assertEqual(renamed.variants[0].name, "four")
        self.assertEqual(after_wish(renamed, VariantWish(do="drop", variant="v1"))[0].variants, ())

    def test_taking_a_proposal_keeps_the_division_before(self) -> None:
        plan = self.plan()
        found = proposed(box(640, 200, 200))[1]
        after = taken(plan, Wishes(), found.proposals[0])
        self.assertEqual((after.variants[0].name, after.variants[0].partings), ("Division 1", plan.partings))
        self.assertEqual(after.partings, found.proposals[0].partings)

    def test_refusals(self) -> None:
        kept, _ = after_wish(self.plan(), VariantWish(do="keep", name="three"))
        for wish, said in (
            (VariantWish(do="keep", name="three"), "already"),
            (VariantWish(do="keep", name=" "), "needs a name"),
            (VariantWish(do="switch", variant="v7"), "not there any more"),
        ):
            with self.assertRaisesRegex(BadPlan, said):
                after_wish(kept, wish)


if __name__ == "__main__":
    unittest.main()
