"""Pieces that came in as named objects keep their names."""

import unittest

from hinoki.core.divide.cut import Part
from hinoki.core.divide.object_names import names_from_file
from hinoki.core.divide.partings import LumpsParting
from hinoki.core.formats.base import NamedMesh
from hinoki.core.formats.write import write_file
from hinoki.core.geometry.shape import Body
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.contents import PieceNote
from tests.shapes import box, built, level, plan_for


def names(objects: dict[str, Solid], *more: object, **notes: PieceNote) -> list[str]:
    data = write_file([NamedMesh(name, solid.mesh) for name, solid in objects.items()], "parts.3mf")
    plan = plan_for(data, LumpsParting(id="p1"), *more, pieces=notes)  # type: ignore[arg-type]
    model = plan.model.model_copy(update={"file_name": "parts.3mf"})  # type: ignore[union-attr]
    return [p.name for p in built(data, plan.model_copy(update={"model": model})).pieces]


PARTS = {"Hull": box(80, 30, 20), "Mast": box(6, 6, 90).moved(100, 0, 0), "Rudder": box(4, 20, 25).moved(-80, 0, 0)}


class Names(unittest.TestCase):
    def test_lumps_are_called_as_in_the_file(self) -> None:
        self.assertEqual(sorted(names(PARTS)), ["Hull", "Mast", "Rudder"])

    def test_a_name_of_the_makers_own_comes_first(self) -> None:
        keys = {f"p1:{k}": PieceNote(name="Bowsprit") for k in range(3)}
        self.assertEqual(names(PARTS, **keys), ["Bowsprit"] * 3)

    def test_what_is_parted_further_is_no_object_any_more(self) -> None:
        self.assertEqual(sorted(names(PARTS, level(2, 50)))[:1], ["Hull"])
        self.assertNotIn("Mast", names(PARTS, level(2, 50)))

    def test_objects_of_one_name_are_not_told_apart_by_it(self) -> None:
        solids = box(10, 10, 10), box(9, 9, 9).moved(40, 0, 0)
        parts = [Part(f"p1:{k}", solid, "made") for k, solid in enumerate(solids)]
        for names_, found in ((("Part", "Part"), {}), (("Part", "Knob"), {"p1:0": "Part", "p1:1": "Knob"})):
            bodies = [Body(name, solid=solid) for name, solid in zip(names_, solids, strict=True)]
            self.assertEqual(names_from_file(bodies, parts), found)

    def test_a_tiny_one_may_differ_by_what_a_file_rounds(self) -> None:
        """A millionth of a mm³ is let pass, however small the thing is, and no more."""
        tiny = box(0.2, 0.2, 0.2)
        for notch, found in ((0.008, {"p1:0": "Rivet"}), (0.02, {})):
            less = tiny.minus([Solid.box([-notch / 2, -notch / 2, 0], [notch / 2, notch / 2, notch])])
            bodies = [Body("Rivet", solid=tiny), Body("Plate", solid=box(9, 9, 1).moved(0, 0, -5))]
            self.assertEqual(names_from_file(bodies, [Part("p1:0", less, "made")]), found, notch)


if __name__ == "__main__":
    unittest.main()
