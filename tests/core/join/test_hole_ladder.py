"""Hole ladders: plates of stepped bores for things that are there already; and the pole jig."""

import math
import unittest

import numpy as np
import shapely

from hinoki.core.errors import BadPlan
from hinoki.core.geometry.solid import Solid
from hinoki.core.geometry.text_outlines import lettered
from hinoki.core.join.joints import FaceRef, MagnetJoint, PinJoint, ScrewJoint
from hinoki.core.join.ladders.fit_ladder import clearances, ladder, least_for
from hinoki.core.join.ladders.hole_ladder import FLOOR_MM, Hole, HoleShape, hole_of
from hinoki.core.join.tiles.pole_jig import jig
from hinoki.core.plan.tile_set import ModuleSet
from hinoki.core.workshop.hardware import Hardware
from hinoki.core.workshop.inventory import StockItem, ToBuy, rods_on_sale, to_buy
from tests.shapes import across, box, built, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
STEPS = (-0.1, 0.0, 0.1, 0.2)


def holes(shape: HoleShape, **more: object) -> list[shapely.Polygon]:
    """The holes of a plate at half their depth, from left to right."""
    made = ladder(Hole(shape=shape, size_mm=10, deep_mm=5, **more), STEPS, 1.6, 0.45)  # type: ignore[arg-type]
    (piece,) = made.pieces
    (whole,) = piece.solid.slice(FLOOR_MM + 2.5).geoms
    return holes_of(whole)


def holes_of(whole: shapely.Polygon) -> list[shapely.Polygon]:
    return sorted((shapely.Polygon(r) for r in whole.interiors), key=lambda r: r.centroid.x)


class Plates(unittest.TestCase):
    def test_each_hole_is_wider_than_the_thing_by_its_clearance_on_each_side(self) -> None:
        for hole, step in zip(holes("round"), STEPS, strict=True):
            # drawn around the circle: across its flats it is as wide as asked
            self.assertAlmostEqual(2 * hole.exterior.distance(hole.centroid), 10 + 2 * step, delta=1e-3)
            self.assertAlmostEqual(hole.area, math.pi / 4 * (10 + 2 * step) ** 2, delta=0.2)
        for hole, step in zip(holes("hexagon"), STEPS, strict=True):
            self.assertAlmostEqual(hole.area, math.sqrt(3) / 2 * (10 + 2 * step) ** 2, delta=1e-3)
        for hole, step in zip(holes("square", width_mm=6), STEPS, strict=True):
            self.assertAlmostEqual(hole.area, (10 + 2 * step) * (6 + 2 * step), delta=1e-3)

    def test_they_are_named_by_their_size_and_a_wall_is_left_round_all_of_them(self) -> None:
        self.assertEqual(Hole(size_mm=22).label(), "hole for a bearing ø22, 7 deep")
        self.assertEqual(Hole(shape="square", size_mm=10, width_mm=6).label(), "hole for a bearing 10 × 6, 7 deep")
        self.assertEqual(Hole(shape="square", size_mm=10).label(), "hole for a bearing 10, 7 deep")
        self.assertEqual(Hole(size_mm=10, width_mm=6).label(), "hole for a bearing ø10, 7 deep")
        made = ladder(Hole(size_mm=10, deep_mm=5), STEPS, 3.0, 0.45)
        (whole,) = made.pieces[0].solid.slice(FLOOR_MM + 2.5).geoms
        outline = shapely.Polygon(whole.exterior).exterior
        for hole in holes_of(whole):
            self.assertGreaterEqual(hole.distance(outline), 3.0)

    def test_a_tool_goes_right_through_and_what_stays_in_has_a_floor(self) -> None:
        for thing, floor in (("tool", False), ("bearing", True)):
            made = ladder(Hole(thing=thing, size_mm=8, deep_mm=7), STEPS, 1.6, 0.45)  # type: ignore[arg-type]
            (whole,) = made.pieces[0].solid.slice(0.5).geoms
            self.assertEqual(len(whole.interiors), 0 if floor else len(STEPS))

    def test_joints_with_something_bought_are_tried_as_holes(self) -> None:
        magnet = MagnetJoint(id="j1", face=FACE, diameter_mm=12.7, thick_mm=3.2)
        self.assertEqual(hole_of(magnet), Hole(thing="magnet", size_mm=12.7, deep_mm=3.2))
        screw = ScrewJoint(id="j1", face=FACE, size="M3")
        found = hole_of(screw)
        assert found is not None
        assert screw.insert is not None
        self.assertEqual((found.thing, found.size_mm), ("insert", screw.insert.bore_mm))
        self.assertIsNone(hole_of(PinJoint(id="j1", face=FACE)))
        self.assertEqual(len(ladder(magnet, STEPS, 1.6, 0.45).pieces), 1)

    def test_bores_smaller_than_the_thing_are_for_holes_only(self) -> None:
        screw = ScrewJoint(id="j1", face=FACE, size="M3")
        self.assertEqual(clearances(-0.2, 0.2, 5, least_for(screw))[0], -0.2)
        with self.assertRaises(BadPlan):
            clearances(-0.2, 0.2, 5, least_for(PinJoint(id="j1", face=FACE)))
        with self.assertRaises(BadPlan):
            ladder(ScrewJoint(id="j1", face=FACE, into="nut"), STEPS, 1.6, 0.45)

    def test_plates_are_one_closed_body_that_stands_on_the_bed(self) -> None:
        for size in (2.0, 22.0):
            made = ladder(Hole(size_mm=size), STEPS, 1.6, 0.45)
            (piece,) = made.pieces
            self.assertEqual((len(piece.solid.lumps()), round(float(piece.solid.bounds[0][2]), 6)), (1, 0))
            self.assertEqual(piece.rungs, (1, 2, 3, 4))
            self.assertIn("hole for a bearing", made.label)


