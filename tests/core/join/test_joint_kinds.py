"""Every kind of joint on blocks, shells and leaning walls: clearance, overlap, the outside, motions, what is noticed."""

import unittest

import igl
import numpy as np
import trimesh
from hypothesis import assume, given
from hypothesis import strategies as st
from pydantic import ValidationError

from hinoki.core.assemble.findings import assembly_findings
from hinoki.core.build import Build
from hinoki.core.divide.partings import LapParting
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.apply import standing_on
from hinoki.core.join.joints import (
    ButtJoint,
    DovetailJoint,
    DowelJoint,
    FaceRef,
    Joint,
    KeyJoint,
    LipJoint,
    PinJoint,
    TongueJoint,
)
from hinoki.core.join.placing import Depths
from hinoki.core.join.sizing.recommended_sizes import KINDS, suggest
from hinoki.core.plan.contents import PieceNote
from hinoki.core.workshop.fits import Fits
from hinoki.core.workshop.printers import Printer
from tests.assembling import assembly, numbers_of, proofs, way_in
from tests.checked import findings_of
from tests.effort import either, tried
from tests.shapes import box, built, leaning_tube, level, plan_for, shell_of, stl_of, tube

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
BLOCK, SHELL = box(60, 60, 60), tube(40, 34, 60)
LEANING = leaning_tube((45, 40), (30, 25), 60)
ROUND = shell_of(40, 40, 40, 4).moved(0, 0, 40)
SLANTED = Solid.hull_of(
    np.array([(x, y, 0) for x in (-35, 20) for y in (-30, 25)] + [(x, y, 60) for x in (-12, 35) for y in (-20, 30)])
)
"""a block whose four walls lean, each in its own way"""
HIGH = {BLOCK: 30, SHELL: 30, LEANING: 30, ROUND: 40}


def joined(solid: Solid, *joints: Joint, clearance: float = 0.1, **more: object) -> Build:
    data = stl_of(solid)
    fits = Fits(snug=clearance)
    return built(data, plan_for(data, level(1, HIGH.get(solid, 30)), joints=joints, fits=fits, **more))


def sides(result: Build) -> dict[str, Solid]:
    return {
        "a": next(p.solid for p in result.parts if p.key == "p1-"),
        "b": next(p.solid for p in result.parts if p.key == "p1+"),
    }


def measured(result: Build) -> list[float]:
    """Gaps between male bodies and the pieces they go into, on the finished solids."""
    there, gaps = sides(result), []
    for placed in result.placed:
        for tool in placed.tools.each:
            if tool.probe is not None:
                gaps.append(tool.probe.gap(there["b" if tool.side == "a" else "a"], 2.0))
        gaps += [loose.solid.gap(there[s], 2.0) for loose in placed.tools.loose for s in ("a", "b")]
    return gaps


def codes(result: Build) -> set[str]:
    return {f.code for f in findings_of(result) if f.station == "join"}


pins = st.builds(
    PinJoint, id=st.just("j1"), face=st.just(FACE), count=st.integers(1, 4), diameter_mm=st.floats(2, 7),
    length_mm=st.floats(2, 8), shape=st.sampled_from(["round", "square", "flat"]), on=st.sampled_from(["a", "b", "auto"]),
    tip_mm=st.none() | st.floats(0, 1),
)  # fmt: skip
dowels = st.builds(
    DowelJoint, id=st.just("j1"), face=st.just(FACE), count=st.integers(1, 3), diameter_mm=st.floats(2, 7),
    length_mm=st.floats(6, 14), in_a_mm=st.none() | st.floats(1, 5), shape=st.sampled_from(["round", "square", "flat"]),
)  # fmt: skip
dovetails = st.builds(
    lambda neck, wider, **more: DovetailJoint(id="j1", face=FACE, neck_mm=neck, head_mm=neck + wider, **more),
    neck=st.floats(2, 8), wider=st.floats(0.6, 6), height_mm=st.floats(1.5, 6), along_deg=st.floats(-180, 180),
    on=st.sampled_from(["a", "b"]), ends=st.sampled_from(["through", "closed"]), lock_mm=st.sampled_from([0.0, 3.0]),
    lead_mm=st.sampled_from([0.0, 0.1, 0.4]), edge_mm=st.sampled_from([0.0, 0.2]), count=st.integers(1, 2),
)  # fmt: skip
tongues = st.builds(
    TongueJoint, id=st.just("j1"), face=st.just(FACE), width_mm=st.floats(1.5, 8), height_mm=st.floats(1, 6),
    taper_deg=st.floats(0, 15), along_deg=st.floats(-180, 180), on=st.sampled_from(["a", "b"]),
    ends=st.sampled_from(["through", "stopped"]), edge_mm=st.sampled_from([0.0, 0.2]),
)  # fmt: skip
keys = st.builds(
    lambda end, narrower, **more: KeyJoint(id="j1", face=FACE, end_mm=end, waist_mm=end - narrower, surface="outside", **more),
    end=st.floats(4, 9), narrower=st.floats(0.5, 3), length_mm=st.floats(6, 14), thickness_mm=st.floats(2, 5),
    below_mm=st.floats(0, 2), count=st.integers(1, 3),
)  # fmt: skip
lips = st.builds(
    LipJoint, id=st.just("j1"), face=st.just(FACE), runs=st.sampled_from(["inner", "outer", "middle"]),
    height_mm=st.floats(1.5, 6), tip_mm=st.floats(0, 0.6), on=st.sampled_from(["a", "b"]),
)  # fmt: skip


