"""What single kinds of joint make of a plain face, by figures worked out beside them; no model, no build."""

import math
import unittest
from dataclasses import replace

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.geometry.text_outlines import lettered
from hinoki.core.join.contract.terms import OPENING_MM, ROOT_MM, Problem, SideName, Standing
from hinoki.core.join.joints import (
    DovetailJoint,
    FaceRef,
    HingeJoint,
    KeyJoint,
    MagnetJoint,
    PinJoint,
    ScrewJoint,
    ThreadJoint,
    TongueJoint,
)
from hinoki.core.join.keying import asymmetric
from hinoki.core.join.ladders.fit_ladder import ladder
from hinoki.core.join.sizing.hinge_sizing import _edges
from hinoki.core.join.sizing.peg_sizing import pegs
from hinoki.core.join.sizing.recommended_sizes import _rims
from hinoki.core.join.tiles.pole_jig import LETTERS_MM, MARGIN_MM, POLES, jig

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
UP = plane_frame(np.zeros(3), np.array([0.0, 0.0, 1.0]))
GAP, WALL, LINE = 0.1, 1.2, 0.45


def square(side: float, deep: float | None = None) -> MultiPolygon:
    """A rectangle about the origin."""
    half, other = side / 2, (side if deep is None else deep) / 2
    return MultiPolygon([shapely.box(-half, -other, half, other)])


def standing(shape: MultiPolygon, **more: object) -> Standing:
    """On a level face of that outline, the pieces being endless."""
    return Standing(UP, shape, GAP, WALL, LINE, **more)  # type: ignore[arg-type]


class Endless:
    """Pieces that have the outline of the face all along, B as far as `high_mm` only; its face has no other name."""

    def __init__(self, shape: MultiPolygon, high_mm: float = math.inf) -> None:
        self.shape, self.high_mm = shape, high_mm
        self.face = type("Face", (), {"ref": FACE})

    def section(self, side: SideName, depth: float) -> MultiPolygon:
        return self.shape if side == "a" or depth < self.high_mm else MultiPolygon()


def told(problems: list[Problem]) -> dict[str, str]:
    return {p.code: p.severity for p in problems}


def nothing_taken(_side: SideName, _deep: float) -> list[shapely.Geometry]:
    return []


class Pegs(unittest.TestCase):
    def test_a_low_piece_has_no_room_even_for_a_pin_of_less_than_a_millimetre(self) -> None:
        pin = PinJoint(id="j1", face=FACE, length_mm=0.9, diameter_mm=3)
        on = standing(square(60))
        for high, room in ((0.9 + 0.3 + WALL - 0.1, False), (0.9 + 0.3 + WALL + 0.1, True)):
            self.assertEqual(not pin.room(on, Endless(square(60), high), nothing_taken).is_empty, room)

    def test_up_to_20_mm_a_face_is_the_end_of_something_slender_and_gets_one_with_a_flat(self) -> None:
        for long, count, shape in ((19.8, 1, "flat"), (20.2, 2, "round")):
            on = standing(square(long, 16))
            first = next(pegs("pin")("j1", Endless(on.shape), "snug", on))  # type: ignore[arg-type]
            assert isinstance(first, PinJoint)
            self.assertEqual((first.count, first.shape), (count, shape), long)

    def test_the_one_that_is_moved_goes_no_further_than_it_must(self) -> None:
        """Two pins alike under half a turn: one of them by 1.5 mm and its clearance, not to another corner."""
        pin, on = PinJoint(id="j1", face=FACE, count=2), standing(square(60))
        before = [(-15.0, 12.0), (15.0, -12.0)]
        after = asymmetric(pin, on, before, square(50), 10.0)
        moved = [math.dist(a, b) for a, b in zip(before, after, strict=True)]
        self.assertEqual(sorted(m > 0 for m in moved), [False, True])
        self.assertLess(max(moved), 5.0)
        self.assertGreaterEqual(max(moved), 1.5)


