"""What a piece or a part is printed otherwise: estimates, beds, weights, files and lists follow; the rest stays as it was."""

import csv
import io
import unittest
import zipfile

from hinoki.core.assemble.scene.from_build import scene_of
from hinoki.core.assemble.scene.weights import unit_weight
from hinoki.core.batch.batches import Batches, batched
from hinoki.core.batch.print_plan import printing_of
from hinoki.core.batch.scenarios import Option, what_if
from hinoki.core.cache import Cache
from hinoki.core.export.archive import Outgoing, export_zip
from hinoki.core.export.own_settings import own_words
from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.core.plan.print_settings import OwnSettings, PrintGroup, PrintSettings, SharedSettings
from hinoki.core.printlog.edit_impact import shapes_may_change
from tests.core.batch.test_batches import made
from tests.shapes import COMMON

FULL = OwnSettings(infill_percent=100.0)


def grams(found: Batches) -> dict[str, float]:
    return {t.thing.key: t.raw.mass_g for t in found.every}


def notes(**own: OwnSettings) -> dict[str, PieceNote]:
    return {{"low": "p1-", "high": "p1+"}[k]: PieceNote(printing=v) for k, v in own.items()}


class OfAPiece(unittest.TestCase):
    def test_only_that_piece_takes_more(self) -> None:
        plan, result = made()
        plain = grams(batched(plan, result, COMMON))
        fuller, built = made(pieces=notes(low=FULL))
        now = grams(batched(fuller, built, COMMON))
        self.assertEqual(now["p1+"], plain["p1+"])
        solid = built.parts[0].solid.volume_mm3 / 1000 * fuller.material.density_g_cm3
        self.assertAlmostEqual(now["p1-"], solid, delta=0.03 * solid)  # printed full it weighs what its volume does
        self.assertLess(plain["p1-"], 0.6 * solid)
        self.assertFalse(
            shapes_may_change(plan, plan.model_copy(update={"own_printing": SharedSettings(infill_percent=100.0)}))
        )

    def test_other_layers_have_a_bed_of_their_own(self) -> None:
        plan, result = made()
        self.assertEqual(len(batched(plan, result, COMMON).each), 2)  # each half fills one of 100 × 100
        wide = plan.model_copy(update={"printer": plan.printer.model_copy(update={"bed_mm": (200, 200)})})
        self.assertEqual(len(batched(wide, result, Cache()).each), 1)
        fine = wide.model_copy(update={"pieces": notes(low=OwnSettings(layers="fine", walls=5))})
        first, second = batched(fine, result, Cache()).each
        self.assertEqual({first.settings(fine.printing).layers, second.settings(fine.printing).layers}, {"fine", "usual"})
        more_walls = wide.model_copy(update={"pieces": notes(low=OwnSettings(walls=5))})
        self.assertEqual(len(batched(more_walls, result, Cache()).each), 1)
        as_all = wide.model_copy(update={"pieces": notes(low=OwnSettings(layers="usual"))})
        self.assertEqual(len(batched(as_all, result, Cache()).each), 1)

    def test_a_piece_says_more_than_its_part_and_that_more_than_the_project(self) -> None:
        plan = Plan(
            printing=PrintSettings(walls=2, skins=3),
            own_printing=SharedSettings(walls=4, infill_percent=30),
            pieces={"p1-": PieceNote(printing=OwnSettings(walls=6, brim_mm=0.0))},
        )
        low, high = plan.printing_of("p1-"), plan.printing_of("p1+")
        self.assertEqual((low.walls, low.skins, low.infill_percent, low.brim_mm), (6, 3, 30, 0))
        self.assertEqual((high.walls, high.skins, high.infill_percent), (4, 3, 30))

    def test_what_if_keeps_it(self) -> None:
        fuller, built = made(pieces=notes(low=FULL, high=FULL))
        options = [Option(name="a"), Option(name="b", printing=PrintSettings(infill_percent=50))]
        lines = what_if(fuller, built, options, 0.0, COMMON)
        self.assertAlmostEqual(lines[0].took.mass_g, lines[1].took.mass_g, delta=0.01)

    def test_the_assembly_weighs_it(self) -> None:
        plan, built = made(pieces=notes(low=FULL))
        weights = [unit_weight(unit, plan).grams for unit in scene_of(built).units.values() if unit.is_piece]
        self.assertGreater(max(weights), 1.5 * min(weights))