class EveryKind(unittest.TestCase):
    """Property tests: whatever the measures, the trade of material is fair."""

    def check(self, solid: Solid, joint: Joint, clearance: float) -> None:
        result = joined(solid, joint, clearance=clearance)
        there = sides(result)
        gaps = measured(result)
        assume(gaps)  # where there was room
        for gap in gaps:
            self.assertAlmostEqual(gap, clearance, delta=0.01, msg=joint.label())
        self.assertLess(there["a"].common(there["b"]).volume_mm3, 1e-4, joint.label())
        low, high = solid.bounds
        for piece in there.values():
            self.assertTrue((piece.bounds[0] >= low - 1e-6).all() and (piece.bounds[1] <= high + 1e-6).all(), joint.label())
            self.assertEqual(len(piece.lumps()), 1, joint.label())

    @tried(5)
    @given(joint=pins | dowels, clearance=st.floats(0.03, 0.4), solid=st.sampled_from([BLOCK, SHELL]))
    def test_pegs(self, joint: Joint, clearance: float, solid: Solid) -> None:
        self.check(solid, joint, clearance)

    @tried(6)
    @given(joint=dovetails, clearance=st.floats(0.03, 0.3))
    def test_dovetails(self, joint: Joint, clearance: float) -> None:
        self.check(BLOCK, joint, clearance)

    @tried(5)
    @given(joint=tongues, clearance=st.floats(0.03, 0.3))
    def test_tongues(self, joint: Joint, clearance: float) -> None:
        self.check(BLOCK, joint, clearance)

    @tried(5)
    @given(joint=keys, clearance=st.floats(0.03, 0.3))
    def test_keys(self, joint: Joint, clearance: float) -> None:
        self.check(BLOCK, joint, clearance)

    @tried(5)
    @given(joint=lips, clearance=st.floats(0.05, 0.3), solid=st.sampled_from([SHELL, LEANING, ROUND]))
    def test_lips_on_shells_and_leaning_walls(self, joint: Joint, clearance: float, solid: Solid) -> None:
        result = joined(solid, joint, clearance=clearance)
        there = sides(result)
        self.assertLess(there["a"].common(there["b"]).volume_mm3, 1e-3, joint.label())
        for gap in measured(result):
            self.assertGreater(gap, clearance - 0.01, joint.label())

    def test_every_kind_gives_the_same_bytes_twice(self) -> None:
        for solid, kinds in ((BLOCK, KINDS), (SHELL, either(("lip", "key"), KINDS))):
            for kind in kinds:
                joint = self.suits(solid, kind)
                if joint is None:
                    continue
                first, second = sides(joined(solid, joint)), sides(joined(solid, joint))
                for side in ("a", "b"):
                    self.assertEqual(first[side].mesh.vertices.tobytes(), second[side].mesh.vertices.tobytes(), kind)

    @tried(5)
    @given(joint=pins | dowels | dovetails | tongues | keys | lips, clearance=st.floats(0.03, 0.3))
    def test_every_kind_between_leaning_walls(self, joint: Joint, clearance: float) -> None:
        result = joined(SLANTED, joint, clearance=clearance)
        there = sides(result)
        self.assertLess(there["a"].common(there["b"]).volume_mm3, 1e-3, joint.label())
        for piece in there.values():
            self.assertLess(piece.minus([SLANTED]).volume_mm3, 0.02, joint.label())  # the file's corners are rounded
            self.assertEqual(len(piece.lumps()), 1, joint.label())
        for gap in measured(result):
            self.assertGreater(gap, clearance - 0.01, joint.label())

    def test_the_outside_away_from_the_seam_is_unchanged(self) -> None:
        """Sampled Hausdorff distance, both ways."""
        tried, hidden = set(), [kind for kind in KINDS if kind not in ("screw", "latch")]  # their heads are let in from outside
        for solid in (BLOCK, LEANING, SLANTED):
            outside = trimesh.Trimesh(solid.mesh.vertices, solid.mesh.faces, process=False)
            for kind in hidden:
                joint = self.suits(solid, kind)
                if joint is None:
                    continue
                tried.add(kind)
                pieces = [trimesh.Trimesh(p.mesh.vertices, p.mesh.faces) for p in sides(joined(solid, joint)).values()]
                both = trimesh.util.concatenate(pieces)
                for points, surface in ((both.sample(1500, seed=1), outside), (outside.sample(1500, seed=2), both)):
                    away = points[np.abs(points[:, 2] - 30) > max(15, joint.reach_mm("b") + 1, joint.reach_mm("a") + 1)]
                    squared = igl.point_mesh_squared_distance(away, surface.vertices, np.asarray(surface.faces))[0]
                    self.assertLess(float(np.sqrt(squared.max())), 1e-3, kind)
        self.assertEqual(tried, set(hidden))

    def suits(self, solid: Solid, kind: str) -> Joint | None:
        result = joined(solid)
        data = stl_of(solid)
        plan = plan_for(data, level(1, 30))
        return suggest(kind, "j1", Depths(result.faces[0]), "snug", standing_on(result.faces[0], plan, "snug"))

    def test_what_is_suggested_leaves_the_walls(self) -> None:
        walls = ("finger", "splice")  # for thin walls only
        full = [kind for kind in KINDS if kind not in walls]
        for solid, kinds in ((BLOCK, full), (SHELL, ("pin", "lip", "key", "butt", *walls)), (LEANING, ("lip", *walls))):
            for kind in kinds:
                joint = self.suits(solid, kind)
                assert joint is not None, kind
                result = joined(solid, joint)
                bad = [(f.code, f.params) for f in findings_of(result) if f.station == "join" and f.severity == "must-fix"]
                self.assertEqual(bad, [], kind)

    def test_auto_takes_what_suits_each_face(self) -> None:
        found = {name: self.suits(solid, "auto") for name, solid in (("block", BLOCK), ("shell", SHELL))}
        self.assertEqual(
            {name: joint.kind if joint else None for name, joint in found.items()}, {"block": "pin", "shell": "lip"}
        )