class Sliding(unittest.TestCase):
    def test_a_tails_section_stands_square_on_its_piece_and_leans_from_the_face_on(self) -> None:
        for edge in (0.0, 0.3):
            tail = DovetailJoint(id="j1", face=FACE, neck_mm=5, head_mm=10, height_mm=3, edge_mm=edge)
            ring = tail.male_ring()
            np.testing.assert_allclose(ring[:2], [(2.5, -ROOT_MM), (2.5, 0.0)])
            np.testing.assert_allclose(ring[-2:], [(-2.5, 0.0), (-2.5, -ROOT_MM)])
            self.assertAlmostEqual(float(ring[:, 1].max()), 3.0)

    def test_the_mouth_of_a_groove_is_as_wide_beyond_the_face_as_at_its_end(self) -> None:
        on = standing(square(60))
        for side, ways in (("a", 1), ("b", -1)):
            wide = {}
            for lead in (0.0, 0.4):
                tail = DovetailJoint(id="j1", face=FACE, ends="closed", lead_mm=lead, lock_mm=0, on=side)
                cut = next(t.cut for t in tail.tools(on, [(0.0, 0.0)]).each if t.cut is not None)
                beyond = sorted((ways * 30.5, ways * 31.5))
                slab = cut.common(Solid.box([beyond[0], -50, -50], [beyond[1], 50, 50]))
                wide[lead] = float(slab.size[1])
            lean = (tail.head_mm - tail.neck_mm) / 2 / tail.height_mm  # it is deeper by the lead, too
            self.assertAlmostEqual(wide[0.4] - wide[0.0], 2 * 0.4 * (1 + lean), delta=0.01)

    def test_a_groove_narrows_towards_its_floor_as_the_ridge_does_towards_its_top(self) -> None:
        for taper in (0.0, 10.0):
            ridge = TongueJoint(id="j1", face=FACE, width_mm=4, height_mm=3, taper_deg=taper)
            lean = math.tan(math.radians(taper))
            ring = ridge.groove_ring(GAP, -OPENING_MM, 3.3)
            floor = ring[np.isclose(ring[:, 1], 3.3)]
            self.assertAlmostEqual(float(np.ptp(floor[:, 0])), 2 * (2 + GAP * math.hypot(lean, 1) - lean * 3.3), places=6)

    def test_one_alone_runs_through_the_middle_and_its_line_keeps_the_wall_at_both_sides(self) -> None:
        ridge, on = TongueJoint(id="j1", face=FACE, count=1, width_mm=4, ends="through"), standing(square(60))
        room = as_multi(ridge.eroded(on, on.shape))
        half = 30 - (2 + GAP + WALL)
        np.testing.assert_allclose(room.bounds, (-30, -half, 30, half), atol=1e-9)
        self.assertEqual(ridge.spread(room, 10.0), [(0.0, 0.0)])


class Keys(unittest.TestCase):
    def test_a_flank_of_one_in_five_is_good_and_what_hardly_leans_or_far_too_much_is_noted(self) -> None:
        on = standing(square(60))
        for end, bad in ((6.0, False), (4.6, True), (9.0, True)):
            key = KeyJoint(id="j1", face=FACE, length_mm=10, end_mm=end, waist_mm=4)
            self.assertEqual("joint-key-slope" in told(key.problems(on, [], Endless(on.shape))), bad, end)

    def test_one_let_in_from_below_lies_at_the_lowest_edge_whichever_way_the_face_is_drawn(self) -> None:
        key = KeyJoint(id="j1", face=FACE, count=1, surface="under")
        for u, v, low in (((0, 0, 1), (0, 1, 0), (-1, 0)), ((0, 0, -1), (0, -1, 0), (1, 0)), ((0, 1, 0), (0, 0, 1), (0, -1))):
            axes = np.array(u, dtype=float), np.array(v, dtype=float)
            frame = Frame(np.zeros(3), *axes, np.cross(*axes))
            on = replace(standing(square(40)), frame=frame)
            room = key.room(on, Endless(square(40)), nothing_taken)
            middle = np.array(room.centroid.coords[0])
            np.testing.assert_allclose(middle / 20, low, atol=0.02)


class Threads(unittest.TestCase):
    def test_a_chamfer_is_as_deep_as_the_thread_or_as_typed_but_leaves_most_of_a_short_one(self) -> None:
        for length, tip, chamfer in ((12, 1.0, 1.0), (2.5, 2.0, 1.0), (12, 0.0, 0.0)):
            thread = ThreadJoint(id="j1", face=FACE, diameter_mm=24, pitch_mm=3, length_mm=length, tip_mm=tip)
            self.assertAlmostEqual(thread.chamfer_mm, chamfer)
        own = ThreadJoint(id="j1", face=FACE, diameter_mm=24, pitch_mm=3, length_mm=12)
        self.assertAlmostEqual(own.chamfer_mm, own.deep_mm)

    def test_a_ring_thinner_than_the_least_wall_is_told_with_what_is_left(self) -> None:
        on = standing(square(60))
        thread = ThreadJoint(id="j1", face=FACE, diameter_mm=40, pitch_mm=3, length_mm=20)
        most = thread.minor_mm - 2 * GAP - 2 * WALL
        for bore, thin in ((0.0, False), (most - 0.2, False), (most + 0.2, True)):
            ring = thread.model_copy(update={"bore_mm": bore})
            found = {p.code: p.params for p in ring.problems(on, [(0.0, 0.0)], Endless(on.shape))}
            self.assertEqual("thread-thin-ring" in found, thin, bore)
            if thin:
                self.assertAlmostEqual(float(found["thread-thin-ring"]["ring_mm"]), WALL - 0.1)  # type: ignore[arg-type]


