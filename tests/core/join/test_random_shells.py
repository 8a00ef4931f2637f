"""What suits random shells, of every kind: the pieces stay whole and apart, their outside as it was, the clearance as asked.

Shells are superellipsoids (Barr 1981, IEEE Computer Graphics and Applications 1(1)), whole or open above, cones and boxes, with
walls of 1.2 to 4 mm, cut level or upright.
"""

import unittest
from dataclasses import dataclass

import igl
import numpy as np
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import FingerJoint, ScrewJoint
from hinoki.core.join.sizing.recommended_sizes import KINDS
from hinoki.core.propose.recommend_joints import SuitWish, suited
from hinoki.core.workshop.fits import Fits
from tests.checked import findings_of
from tests.core.join.test_joint_kinds import FACE
from tests.effort import either, tried
from tests.shapes import across, built, level, plan_for, stl_of, tube

SHOWN = ("screw", "hinge", "finger", "key")
"""kinds that are seen from outside: heads, knuckles, ends, keys"""
POSES = ("piece-unsteady", "joint-strain")
"""findings that the pose decides, which is chosen later"""
OPEN_AT = 0.3


def superellipsoid(x: float, y: float, z: float, e1: float, e2: float) -> Solid:
    """By its half axes and its exponents: 1 round, less squarer."""
    s, t = np.meshgrid(np.linspace(0, 2 * np.pi, 48, endpoint=False), np.linspace(-np.pi / 2, np.pi / 2, 25))

    def bent(wave: np.ndarray, power: float) -> np.ndarray:
        return np.asarray(np.sign(wave) * np.abs(wave) ** power)

    flat = bent(np.cos(t), e1)
    points = np.stack([x * flat * bent(np.cos(s), e2), y * flat * bent(np.sin(s), e2), z * bent(np.sin(t), e1)], axis=-1)
    return Solid.hull_of(points.reshape(-1, 3))


@dataclass(frozen=True)
class Shell:
    """A shell, all that it encloses with its wall, and how it is cut."""

    solid: Solid
    outer: Solid
    cut: FlatParting


@st.composite
def shells(draw: st.DrawFn) -> Shell:
    x, y, z = (draw(st.floats(30, 60)) for _ in "xyz")
    wall, made, at = (
        draw(st.floats(1.2, 4)),
        draw(st.sampled_from(["whole", "open", "cone", "box"])),
        draw(st.floats(-0.5, 0.5)),
    )
    if made == "cone":
        top = x * draw(st.floats(0.4, 0.95))
        outer, inner = Solid.cone(x, top, 0, 2 * z), Solid.cone(x - wall, top - wall, -0.001, 2 * z + 0.001)
    elif made == "box":
        outer = Solid.box([-x, -y, 0], [x, y, 2 * z])
        inner = Solid.box([wall - x, wall - y, wall], [x - wall, y - wall, 2 * z + 1])
    else:
        e1, e2 = draw(st.floats(0.4, 1)), draw(st.floats(0.4, 1))
        outer = superellipsoid(x, y, z, e1, e2).moved(0, 0, z)
        inner = superellipsoid(x - wall, y - wall, z - wall, e1, e2).moved(0, 0, z)
        if made == "open":
            outer = outer.minus([Solid.box([-99, -99, (1 + OPEN_AT) * z], [99, 99, 199])])
    upright = made != "whole" and draw(st.booleans())
    high = float(outer.bounds[1][2])
    cut = across(1, "x", at * x) if upright else level(1, high * (0.5 + 0.5 * at))
    return Shell(outer.minus([inner]), outer, cut)


def moved_mm(shell: Shell, result: Build) -> float:
    """How far the outside is anywhere from where it was, off the seam."""
    surface = trimesh.Trimesh(shell.outer.mesh.vertices, shell.outer.mesh.faces, process=False)
    points = trimesh.sample.sample_surface(surface, 600, seed=1)[0]
    own = shell.solid.mesh
    on_shell = igl.point_mesh_squared_distance(points, own.vertices, np.asarray(own.faces))[0] < 1e-8  # not where it is open
    k = "xyz".index(shell.cut.axis)
    points = points[on_shell & (np.abs(points[:, k] - shell.cut.at_mm) > 0.3)]
    pieces = [part.solid.mesh for part in result.parts]
    both = trimesh.util.concatenate([trimesh.Trimesh(m.vertices, m.faces, process=False) for m in pieces])
    return float(np.sqrt(igl.point_mesh_squared_distance(points, both.vertices, np.asarray(both.faces))[0].max()))