class Measures(unittest.TestCase):
    def test_a_tail_trades_the_volume_of_its_section(self) -> None:
        joint = DovetailJoint(id="j1", face=FACE, edge_mm=0, lead_mm=0, lock_mm=0, neck_mm=5, head_mm=10, height_mm=3)
        there = sides(joined(BLOCK, joint))
        self.assertAlmostEqual(there["a"].volume_mm3, 60 * 60 * 30 + 60 * (5 + 10) / 2 * 3, delta=0.01)

    def test_a_tongue_trades_its_box(self) -> None:
        joint = TongueJoint(id="j1", face=FACE, edge_mm=0, width_mm=4, height_mm=3, ends="stopped", stop_mm=5)
        there = sides(joined(BLOCK, joint, clearance=0.0))
        self.assertAlmostEqual(there["a"].volume_mm3, 60 * 60 * 30 + 4 * 3 * 50, delta=0.01)
        self.assertAlmostEqual(there["b"].volume_mm3, 60 * 60 * 30 - 4 * 3.3 * 50, delta=0.01)

    def test_a_lip_is_half_the_wall_unless_typed(self) -> None:
        result = joined(SHELL, LipJoint(id="j1", face=FACE, height_mm=3, tip_mm=0))
        self.assertAlmostEqual(sides(result)["a"].bounds[1][2], 33, places=6)
        ring = np.pi * (37**2 - 34**2) * 3
        self.assertAlmostEqual(sides(result)["a"].volume_mm3 - SHELL.volume_mm3 / 2, ring, delta=0.01 * ring)

    def test_a_crush_rib_reaches_the_bore(self) -> None:
        result = joined(BLOCK, PinJoint(id="j1", face=FACE, count=1, diameter_mm=6, length_mm=8, ribs=3))
        pin = sides(result)["a"].common(Solid.box([-10, -10, 31], [10, 10, 40]))
        self.assertAlmostEqual(pin.gap(sides(result)["b"], 1), 0.0, delta=0.01)
        self.assertLess(pin.common(sides(result)["b"]).volume_mm3, 1e-6)

    def test_pins_stand_where_they_point_up(self) -> None:
        data = stl_of(BLOCK)
        plain = built(data, plan_for(data, level(1, 30), joints=(PinJoint(id="j1", face=FACE),)))
        self.assertEqual(plain.placed[0].joint.on, "a")
        turned = plan_for(data, level(1, 30), joints=(PinJoint(id="j1", face=FACE),))
        turned = turned.model_validate(
            {**turned.model_dump(by_alias=True), "pieces": {k: {"down": (0, 0, 1)} for k in ("p1-", "p1+")}}
        )
        self.assertEqual(built(data, turned).placed[0].joint.on, "b")

    def test_an_own_clearance_goes_before_the_fit(self) -> None:
        result = joined(BLOCK, PinJoint(id="j1", face=FACE, clearance_mm=0.25))
        self.assertAlmostEqual(measured(result)[0], 0.25, delta=0.011)

    def test_a_head_no_wider_than_the_neck_is_refused(self) -> None:
        with self.assertRaisesRegex(ValidationError, "wider than its neck"):
            DovetailJoint(id="j1", face=FACE, neck_mm=5, head_mm=5)
        with self.assertRaisesRegex(ValidationError, "narrower than its ends"):
            KeyJoint(id="j1", face=FACE, end_mm=5, waist_mm=5)


