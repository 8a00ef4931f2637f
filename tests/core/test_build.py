"""Builds: numbers, resting faces, assembly, open surfaces, determinism, plans and their versions."""

import unittest
from pathlib import Path

import numpy as np

from hinoki.core.assemble.assembled import assembled
from hinoki.core.build import build
from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan
from hinoki.core.export.archive import export_zip, exported_plan
from hinoki.core.formats.registry import read_file
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.orient.resting.resting_faces import rest_on, rests, turn_down
from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.plan import Plan, read_plan
from hinoki.core.propose import Wishes, divided
from hinoki.core.propose.recommend_joints import SuitWish, suggested
from hinoki.core.workshop.printers import Printer, box_fits, presets, turn_on_bed
from tests.assembling import assembly, way_in
from tests.checked import files_of, findings_of
from tests.effort import either
from tests.shapes import across, box, built, level, plan_for, stl_of, torus, tube

ROOT = Path(__file__).parents[2]

BENCH = presets()[1]


class Numbers(unittest.TestCase):
    def test_pieces_are_numbered_from_the_bottom_up(self) -> None:
        data = stl_of(box(40, 40, 90))
        result = built(data, plan_for(data, level(1, 30), level(2, 60)))
        lows = [p.mesh.bounds[0][2] for p in sorted(result.pieces, key=lambda p: p.number)]
        self.assertEqual(lows, sorted(lows))

    def test_a_number_once_given_is_kept(self) -> None:
        data, cache = stl_of(box(40, 40, 90)), Cache()
        first = build(plan_for(data, level(1, 60)), lambda _: data, cache).numbers
        second = build(plan_for(data, level(1, 60), level(2, 30)), lambda _: data, cache, numbers=first).numbers
        self.assertEqual(second["p1+"], first["p1+"])
        self.assertEqual(sorted(second.values()), [1, 2, 3])


class Resting(unittest.TestCase):
    def test_a_wedge_lies_on_its_largest_flat(self) -> None:
        wedge = Solid.hull_of(np.array([[x, y, z] for x, z in ((0, 0), (60, 0), (0, 20)) for y in (0, 30)], dtype=float))
        turned = wedge.placed(np.column_stack([turn_down(np.array([0, 1.0, 0])), np.zeros(3)]))
        best = rests(turned, [], BENCH)[0]
        self.assertAlmostEqual(best.overhang_mm2, 0, delta=1)
        self.assertTrue(best.fits)

    def test_a_cup_stands_on_its_floor_or_mouth_not_its_side(self) -> None:
        cup = Solid.cylinder(30, 0, 50).minus([Solid.cylinder(26, 4, 60)])
        self.assertLess(abs(rests(cup, [], BENCH)[0].down[0]), 1e-6)

    def test_the_matrix_brings_the_piece_onto_the_bed(self) -> None:
        for down in ([0, 0, -1.0], [0, 0, 1.0], [1.0, 0, 0], [0.6, 0, 0.8], [-0.36, 0.48, -0.8]):
            rest = rest_on(box(30, 50, 70).moved(100, -40, 15), np.array(down), BENCH)
            low, high = box(30, 50, 70).moved(100, -40, 15).placed(rest.matrix).bounds
            self.assertAlmostEqual(low[2], 0, places=6)
            np.testing.assert_allclose(low[:2] + high[:2], 0, atol=1e-6)
            np.testing.assert_allclose(high - low, rest.size_mm, atol=1e-6)
            self.assertAlmostEqual(float(np.linalg.det(rest.matrix[:, :3])), 1, places=9)

    def test_another_printer_is_another_question(self) -> None:
        """What was remembered for one bed is not taken for another, and not for another kind of it."""
        data, cache = stl_of(box(95, 95, 95)), Cache()
        fits = {bed: built(data, plan_for(data, bed=(bed, bed, 100)), cache).pieces[0].fits for bed in (100, 50, 100)}
        self.assertEqual(fits, {100: True, 50: False})
        round_bed = plan_for(data, bed=(100, 100, 100))
        printer = round_bed.printer.model_copy(update={"bed_shape": "round"})
        self.assertFalse(built(data, round_bed.model_copy(update={"printer": printer}), cache).pieces[0].fits)

    def test_the_makers_choice_is_kept(self) -> None:
        data = stl_of(box(30, 50, 70))
        plan = plan_for(data, pieces={"whole": PieceNote(down=(1.0, 0.0, 0.0))})
        piece = built(data, plan).pieces[0]
        self.assertTrue(piece.chosen)
        self.assertAlmostEqual(piece.rest.height_mm, 30, places=3)

    def test_a_long_piece_fits_across_the_diagonal(self) -> None:
        bar = np.array([[0, 0], [280, 0], [280, 10], [0, 10.0]])
        self.assertIsNotNone(turn_on_bed(bar, BENCH.room_mm))
        self.assertIsNone(turn_on_bed(bar * [1.15, 1], BENCH.room_mm))

    def test_a_box_fits_whichever_way_up(self) -> None:
        self.assertTrue(box_fits(np.array([250, 10, 10.0]), BENCH.room_mm))
        self.assertFalse(box_fits(np.array([230, 230, 10.0]), BENCH.room_mm))