class EveryKind(unittest.TestCase):
    def check(self, shell: Shell, kind: str, clearance: float) -> None:
        data, cache = stl_of(shell.solid), Cache()
        plan = plan_for(data, shell.cut, fits=Fits(snug=clearance, sliding=clearance), bed=(400, 400, 400))
        bare = built(data, plan, cache)
        joints = suited(bare, plan, SuitWish(kind=kind), cache=cache).joints
        if not joints:
            return
        result, name = built(data, plan.model_copy(update={"joints": tuple(joints)}), cache), joints[0].label()
        codes = {f.code for f in findings_of(result, cache) if f.severity == "must-fix"}
        self.assertEqual(codes - set(POSES), set(), name)
        for before, part in zip(bare.parts, result.parts, strict=True):
            self.assertEqual(len(part.solid.lumps()), len(before.solid.lumps()), name)
            if kind not in SHOWN:
                self.assertLess(part.solid.minus([shell.outer]).volume_mm3, 0.05, name)  # files round their corners
        self.apart(result, name)
        for placed in result.placed:
            self.clear(result, placed.joint.id, clearance)
        if kind not in SHOWN:
            self.assertLess(moved_mm(shell, result), 1e-3, name)

    def apart(self, result: Build, name: str) -> None:
        """Neither pieces nor loose parts share anything."""
        bodies = [*(part.solid for part in result.parts), *(loose.solid for p in result.placed for loose in p.tools.loose)]
        for k, one in enumerate(bodies):
            self.assertTrue(all(one.common(other).volume_mm3 < 1e-3 for other in bodies[:k]), name)

    def clear(self, result: Build, joint_id: str, clearance: float) -> None:
        placed = next(p for p in result.placed if p.joint.id == joint_id)
        there = {side: next(p.solid for p in result.parts if p.key == placed.part(side).key) for side in ("a", "b")}
        for tool in placed.tools.each:
            if tool.probe is not None:
                gap = tool.probe.gap(there["b" if tool.side == "a" else "a"], 2.0)
                wanted = clearance * placed.joint.gap_share(clearance)
                self.assertAlmostEqual(gap, wanted, delta=0.01, msg=placed.joint.label())
        for loose in placed.tools.loose:
            self.assertGreater(min(loose.solid.gap(there[side], 2.0) for side in there), clearance - 0.011)

    @tried(30, 6.0)
    @given(shell=shells(), kind=st.sampled_from([k for k in KINDS if k != "butt"]), clearance=st.floats(0.05, 0.3))
    def test_of_every_kind(self, shell: Shell, kind: str, clearance: float) -> None:
        self.check(shell, kind, clearance)

    def test_bosses_reach_a_wall_that_leans_away(self) -> None:
        """Their discs alone would hang beside it, free."""
        outer = superellipsoid(56, 42, 38, 1, 1).moved(0, 0, 38)
        shell = Shell(outer.minus([superellipsoid(54.5, 40.5, 36.5, 1, 1).moved(0, 0, 38)]), outer, level(1, 29))
        data = stl_of(shell.solid)
        plan = plan_for(data, shell.cut)
        (joint,) = suited(built(data, plan), plan, SuitWish(kind="screw")).joints
        assert isinstance(joint, ScrewJoint)
        self.assertTrue(joint.boss_mm)
        self.check(shell, "screw", 0.1)

    def test_no_kind_cuts_a_low_rim_to_bits(self) -> None:
        outer = superellipsoid(40, 45, 36, 0.6, 0.8).moved(0, 0, 36).minus([Solid.box([-99, -99, 48], [99, 99, 199])])
        shell = Shell(outer.minus([superellipsoid(36.4, 41.4, 32.4, 0.6, 0.8).moved(0, 0, 36)]), outer, level(1, 38))
        for kind in either(("finger", "lip", "screw"), KINDS):
            self.check(shell, kind, 0.2)


class Severed(unittest.TestCase):
    def test_a_piece_that_a_joint_leaves_in_bits_is_told_with_what_helps(self) -> None:
        data = stl_of(tube(30, 28, 35))
        fingers = FingerJoint(id="j1", face=FACE, count=4, width_mm=8, depth_mm=6)
        plan = plan_for(data, level(1, 30), joints=(fingers,))
        found = [f for f in findings_of(built(data, plan)) if f.code == "joint-severs"]
        self.assertEqual([(f.severity, f.joint, f.params["piece"]) for f in found], [("must-fix", "j1", 2)])
        self.assertTrue(found[0].fixes)
