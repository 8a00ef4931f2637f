"""Half joints on picked faces: bolt circles, rows and grids against drawings' arithmetic, what they take, what is wrong."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.geometry.rotations import turned_about_axes
from hinoki.core.geometry.shape import Body, Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.faced.half_joint import HalfOf
from hinoki.core.join.faced.pattern import Pattern
from hinoki.core.join.joints import DovetailJoint, KeyJoint, MagnetJoint, PinJoint, ScrewJoint, ThreadJoint
from hinoki.core.model.steps import Outcome, StepRefused
from hinoki.core.model.steps.on_face import NOWHERE_CUT, OnFaceStep
from hinoki.core.plan.parts import Instance
from hinoki.core.progress import quiet
from hinoki.core.workshop.inventory import OwnPattern, hole_patterns
from tests.effort import tried
from tests.parts import everything, plan_of, use_of
from tests.shapes import box, stl_of

PLATE = box(100, 70, 20)
TOP = {"at_mm": (0.0, 0.0, 20.0), "facing": (0.0, 0.0, 1.0)}


def half(kind: type[HalfOf], **figures: object) -> HalfOf:
    return kind(id="j1", face=NOWHERE_CUT, **figures)  # type: ignore[arg-type,operator]


def on(body: Solid, joint: HalfOf, **figures: object) -> Outcome:
    step = OnFaceStep(id="s1", joint=joint, **(TOP | figures))  # type: ignore[arg-type]
    return step.apply_with(Shape((Body("part", solid=body),)), 0.1, 1.2, 0.45, quiet)


def solid_of(outcome: Outcome) -> Solid:
    (body,) = outcome.shape.bodies
    assert body.solid is not None
    return body.solid


class AlongAnEdge(unittest.TestCase):
    def test_a_row_follows_a_round_edge(self) -> None:
        """Points s apart on a circle of radius R, moved in by d, are 2 (R − d) sin(s / 2R) apart (chords)."""
        disc = Solid.cylinder(40, 0, 10)
        joint = half(PinJoint, diameter_mm=4.0, length_mm=4.0)
        figures = {"pattern": "row", "count": 5, "step_mm": 12.0, "x_mm": 3.0, "y_mm": 7.0}
        cut = disc.minus([solid_of(on(disc, joint, at_mm=(35, 0, 10), measured_from="edge", **figures))])
        holes = np.array([body.centre_of_box[:2] for body in cut.lumps()])
        self.assertEqual(len(holes), 5)
        np.testing.assert_allclose(np.linalg.norm(holes, axis=1), 33, atol=0.1)
        holes = holes[np.argsort(np.arctan2(holes[:, 1], holes[:, 0]))]
        apart = np.linalg.norm(np.diff(holes, axis=0), axis=1)
        np.testing.assert_allclose(apart, 2 * 33 * math.sin(12 / 80), atol=0.1)

    def test_a_ring_stands_inwards_of_the_edge_and_stays_round(self) -> None:
        joint = half(PinJoint, diameter_mm=4.0)
        figures = {"pattern": "ring", "count": 6, "ring_mm": 24.0, "y_mm": 20.0, "at_mm": (48.0, 5.0, 20.0)}
        cut = PLATE.minus([solid_of(on(PLATE, joint, measured_from="edge", **figures))])
        holes = np.array([body.centre_of_box[:2] for body in cut.lumps()])
        np.testing.assert_allclose(np.linalg.norm(holes - (30, 5), axis=1), 12, atol=0.05)

    def test_keys_are_let_in_at_the_edge_half_in_this_part(self) -> None:
        """Half a key is a trapezoid: (6 + 4) / 2 × 5 = 25 mm², 3 mm deep; its pocket is a clearance larger."""
        found = on(PLATE, half(KeyJoint), at_mm=(50.0, 0.0, 19.0), facing=(1.0, 0.0, 0.0), measured_from="edge")
        pocket = PLATE.minus([solid_of(found)])
        self.assertEqual(found.findings, [])
        self.assertTrue(75 < pocket.volume_mm3 < 75 + (25 + 3 * (5 + 5 + 6 + 1)) * 0.1 * 1.3)
        np.testing.assert_allclose(pocket.bounds[1], (50, pocket.bounds[1][1], 20), atol=1e-6)  # it opens up
        (key,) = found.loose
        self.assertEqual(key.name, "butterfly key 10 × 6/4 × 3")
        self.assertAlmostEqual(key.body.bounds[0][2], 0.0)

    def test_keys_are_printed_for_every_copy_of_the_part(self) -> None:
        step = OnFaceStep(
            id="s1", joint=half(KeyJoint), at_mm=(50, 0, 19), facing=(1, 0, 0), measured_from="edge", pattern="row", count=2
        )
        more = step.model_copy(update={"id": "s2", "at_mm": (-50, 0, 19), "facing": (-1, 0, 0)})
        use = use_of(stl_of(PLATE))
        plan = plan_of(
            use, prepare=(step, more), instances=(Instance(), Instance(at_mm=(120, 0, 0)), Instance(at_mm=(240, 0, 0)))
        )
        (key,) = everything(plan).loose
        self.assertEqual((key.name, key.count), ("butterfly key 10 × 6/4 × 3", 12))


class Patterns(unittest.TestCase):
    @given(st.integers(2, 40), st.floats(5, 500))
    def test_the_chords_of_a_bolt_circle(self, count: int, across: float) -> None:
        """Chord = D · sin(180° / n): the table of chords of workshop handbooks, such as 0.5 D for six (from memory)."""
        pattern = Pattern(pattern="ring", count=count, ring_mm=across)
        flat = pattern.flat
        chords = np.linalg.norm(flat - np.roll(flat, -1, axis=0), axis=1)
        np.testing.assert_allclose(chords, across * math.sin(math.pi / count), rtol=1e-9)
        np.testing.assert_allclose(np.linalg.norm(flat, axis=1), across / 2, rtol=1e-9)
        assert pattern.chord_mm is not None
        self.assertAlmostEqual(pattern.chord_mm, float(chords[0]), places=6)

    def test_handbook_chords(self) -> None:
        """Factors of the chord for 3 to 12 equal divisions, circle of diameter 1 (workshop handbooks; from memory)."""
        for count, factor in ((3, 0.86603), (4, 0.70711), (5, 0.58779), (6, 0.5), (8, 0.38268), (12, 0.25882)):
            chord = Pattern(pattern="ring", count=count, ring_mm=100.0).chord_mm
            self.assertAlmostEqual(chord or 0.0, 100 * factor, places=2)

    def test_rows_grids_and_mirrored_copies(self) -> None:
        self.assertEqual(Pattern(pattern="row", count=3, step_mm=10, x_mm=5).flat.tolist(), [[5, 0], [15, 0], [25, 0]])
        grid = Pattern(pattern="grid", count=3, rows=2, step_mm=10, row_step_mm=7)
        self.assertEqual(grid.flat.tolist(), [[0, 0], [10, 0], [20, 0], [0, 7], [10, 7], [20, 7]])
        four = Pattern(x_mm=16, y_mm=16, mirrored="both").flat
        self.assertEqual(sorted(map(tuple, four.tolist())), [(-16, -16), (-16, 16), (16, -16), (16, 16)])
        self.assertEqual(len(Pattern(x_mm=16, mirrored="both").flat), 2)  # two lie on the line they are mirrored at

    def test_all_of_it_turned(self) -> None:
        turned = Pattern(pattern="row", count=2, step_mm=10, x_mm=5, turn_deg=90).flat
        np.testing.assert_allclose(turned, [[0, 5], [0, 15]], atol=1e-12)


class WhatTheyTake(unittest.TestCase):
    def test_a_ring_of_screws_with_their_inserts(self) -> None:
        outcome = on(PLATE, half(ScrewJoint), pattern="ring", count=6, ring_mm=50)
        self.assertEqual(outcome.said, ["6 on the face", "25 mm from one to the next"])
        self.assertEqual(outcome.findings, [])
        body = solid_of(outcome)
        for k in range(6):
            x, y = 25 * math.cos(k * math.pi / 3), 25 * math.sin(k * math.pi / 3)
            hits = body.ray(np.array([x, y, 30.0]), np.array([x, y, -5.0]))
            self.assertLess(hits[0][2], 20 - 4)  # an insert M3 is 4 mm long at least
        # 3 mm of plate under the head and 4 mm of insert: 7 mm, of which 8 is on sale (ISO 888, from memory)
        self.assertEqual({h.name: h.count for h in outcome.hardware}, {"cap screw (ISO 4762) M3 × 8": 6, "insert M3 × 4": 6})

    def test_heads_in_the_part_go_right_through_it(self) -> None:
        body = solid_of(on(PLATE, half(ScrewJoint), half="stands"))
        self.assertEqual(len(body.ray(np.array([0, 0, 30.0]), np.array([0, 0, -30.0]))), 0)

    def test_pins_stand_out_and_their_bores_take_them(self) -> None:
        pin = half(PinJoint, diameter_mm=6.0, length_mm=8.0)
        male, female = (solid_of(on(PLATE, pin, half=which)) for which in ("stands", "takes"))
        self.assertAlmostEqual(male.bounds[1][2], 28, places=3)
        turned = male.placed(np.array([[1.0, 0, 0, 0], [0, -1.0, 0, 0], [0, 0, -1.0, 40]]))  # laid onto the other
        self.assertLess(turned.common(female).volume_mm3, 1e-2)
        self.assertGreater(turned.common(PLATE).volume_mm3, 150)

    def test_a_magnet_lies_in_its_pocket(self) -> None:
        outcome = on(PLATE, half(MagnetJoint, diameter_mm=10.0, thick_mm=3.0))
        taken = PLATE.volume_mm3 - solid_of(outcome).volume_mm3
        self.assertAlmostEqual(taken / (math.pi * 5.1**2 * 3.2), 1, delta=0.02)
        self.assertEqual({h.name: h.count for h in outcome.hardware}, {"magnet disc 10 × 3": 1, "glue point": 1})

    def test_a_dovetail_runs_over_the_whole_face(self) -> None:
        tail = half(DovetailJoint, neck_mm=6.0, head_mm=10.0, height_mm=4.0)
        low, high = solid_of(on(PLATE, tail, half="stands")).bounds
        np.testing.assert_allclose((low[0], high[0], high[2]), (-50, 50, 24), atol=0.01)

    @tried(6)
    @given(st.floats(-170, 170), st.floats(-80, 80), st.floats(-170, 170))
    def test_it_is_the_same_on_a_part_that_is_turned(self, x: float, y: float, z: float) -> None:
        turn = np.column_stack([turned_about_axes((x, y, z)), (3.0, -4.0, 5.0)])
        facing = tuple(float(v) for v in np.clip(turn[:, :3] @ (0, 0, 1), -1, 1))
        at = tuple(float(v) for v in turn[:, :3] @ (0, 0, 20) + turn[:, 3])
        pattern = {"pattern": "ring", "count": 5, "ring_mm": 40.0, "measured_from": "middle"}
        taken = PLATE.volume_mm3 - solid_of(on(PLATE, half(ThreadJoint), x_mm=0.0)).volume_mm3
        turned = solid_of(on(PLATE.placed(turn), half(ThreadJoint), at_mm=at, facing=facing))
        self.assertAlmostEqual(PLATE.volume_mm3 - turned.volume_mm3, taken, delta=2.0)
        ring = on(PLATE.placed(turn), half(PinJoint), at_mm=at, facing=facing, **pattern)
        self.assertEqual((ring.said[0], ring.findings), ("5 on the face", []))

    def test_measured_from_the_edges(self) -> None:
        body = solid_of(on(PLATE, half(PinJoint), at_mm=(13.0, 7.0, 20.0), measured_from="edges", x_mm=12, y_mm=9))
        hole = Solid.cylinder(2, 15, 25).moved(-50 + 12, -35 + 9, 0)
        self.assertLess(hole.common(body).volume_mm3, 1e-3 + hole.volume_mm3 * 0.01)


class WhatIsWrong(unittest.TestCase):
    def codes(self, outcome: Outcome) -> dict[str, int]:
        found: dict[str, int] = {}
        for finding in outcome.findings:
            found[finding.code] = found.get(finding.code, 0) + 1
        return found

    def test_elements_beside_the_face(self) -> None:
        self.assertEqual(self.codes(on(PLATE, half(PinJoint), pattern="row", count=4, step_mm=20.0))["on-face-off"], 1)

    def test_elements_that_run_into_each_other(self) -> None:
        self.assertEqual(self.codes(on(PLATE, half(PinJoint), pattern="row", count=3, step_mm=4.0))["on-face-meet"], 2)

    def test_bores_that_break_through_and_leave_too_little(self) -> None:
        deep = half(PinJoint, length_mm=25.0)
        self.assertEqual(self.codes(on(PLATE, deep)), {"on-face-through": 1})
        thin = half(PinJoint, length_mm=19.0)
        (found,) = on(PLATE, thin).findings
        self.assertEqual(found.code, "on-face-thin")
        self.assertAlmostEqual(float(str(found.params["wall_mm"])), 20 - 19 - 0.3, delta=0.05)

    def test_where_there_is_no_flat_face(self) -> None:
        ball = Solid.cone(30, 10, 0, 40)
        with self.assertRaisesRegex(StepRefused, "no flat face at this place"):
            on(ball, half(PinJoint), at_mm=(20.0, 0.0, 20.0), facing=(1.0, 0.0, 0.0))
        with self.assertRaisesRegex(StepRefused, "no flat face at this place"):
            on(PLATE, half(PinJoint), at_mm=(0.0, 0.0, 12.0))


class BoughtThings(unittest.TestCase):
    def test_hole_patterns_lie_about_their_middle(self) -> None:
        """NEMA 17: 31 mm square, so 43.84 mm across its corners (NEMA ICS 16; from memory)."""
        known = dict(hole_patterns())
        flat = Pattern(**known["motor, NEMA 17"]).flat  # type: ignore[arg-type]
        np.testing.assert_allclose(flat.mean(axis=0), (0, 0), atol=1e-9)
        np.testing.assert_allclose(np.linalg.norm(flat, axis=1), 31 / math.sqrt(2), rtol=1e-9)
        for name, values in known.items():
            with self.subTest(name):
                self.assertEqual(len(Pattern(**values).flat), 4)  # type: ignore[arg-type]

    def test_one_of_the_makers_own(self) -> None:
        own = OwnPattern(pattern="ring", count=3, ring_mm=30.0)
        self.assertAlmostEqual(Pattern(**own.values).chord_mm or 0.0, 25.98, places=2)  # type: ignore[arg-type]
