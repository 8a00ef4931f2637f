"""Batches as the maker wants them: laid by hand, copies, spares, materials, even beds, and when what is done."""

import unittest

import numpy as np

from hinoki.core.batch.batches import Batches, batched
from hinoki.core.batch.manual_move import Move, moved
from hinoki.core.batch.scenarios import Option, what_if
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan, NotFound, Overlap
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import DowelJoint, FaceRef
from hinoki.core.plan.batch_settings import Batching, LadderAsked, Laid
from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.plan import Plan, plan_from
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import KeptFree, Printer
from hinoki.present.batches import BatchesView, batches_view, beds_of, what_if_view
from tests.checked import findings_of
from tests.shapes import box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
DATA = stl_of(box(60, 50, 60))
BED = Printer(id="bench", name="Bench", bed_mm=(150, 150), height_mm=150)


def made(batching: Batching, **more: object) -> tuple[Plan, Build, Batches, BatchesView]:
    plan = plan_for(DATA, level(1, 30), **more).model_copy(update={"printer": BED, "batching": batching})
    result = built(DATA, plan)
    found = batched(plan, result, Cache())
    return plan, result, found, batches_view(found, plan)


def laid_at(view: BatchesView, key: str) -> tuple[int, float, float, float]:
    return next((b.bed, t.x_mm, t.y_mm, t.turn_deg) for b in view.batches for t in b.things if t.key == key)


class ByHand(unittest.TestCase):
    def test_what_is_laid_by_hand_lies_there_and_the_rest_goes_round_it(self) -> None:
        _, _, found, view = made(Batching(laid={"p1+": Laid(bed=2, x_mm=10, y_mm=-5, turn_deg=30)}))
        self.assertEqual(laid_at(view, "p1+"), (2, 10, -5, 30))
        self.assertEqual([(b.number, b.bed) for b in view.batches], [(1, 1), (2, 2)])
        self.assertEqual(found.refused, [])

    def test_what_cannot_lie_there_is_laid_anew_and_said_and_stays_in_the_plan(self) -> None:
        for laid, why in (
            (Laid(bed=1, x_mm=70, y_mm=0), "stands out over the usable bed"),
            (Laid(bed=1, x_mm=5, y_mm=0), "overlaps 1 Piece 1"),
        ):
            plan, _, _, view = made(Batching(laid={"p1-": Laid(bed=1, x_mm=0, y_mm=0), "p1+": laid}))
            wanted = "p1+" if "stands" in why else "p1-"
            said = " ".join(view.said)
            self.assertIn("was laid by hand on bed 1, but there it", said)
            self.assertIn(why.split(" ")[0], said)
            self.assertEqual(len(plan.batching.laid), 2)
            self.assertEqual(sorted(t.key for b in view.batches for t in b.things), ["p1+", "p1-"], wanted)

    def test_a_move_is_tried_against_what_lies_there(self) -> None:
        plan, _, _, view = made(Batching())
        bed, x, y, _ = laid_at(view, "p1-")
        with self.assertRaisesRegex(Overlap, "There 2 Piece 2 overlaps 1 Piece 1. It stays where it was"):
            moved(beds_of(view), Move(key="p1+", bed=bed, x_mm=x + 5, y_mm=y), 4, 45)
        with self.assertRaisesRegex(Overlap, "stands out over the usable bed"):
            moved(beds_of(view), Move(key="p1+", bed=3, x_mm=60, y_mm=0), 4, 45)
        with self.assertRaises(NotFound):
            moved(beds_of(view), Move(key="p9+", bed=1), 4, 45)
        done = moved(beds_of(view), Move(key="p1+", bed=bed, x_mm=30, y_mm=40, turn_deg=90), 4, 45).laid
        self.assertEqual((done["p1+"].x_mm, done["p1+"].pinned, done["p1-"].pinned), (30, True, False))
        after = batches_view(
            batched(plan.model_copy(update={"batching": Batching(laid=done)}), built(DATA, plan), Cache()), plan
        )
        self.assertEqual(laid_at(after, "p1+"), (1, 30, 40, 90))
        self.assertEqual(laid_at(after, "p1-")[1:3], (x, y))

    def test_without_a_place_a_free_one_is_found_also_on_a_new_bed(self) -> None:
        _, _, _, view = made(Batching())
        done = moved(beds_of(view), Move(key="p1+", bed=2), 4, 45).laid["p1+"]
        self.assertEqual(done.bed, 2)
        apart = {k: Laid(bed=n, x_mm=0, y_mm=0) for n, k in ((1, "p1+"), (2, "p1-"))}
        crowded = made(Batching(laid=apart, gap_mm=60))[3]
        with self.assertRaisesRegex(Overlap, "no room for 2 Piece 2 on this bed"):
            moved(beds_of(crowded), Move(key="p1+", bed=2), 60, 45)


