"""Modules: pole patterns proved by trying all pairs, and their magnets in the sides of pieces."""

import itertools
import unittest

import numpy as np

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.tiles.polarity import Side, meets, pattern, sample_field, turned_to_hold, turns_between
from hinoki.core.join.tiles.tiles import all_modules
from hinoki.core.plan.tile_set import ModuleSet
from tests.checked import findings_of
from tests.shapes import across, box, built, plan_for, stl_of


def regular(sides: int, wide: float, high: float = 20.0) -> Solid:
    """An upright prism with sides of one width, one of them looking along −Y."""
    turn = 2 * np.pi * np.arange(sides) / sides - np.pi / 2 - np.pi / sides
    return Solid.drawn_ring(wide / (2 * np.sin(np.pi / sides)) * np.column_stack([np.cos(turn), np.sin(turn)]), 0, high)


def field(wanted: ModuleSet, solid: Solid | None = None) -> Build:
    """Four square tiles of 60 mm."""
    data = stl_of(solid or box(120, 120, 20))
    return built(data, plan_for(data, across(1, "x", 0), across(2, "y", 0), modules=(wanted,)))


def held_in_space(result: Build) -> tuple[int, int]:
    """How many magnets of different pieces look at each other across a seam, and how many of those pull: told by where their
    pockets are in space, not by the table."""
    plan = plan_for(b"", across(1, "x", 0))
    (sets,) = result.modules
    placed = []
    wanted = ModuleSet(id="m1", a_side=2 if len(sets.pattern[0]) == 2 else 1)
    for one in all_modules(plan.model_copy(update={"modules": (wanted,)}), result.before, Cache()):
        for module in one.each:
            count = len(module.sides)
            for k, side in enumerate(module.sides):
                for x, z, pole in one.pattern[(k - module.turned) % count]:
                    placed.append((side.frame.world(np.array([[x, z]]))[0], side.frame.n, pole))
    facing = [(p, q) for p, q in itertools.combinations(placed, 2) if np.linalg.norm(p[0] - q[0]) < 0.1 and p[1] @ q[1] < -0.99]
    return len(facing), sum(p[2] != q[2] for p, q in facing)


class Patterns(unittest.TestCase):
    def test_two_a_side_every_side_meets_every_side(self) -> None:
        for count in (3, 4, 5, 6):
            sides = pattern(count, 2, 20, 8)
            pairs = list(itertools.product(sides, sides))
            self.assertEqual((len(pairs), sum(meets(a, b) for a, b in pairs)), (count**2, count**2))
            self.assertEqual(turns_between(sides), [[0] * count] * count)

    def test_one_a_side_any_two_modules_meet_after_a_turn(self) -> None:
        # common practice: poles alternate around a module's sides so that any two can meet by turning one
        for count in (3, 4, 5, 6):
            sides = pattern(count, 1, 20, 8)
            for (i, one), (j, other) in itertools.product(enumerate(sides), enumerate(sides)):
                turn = turns_between(sides)[i][j]
                assert turn is not None
                self.assertTrue(meets(one, sides[(j + turn) % count]))
                self.assertEqual(turn == 0, meets(one, other))
                self.assertLessEqual(abs(turn), 1)

    def test_all_alike_on_one_and_the_opposite_on_the_next_does_not_work(self) -> None:
        # common practice: such modules never meet their own kind
        north: list[Side] = [((0.0, 8.0, "n"),)] * 4
        self.assertEqual(turns_between(north), [[None] * 4] * 4)
        found = sample_field(4)
        assert found is not None
        self.assertIsNone(turned_to_hold(north, *found))

    def test_half_inch_magnets_on_six_sides_lie_alike_in_a_field(self) -> None:
        # common practice: half-inch discs, poles alternating; opposite sides of a hexagon then differ
        found = sample_field(6)
        assert found is not None
        self.assertEqual(turned_to_hold(pattern(6, 1, 0, 8), *found), [0] * 7)

    def test_fields_of_squares_turn_every_second_one_and_triangles_cannot(self) -> None:
        squares, triangles = sample_field(4), sample_field(3)
        assert squares is not None
        assert triangles is not None
        turns = turned_to_hold(pattern(4, 1, 0, 8), *squares)
        self.assertEqual(turns, [(x + y) % 2 for x in range(4) for y in range(4)])
        # of every triangle two sides are N and one S, so N cannot find S all over
        self.assertIsNone(turned_to_hold(pattern(3, 1, 0, 8), *triangles))
        self.assertIsNotNone(turned_to_hold(pattern(3, 2, 20, 8), *triangles))
        self.assertEqual((triangles[0], len(triangles[1])), (16, 18))

    def test_magnets_at_other_heights_or_places_do_not_meet(self) -> None:
        one: Side = ((-5.0, 8.0, "n"), (5.0, 8.0, "s"))
        self.assertTrue(meets(one, one))
        self.assertFalse(meets(one, ((-5.0, 9.0, "n"), (5.0, 9.0, "s"))))
        self.assertFalse(meets(one, ((-6.0, 8.0, "n"), (6.0, 8.0, "s"))))
        self.assertFalse(meets(one, ((-5.0, 8.0, "s"), (5.0, 8.0, "n"))[:1]))


