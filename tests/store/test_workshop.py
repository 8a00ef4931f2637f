"""The workshop's tables: filled once, changed, kept in use, out and in again."""

import tempfile
import unittest
from pathlib import Path

from hinoki.core.errors import InUse, NotFound
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import Printer
from hinoki.core.workshop.workshop import FitEntry, Settings, Workshop
from hinoki.store.database import Database
from hinoki.store.tables import projects, workshop


class WorkshopCase(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.database = Database(Path(folder.name) / "w.sqlite")
        self.addCleanup(self.database.close)
        self.database.write(workshop.fill_if_empty)

    def now(self) -> Workshop:
        with self.database.reading() as connection:
            return workshop.workshop(connection)

    def test_it_begins_with_the_generic_presets(self) -> None:
        names = [p.id for p in self.now().printers]
        self.assertEqual(names[:4], ["small-180", "bench-220", "large-300", "resin-143"])
        self.assertIn("resin", {m.process for m in self.now().materials})

    def test_presets_taken_out_do_not_come_back(self) -> None:
        self.database.write(lambda c: workshop.delete_printer(c, "large-300"))
        self.database.write(workshop.fill_if_empty)
        self.assertNotIn("large-300", [p.id for p in self.now().printers])

    def test_a_changed_printer_keeps_its_place(self) -> None:
        changed = self.now().printers[1].model_copy(update={"height_mm": 260.0})
        self.database.write(lambda c: workshop.put_printer(c, changed))
        self.assertEqual((self.now().printers[1].id, self.now().printers[1].height_mm), ("bench-220", 260))

    def test_what_a_project_uses_is_not_taken_out(self) -> None:
        second = Printer(id="large-300", name="Large 300", bed_mm=(300, 300), height_mm=400)
        self.database.write(lambda c: projects.add_project(c, "Harbour", Plan(more_printers=(second,))))
        for take_out, item in (
            (workshop.delete_printer, "bench-220"),
            (workshop.delete_printer, "large-300"),
            (workshop.delete_material, "pla"),
        ):
            with self.assertRaisesRegex(InUse, "“Harbour”"):
                self.database.write(lambda c, t=take_out, i=item: t(c, i))  # type: ignore[misc]
        self.assertIn("bench-220", [p.id for p in self.now().printers])

    def test_fits_say_where_they_come_from(self) -> None:
        entry = FitEntry(printer_id="bench-220", material_id="pla", fit="snug", clearance_mm=0.14, note="second try")
        self.database.write(lambda c: workshop.put_fit(c, entry))
        self.assertEqual(self.now().fits_for("bench-220", "pla").snug, 0.14)
        self.assertEqual(self.now().fits_for("bench-220", "pla").press, 0.05)
        self.assertEqual(self.now().fits_for("bench-220", "petg").snug, 0.10)
        kept = self.now().fits[0]
        self.assertEqual((kept.origin, kept.note), ("typed", "second try"))
        self.assertRegex(kept.updated_at, r"^\d{4}-\d\d-\d\dT")
        self.database.write(lambda c: workshop.drop_fit(c, "bench-220", "pla", "snug"))
        self.assertEqual(self.now().fits, ())

    def test_a_fit_of_nothing_is_refused(self) -> None:
        entry = FitEntry(printer_id="nothing", material_id="pla", fit="snug", clearance_mm=0.1)
        with self.assertRaisesRegex(NotFound, "no printer “nothing”"):
            self.database.write(lambda c: workshop.put_fit(c, entry))

    def test_out_and_in_again(self) -> None:
        own = Material(id="own", name="Own mix", density_g_cm3=1.3, price=18)
        self.database.write(lambda c: workshop.put_material(c, own))
        self.database.write(lambda c: workshop.put_settings(c, Settings(currency="kr", power_price=2.5)))
        text = self.now().model_dump_json(by_alias=True)
        with tempfile.TemporaryDirectory() as folder:
            other = Database(Path(folder) / "o.sqlite")
            try:
                other.write(lambda c: workshop.take_in(c, Workshop.model_validate_json(text)))
                with other.reading() as connection:
                    again = workshop.workshop(connection)
            finally:
                other.close()
        self.assertEqual(again.model_dump_json(by_alias=True), text)

    def test_mass_and_cost(self) -> None:
        # trade fact (common practice): 124 g at 20 a kilogram = 2.48
        material = Material(density_g_cm3=1.24, price=20)
        volume = 124 / 1.24 * 1000
        self.assertAlmostEqual(material.mass_g(volume), 124)
        self.assertAlmostEqual(material.cost(volume), 2.48)
        resin = Material(process="resin", density_g_cm3=1.1, price=40)
        self.assertAlmostEqual(resin.cost(250_000), 10.0)


if __name__ == "__main__":
    unittest.main()
