"""Seats: clearance as wanted, measured, and the part goes in; what cannot be is refused in a sentence."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.cache import Cache
from hinoki.core.geometry.slide_collision import Form, slide
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.prepared_model import Prepared, prepared
from hinoki.core.model.steps import SeatStep, TurnStep
from hinoki.core.parts.arrange import RingOf, arranged
from hinoki.core.parts.play import play_between
from hinoki.core.parts.standing import standing_at
from hinoki.core.plan.parts import Instance
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import quiet
from tests.effort import tried
from tests.parts import part, plan_of, source, use_of
from tests.shapes import box, ellipsoid, stl_of

PEG = Solid.prism(8, 0, 30, 48)
CACHE = Cache()


def seated(body: Solid, guest: Solid, *at: Instance, **how: object) -> tuple[Plan, Prepared]:
    step = SeatStep(id="s1", part="q2", **how)  # type: ignore[arg-type]
    plan = plan_of(use_of(stl_of(body)), prepare=(step,), parts=(part(2, guest, *at),))
    return plan, prepared(plan, source, CACHE, quiet)


def both(plan: Plan, which: int = 0) -> tuple[Solid, Solid]:
    """The body with its seat, and what goes in."""
    return standing_at(plan, "q1", 0, source, CACHE).value, standing_at(plan, "q2", which, source, CACHE).value


class Seats(unittest.TestCase):
    @tried(10)
    @given(st.floats(3, 20), st.floats(0.05, 0.8), st.floats(5, 30))
    def test_of_a_round_peg_by_formula(self, radius: float, clearance: float, deep: float) -> None:
        """The room round a peg of radius r with c each side and a floor c below it: π (r + c)² (deep + c)."""
        peg, at = Solid.prism(radius, 0, 60, 128), Instance(at_mm=(0, 0, 40 - deep))
        plan, ready = seated(box(90, 90, 40), peg, at, clearance_mm=clearance, floor="clear", lead_mm=0, way="z+")
        body, stands = both(plan)
        sides = 64 * np.sin(2 * np.pi / 128)
        expected = sides * (radius + clearance) ** 2 * (deep + clearance)
        self.assertAlmostEqual((90 * 90 * 40 - body.volume_mm3) / expected, 1.0, delta=2e-4)
        self.assertAlmostEqual(stands.gap(body, 3.0), clearance, delta=2e-3)
        self.assertIn("measured: as wanted", ready.done[0].said[0])

    def test_on_its_floor_it_rests_and_its_sides_are_clear(self) -> None:
        plan, _ = seated(box(60, 60, 40), PEG, Instance(at_mm=(0, 0, 25)), clearance_mm=0.3, lead_mm=0.6)
        body, peg = both(plan)
        found = play_between(peg, body, 0.5)
        self.assertAlmostEqual(found.least_mm or 0.0, 0.0, places=5)
        self.assertAlmostEqual(peg.moved(0, 0, 0.3).gap(body, 1.0), 0.3, delta=2e-3)
        wide = body.slice(39.99).geoms[0].interiors[0].bounds
        self.assertAlmostEqual((wide[2] - wide[0]) / 2, 8.9, delta=0.08)

    def test_six_in_a_ring_each_goes_in_the_way_it_looks(self) -> None:
        first = Instance(at_mm=(36, 0, 25), turn_deg=(0, 90, 0))
        plan, ready = seated(Solid.prism(40, 0, 50, 96), PEG, *arranged((first,), 0, RingOf(count=6)))
        self.assertRegex(ready.done[0].said[0], "^6 seats")
        for k in range(6):
            body, peg = both(plan, k)
            out = peg.centre_of_mass - [0, 0, 25]
            self.assertTrue(slide(Form(peg.mesh), Form(body.mesh), out / np.linalg.norm(out)).free)
            self.assertLess(peg.common(body).volume_mm3, 1e-2)

    def test_what_it_passes_on_its_way_out_is_cut_away(self) -> None:
        tee = Solid.box([-5, -5, 0], [5, 5, 20]).plus([Solid.box([-12, -5, 0], [12, 5, 6])])
        plan, _ = seated(box(60, 60, 40), tee, Instance(at_mm=(0, 0, 25)), way="z+")
        body, stands = both(plan)
        self.assertTrue(slide(Form(stands.mesh), Form(body.mesh), np.array([0.0, 0, 1])).free)
        side, _ = seated(box(60, 60, 40), tee, Instance(at_mm=(0, 22, 10)))
        self.assertTrue(slide(Form(both(side)[1].mesh), Form(both(side)[0].mesh), np.array([0.0, 1, 0])).free)

    def test_a_round_bottom_is_seated_too(self) -> None:
        plan, _ = seated(box(60, 60, 40), ellipsoid(15, 12, 10, 48), Instance(at_mm=(0, 0, 33)), clearance_mm=0.25)
        body, ball = both(plan)
        self.assertAlmostEqual(ball.moved(0, 0, 0.25).gap(body, 1.0), 0.25, delta=0.02)

    def test_a_mirrored_instance_gets_the_seat_of_its_mirror_image(self) -> None:
        wedge = Solid.frustum(np.array([[0.0, 0], [20, 0], [0, 10]]), np.array([[0.0, 0], [20, 0], [0, 10]]), 0.0, 20.0)
        for mirrored in (False, True):
            plan, _ = seated(box(80, 80, 30), wedge, Instance(at_mm=(0, 0, 20), mirrored=mirrored), clearance_mm=0.2)
            body, stands = both(plan)
            self.assertAlmostEqual(stands.moved(0, 0, 0.2).gap(body, 1.0), 0.2, delta=2e-3)


class Refused(unittest.TestCase):
    def why(self, ready: Prepared) -> str:
        (finding,) = ready.done[-1].findings
        self.assertEqual(finding.code, "step-refused")
        return str(finding.params["why"])

    def test_what_does_not_reach_in(self) -> None:
        self.assertIn("does not reach into this one", self.why(seated(box(60, 60, 40), PEG, Instance(at_mm=(0, 0, 60)))[1]))

    def test_a_way_that_is_blocked_cannot_be_since_it_is_cleared(self) -> None:
        plan, ready = seated(box(60, 60, 40), PEG, Instance(at_mm=(0, 0, 5)), way="x+")
        self.assertFalse(ready.done[0].refused)
        body, peg = both(plan)
        self.assertTrue(slide(Form(peg.mesh), Form(body.mesh), np.array([1.0, 0, 0])).free)

    def test_a_part_that_is_cut_by_the_one_it_cuts(self) -> None:
        plan, _ = seated(box(60, 60, 40), PEG, Instance(at_mm=(0, 0, 25)))
        peg = plan.parts[0].model_copy(update={"prepare": (SeatStep(id="s1", part="q1"),)})
        circle = plan.model_copy(update={"parts": (peg,)})
        self.assertFalse(prepared(circle, source, Cache(), quiet).done[0].refused)
        inner = prepared(circle.working_on("q2"), source, Cache(), quiet)
        self.assertEqual([d.refused for d in inner.done], [False])
        itself = plan.model_copy(update={"prepare": (SeatStep(id="s1", part="q1"),)})
        self.assertIn("one of the two must be whole", self.why(prepared(itself, source, Cache(), quiet)))

    def test_a_part_that_is_gone_and_a_seat_that_is_not_last(self) -> None:
        plan, _ = seated(box(60, 60, 40), PEG, Instance(at_mm=(0, 0, 25)))
        self.assertIn("not in this project", self.why(prepared(plan.model_copy(update={"parts": ()}), source, Cache(), quiet)))
        turned = plan.model_copy(update={"prepare": (*plan.prepare, TurnStep(id="s2", turn_deg=(0, 0, 20)))})
        first = prepared(turned, source, Cache(), quiet).done[0]
        self.assertIn("put this step last", str(first.findings[0].params["why"]))