class Slides(unittest.TestCase):
    """A dovetail is tried by moving the finished piece along its way."""

    def overlap(self, result: Build, by: np.ndarray) -> float:
        there = sides(result)
        x, y, z = by
        return there["a"].common(there["b"].moved(float(x), float(y), float(z))).volume_mm3

    def test_a_closed_dovetail_comes_out_one_way_only(self) -> None:
        for on in ("a", "b"):
            joint = DovetailJoint(id="j1", face=FACE, ends="closed", along_deg=0, on=on, lock_mm=0)
            result = joined(BLOCK, joint)
            (way,) = result.placed[0].joint.motions(result.placed[0].standing) or ()
            back = -np.array(way)
            self.assertLess(self.overlap(result, 10 * back), 1e-3, on)
            self.assertGreater(self.overlap(result, -2 * back), 1.0, on)
            self.assertGreater(self.overlap(result, np.array([0, 0, 1.0])), 1.0, on)

    def test_pins_and_a_dovetail_on_one_face_are_at_odds(self) -> None:
        result = joined(
            BLOCK,
            DovetailJoint(id="j1", face=FACE),
            PinJoint(id="j2", face=FACE, count=1, places=((0.0, 20.0),)),
        )
        odds = next(f for f in findings_of(result) if f.code == "motions-at-odds")
        goes = {odds.params["joint"]: odds.params["goes"], odds.params["other"]: odds.params["other_goes"]}
        self.assertEqual(goes, {"dovetail 5/10 × 3": "along", "1 pin ø5 × 5": "straight"})

    def test_keys_and_a_tongue_go_with_others(self) -> None:
        result = joined(
            BLOCK,
            TongueJoint(id="j1", face=FACE, ends="through"),
            DovetailJoint(id="j2", face=FACE, places=((0.0, 18.0),), lock_mm=0),
            KeyJoint(id="j3", face=FACE, surface="outside", count=1),
        )
        self.assertNotIn("motions-at-odds", codes(result))


