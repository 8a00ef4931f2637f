"""Pieces that would stand on a point are parted once more; those that stand, and those in resin, are not."""

import unittest

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import WHOLE, Part
from hinoki.core.geometry.solid import Solid
from hinoki.core.progress import quiet
from hinoki.core.propose import Proposals, Wishes, propose, prove
from hinoki.core.propose.feet import footless, with_feet
from hinoki.core.propose.search.constraints import Heed, Kept
from hinoki.core.workshop.printers import Printer
from tests.shapes import box, ellipsoid, plan_for, stl_of

BED = Printer(bed_mm=(220, 220), height_mm=250)
SHELL = ellipsoid(60, 80, 70, 40).minus([ellipsoid(57, 77, 67, 40), Solid.box([-99, -99, -99], [99, 99, 20])])
"""a bowl upside down whose rim is level"""
POD = ellipsoid(30, 40, 70, 40)
"""touches the bed in a facet of less than 4 mm² whichever way it lies"""


def proposals(solid: Solid, **printer: object) -> Proposals:
    data = stl_of(solid)
    plan = plan_for(data)
    plan = plan.model_copy(update={"printer": plan.printer.model_copy(update=printer)})
    return propose(plan, lambda _: data, Cache(), Wishes(), quiet)


class Feet(unittest.TestCase):
    def test_what_fits_but_stands_on_a_point_is_proposed_in_parts_that_stand_and_as_it_is(self) -> None:
        found = proposals(POD)
        self.assertEqual([p.figures.pieces for p in found.proposals], [2, 1])
        self.assertEqual([f.code for f in found.remarks], ["proposals-feet"])
        self.assertEqual([f.code for f in proposals(SHELL).remarks], ["proposals-as-it-is"])

    def test_in_resin_it_hangs_from_supports_and_stays_whole(self) -> None:
        self.assertEqual([p.figures.pieces for p in proposals(POD, process="resin").proposals], [1])

    def test_it_is_cut_where_the_seam_is_shortest_and_every_part_stands(self) -> None:
        whole = Part(WHOLE, POD, "pod")
        self.assertEqual(footless([whole], lambda _: BED, Cache()), [whole])
        parts, added = with_feet([whole], 1, lambda _: BED, Heed(), True, Cache())
        self.assertEqual([p.label() for p in added], ["Flat · Z 0.0"])
        self.assertEqual(footless(parts, lambda _: BED, Cache()), [])

    def test_a_plane_does_not_cross_what_is_to_stay_whole(self) -> None:
        band = np.array([[x, y, z] for x in (-30.0, 30) for y in (-40.0, 40) for z in (-10.0, 10)])
        parts, added = with_feet([Part(WHOLE, POD, "pod")], 1, lambda _: BED, Heed([Kept("m1", band)]), True, Cache())
        self.assertEqual(len(parts), 2)
        self.assertGreater(abs(added[0].frame.offset), 10)  # type: ignore[attr-defined]

    def test_parts_that_stand_are_left_and_names_go_on(self) -> None:
        block, pod = Part("p1-", box(40, 40, 40), "block"), Part("p1+", POD.moved(0, 0, 200), "pod")
        parts, added = with_feet([block, pod], 4, lambda _: BED, Heed(), False, Cache())
        self.assertEqual([(p.id, p.only) for p in added], [("p4", ("p1+",))])
        self.assertEqual(len(parts), 3)
        self.assertIn("p1-", {p.key for p in parts})

    def test_what_was_taken_as_it_is_stays_so_when_it_is_proved(self) -> None:
        data = stl_of(POD)
        plan = plan_for(data)
        whole = propose(plan, lambda _: data, Cache(), Wishes(), quiet).proposals[1]
        self.assertEqual(whole.partings, ())
        self.assertEqual(prove(plan, lambda _: data, Cache(), Wishes(), whole, quiet).figures.pieces, 1)