class Bought(unittest.TestCase):
    def test_a_block_takes_its_length_by_its_width_of_the_face(self) -> None:
        block = MagnetJoint(id="j1", face=FACE, shape="block", diameter_mm=10, width_mm=4, thick_mm=2)
        self.assertEqual(block.footprint(standing(square(60)), (3.0, 5.0)).bounds, (-2.0, 3.0, 8.0, 7.0))

    def test_a_countersunk_head_is_a_cone_of_45_degrees_down_from_its_upper_end(self) -> None:
        screw = ScrewJoint(id="j1", face=FACE, size="M4", head="countersunk", on="b", into="pilot")
        thick = 20.0
        on = replace(standing(square(60)), through=lambda _side, _place, _way: thick)
        (body,) = screw.bought(on, [(0.0, 0.0)])
        at = screw.driven(on, (0.0, 0.0))
        grip, wide = at.grip_mm, screw.headed.diameter_mm
        for below, across in ((0.05, wide - 0.1), ((wide - 4) / 4, wide - (wide - 4) / 2), ((wide - 4) / 2 + 1, 4.0)):
            (section,) = body.solid.slice(grip - below).geoms
            low_x, _, high_x, _ = section.bounds
            self.assertAlmostEqual(high_x - low_x, across, delta=0.05)

    def test_a_pole_jig_is_as_long_as_its_words_and_as_wide_and_high_as_its_magnet_needs(self) -> None:
        words = sum(w.bounds[2] - w.bounds[0] for w in (lettered(f"{pole} this side", LETTERS_MM) for pole in POLES))
        thin = jig(MagnetJoint(id="j1", face=FACE, diameter_mm=6, thick_mm=2), GAP)
        self.assertAlmostEqual(float(thin.size[0]), words + 3 * MARGIN_MM, places=3)
        np.testing.assert_allclose(thin.size[1:], (12.0, 6 + 2 * (GAP + 2)), atol=1e-6)
        long = jig(MagnetJoint(id="j1", face=FACE, diameter_mm=6, thick_mm=50), GAP)
        self.assertAlmostEqual(float(long.size[0]), 2 * 50 + 20, places=3)
        block = jig(MagnetJoint(id="j1", face=FACE, shape="block", diameter_mm=20, width_mm=8, thick_mm=3), GAP)
        np.testing.assert_allclose(block.size[1:], (20 + 2 * (GAP + 2), 8 + 2 * (GAP + 2)), atol=1e-6)


class Hinges(unittest.TestCase):
    def test_at_the_side_of_a_hatch_it_goes_in_as_the_hatch_does(self) -> None:
        hinge = HingeJoint(id="j1", face=FACE)
        self.assertEqual(hinge.motions(standing(square(60))), ((0.0, 0.0, -1.0),))
        sideways = standing(square(60), off=np.array([0.0, 1.0, 0.0]))
        self.assertEqual(hinge.motions(sideways), ((0.0, -1.0, 0.0),))

    def test_every_long_strip_is_tried_once(self) -> None:
        strips = shapely.union_all([shapely.box(-20, 10, 20, 10.1), shapely.box(-15, -10, 15, -9.9)])
        first = (0.0, 10.05)
        self.assertEqual(list(_edges(first, strips)), [first, (0.0, -9.95)])
        self.assertEqual(list(_edges((9.0, 10.05), strips)), [(9.0, 10.05), first, (0.0, -9.95)])


class Rims(unittest.TestCase):
    def test_along_the_inner_side_half_of_what_is_to_spare_then_all_of_it_then_none(self) -> None:
        ring = shapely.Point(0, 0).buffer(40, quad_segs=64).difference(shapely.Point(0, 0).buffer(37.6, quad_segs=64))
        half = as_multi(ring.intersection(shapely.box(-50, 0, 50, 50)))
        wall, least, side = 2.4, 2 * LINE, 2 * LINE + GAP
        inner = [rim["thickness_mm"] for _, rim in _rims(standing(half)) if rim["runs"] == "inner"]
        spare = wall - least - side
        for thick, wanted in zip(inner, (least + spare / 2, least + spare, least), strict=True):
            self.assertAlmostEqual(thick, wanted, delta=0.06)  # in steps of a twentieth


class Ladders(unittest.TestCase):
    def test_what_serves_all_rungs_says_so(self) -> None:
        rungs = {piece.name: piece.rungs for piece in ladder(PinJoint(id="j1", face=FACE), (0.05, 0.1, 0.2), WALL, LINE).pieces}
        self.assertEqual(rungs["plug, for all"], (1, 2, 3))
        self.assertEqual(sorted(r for name, r in rungs.items() if "for all" not in name), [(1,), (2,), (3,)])


if __name__ == "__main__":
    unittest.main()
