"""The demo model and its project."""

import unittest

import numpy as np
import orjson

from hinoki.core.batch.batches import batched
from hinoki.core.build import Build, build, build_all
from hinoki.core.cache import Cache
from hinoki.core.check.check import check_all
from hinoki.core.findings import Accepted
from hinoki.core.formats.registry import read_file
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.health.edges import open_loops
from hinoki.core.moving.project import moving
from hinoki.core.orient.pieces import OrientWish, best_rests
from hinoki.core.parts.play import play_between
from hinoki.core.parts.put_together import parts_put_together
from hinoki.core.parts.standing import standing_at
from hinoki.core.plan.plan import Plan
from hinoki.demo.lantern_project import DRUM, PANEL, PIECES, ROOF
from hinoki.demo.lighthouse_project import NAMES
from hinoki.demo.projects import FEN, HARBOUR, LANTERN, LIGHTHOUSE, MASK, SIGNAL_BOX, Demo
from hinoki.demo.resting_sides import RESTING
from hinoki.demo.signal_box import LONG
from hinoki.demo.signal_box_project import COUNTS, STAIR, WALLS, WINDOW
from hinoki.demo.signal_box_project import ROOF as GABLE
from hinoki.present.assemble.view import assembly_view
from hinoki.present.batches import batches_view
from hinoki.present.schemas.assemble import AssemblyView
from tests.assembling import loose_steps
from tests.presented import assembly_seen, shown, view_of
from tests.shapes import COMMON

ACCEPTED_BY_0_8 = {"17e5ba24116ba507": Accepted(reason="its support holds it")}
"""what the plan of the harbour of 0.8 accepts: one piece that only its support keeps up"""


class DemoCase(unittest.TestCase):
    """A demo project: built, laid and batched."""

    def is_shipped(self, demo: Demo, data: bytes, plan: Plan) -> None:
        """The plan that is shipped says the same as the one worked out now."""
        shipped = orjson.loads(demo.plan(data).json_text())
        self.same(shipped, orjson.loads(plan.json_text()), demo.path.name)

    def same(self, one: object, two: object, where: str) -> None:
        if isinstance(one, dict) and isinstance(two, dict):
            self.assertEqual(set(one), set(two), where)
            for key in one:
                self.same(one[key], two[key], f"{where}.{key}")
        elif isinstance(one, list) and isinstance(two, list):
            self.assertEqual(len(one), len(two), where)
            for k, pair in enumerate(zip(one, two, strict=True)):
                self.same(*pair, f"{where}[{k}]")
        elif isinstance(one, float) and isinstance(two, float):
            self.assertAlmostEqual(one, two, places=6, msg=f"{where}: make it anew with python3 run.py demos")
        else:
            self.assertEqual(one, two, f"{where}: make it anew with python3 run.py demos")

    def prints(self, name: str, plan: Plan, built: Build, cache: Cache, batches: int) -> None:
        """Every piece lies on a side that was chosen, fits, and is in one of so many batches."""
        self.assertEqual(set(RESTING[name]), {p.key for p in built.pieces})
        self.assertTrue(all(p.chosen and p.fits for p in built.pieces))
        view = batches_view(batched(plan, built, cache), plan)
        self.assertEqual((view.left_over, len(view.batches)), ([], batches))
        numbers = sorted(n for b in view.batches for t in b.things for n in t.pieces)
        self.assertEqual(numbers, sorted(p.number for p in built.pieces))

    def goes_together(self, plan: Plan, built: Build, cache: Cache) -> AssemblyView:
        """Every unit has a step that works, in an order that is proved or tried."""
        out, view = assembly_seen(built, plan, cache)
        self.assertEqual((view.locked, view.cut_short), ([], False))
        self.assertLessEqual({s.proof for s in view.steps}, {"proved", "tried by sampling"})
        self.assertEqual(sorted(s.lead for s in view.steps), sorted(u.id for u in view.units))
        self.assertEqual(loose_steps(built, out), [])
        self.assertEqual([f.message for f in view.findings if f.severity == "must-fix"], [])
        return view


