"""Proposals of bodies with limbs: they come off at their roots, mirrored, and no cut runs along one where another serves."""

import math
import unittest

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.divide.partings import DetachParting, WedgesParting
from hinoki.core.divide.partings.base import Reach
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.solid import Solid
from hinoki.core.limbs.limbs import Limb, cut_along, limbs_of
from hinoki.core.plan.regions import Box, Mark
from hinoki.core.progress import quiet
from hinoki.core.propose import Proposals, Wishes, propose
from hinoki.core.propose.search.limb_seeds import mirrored
from hinoki.core.symmetry.mirror_planes import MirrorPlane
from tests.shapes import ellipsoid, plan_for, stl_of, tube

X = MirrorPlane(np.array([1.0, 0, 0]), 0.0, 1.0)


def starfish() -> Solid:
    """A ball with five arms in one level, mirrored by X."""
    arms: list[Solid] = []
    for turn in np.radians(90 + 72 * np.arange(5)):
        way = np.array([math.cos(turn), math.sin(turn), 0.0])
        arms.append(Solid.cone(20, 14, 0, 170).placed(plane_frame(np.zeros(3), way).to_world))
    return Solid.united([ellipsoid(70, 70, 50), *arms]).refined(8).moved(0, 0, 50)


def proposed(solid: Solid, bed: float, wishes: Wishes | None = None, **more: object) -> Proposals:
    data = stl_of(solid)
    return propose(plan_for(data, bed=(bed, bed, bed), **more), lambda _: data, Cache(), wishes or Wishes(), quiet)


def loops(found: Proposals, number: int) -> list[DetachParting]:
    return [p for p in found.proposals[number].partings if isinstance(p, DetachParting)]


class Apart(unittest.TestCase):
    def test_one_of_three_proposals_takes_all_arms_off_and_mirrors_them(self) -> None:
        found = proposed(starfish(), 200)
        number = [p.title for p in found.proposals].index("Limbs apart")
        self.assertEqual(len(loops(found, number)), 5)
        self.assertIn("5 limbs come off", found.proposals[number].says)
        roots = np.array([p.through_mm for p in loops(found, number)])
        middle = -starfish().centre_of_box  # of the ball, when the model stands in the middle of its bed
        for root in roots:
            self.assertLess(float(np.linalg.norm(roots - X.image(root), axis=1).min()), 0.02)
            self.assertAlmostEqual(float(np.linalg.norm((root - middle)[:2])), 68, delta=9)  # where they leave the ball
        for proposal in found.proposals:
            self.assertEqual(proposal.figures.fitting, proposal.figures.pieces)

    def test_as_the_preference_they_come_first_and_without_any_it_is_as_ever(self) -> None:
        self.assertEqual(len(loops(proposed(starfish(), 200, Wishes(prefer="limbs")), 0)), 5)
        plain = proposed(tube(150, 140, 60), 200, Wishes(prefer="limbs"))
        self.assertEqual(plain.proposals[0].title, "Limbs apart")
        self.assertEqual(loops(plain, 0), [])

    def test_what_stays_whole_keeps_its_limb(self) -> None:
        keep = Mark(id="k1", kind="keep", box=Box(low_mm=(-25, 40, 20), high_mm=(25, 110, 80)))
        found = proposed(starfish(), 200, Wishes(prefer="limbs"), marks=(keep,))
        for loop in loops(found, 0):
            self.assertLess(loop.normal[1], 0.9)  # not the arm along Y


class Along(unittest.TestCase):
    def test_no_cut_runs_along_a_spike_of_a_ring_and_wedges_turn_clear_of_them(self) -> None:
        spikes = [Solid.cone(7, 2, 0, 35).moved(65 * math.cos(t), 65 * math.sin(t), 10) for t in np.arange(8) * math.pi / 4]
        crown = Solid.united([tube(68, 62, 15), *spikes])
        limbs = limbs_of(crown)
        self.assertGreaterEqual(len(limbs), 7)
        first = proposed(crown, 110).proposals[0]
        halved = 0
        for parting in first.partings:
            if isinstance(parting, WedgesParting):
                self.assertTrue(all(abs((angle + 22.5) % 45 - 22.5) > 5 for angle in parting.angles), parting.angles)
            else:
                halved += sum(cut_along(limbs, member.frame) for member in parting.members(Reach([crown])))
        self.assertEqual(halved, 0, first.says)


class Mirrored(unittest.TestCase):
    def limb(self, x: float, out: tuple[float, float, float] = (0.0, 0.0, 1.0)) -> Limb:
        return Limb(np.array([x, 0.0, 50.0]), np.array(out), np.array([x, 0.0, 150.0]), 100.0, 10.0)

    def test_pairs_are_exact_images_what_lies_in_the_plane_is_its_own_and_what_has_no_twin_gets_one(self) -> None:
        out = mirrored([self.limb(60), self.limb(-61.5), self.limb(0.8, (0.1, 0.0, 0.995))], [X])
        self.assertEqual([round(float(one.root[0]), 6) for one in out], [60.0, -60.0, 0.0])
        self.assertAlmostEqual(float(out[2].out[0]), 0.0)
        alone = mirrored([self.limb(60)], [X])
        self.assertEqual([float(one.root[0]) for one in alone], [60.0, -60.0])