class Jigs(unittest.TestCase):
    def test_both_ends_hold_a_magnet_flush(self) -> None:
        for joint in (
            MagnetJoint(id="j1", face=FACE, diameter_mm=8, thick_mm=3),
            MagnetJoint(id="j1", face=FACE, shape="block", diameter_mm=20, width_mm=6, thick_mm=2),
        ):
            body = jig(joint, 0.1)
            self.assertEqual(len(body.lumps()), 1)
            low, high = body.bounds
            for end, way in ((low, 1.0), (high, -1.0)):
                x0, x1 = sorted((float(end[0]), float(end[0]) + way * joint.thick_mm))
                half_y = joint.diameter_mm / 2 if joint.shape == "block" else 0.7 * joint.diameter_mm / 2
                half_z = joint.width_mm / 2 if joint.shape == "block" else half_y
                middle = float(high[2]) / 2
                magnet = np.array([x0, -half_y, middle - half_z]), np.array([x1, half_y, middle + half_z])
                self.assertAlmostEqual(body.common(Solid.box(*(m.tolist() for m in magnet))).volume_mm3, 0, delta=1e-6)

    def test_modules_come_with_one_and_its_two_magnets(self) -> None:
        data = stl_of(box(120, 120, 20))
        plan = plan_for(data, across(1, "x", 0), across(2, "y", 0), modules=(ModuleSet(id="m1", jig=True),))
        result = built(data, plan)
        self.assertEqual([(x.name, x.count, len(x.seats)) for x in result.loose], [("pole jig for magnet disc 6 × 3", 1, 0)])
        self.assertIn(("magnet disc 6 × 3", 34), [(h.name, h.count) for h in result.hardware])

    def test_all_letters_of_its_words_have_an_outline(self) -> None:
        dotted = lettered("i", 5.0)
        self.assertEqual(len(dotted.geoms), 2)
        for letter in "NSthide":
            self.assertGreater(lettered(letter, 5.0).area, 1.0, letter)


class Drawer(unittest.TestCase):
    def test_what_the_drawer_lacks_is_to_be_bought(self) -> None:
        needed = [Hardware("magnet disc 6 × 3", 32), Hardware("rod ø4, steel", 1, 90.0), Hardware("rod ø4, steel", 2, 60.0)]
        stock = {
            "magnet disc 6 × 3": StockItem(name="magnet disc 6 × 3", count=20),
            "rod ø4, steel": StockItem(name="rod ø4, steel", length_mm=150),
        }
        self.assertEqual(to_buy(needed, stock), [ToBuy("magnet disc 6 × 3", 16), ToBuy("rod ø4, steel", 0, 60.0)])
        full = {"magnet disc 6 × 3": StockItem(name="magnet disc 6 × 3", count=500)}
        self.assertEqual(to_buy(needed[:1], full), [ToBuy("magnet disc 6 × 3", 0)])

    def test_rods_on_sale_have_names_of_the_hardware_list(self) -> None:
        names = dict(rods_on_sale())
        self.assertEqual(names["rod ø3, steel"], {"shape": "round", "diameter_mm": 3.0, "of": "steel"})
        self.assertIn("square rod □5, wood", names)
