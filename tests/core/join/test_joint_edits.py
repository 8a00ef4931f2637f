"""Edits of a plan's joints: added under free names, copied to alike faces, made into another kind."""

import unittest

from hinoki.core.build import Build
from hinoki.core.join.joint_edits import added, alike, copies, exchanged, in_place_of
from hinoki.core.join.joints import DovetailJoint, DowelJoint, FaceRef, PinJoint, ThreadJoint
from tests.shapes import across, box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
PLACES = ((-10.0, 0.0), (10.0, 0.0))
PINS = PinJoint(id="j1", face=FACE, fit="press", clearance_mm=0.2, places=PLACES)


class Edits(unittest.TestCase):
    def parted(self, at: float) -> Build:
        """A block parted in its height and across: two faces of the height, alike when it is cut in the middle."""
        data = stl_of(box(80, 40, 40))
        return built(data, plan_for(data, level(1, 20), across(2, "x", at)))

    def test_names_are_free_ones(self) -> None:
        plan = plan_for(b"", joints=(PINS.model_copy(update={"id": "j7"}),))
        self.assertEqual([j.id for j in added(plan, [PINS, PINS]).joints], ["j7", "j8", "j9"])

    def test_places_are_copied_to_a_face_that_is_alike_and_sought_anew_on_another(self) -> None:
        for at, same in ((0.0, True), (15.0, False)):
            result = self.parted(at)
            one, other = (f for f in result.faces if f.ref.parting == "p1")
            self.assertEqual(alike(one, other), same)
            joint = PINS.model_copy(update={"face": one.ref})
            plan = result.plan.model_copy(update={"joints": (joint,)})
            (copied,) = copies(plan, joint, result.faces)
            self.assertEqual((copied.face, copied.places), (other.ref, PLACES if same else None))
            self.assertEqual((copied.fit, copied.clearance_mm), ("press", 0.2))

    def test_a_face_that_has_one_of_the_kind_gets_no_copy(self) -> None:
        result = self.parted(0.0)
        mine, other = (PINS.model_copy(update={"face": f.ref}) for f in result.faces if f.ref.parting == "p1")
        self.assertEqual(copies(result.plan.model_copy(update={"joints": (mine, other)}), mine, result.faces), [])
        keyed = DovetailJoint(id="j2", face=other.face)
        self.assertEqual(len(copies(result.plan.model_copy(update={"joints": (mine, keyed)}), mine, result.faces)), 1)

    def test_another_kind_keeps_what_both_have(self) -> None:
        dowels = in_place_of(PINS, DowelJoint(id="j5", face=FACE))
        self.assertEqual((dowels.id, dowels.fit, dowels.clearance_mm, dowels.places), ("j1", "press", 0.2, PLACES))
        tail = in_place_of(PINS, DovetailJoint(id="j5", face=FACE))
        self.assertEqual((tail.fit, tail.places), ("press", None))
        thread = in_place_of(PINS, ThreadJoint(id="j5", face=FACE, fit="sliding"))
        self.assertEqual(thread.fit, "sliding")
        plan = plan_for(b"", joints=(PINS, PINS.model_copy(update={"id": "j2"})))
        self.assertEqual([(j.id, j.kind) for j in exchanged(plan, tail).joints], [("j1", "dovetail"), ("j2", "pin")])


if __name__ == "__main__":
    unittest.main()
