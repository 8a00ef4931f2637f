"""Lips along open walls, as of a bowl cut in two: where they run, that material is only traded, how pieces come in askew."""

import unittest

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.assemble.assembled import Assembled
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import Parting, WedgesParting
from hinoki.core.geometry.enclosed import enclosed
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import FaceRef, LipJoint
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.propose.recommend_joints import SuitWish, suited
from hinoki.core.propose.unlock_joints import suited_together
from hinoki.core.workshop.fits import Fits
from tests.assembling import assembly, proofs
from tests.checked import findings_of
from tests.effort import tried
from tests.shapes import across, box, built, plan_for, shell_of, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


def cup(wide: float, wall: float, high: float) -> Solid:
    """A round cup with a floor as thick as its wall."""
    return Solid.cylinder(wide / 2, 0, high).minus([Solid.cylinder(wide / 2 - wall, wall, high + 1)])


def bowl(wide: float, wall: float, squeezed: float = 1.0) -> Solid:
    """The lower half of a hollow ellipsoid, open above, standing at Z 0."""
    whole = shell_of(wide / 2, squeezed * wide / 2, wide / 2, wall).moved(0, 0, wide / 2)
    return whole.common(Solid.box([-wide, -wide, -1], [wide, wide, wide / 2]))


def parted(solid: Solid, joint: LipJoint, clearance: float = 0.1) -> Build:
    data = stl_of(solid)
    return built(data, plan_for(data, across(1, "x", 0), joints=(joint,), fits=Fits(snug=clearance), bed=(300, 300, 300)))


def lip(**measures: object) -> LipJoint:
    return LipJoint.model_validate({"id": "j1", "face": FACE, "height_mm": 3.0} | measures)


def foot_of(placed: PlacedJoint) -> shapely.Geometry:
    return placed.joint.footprint(placed.standing, (0.0, 0.0))


class Runs(unittest.TestCase):
    def placed(self, solid: Solid, **measures: object) -> PlacedJoint:
        return parted(solid, lip(**measures)).placed[0]

    def test_it_keeps_off_the_ends_of_the_wall(self) -> None:
        """The rim by as much as asked and its height more, so that the piece may come in askew."""
        for stop in (2.0, 6.0):
            placed = self.placed(cup(80, 3, 60), runs="inner", stop_mm=stop)
            mouths = enclosed(placed.face.shape).mouths
            self.assertAlmostEqual(foot_of(placed).distance(mouths), stop + 3.0, delta=0.05)

    def test_it_runs_along_the_side_asked_for(self) -> None:
        at = {runs: self.placed(cup(80, 4, 60), runs=runs, thickness_mm=1.5) for runs in ("inner", "outer")}
        for runs, placed in at.items():
            room = enclosed(placed.face.shape).room
            self.assertAlmostEqual(foot_of(placed).distance(room), 0.0 if runs == "inner" else 2.5, delta=0.02)
            self.assertAlmostEqual(foot_of(placed).area / (foot_of(placed).length / 2), 1.5, delta=0.03)

    def test_in_the_middle_it_leaves_as_much_on_either_side_as_asked(self) -> None:
        placed = self.placed(cup(80, 4, 60), runs="middle", land_mm=1.4)
        self.assertAlmostEqual(foot_of(placed).distance(placed.face.shape.boundary), 1.4, delta=0.01)
        self.assertAlmostEqual(foot_of(placed).area / (foot_of(placed).length / 2), 1.2, delta=0.03)

    def test_where_the_wall_is_too_thin_there_is_none(self) -> None:
        """One side of a channel is worn to 1.2 mm over a third of its length."""
        channel = Solid.box([-30, -40, 0], [30, 40, 50]).minus([Solid.box([-31, -37, 3], [31, 37, 51])])
        worn = channel.minus([Solid.box([-31, 38.2, 20], [31, 41, 36])])
        feet = [foot_of(self.placed(solid, runs="inner", thickness_mm=1.0)) for solid in (channel, worn)]
        thin = shapely.box(36, 20, 41, 36)
        self.assertGreater(feet[0].intersection(thin).area, 10)
        self.assertEqual(feet[1].intersection(thin).area, 0)
        self.assertLess(feet[1].area, feet[0].area - 15)
        self.assertGreater(feet[1].area, 0.6 * feet[0].area)

    def test_one_that_finds_too_little_wall_is_told_with_what_it_needs(self) -> None:
        for thick, severity in ((2.6, "must-fix"), (1.0, None)):
            result = parted(cup(80, 3, 60), lip(runs="inner", thickness_mm=thick))
            found = {f.code: f for f in findings_of(result) if f.station == "join"}.get("joint-lip-short")
            self.assertEqual(found.severity if found else None, severity, thick)
            if found is not None:
                self.assertAlmostEqual(float(str(found.params["need_mm"])), 2.6 + 0.1 + 0.9)

    def test_a_straight_wall_has_no_inner_side(self) -> None:
        result = parted(box(60, 3, 80), lip(runs="inner"))
        self.assertIn("joint-lip-side", {f.code for f in findings_of(result)})