class Noticed(unittest.TestCase):
    def test_a_shallow_pocket_floor_is_found(self) -> None:
        thin = box(60, 60, 60).minus([Solid.box([-25, -25, 5], [25, 25, 55])])
        result = joined(thin, KeyJoint(id="j1", face=FACE, surface="outside", thickness_mm=4, places=((30.0, 0.0),)))
        self.assertIn("joint-thin-wall", codes(result))

    def test_a_key_on_a_tight_bend_is_found(self) -> None:
        result = joined(SHELL, KeyJoint(id="j1", face=FACE, end_mm=30, waist_mm=20, length_mm=50, places=((40.0, 0.0),)))
        self.assertIn("joint-key-bend", codes(result))

    def test_a_short_slide_jams(self) -> None:
        joint = DovetailJoint(id="j1", face=FACE, neck_mm=30, head_mm=50, height_mm=8)
        self.assertIn("joint-slide-short", codes(joined(BLOCK, joint)))

    def test_sharp_edges_thin_necks_and_leaning_flanks_are_found(self) -> None:
        joint = DovetailJoint(id="j1", face=FACE, neck_mm=0.6, head_mm=12, height_mm=2, edge_mm=0)
        self.assertLessEqual({"joint-sharp-edge", "joint-under-line", "joint-leans"}, codes(joined(BLOCK, joint)))

    def test_a_lip_that_thins_out_on_a_leaning_wall_is_found(self) -> None:
        steep = leaning_tube((60, 58), (20, 18), 60)
        result = joined(steep, LipJoint(id="j1", face=FACE, height_mm=6, runs="outer"))
        self.assertIn("joint-under-line", codes(result))

    def test_a_seal_needs_room_beside_the_lip(self) -> None:
        self.assertIn("joint-seal", codes(joined(SHELL, LipJoint(id="j1", face=FACE, seal_mm=3, thickness_mm=5.5))))
        good = joined(tube(40, 30, 60), LipJoint(id="j1", face=FACE, seal_mm=2, thickness_mm=4))
        self.assertNotIn("joint-seal", codes(good))

    def test_a_lap_is_joined_by_itself(self) -> None:
        data = stl_of(BLOCK)
        lap = LapParting(id="p1", axis="z", at_mm=30, overlap_mm=10)
        result = built(data, plan_for(data, lap))
        self.assertNotIn("face-bare", {f.code for f in findings_of(result)})

    def test_glue_is_a_joint_too(self) -> None:
        result = joined(BLOCK, ButtJoint(id="j1", face=FACE))
        self.assertNotIn("face-bare", {f.code for f in findings_of(result)})
        self.assertEqual(result.placed[0].joint.label(), "butt, glue")


class Together(unittest.TestCase):
    """What joints allow decides how a piece is brought to its place."""

    def test_a_step_follows_the_slide_of_a_dovetail(self) -> None:
        for along, expected in ((0.0, [1, 0, 0]), (90.0, [0, 1, 0])):
            result = joined(BLOCK, DovetailJoint(id="j1", face=FACE, along_deg=along, ends="closed"))
            step = assembly(result).order.steps[1]
            direction = way_in(step) * (1 if step.lead == "p1+" else -1)
            np.testing.assert_allclose(direction, expected, atol=1e-6)

    def test_a_step_without_a_common_way_says_so(self) -> None:
        pins = PinJoint(id="j2", face=FACE, count=1, places=((0.0, 20.0),))
        result = joined(BLOCK, DovetailJoint(id="j1", face=FACE), pins)
        out = assembly(result)
        self.assertEqual(proofs(out), ["no order"])
        self.assertIn("no-order", {f.code for f in assembly_findings(result.plan, out)})
        self.assertEqual(numbers_of(out, out.order.locked[0]), [1, 2])

    def test_a_second_joint_keeps_off_the_first(self) -> None:
        lip = LipJoint(id="j1", face=FACE, runs="middle", height_mm=4)
        result = joined(BLOCK, DovetailJoint(id="j1", face=FACE, lock_mm=0), TongueJoint(id="j2", face=FACE, ends="through"))
        self.assertNotIn("joints-meet", codes(result))
        self.assertEqual(len(result.placed[1].places), 1)
        full = joined(BLOCK, lip, PinJoint(id="j2", face=FACE))
        self.assertEqual(full.placed[1].places, [])
        self.assertIn("joint-no-room", codes(full))


class Printers(unittest.TestCase):
    def test_between_two_printers_the_larger_clearance_counts(self) -> None:
        data = stl_of(BLOCK)
        other = Printer(id="other", name="Other", bed_mm=(300, 300), height_mm=300)
        plan = plan_for(
            data,
            level(1, 30),
            joints=(PinJoint(id="j1", face=FACE),),
            more_printers=(other,),
            more_fits={"other": Fits(snug=0.22)},
            pieces={"p1+": PieceNote(printer_id="other")},
        )
        self.assertAlmostEqual(built(data, plan).placed[0].clearance_mm, 0.22)
        alone = plan.model_copy(update={"pieces": {}})
        self.assertAlmostEqual(built(data, alone).placed[0].clearance_mm, 0.10)
