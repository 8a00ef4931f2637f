"""Folding doors: two leaves on hinges and a round runner, tried as the linkage they are."""

import math
import unittest

import numpy as np

from hinoki.core.build import Build
from hinoki.core.join.opening.folds import folds_of
from tests.assembling import assembly, proofs
from tests.checked import findings_of
from tests.doors import HIGH, LEAF, WALL, folding_plan
from tests.shapes import built


def door(right_jamb: float = 0.0, travel_mm: float = 90.0) -> Build:
    """The same, made."""
    return built(*folding_plan(right_jamb, travel_mm))


class Folds(unittest.TestCase):
    def test_two_leaves_and_a_guide_are_a_folding_door(self) -> None:
        (fold,) = folds_of(door().placed)
        self.assertEqual(fold.joints, ("j1", "j2", "j3"))
        linkage = fold.linkage
        # the axes stand off the surfaces by half a pin and its play, the guide amid the wall
        off = WALL / 2 + 1.0 + 0.2
        self.assertAlmostEqual(abs(linkage.near[1] - linkage.middle[1]), 2 * off, delta=0.05)
        self.assertAlmostEqual(abs(linkage.near[1] - linkage.guide[1]), off, delta=0.05)

    def test_its_bodies_keep_their_lengths_and_its_guide_its_groove(self) -> None:
        (fold,) = folds_of(door().placed)
        link = fold.linkage
        for degrees in range(0, int(link.most_deg), 5):
            now = link.at(degrees)
            assert now is not None
            # what both leaves make of the axis between them is one place, and the pin has gone along its groove
            middle = link.basis.T @ np.array(link.middle)
            pin = link.basis.T @ np.array(link.guide)
            (n, f), moved = (m[:, :3] @ middle + m[:, 3] for m in (now.near, now.far)), now.far[:, :3] @ pin + now.far[:, 3]
            np.testing.assert_allclose(link.basis @ n, link.basis @ f, atol=1e-9)
            np.testing.assert_allclose(link.basis @ (moved - pin), [now.gone_mm, 0], atol=1e-9)

    def test_it_folds_freely_and_goes_together(self) -> None:
        result = door()
        self.assertEqual([(f.code, f.params) for f in findings_of(result) if f.severity == "must-fix"], [])
        (fold,) = folds_of(result.placed)
        self.assertGreater(fold.linkage.most_deg, 55)
        self.assertEqual(set(proofs(assembly(result))), {"proved"})

    def test_every_degree_is_free_and_the_pin_stays_in_its_groove(self) -> None:
        """What the check says at its positions holds in between, too."""
        result = door()
        (fold,) = folds_of(result.placed)
        solids = {part.key: part.solid for part in result.parts}
        lintel = solids["p1+"]
        for degrees in range(1, int(fold.linkage.most_deg), 3):
            now = fold.linkage.at(float(degrees))
            assert now is not None
            near, far = solids[fold.near].placed(now.near), solids[fold.far].placed(now.far)
            for a, b in ((near, far), (near, lintel), (far, lintel), (near, solids["p1- p2-"]), (far, solids["p1- p2-"])):
                self.assertLess(a.common(b).volume_mm3, 0.02, degrees)
            # its pin is as deep in the lintel as ever
            self.assertAlmostEqual(float(far.bounds[1][2]), HIGH + 3.0, places=6)

    def test_a_jamb_without_a_gap_is_told_at_the_leaf_that_meets_it(self) -> None:
        hits = [f for f in findings_of(door(right_jamb=15.0)) if f.code == "fold-hits"]
        self.assertEqual([(f.params["leaf"], f.params["other"], f.params["angle_deg"]) for f in hits], [(3, 4, 1.0)])

    def test_a_groove_too_short_ends_the_fold(self) -> None:
        (short,), (long,) = folds_of(door(travel_mm=20.0).placed), folds_of(door().placed)
        self.assertLess(short.linkage.most_deg, long.linkage.most_deg)
        now = short.linkage.at(short.linkage.most_deg)
        assert now is not None
        self.assertTrue(15 < now.gone_mm <= 20)
        # both leaves as one line of 2a, a triangle of a, a and 2a − s: cos θ = 1 − s/2a
        self.assertAlmostEqual(short.linkage.most_deg, math.degrees(math.acos(1 - 20 / (2 * LEAF))), delta=12)

    def test_where_the_leaves_differ_how_far_it_folds_is_told(self) -> None:
        """With the pin nearer to the middle hinge, by b, than the first hinge is, by a, the near leaf sinks in by asin b/a."""
        (short,) = [f for f in findings_of(door()) if f.code == "fold-short"]
        (fold,) = folds_of(door().placed)
        link = fold.linkage
        a, b = math.dist(link.near, link.middle), math.dist(link.middle, link.guide)
        lean = math.degrees(math.atan2(abs(link.middle[1] - link.near[1]), abs(link.middle[0] - link.near[0])))
        sinks = math.degrees(math.asin((b - abs(link.near[1] - link.guide[1])) / a))
        self.assertAlmostEqual(float(short.params["deg"]), sinks + lean, delta=1.0)  # type: ignore[arg-type]