class Fair(unittest.TestCase):
    """Whatever the measures, the two pieces only trade material."""

    @tried(8)
    @given(
        solid=st.one_of(
            st.builds(cup, st.floats(50, 90), st.floats(2, 4), st.floats(30, 60)),
            st.builds(bowl, st.floats(60, 110), st.floats(2, 4), st.floats(0.7, 1.3)),
        ),
        joint=st.builds(
            lip, runs=st.sampled_from(["inner", "outer", "middle"]), height_mm=st.floats(1.5, 5),
            on=st.sampled_from(["a", "b"]), land_mm=st.floats(0.9, 1.4), thickness_mm=st.none() | st.floats(0.9, 1.6),
        ),
        clearance=st.floats(0.05, 0.2),
    )  # fmt: skip
    def test_on_any_shell(self, solid: Solid, joint: LipJoint, clearance: float) -> None:
        result = parted(solid, joint, clearance)
        pieces = {p.key: p.solid for p in result.parts}
        self.assertLess(pieces["p1-"].common(pieces["p1+"]).volume_mm3, 1e-3)
        for piece in pieces.values():
            self.assertLess(piece.minus([solid]).volume_mm3, 0.05)  # the file's corners are rounded
            self.assertEqual(len(piece.lumps()), 1)
        (placed,) = result.placed
        for tool in placed.tools.each:
            if tool.probe is not None and tool.add is not None:
                other = pieces["p1+" if tool.side == "a" else "p1-"]
                own = tool.probe.common(pieces["p1-" if tool.side == "a" else "p1+"])
                self.assertGreater(own.gap(other, 2.0), clearance - 0.01)


class Chosen(unittest.TestCase):
    """What is taken by itself for shells that end somewhere, and that all goes together with it."""

    def test_seams_of_thin_bowls_get_rims_that_hold_them(self) -> None:
        for wall in (2.0, 2.4, 3.0, 4.0):
            data = stl_of(bowl(120, wall))
            plan = plan_for(data, across(1, "x", 0), bed=(300, 300, 300))
            (joint,) = suited(built(data, plan), plan, SuitWish(kind="auto")).joints
            assert isinstance(joint, LipJoint), joint
            placed = built(data, plan.model_copy(update={"joints": (joint,)})).placed[0]
            self.assertGreater(joint.share(placed.standing) or 0.0, 0.8, wall)

    def together(self, *partings: Parting) -> tuple[list[str], Assembled]:
        """The kinds of joint that a cup gets which is parted so, and its assembly."""
        data, cache = stl_of(cup(120, 3, 70)), Cache()
        plan = plan_for(data, *partings, bed=(300, 300, 300))
        found = suited_together(built(data, plan), plan, SuitWish(kind="auto"), lambda p: built(data, p), cache)
        plan = plan.model_copy(update={"joints": tuple(found.joints)})
        return [joint.kind for joint in found.joints], assembly(built(data, plan), plan)

    def test_a_cup_in_four_goes_together_with_a_rim_at_every_seam(self) -> None:
        kinds, out = self.together(across(1, "x", 0), across(2, "y", 0))
        self.assertEqual((kinds, out.order.locked, proofs(out)), (["lip"] * 4, [], ["proved"] * 4))

    def test_the_last_of_three_wedges_comes_in_askew_to_a_face(self) -> None:
        """Straight onto both is not possible: the faces look in ways of their own."""
        kinds, out = self.together(WedgesParting(id="p1", axis="z", count=3))
        self.assertEqual((kinds, out.order.locked, proofs(out)), (["lip"] * 3, [], ["proved"] * 3))
        last = out.order.steps[-1].motion
        assert last is not None
        faces = [h.normal for h in out.scene.held if out.order.steps[-1].lead in (h.a, h.b)]
        self.assertLess(min(abs(float(np.dot(last.way, n))) for n in faces), 0.6)

    def test_rims_of_seams_that_cross_do_not_meet(self) -> None:
        data = stl_of(cup(120, 3, 70))
        plan = plan_for(data, across(1, "x", 0), across(2, "y", 0), bed=(300, 300, 300))
        plan = plan.model_copy(update={"joints": tuple(suited(built(data, plan), plan, SuitWish(kind="auto")).joints)})
        result = built(data, plan)
        self.assertEqual([list(p.clashes) for p in result.placed], [[]] * len(result.placed))


if __name__ == "__main__":
    unittest.main()