class Assembling(unittest.TestCase):
    def test_every_piece_appears_once_and_onto_something_already_there(self) -> None:
        data = stl_of(box(90, 90, 90))
        result = built(data, plan_for(data, level(1, 30), across(2, "x", 0), across(3, "y", 10)))
        numbers, steps = result.numbers, assembly(result).order.steps
        self.assertEqual(sorted(numbers[s.lead] for s in steps), sorted(numbers.values()))
        groups: dict[str, set[str]] = {n: {n} for n in numbers}
        for step in steps[1:]:
            assert step.onto is not None
            self.assertEqual(groups[step.lead], set(step.units))
            self.assertNotIn(step.onto, groups[step.lead])
            union = groups[step.lead] | groups[step.onto]
            for n in union:
                groups[n] = union
        self.assertEqual(groups[steps[0].lead], set(numbers))

    def test_each_move_is_free_of_overlap_on_its_way(self) -> None:
        data = stl_of(box(90, 90, 90))
        plan = plan_for(data, level(1, 40), across(2, "x", 0), across(3, "y", 10))
        result = built(data, suggested(built(data, plan), plan, "pin", "snug"))
        solids = {result.numbers[p.key]: p.solid for p in result.parts}
        there: dict[int, set[int]] = {n: {n} for n in solids}
        for step in assembly(result).order.steps[1:]:
            assert step.onto is not None
            onto, adds = result.numbers[step.onto], {result.numbers[u] for u in step.units}
            still = Solid.united(solids[n] for n in there[onto])
            moving = Solid.united(solids[n] for n in adds)
            for back in (0.0, 1.0, 4.0, 9.0, 30.0):
                x, y, z = -back * way_in(step)
                self.assertLess(moving.moved(x, y, z).common(still).volume_mm3, 1e-6, step.lead)
            union = there[onto] | adds
            for n in union:
                there[n] = union


class OpenSurfaces(unittest.TestCase):
    def setUp(self) -> None:
        whole = box(40, 40, 90).mesh
        self.data = write_stl(Mesh(whole.vertices, whole.faces[1:]))

    def test_it_is_accepted_and_said(self) -> None:
        result = built(self.data, plan_for(self.data))
        self.assertEqual((result.state, len(result.pieces), result.pieces[0].solid), ("open", 1, None))
        self.assertEqual(next(f.params["edges"] for f in findings_of(result) if f.code == "surface-open"), 3)

    def test_what_cannot_be_done_is_said_when_it_is_tried(self) -> None:
        plan = plan_for(self.data, level(1, 40))
        result = built(self.data, plan)
        self.assertIn("open-cannot-part", [f.code for f in findings_of(result)])
        self.assertEqual(len(plan.partings), 1)

    def test_it_can_still_be_exported_as_it_is(self) -> None:
        plan = plan_for(self.data)
        files = files_of(built(self.data, plan))
        (name,) = (n for n in files if n.startswith("pieces/"))
        self.assertEqual(len(read_file(files[name], name).mesh.faces), 11)

    def test_an_inside_out_surface_is_said(self) -> None:
        whole = box(40, 40, 90).mesh
        data = write_stl(Mesh(whole.vertices, whole.faces[:, ::-1]))
        self.assertIn("surface-inside-out", [f.code for f in findings_of(built(data, plan_for(data)))])


class Dividing(unittest.TestCase):
    def test_pins_all_round_a_ring_do_not_lock_it(self) -> None:
        """Three wedges with pins on every seam cannot be put together: one seam gets what goes in afterwards."""
        data = stl_of(tube(180, 150, 40))
        plan = plan_for(data)
        made = divided(plan, lambda _: data, Cache(), SuitWish(kind="pin"), Wishes())
        self.assertEqual(assembled(made.plan, made.built, Cache()).order.locked, [])
        self.assertEqual([(f.code, f.params) for f in findings_of(made.built) if f.severity == "must-fix"], [])
        self.assertIn("pin", {j.kind for j in made.plan.joints})

    def test_it_always_ends_with_pieces_that_fit_with_their_joints(self) -> None:
        shapes = {
            "block just over": box(221, 100, 100),
            "pins would stick out": box(440, 220, 250),
            "tube": tube(120, 100, 900),
            "ring": Solid.from_mesh(torus(200, 40, 96, 32)).moved(0, 0, 40),
        }
        for name in either(("block just over", "ring"), tuple(shapes)):
            data = stl_of(shapes[name])
            result = divided(plan_for(data), lambda _, d=data: d, Cache(), SuitWish(kind="pin"), Wishes()).built
            self.assertTrue(all(p.fits for p in result.pieces), name)
            self.assertTrue(all(np.all(np.array(p.rest.size_mm) <= [220.001, 220.001, 250.001]) for p in result.pieces))
            self.assertEqual([(f.code, f.params) for f in findings_of(result) if f.severity == "must-fix"], [], name)

    def test_what_fits_is_not_parted(self) -> None:
        data = stl_of(box(100, 100, 100))
        plan = divided(plan_for(data), lambda _: data, Cache(), SuitWish(kind="pin"), Wishes()).plan
        self.assertEqual(plan.partings, ())

    def test_a_hopelessly_small_bed_is_refused_with_a_sentence(self) -> None:
        data = stl_of(box(1000, 1000, 1000))
        with self.assertRaisesRegex(BadPlan, "more than 600 pieces"):
            divided(plan_for(data, bed=(20, 20, 20)), lambda _: data, Cache(), None, Wishes())