class Tiles(unittest.TestCase):
    def test_all_sides_of_all_tiles_have_their_pockets(self) -> None:
        result = field(ModuleSet(id="m1", diameter_mm=8, thick_mm=3))
        for part, before in zip(result.parts, result.before, strict=True):
            lost = before.solid.volume_mm3 - part.solid.volume_mm3
            self.assertAlmostEqual(lost, 8 * np.pi * 4.1**2 * 3.2, delta=0.01 * lost)
            self.assertEqual(part.solid.size.round(6).tolist(), [60, 60, 20])
        self.assertEqual([(h.name, h.count) for h in result.hardware], [("glue point", 32), ("magnet disc 8 × 3", 32)])
        self.assertEqual([f.code for f in findings_of(result)], [])

    def test_neighbours_pull_as_they_stand(self) -> None:
        for a_side, facing in ((1, 4), (2, 8)):
            result = field(ModuleSet(id="m1", a_side=a_side))  # type: ignore[arg-type]
            self.assertEqual(held_in_space(result), (facing, facing))
            self.assertTrue(result.modules[0].as_it_stands)

    def test_three_five_and_six_sides_are_found(self) -> None:
        for count in (3, 5, 6):
            data = stl_of(regular(count, 50))
            result = built(data, plan_for(data, modules=(ModuleSet(id="m1"),)))
            self.assertEqual(result.modules[0].many, count)
            self.assertEqual(len(turns_between(result.modules[0].pattern)), count)
            self.assertEqual([f.code for f in findings_of(result)], [])

    def test_a_house_on_a_tile_has_no_sides_of_its_own(self) -> None:
        tile = box(60, 60, 20).plus([Solid.box([-12, -12, 19], [12, 12, 40])])
        data = stl_of(tile)
        result = built(data, plan_for(data, modules=(ModuleSet(id="m1"),)))
        (sets,) = result.modules
        self.assertEqual((sets.many, sets.pattern[0][0][1]), (4, 10))


class Bad(unittest.TestCase):
    def codes(self, result: Build) -> list[str]:
        return sorted({f.code for f in findings_of(result) if f.code.startswith("module")})

    def test_a_round_piece_has_no_sides(self) -> None:
        data = stl_of(Solid.cylinder(30, 0, 20))
        result = built(data, plan_for(data, modules=(ModuleSet(id="m1"),)))
        self.assertEqual(self.codes(result), ["module-no-sides"])
        self.assertTrue(result.parts[0].solid.volume_mm3 > 0)

    def test_a_magnet_longer_than_the_module_is_high(self) -> None:
        self.assertEqual(self.codes(field(ModuleSet(id="m1", diameter_mm=19))), ["module-wall"])
        self.assertIn("module-wall", self.codes(field(ModuleSet(id="m1", diameter_mm=50))))
        self.assertEqual(self.codes(field(ModuleSet(id="m1", diameter_mm=80))), ["module-no-sides"])

    def test_magnets_that_meet_at_a_corner(self) -> None:
        found = self.codes(field(ModuleSet(id="m1", apart_mm=50, thick_mm=8)))
        self.assertIn("module-corner", found)

    def test_pieces_with_other_sides_are_told(self) -> None:
        _, cut = box(120, 120, 20).halves(plane_frame(np.array([-45.0, -45, 0]), np.array([-1.0, -1, 0])))
        self.assertIn("module-differs", self.codes(field(ModuleSet(id="m1"), cut)))

    def test_modules_that_are_gone_wait(self) -> None:
        result = field(ModuleSet(id="m1", pieces=("gone",)))
        self.assertEqual(self.codes(result), ["module-no-pieces"])
        self.assertEqual(result.hardware, [])
