"""Edits of a plan's joints: added under free names, copied to alike faces, made into another kind."""

import unittest

from hinoki.core.build import Build
from hinoki.core.divide.partings import EvenParting
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joint_edits import added, alike, copies, exchanged, in_place_of
from hinoki.core.join.joints import DovetailJoint, DowelJoint, FaceRef, PinJoint, ThreadJoint
from tests.shapes import box, built, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
PLACES = ((-10.0, 0.0), (10.0, 0.0))
PINS = PinJoint(id="j1", face=FACE, fit="press", clearance_mm=0.2, places=PLACES)


class Edits(unittest.TestCase):
    def parted(self, solid: Solid) -> Build:
        """Parted twice in its height: two faces, one over the other."""
        data = stl_of(solid)
        return built(data, plan_for(data, EvenParting(id="p1", axis="z", parts=3)))

    def test_names_are_free_ones(self) -> None:
        plan = plan_for(b"", joints=(PINS.model_copy(update={"id": "j7"}),))
        self.assertEqual([j.id for j in added(plan, [PINS, PINS]).joints], ["j7", "j8", "j9"])

    def test_places_are_copied_to_a_face_that_is_alike_and_sought_anew_on_another(self) -> None:
        for solid, same in ((box(80, 40, 90), True), (Solid.cone(40, 20, 0, 90), False)):
            result = self.parted(solid)
            one, other = result.faces
            self.assertEqual(alike(one, other), same)
            joint = PINS.model_copy(update={"face": one.ref})
            plan = result.plan.model_copy(update={"joints": (joint,)})
            (copied,) = copies(plan, joint, result.faces)
            self.assertEqual((copied.face, copied.places), (other.ref, PLACES if same else None))
            self.assertEqual((copied.fit, copied.clearance_mm), ("press", 0.2))

    def test_a_face_that_has_one_of_the_kind_gets_no_copy(self) -> None:
        result = self.parted(box(80, 40, 90))
        mine, other = (PINS.model_copy(update={"face": f.ref}) for f in result.faces)
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