class Exports(unittest.TestCase):
    def setUp(self) -> None:
        self.data = stl_of(tube(46, 34, 300))
        plan = plan_for(self.data, level(1, 100), level(2, 200), across(3, "x", 0))
        self.plan = suggested(built(self.data, plan), plan, "dowel", "sliding")

    def test_the_same_plan_gives_the_same_bytes(self) -> None:
        one = export_zip(self.plan, built(self.data, self.plan))
        two = export_zip(self.plan, built(self.data, self.plan))
        self.assertEqual(one, two)

    def test_the_exported_plan_builds_the_same_pieces_with_the_same_numbers(self) -> None:
        result = built(self.data, self.plan)
        again = read_plan(exported_plan(self.plan, result).json_text())
        other = built(self.data, again)
        self.assertEqual(other.numbers, result.numbers)
        self.assertEqual([p.volume_mm3 for p in other.pieces], [p.volume_mm3 for p in result.pieces])


class Plans(unittest.TestCase):
    def refused(self, text: str, *words: str) -> None:
        with self.assertRaises(BadPlan) as caught:
            read_plan(text)
        for word in words:
            self.assertIn(word, caught.exception.message)

    def test_round_trip(self) -> None:
        plan = plan_for(b"x", level(1, 3), across(2, "y", 4))
        self.assertEqual(read_plan(plan.json_text()), plan)

    def test_a_newer_version_is_refused(self) -> None:
        self.refused('{"schema": "hinoki-plan/2"}', "newer", "version 2")

    def test_an_unknown_kind_is_refused_with_its_place(self) -> None:
        self.refused('{"schema": "hinoki-plan/1", "partings": [{"kind": "zigzag", "id": "p1"}]}', "partings.0", "zigzag")

    def test_other_documents_are_refused(self) -> None:
        self.refused("[1, 2]", "JSON object")
        self.refused("{", "not JSON")
        self.refused('{"schema": "shopping-list/1"}', "not a Hinoki plan")
        self.refused("[" * 100_000, "not JSON")

    def test_a_bed_with_a_zero_side_is_refused(self) -> None:
        self.refused(
            '{"schema": "hinoki-plan/1", "printer": {"bed_mm": [220, 0], "height_mm": 250}}',
            "printer.bed_mm.1",
            "greater than 0",
        )

    def test_two_partings_of_one_name_are_refused(self) -> None:
        flat = '{"kind": "flat", "id": "p1", "at_mm": 3}'
        self.refused(f'{{"schema": "hinoki-plan/1", "partings": [{flat}, {flat}]}}', "two partings are named p1")

    def test_numbers_that_are_none_are_refused(self) -> None:
        self.refused('{"schema": "hinoki-plan/1", "partings": [{"kind": "flat", "id": "p1", "at_mm": NaN}]}', "partings.0")

    def test_a_round_bed_holds_what_fits_its_circle(self) -> None:
        disc = Printer(bed_shape="round", bed_mm=(200, 200), height_mm=100)
        self.assertTrue(disc.holds(np.array([140, 140, 90])))
        self.assertFalse(disc.holds(np.array([150, 150, 90])))
        corners = np.array([[0, 0], [150, 0], [150, 150], [0, 150.0]])
        self.assertIsNone(disc.turn(corners))
        self.assertEqual(disc.turn(corners * 0.9), 0.0)

    def test_a_piece_belongs_to_the_printer_its_note_names(self) -> None:
        large = Printer(id="large", name="Large", bed_mm=(900, 900), height_mm=900)
        data = stl_of(box(400, 40, 40))
        plan = plan_for(data).model_copy(update={"more_printers": (large,), "pieces": {"whole": PieceNote(printer_id="large")}})
        piece = built(data, plan).pieces[0]
        self.assertEqual((piece.fits, plan.printer_of(piece.key).name), (True, "Large"))
        self.assertFalse(built(data, plan_for(data)).pieces[0].fits)

    def test_presets(self) -> None:
        rooms = [p.room_mm.tolist() for p in presets()]
        self.assertEqual(rooms, [[180, 180, 180], [220, 220, 250], [300, 300, 400], [143, 89, 175], [200, 200, 300]])
        self.assertEqual(Printer(bed_mm=(100, 100), height_mm=50, margin_mm=5).room_mm.tolist(), [90, 90, 50])

    def test_an_empty_plan_builds_to_nothing(self) -> None:
        self.assertEqual(build(Plan(), lambda _: b"", Cache()).state, "empty")
