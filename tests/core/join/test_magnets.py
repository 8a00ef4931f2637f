"""Magnets: pockets, skins and pauses, poles that allow one way only, pull, and what is to be bought."""

import csv
import io
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from hinoki.core.build import Build
from hinoki.core.findings import Params
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.clearance import measured_clearance
from hinoki.core.join.joints import FaceRef, Joint, MagnetJoint, PinJoint
from hinoki.core.propose.recommend_joints import SuitWish, suited
from hinoki.core.workshop.fits import Fits
from hinoki.core.workshop.hardware import Hardware, added_up, magnets, spares_of
from tests.checked import files_of, findings_of
from tests.effort import tried
from tests.shapes import box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
BLOCK = box(60, 60, 60)


def joined(*joints: Joint, solid: Solid = BLOCK, at: float = 30, **more: object) -> Build:
    data = stl_of(solid)
    return built(data, plan_for(data, level(1, at), joints=joints, **more))


def magnet(**more: object) -> MagnetJoint:
    return MagnetJoint(id="j1", face=FACE, **more)  # type: ignore[arg-type]


def found(result: Build, code: str) -> list[Params]:
    """The figures of all findings of a code."""
    return [f.params for f in findings_of(result) if f.code == code]


class Layers(unittest.TestCase):
    def test_across_every_gap_unlike_poles_look_at_each_other(self) -> None:
        """The halves of both magnets of a pair that lie next to the face, by their distance from it."""
        for poles in (None, ("s",), ("n", "s")):
            result = joined(magnet(count=2, poles=poles))
            (placed,) = result.placed
            near: dict[tuple[str, int], tuple[float, str]] = {}
            for half in placed.joint.bought(placed.standing, placed.places):
                middle = half.solid.placed(half.matrix).centre_of_box
                place = int(
                    np.argmin(np.linalg.norm(np.array(placed.places) - placed.standing.frame.flat(middle[None]), axis=1))
                )
                key, away = (half.side, place), abs(float(placed.standing.frame.heights(middle[None])[0]))
                near[key] = min(near.get(key, (np.inf, "")), (away, half.tone))
            for place in range(2):
                with self.subTest(poles=poles, place=place):
                    self.assertEqual({near["a", place][1], near["b", place][1]}, {"n", "s"})
                    self.assertEqual(near["a", place][1], placed.poles[place])

    def test_a_skin_is_whole_layers_or_the_fix_makes_it_so(self) -> None:
        self.assertEqual(found(joined(magnet(held="laid in", skin_mm=0.6)), "magnet-layers"), [])
        result = joined(magnet(held="laid in", skin_mm=0.7))
        (finding,) = (f for f in findings_of(result) if f.code == "magnet-layers")
        self.assertAlmostEqual(finding.params["layers"], 3.5)  # type: ignore[arg-type]
        self.assertEqual(finding.params["layer_mm"], 0.2)
        assert finding.fixes[0].joint is not None
        self.assertIn(finding.fixes[0].joint["skin_mm"], (0.6, 0.8))


class Pockets(unittest.TestCase):
    @tried(8)
    @given(
        shape=st.sampled_from(["disc", "ring", "block"]), diameter_mm=st.floats(4, 12), width_mm=st.floats(3, 10),
        thick_mm=st.floats(1, 5), skin_mm=st.sampled_from([0.0, 0.4, 0.8]), count=st.integers(1, 4),
        clearance=st.floats(0.03, 0.3),
    )  # fmt: skip
    def test_any_magnet_has_its_clearance_all_round(self, clearance: float, **more: object) -> None:
        result = joined(magnet(held="laid in", **more), fits=Fits(snug=clearance))
        pieces = {p.key: p.solid for p in result.parts}
        placed = result.placed[0]
        self.assertEqual(len(placed.places), more["count"])
        gap = measured_clearance(placed, pieces)
        assert gap is not None
        self.assertAlmostEqual(gap, clearance, delta=0.01)
        for side in pieces.values():
            self.assertEqual(side.size.round(6).tolist(), [60, 60, 30])

    def test_a_pocket_takes_the_magnets_volume_and_its_space(self) -> None:
        result = joined(magnet(count=1, shape="block", diameter_mm=10, width_mm=5, thick_mm=2))
        for part in result.parts:
            self.assertAlmostEqual(60 * 60 * 30 - part.solid.volume_mm3, 10.2 * 5.2 * 2.2, delta=1e-3)

    def test_a_skin_closes_the_pocket_and_printing_pauses_to_fill_it(self) -> None:
        """The lower piece lies on its bottom: pocket from 26.4 to 29.6 mm, so the layer above 29.6 closes it."""
        skinned = magnet(count=2, thick_mm=3, skin_mm=0.4)
        self.assertTrue(found(joined(skinned), "magnet-closed"))
        result = joined(skinned.model_copy(update={"held": "laid in"}))
        self.assertEqual(found(result, "magnet-closed"), [])
        notes = found(result, "magnet-pause")
        self.assertEqual(len(notes), 2)
        (low,) = (f for f in findings_of(result) if f.code == "magnet-pause" and f.piece == 1)
        self.assertEqual((low.params["case"], low.params["layer"]), ("up", 149))
        self.assertAlmostEqual(low.params["at_mm"], 29.6)  # type: ignore[arg-type]

    def test_thicker_than_the_piece_is_a_finding(self) -> None:
        result = joined(magnet(count=1, diameter_mm=10, thick_mm=5, places=((0, 0),)), solid=box(40, 40, 8), at=4)
        self.assertTrue(found(result, "joint-breaks-through") or found(result, "joint-thin-wall"))

    def test_a_ring_without_a_rim_is_refused(self) -> None:
        with self.assertRaisesRegex(ValidationError, "hole of a ring"):
            magnet(shape="ring", diameter_mm=6, hole_mm=6)

    def test_what_suits_a_face_leaves_the_walls_and_is_on_sale(self) -> None:
        data = stl_of(BLOCK)
        plan = plan_for(data, level(1, 30))
        joint = suited(built(data, plan), plan, SuitWish(kind="magnet")).joints[0]
        assert isinstance(joint, MagnetJoint)
        self.assertIn(joint.magnet.name, {m.name for m in magnets()})
        self.assertEqual([f.severity for f in findings_of(joined(joint)) if f.severity == "must-fix"], [])
        smaller = joint.smaller()
        assert smaller is not None
        self.assertLess(smaller.diameter_mm, joint.diameter_mm)