class Copies(unittest.TestCase):
    def test_copies_are_laid_each_of_its_own_and_counted(self) -> None:
        _, _, found, view = made(Batching(copies={"p1+": 3}))
        keys = sorted(t.key for b in view.batches for t in b.things)
        self.assertEqual(keys, ["p1+", "p1+ #2", "p1+ #3", "p1-"])
        each = {e.key: e for e in view.each}
        one = next(p for p in found.every if p.key == "p1+")
        self.assertAlmostEqual(each["p1+"].took.mass_g, 3 * one.took.mass_g, delta=0.1)
        self.assertEqual(each["p1+"].copies, 3)

    def test_ten_thousand_copies_are_refused_in_words(self) -> None:
        with self.assertRaisesRegex(BadPlan, r"batching.copies.p1\+.*less than or equal to 1000"):
            plan_from({"schema": "hinoki-plan/1", "batching": {"copies": {"p1+": 10_000}}})
        with self.assertRaisesRegex(BadPlan, "2000 things are to be printed|lays out 2000"):
            made(Batching(copies={"p1+": 1000, "p1-": 1000, "loose dowel 5 × 10": 1000}), joints=(dowels(),))

    def test_spares_are_proposed_for_what_gets_lost_or_comes_loose(self) -> None:
        _, _, _, view = made(Batching(), joints=(dowels(),))
        self.assertEqual([s.key for s in view.spares], ["loose dowel 5 × 10"])
        self.assertIn("easily lost", view.spares[0].why)
        self.assertEqual(made(Batching())[3].spares, [])


def dowels() -> DowelJoint:
    return DowelJoint(id="j1", face=FACE, count=2, length_mm=10)


class Ladders(unittest.TestCase):
    def test_a_fit_ladder_is_printed_along_and_waits_for_its_joint(self) -> None:
        asked = LadderAsked(joint="j1", from_mm=0.05, to_mm=0.3, rungs=4)
        wish = Batching(ladders=(asked, asked.model_copy(update={"joint": "j9"})))
        _, _, found, view = made(wish, joints=(dowels(),))
        keys = {t.key for b in view.batches for t in b.things}
        pieces = [key for key in keys if key.startswith("ladder j1 ")]
        self.assertGreater(len(pieces), 1)
        self.assertTrue(all(p.took.mass_g > 0 for p in found.every if p.key in pieces))
        self.assertIn("The fit ladder of joint j9 waits", " ".join(view.said))
        laid = {
            pieces[0]: Laid(bed=1, x_mm=0, y_mm=60),
            "p7+": Laid(bed=1, x_mm=0, y_mm=0),
            "p8+": Laid(bed=1, x_mm=0, y_mm=0, pinned=False),
        }
        _, result, _, _ = made(Batching(ladders=(asked,), laid=laid), joints=(dowels(),))
        self.assertEqual([f.about for f in findings_of(result) if f.code == "piece-gone"], ["p7+"])


class Materials(unittest.TestCase):
    RED = Material(id="red", name="Red", colour="#aa0000", stock_g=5)

    def test_every_material_has_its_own_beds_and_sums(self) -> None:
        more = {"more_materials": (self.RED,), "pieces": {"p1+": PieceNote(material_id="red")}}
        _, _, _, view = made(Batching(), **more)
        self.assertEqual([(b.material, [t.key for t in b.things]) for b in view.batches], [("PLA", ["p1-"]), ("Red", ["p1+"])])
        self.assertEqual([m.name for m in view.materials], ["PLA", "Red"])
        self.assertGreater(view.materials[1].short_g, 0)
        self.assertRegex(" ".join(view.said), "Red will run out in batch 2: [0-9]+ g short")

    def test_a_material_for_another_kind_of_printer_is_said(self) -> None:
        resin = Material(id="resin", name="Resin", process="resin")
        more = {"more_materials": (resin,), "pieces": {"p1+": PieceNote(material_id="resin")}}
        self.assertIn("Resin is for resin, and Bench prints filament", " ".join(made(Batching(), **more)[3].said))