class OfAGroup(unittest.TestCase):
    def test_it_says_more_than_the_part_and_less_than_the_piece(self) -> None:
        plan = Plan(
            own_printing=SharedSettings(walls=4, infill_percent=30),
            groups=(
                PrintGroup(
                    id="g1", name="shells", pieces=("p1-", "q2 p1+"), printing=SharedSettings(infill_percent=5.0, skins=2)
                ),
                PrintGroup(id="g2", pieces=("p1-", "p1+"), printing=SharedSettings(infill_percent=60.0)),
            ),
            pieces={"p1-": PieceNote(printing=OwnSettings(skins=7))},
        )
        low, high = plan.printing_of("p1-"), plan.printing_of("p1+")
        self.assertEqual((low.walls, low.infill_percent, low.skins), (4, 5, 7))
        self.assertEqual((high.walls, high.infill_percent), (4, 60))

    def test_its_pieces_have_beds_of_their_material_and_printer(self) -> None:
        plan, result = made()
        wide = plan.model_copy(update={"printer": plan.printer.model_copy(update={"bed_mm": (200, 200)})})
        soft = wide.material.model_copy(update={"id": "soft", "name": "Soft", "density_g_cm3": 2 * wide.material.density_g_cm3})
        other = wide.printer.model_copy(update={"id": "other", "name": "Other"})
        group = PrintGroup(id="g1", pieces=("p1-",), printing=SharedSettings(material_id="soft", printer_id="other"))
        grouped = wide.model_copy(update={"groups": (group,), "more_materials": (soft,), "more_printers": (other,)})
        self.assertEqual((grouped.material_of("p1-").id, grouped.printer_of("p1-").id), ("soft", "other"))
        self.assertEqual(grouped.printer_of("p1+").id, wide.printer.id)
        plain, now = grams(batched(wide, result, COMMON)), grams(batched(grouped, result, COMMON))
        self.assertAlmostEqual(now["p1-"], 2 * plain["p1-"], delta=0.01)
        self.assertEqual(now["p1+"], plain["p1+"])
        self.assertEqual(len(batched(grouped, result, Cache()).each), 2)
        named = grouped.model_copy(update={"pieces": {"p1-": PieceNote(material_id=wide.material.id)}})
        self.assertEqual(named.material_of("p1-").id, wide.material.id)

    def test_another_printer_may_change_clearances_other_walls_do_not(self) -> None:
        plan, _ = made()
        other = plan.printer.model_copy(update={"id": "other"})
        plan = plan.model_copy(update={"more_printers": (other,)})
        for printing, changes in ((SharedSettings(walls=5), False), (SharedSettings(printer_id="other"), True)):
            with self.subTest(printing):
                grouped = plan.model_copy(update={"groups": (PrintGroup(id="g1", pieces=("p1-",), printing=printing),)})
                self.assertEqual(shapes_may_change(plan, grouped), changes)
                self.assertEqual(shapes_may_change(plan, plan.model_copy(update={"own_printing": printing})), changes)


class Written(unittest.TestCase):
    def test_in_the_batch_files_and_the_cut_list(self) -> None:
        plan, built = made(pieces=notes(low=OwnSettings(walls=5, infill_percent=40, brim_mm=0.0)))
        data = export_zip(plan, built, outgoing=Outgoing(printing=printing_of(plan, built, COMMON)))
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            rows = {r["key"]: r for r in csv.DictReader(io.StringIO(archive.read("cut-list.csv").decode()))}
            texts = [
                zipfile.ZipFile(io.BytesIO(archive.read(n))).read("3D/3dmodel.model").decode()
                for n in archive.namelist()
                if n.startswith("batches/")
            ]
        self.assertEqual(rows["p1-"]["printed_otherwise"], "5 walls, 40 % infill, no brim")
        self.assertEqual(rows["p1+"]["printed_otherwise"], "")
        self.assertEqual(sum(">5</metadata>" in text and "Walls" in text for text in texts), 1)

    def test_in_words(self) -> None:
        own = OwnSettings(layers="fine", walls=1, skins=0, brim_mm=3.5)
        self.assertEqual(own_words(own), "fine layers, 1 wall, 0 skins, brim of 3.5 mm")
        self.assertEqual(own_words(OwnSettings()), "")