class Lighthouse(DemoCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.data = LIGHTHOUSE.source()
        cls.cache = COMMON
        cls.plan = LIGHTHOUSE.plan(cls.data)
        cls.built = build(cls.plan, lambda _: cls.data, cls.cache)

    def test_it_prints_in_four_batches(self) -> None:
        self.prints(LIGHTHOUSE.name, self.plan, self.built, self.cache, 4)

    def test_it_goes_together_with_groups_a_thread_and_a_wire_to_be_pulled_first(self) -> None:
        view = self.goes_together(self.plan, self.built, self.cache)
        self.assertEqual([g.numbers for g in view.groups], [[3, 4]])
        kinds = {s.lead: s.motion.kind for s in view.steps}
        gallery, roof = "p1+ p2+ p6-", "p1+ p2+ p6+"
        self.assertEqual((kinds[gallery], kinds["w2"], kinds[roof]), ("screw", "pull", "slide"))
        self.assertEqual([s.lead for s in view.steps][-3:], [gallery, "w2", roof])
        lamp = next(r for r in view.replacing if r.unit == gallery)
        self.assertEqual([o.kind for o in lamp.first], ["slide", "pull"])  # the roof, then the wire
        self.assertEqual(next(r for r in view.replacing if r.unit == roof).first, [])

    def test_it_is_closed_one_lump_and_of_the_wanted_size(self) -> None:
        mesh = read_file(self.data, "a.stl").mesh
        low, high = mesh.bounds
        self.assertTrue(mesh.edges.closed)
        for size, wanted in zip(high - low, (310, 300, 640), strict=True):
            self.assertAlmostEqual(size, wanted, delta=10)
        self.assertTrue(100_000 <= len(mesh.faces) <= 300_000)
        self.assertEqual(view_of(self.built).model.lumps, 1)

    def test_it_is_parted_named_pinned_and_fits(self) -> None:
        view = view_of(self.built)
        self.assertEqual({p.key for p in view.pieces}, set(NAMES))
        self.assertEqual(sorted(p.name for p in view.pieces), sorted(NAMES.values()))
        self.assertTrue(all(p.fits for p in view.pieces))
        self.assertEqual(len(view.joints), len(view.faces))
        self.assertEqual([f.message for f in view.findings if f.severity == "must-fix"], [])

    def test_it_is_made_the_same_every_time(self) -> None:
        self.assertEqual(LIGHTHOUSE.source(), self.data)
        self.is_shipped(LIGHTHOUSE, self.data, LIGHTHOUSE.worked_out(self.data, self.cache))

    def test_screens_get_sections_and_room_for_joints(self) -> None:
        view = shown(self.built)
        self.assertEqual(len(view.partings), 6)
        self.assertTrue(all(p.sections and p.sections[0].area_mm2 > 100 for p in view.partings))
        self.assertTrue(all(f.room_radius_mm > 1 for f in view.faces))


class Harbour(DemoCase):
    def test_it_is_closed_round_and_parted_so_that_all_fits(self) -> None:
        data = HARBOUR.source()
        mesh = read_file(data, "a.stl").mesh
        self.assertTrue(mesh.edges.closed)
        self.assertAlmostEqual(float(mesh.bounds[1][0] - mesh.bounds[0][0]), 425, delta=10)
        cache = COMMON
        plan = HARBOUR.worked_out(data, cache)
        self.is_shipped(HARBOUR, data, plan)
        built = build(plan, lambda _: data, cache)
        view = view_of(built)
        self.assertEqual(len(view.pieces), 8)
        self.assertTrue(all(p.fits for p in view.pieces))
        self.assertEqual([f.message for f in view.findings if f.severity != "note" and not f.accepted], [])
        before = plan.model_copy(update={"accepted": ACCEPTED_BY_0_8})
        view = view_of(build(before, lambda _: data, cache))
        self.assertEqual([f.accepted_id for f in view.findings if f.accepted], list(ACCEPTED_BY_0_8))
        self.goes_together(plan, built, cache)
        self.prints(HARBOUR.name, plan, built, cache, 6)


class Mask(DemoCase):
    def test_the_raw_file_has_one_hole_and_turned_faces_and_the_plan_makes_it_right(self) -> None:
        data = MASK.source()
        raw = read_file(data, "a.stl").mesh
        self.assertEqual(len(open_loops(raw)), 1)
        self.assertGreater(raw.edges.turned, 0)
        cache = COMMON
        plan = MASK.worked_out(data, cache)
        self.is_shipped(MASK, data, plan)
        built = build(plan, lambda _: data, cache)
        view = view_of(built)
        assert view.model is not None
        for size, wanted in zip(sorted(view.model.size_mm), (210, 320, 360), strict=True):
            self.assertAlmostEqual(size, wanted, delta=10)
        self.assertTrue(view.model.closed)
        self.assertEqual(len(view.pieces), 5)
        self.assertEqual([f.message for f in view.findings if f.severity != "note" and not f.accepted], [])
        door = next(f.label for f in view.faces if f.ref.parting == "p3")
        self.assertEqual([j.kind for j in view.joints if j.face_label == door], ["hinge", "magnet"])
        self.prints(MASK.name, plan, built, cache, 4)
        together = self.goes_together(plan, built, cache)
        self.assertIn("swing", {s.motion.kind for s in together.steps})
        self.assertEqual([o.stays_shut for o in together.opens], [True])


class Lantern(DemoCase):
    def test_thin_walls_are_joined_its_panel_slides_its_drum_turns_and_its_roof_shuts(self) -> None:
        data, cache = LANTERN.source(), COMMON
        mesh = read_file(data, "a.stl").mesh
        self.assertTrue(mesh.edges.closed)
        for size, wanted in zip(mesh.bounds[1] - mesh.bounds[0], (252, 252, 380), strict=True):
            self.assertAlmostEqual(size, wanted, delta=1)
        plan = LANTERN.worked_out(data, cache)
        self.is_shipped(LANTERN, data, plan)
        built = build(plan, lambda _: data, cache)
        view = view_of(built)
        self.assertEqual(sorted(p.name for p in view.pieces), sorted(PIECES.values()))
        self.assertEqual([f.message for f in view.findings if f.severity != "note" and not f.accepted], [])
        kinds = {j.kind for j in view.joints}
        self.assertEqual(kinds, {"splice", "pin", "lip", "bayonet", "tongue", "hinge", "magnet", "butt"})
        self.prints(LANTERN.name, plan, built, cache, 5)
        together = self.goes_together(plan, built, cache)
        moves = {s.lead: (s.motion.kind, s.motion.direction) for s in together.steps}
        self.assertEqual(moves[PANEL], ("slide", (0.0, 0.0, -1.0)))
        self.assertEqual(moves[DRUM][0], "turn")
        self.assertEqual({o.unit: o.stays_shut for o in together.opens}, {ROOF: True, DRUM: None})
        self.assertLess([s.lead for s in together.steps].index(PANEL), [s.lead for s in together.steps].index(ROOF))


class Fen(DemoCase):
    def test_every_side_of_its_tiles_meets_every_other(self) -> None:
        data = FEN.source()
        cache = COMMON
        plan = FEN.worked_out(data, cache)
        self.is_shipped(FEN, data, plan)
        built = build(plan, lambda _: data, cache)
        view = view_of(built)
        self.assertEqual((len(view.pieces), view.modules[0].table), (4, [[0] * 4] * 4))
        self.assertTrue(all(p.fits and p.size_mm[0] == p.size_mm[1] == 120 for p in view.pieces))
        self.assertEqual([f.message for f in view.findings if f.station != "model" and not f.accepted], [])
        self.goes_together(plan, built, cache)
        self.prints(FEN.name, plan, built, cache, 4)
        for key, candidates in best_rests(plan, built, OrientWish(), cache).items():  # “Orient all” finds what is kept
            cosine = float(np.dot(candidates[0].rest.down, RESTING[FEN.name][key]))
            self.assertGreater(cosine, 0.9999, key)


class SignalBox(DemoCase):
    def test_its_windows_are_one_part_seated_six_times_and_all_goes_together(self) -> None:
        data, cache = SIGNAL_BOX.source(), COMMON
        plan = SIGNAL_BOX.worked_out(data, cache)
        self.is_shipped(SIGNAL_BOX, data, plan)
        built = build_all(plan, lambda _: data, cache)
        self.assertEqual({p.plan.part_id: len(p.plan.instances) for p in built.all_parts}, COUNTS)
        self.assertEqual([one.mirrored for one in plan.working_on(STAIR).instances], [False, True])
        told = [f.code for one in check_all(built, cache).values() for f in one.findings if f.severity != "note"]
        self.assertEqual(told, [])
        for k in range(COUNTS[WINDOW]):
            pair = [standing_at(plan, p, which, lambda _: data, cache).value for p, which in ((WINDOW, k), (WALLS, 0))]
            found = play_between(*pair, 1.0)
            self.assertEqual((found.overlap_mm3, found.least_mm), (0.0, 0.0))  # it rests in its seat, and has room round it
            self.assertAlmostEqual(pair[0].moved(*(0.1 * out_of(pair[0]))).gap(pair[1], 1.0), 0.1, delta=2e-3)
        view = batches_view(batched(plan, built, cache), plan)
        pieces = [n for b in view.batches for t in b.things for n in t.pieces]
        self.assertEqual((view.left_over, len(pieces)), ([], 1 + 6 + 2 + 1 + 2 + 1 + 4 + 1))
        out, empty, told_by = parts_put_together(plan, built, cache)
        steps = assembly_view(told_by, empty, out, cache)[0].steps
        self.assertEqual({s.proof for s in steps}, {"proved"})
        self.assertEqual(len(steps), sum(COUNTS.values()))
        thrown = moving(built, cache)
        self.assertEqual((len(thrown.tried), thrown.findings), (4, ()))
        for one in thrown.tried:  # each foot in its cup, 0.2 mm all round, to the chords of both
            self.assertAlmostEqual(one.bearing.least_mm if one.bearing else 0.0, 0.2, delta=0.02)
        self.goes_together(plan.working_on(GABLE), next(p for p in built.all_parts if p.plan.part_id == GABLE), cache)


def out_of(window: Solid) -> Points:
    """The way a window comes out of the walls, (3,)."""
    x, y, _ = window.centre_of_box
    return np.array([np.sign(x), 0.0, 0.0]) if abs(x) > LONG / 2 - 3 else np.array([0.0, np.sign(y), 0.0])
