"""Corner posts: where a thin wall ends at a panel it is thickened inside, and pins and screws of the panel stand in it."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.build import Build
from hinoki.core.divide.partings import FlatParting
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.apply import standing_on
from hinoki.core.join.clearance import measured_clearance
from hinoki.core.join.joints import FaceRef, Joint, PinJoint, ScrewJoint
from hinoki.core.join.sizing.collar_sizing import panel_of
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.recommend_joints import SuitWish
from hinoki.core.propose.unlock_joints import suited_together
from hinoki.core.workshop.fits import Fits
from tests.assembling import assembly, proofs
from tests.checked import findings_of
from tests.effort import tried
from tests.shapes import COMMON, across, box, built, level, plan_for, stl_of

X, Y, Z = 100.0, 80.0, 50.0
END = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
"""the left wall, A, parted off whole: the others end at it, with the floor"""


def case(wall: float) -> Solid:
    """A box open above."""
    inside = Solid.box([wall - X / 2, wall - Y / 2, wall], [X / 2 - wall, Y / 2 - wall, Z + 1])
    return box(X, Y, Z).minus([inside])


def plan_of(wall: float, *joints: Joint, fits: Fits | None = None) -> tuple[bytes, Plan]:
    data = stl_of(case(wall))
    return data, plan_for(data, across(1, "x", wall - X / 2), joints=joints, fits=fits or Fits())


def told(result: Build) -> list[tuple[str, object]]:
    return [(f.code, f.params) for f in findings_of(result) if f.severity != "note"]


def pins(**more: object) -> PinJoint:
    measures = {"count": 3, "diameter_mm": 4.0, "length_mm": 4.0, "collar_mm": 6.0, "on": "a", **more}
    return PinJoint(id="j1", face=END, **measures)  # type: ignore[arg-type]


class Posts(unittest.TestCase):
    def test_pins_of_a_thin_panel_stand_in_a_post_of_the_wall_that_ends_at_it(self) -> None:
        for runs in ("along", "ears"):
            data, plan = plan_of(2.4, pins(collar_runs=runs))
            result = built(data, plan)
            self.assertEqual(told(result), [], runs)
            (placed,) = result.placed
            self.assertEqual((placed.gains["a"].volume_mm3, len(placed.places)), (0.0, 3))
            self.assertEqual([len(part.solid.lumps()) for part in result.parts], [1, 1])
            self.assertEqual(set(proofs(assembly(result))), {"proved"})

    @tried(4)
    @given(wall=st.floats(1.2, 3.5), thick=st.floats(5.5, 8), clearance=st.floats(0.05, 0.25), ears=st.booleans())
    def test_the_outside_stays_and_the_clearance_is_kept(self, wall: float, thick: float, clearance: float, ears: bool) -> None:
        joint = pins(diameter_mm=3.0, length_mm=3.0, collar_mm=thick, collar_runs="ears" if ears else "along")
        data, plan = plan_of(wall, joint, fits=Fits(snug=clearance))
        result = built(data, plan)
        gained = result.parts[0].solid.plus([result.parts[1].solid]).minus([case(wall)])
        within = Solid.box([wall - X / 2, wall - Y / 2, wall], [X / 2 - wall, Y / 2 - wall, Z])
        self.assertLess(gained.minus([within]).volume_mm3, 0.01)
        self.assertGreater(gained.volume_mm3, 100)
        gap = measured_clearance(result.placed[0], {p.key: p.solid for p in result.parts})
        self.assertAlmostEqual(gap or 0.0, clearance, delta=0.01)

    def test_its_size_is_as_asked(self) -> None:
        """A bar as thick as typed along two walls and the floor, as deep as the pins need, its end sloped by 45°."""
        wall, thick = 2.4, 6.0
        result = built(*plan_of(wall, pins(collar_mm=thick)))
        (placed,) = result.placed
        standing = placed.standing
        deep = 4.0 + standing.end_gap_mm + standing.least_wall_mm
        wide, high = Y - 2 * wall, Z - wall  # of the room within
        section = wide * high - (wide - 2 * thick) * (high - thick)
        low, high_end = section * deep, section * (deep + thick)
        # two millimetres before the open edge there is none
        self.assertTrue(0.9 * low < placed.gains["b"].volume_mm3 < high_end, (low, placed.gains["b"].volume_mm3))

    def test_its_end_slopes_so_that_it_prints_without_support(self) -> None:
        (placed,) = built(*plan_of(2.4, pins())).placed
        mesh = placed.gains["b"].mesh
        normals = mesh.face_normals
        away = normals @ placed.face.frame.n
        # what looks away from the panel leans by 45°, in steps narrower than a printed line
        flat = away > 0.99
        corners = mesh.vertices[mesh.faces[flat]]
        self.assertTrue(flat.any())
        depths = {round(float(c), 2) for c in (corners @ placed.face.frame.n).ravel()}
        self.assertGreater(len(depths), 8)

    def test_which_side_is_the_panel(self) -> None:
        data, plan = plan_of(2.4)
        (face,) = built(data, plan).faces
        self.assertEqual(panel_of(standing_on(face, plan, "snug")), "a")
        block = box(40, 40, 40)
        level_plan = plan_for(stl_of(block), level(1, 20))
        (full,) = built(stl_of(block), level_plan).faces
        self.assertIsNone(panel_of(standing_on(full, level_plan, "snug")))


class Suits(unittest.TestCase):
    def suits(self, kind: str, wall: float) -> tuple[Joint, Build]:
        data, plan = plan_of(wall)
        found = suited_together(built(data, plan), plan, SuitWish(kind=kind), lambda p: built(data, p), COMMON)
        (joint,) = found.joints
        return joint, built(data, plan.model_copy(update={"joints": (joint,)}))

    def test_pins_asked_for_stand_on_the_panel(self) -> None:
        joint, result = self.suits("pin", 2.4)
        assert isinstance(joint, PinJoint)
        self.assertEqual(joint.on, "a")
        self.assertGreater(joint.collar_mm, 0)
        self.assertEqual(told(result), [])

    def test_screws_asked_for_have_their_heads_in_the_panel(self) -> None:
        joint, result = self.suits("screw", 2.4)
        assert isinstance(joint, ScrewJoint)
        self.assertEqual((joint.on, joint.head), ("a", "countersunk"))
        self.assertEqual(told(result), [])
        self.assertEqual(set(proofs(assembly(result))), {"proved"})

    def test_the_four_walls_of_a_box_with_screws_in_its_corners(self) -> None:
        """Cut into its walls and its floor: every corner has posts, and the whole goes together."""
        wall = 2.4
        data = stl_of(case(wall))
        cuts: list[FlatParting] = [
            across(1, "x", wall - X / 2), across(2, "x", X / 2 - wall, ("p1+",)), level(3, wall, ("p1+ p2-",)),
        ]  # fmt: skip
        plan = plan_for(data, *cuts)
        ends = [f.ref.id for f in built(data, plan).faces if f.ref.parting in ("p1", "p2") and "p3+" in f.ref.a + f.ref.b]
        self.assertEqual(len(ends), 4)
        wish = SuitWish(kind="screw", faces=ends)
        found = suited_together(built(data, plan), plan, wish, lambda p: built(data, p), COMMON)
        self.assertEqual((len(found.joints), found.without), (4, []))
        result = built(data, plan.model_copy(update={"joints": tuple(found.joints)}))
        self.assertEqual(told(result), [])
        self.assertEqual(set(proofs(assembly(result))), {"proved"})