class Settings(unittest.TestCase):
    def test_no_walls_no_skins_no_infill_is_said(self) -> None:
        nothing = PrintSettings(walls=0, skins=0, infill_percent=0)
        self.assertIn("Nothing would be printed", made(Batching(), printing=nothing)[3].said[0])

    def test_what_no_workshop_has_is_refused_in_words(self) -> None:
        for document, words in (
            ({"material": {"density_g_cm3": 0}}, "material.density_g_cm3"),
            ({"material": {"price": -1}}, "material.price"),
            ({"printer": {"bed_mm": [1, 1], "height_mm": 1, "machines": 0}}, "printer.machines"),
        ):
            with self.assertRaisesRegex(BadPlan, words):
                plan_from({"schema": "hinoki-plan/1", **document})

    def test_a_locked_piece_off_the_bed_is_found(self) -> None:
        tall = stl_of(box(40, 40, 180))
        plan = plan_for(tall, bed=(150, 150, 150), pieces={"whole": PieceNote(down=(0, 0, -1), locked=True)})
        result = built(tall, plan)
        key = result.pieces[0].key
        plan = plan.model_copy(update={"pieces": {key: PieceNote(down=(0, 0, -1), locked=True)}})
        result = built(tall, plan)
        over = next(f for f in findings_of(result) if f.code == "piece-over")
        np.testing.assert_allclose(over.params["over_mm"], [0, 0, 30])  # type: ignore[arg-type]
        self.assertEqual(batches_view(batched(plan, result, Cache()), plan).left_over, ["1 Piece 1"])


class Corners(unittest.TestCase):
    def test_a_bed_full_of_corners_kept_free_is_said(self) -> None:
        full = BED.model_copy(update={"kept_free": (KeptFree(corner="front left", size_mm=(150, 150)),)})
        plan = plan_for(DATA).model_copy(update={"printer": full})
        view = batches_view(batched(plan, built(DATA, plan), Cache()), plan)
        self.assertIn("the bed of Bench has no room left beside its margin and the corners kept free", view.said[0])
        self.assertEqual(view.left_over, ["1 Piece 1"])


class WhatIfs(unittest.TestCase):
    def test_other_settings_materials_and_sizes_side_by_side(self) -> None:
        plan, result, _, view = made(Batching())
        dear = Material(id="dear", name="Dear", price=plan.material.price * 2, stock_g=1)
        full = PrintSettings(infill_percent=100)
        options = [
            Option(name="as it is"),
            Option(name="full", printing=full),
            Option(name="dear and full", printing=full, material=dear),
            Option(name="half, full", printing=full, scale=0.5),
            Option(name="three times", scale=3),
        ]
        lines = {line.name: line for line in what_if_view(what_if(plan, result, options, 0.0, Cache())).lines}
        self.assertAlmostEqual(lines["as it is"].took.mass_g, view.took.mass_g, delta=0.2)
        self.assertAlmostEqual(lines["full"].took.mass_g, plan.material.mass_g(60 * 50 * 60), delta=0.2)
        self.assertAlmostEqual(lines["dear and full"].took.cost, 2 * lines["full"].took.cost, delta=0.02)
        self.assertAlmostEqual(lines["dear and full"].stock_lacks_g, lines["full"].took.mass_g - 1, delta=0.2)
        self.assertAlmostEqual(lines["half, full"].took.mass_g, lines["full"].took.mass_g / 8, delta=0.2)
        self.assertEqual([line.fits for line in lines.values()], [True, True, True, True, False])

    def test_support_grows_with_the_cube_of_the_size(self) -> None:
        arm = box(10, 20, 30).plus([Solid.box([-20, -10, 30], [20, 10, 36])])
        plan = plan_for(stl_of(arm), pieces={"whole": PieceNote(down=(0, 0, -1))})
        result = built(stl_of(arm), plan)
        one, two = what_if_view(what_if(plan, result, [Option(), Option(scale=2)], 0.0, Cache())).lines
        self.assertGreater(one.took.support_g, 0)
        self.assertAlmostEqual(two.took.support_g, 8 * one.took.support_g, delta=0.5)