class Poles(unittest.TestCase):
    def test_like_poles_allow_every_turn_of_the_pattern(self) -> None:
        corners = ((-18.0, -18.0), (18.0, -18.0), (18.0, 18.0), (-18.0, 18.0))
        (figures,) = found(joined(magnet(count=4, places=corners)), "turned-assembly")
        self.assertEqual([round(a) for a in figures["angles_deg"]], [90, 180, 270])  # type: ignore[union-attr, arg-type]

    def test_only_one_way_chooses_poles_that_no_turn_brings_onto_themselves(self) -> None:
        corners = ((-18.0, -18.0), (18.0, -18.0), (18.0, 18.0), (-18.0, 18.0))
        result = joined(magnet(count=4, places=corners, one_way=True))
        poles = list(result.placed[0].poles)
        self.assertEqual(found(result, "turned-assembly"), [])
        for turn in (1, 2, 3):
            self.assertNotEqual(poles, poles[turn:] + poles[:turn])

    def test_typed_poles_stay_and_may_allow_a_turn(self) -> None:
        corners = ((-18.0, -18.0), (18.0, -18.0), (18.0, 18.0), (-18.0, 18.0))
        result = joined(magnet(count=4, places=corners, poles=("n", "s", "n", "s")))
        self.assertEqual(list(result.placed[0].poles), ["n", "s", "n", "s"])
        self.assertEqual([round(a) for a in found(result, "turned-assembly")[0]["angles_deg"]], [180])  # type: ignore[union-attr, arg-type]

    def test_magnets_and_pins_go_together(self) -> None:
        pins = PinJoint(id="j2", face=FACE, count=1, places=((20, 20),))
        self.assertEqual(found(joined(magnet(count=1), pins), "motions-at-odds"), [])


class Pull(unittest.TestCase):
    def test_small_magnets_do_not_hold_a_heavy_piece(self) -> None:
        weak = joined(magnet(count=1, diameter_mm=4, thick_mm=2, skin_mm=1.0, held="laid in"))
        figures = found(weak, "magnet-weak")[0]
        self.assertAlmostEqual(figures["weight_n"], 1.3, delta=0.05)  # type: ignore[arg-type]
        self.assertLess(figures["pull_n"], 2 * figures["weight_n"])  # type: ignore[operator]
        self.assertEqual(found(joined(magnet(count=2, diameter_mm=12.7, thick_mm=3.2)), "magnet-weak"), [])

    def test_it_falls_with_the_gap_and_never_passes_its_bound(self) -> None:
        for one in magnets():
            pulls = [one.pull_n(gap) for gap in (0.0, 0.2, 0.5, 1.0, 2.0, 5.0)]
            self.assertEqual(pulls, sorted(pulls, reverse=True))
            self.assertLess(pulls[0], one.most_pull_n())


class Bought(unittest.TestCase):
    def test_equal_things_are_added_up_with_spares(self) -> None:
        items = added_up(
            [Hardware("magnet", 4), Hardware("rod 4", 1, 120.0), Hardware("magnet", 8), Hardware("rod 4", 1, 90.0)]
        )
        self.assertEqual(
            [(i.name, i.count, i.length_mm) for i in items], [("magnet", 12, None), ("rod 4", 1, 90), ("rod 4", 1, 120)]
        )
        self.assertEqual([spares_of(i) for i in items], [2, 0, 0])

    def test_the_list_is_in_the_view_the_report_and_a_table(self) -> None:
        data = stl_of(BLOCK)
        plan = plan_for(data, level(1, 30), joints=(magnet(count=3, diameter_mm=10, thick_mm=3),))
        result = built(data, plan)
        names = [(h.name, h.count) for h in result.hardware]
        self.assertEqual(names, [("glue point", 6), ("magnet disc 10 × 3", 6)])
        files = files_of(result)
        rows = list(csv.reader(io.StringIO(files["hardware.csv"].decode())))
        self.assertEqual(rows[2], ["magnet disc 10 × 3", "6", "1", ""])
        np.testing.assert_equal(len(rows), 3)


if __name__ == "__main__":
    unittest.main()
