"""Versions of a joint over real requests: what was printed with each is found in the log, and how it came out."""

import unittest
from typing import Any

from hinoki.core.plan.joint_tries import JointTry
from hinoki.core.printlog.joint_versions import effective_mm
from hinoki.core.workshop.fits import Fits
from tests.api.test_printlog import PIN, LogCase
from tests.shapes import box, level, plan_for, stl_of


class Versions(LogCase):
    def versions(self) -> dict[str, Any]:
        found: dict[str, Any] = self.client.get(f"/api/projects/{self.project}/joints/j1/versions").json()
        return found

    def changed(self, **more: Any) -> None:
        self.assertEqual(self.put(self.project, self.revision(self.project), **more).status_code, 200)
        self.settle(self.project)

    def test_prints_are_shared_out_among_the_versions_they_were_made_with(self) -> None:
        first = JointTry(id="t1", name="V1", joint=PIN, clearance_mm=0.1)
        wider = PIN.model_copy(update={"clearance_mm": 0.2})
        self.changed(joint_tries=[first.model_dump(mode="json")])
        one = self.send(None)
        self.client.put(f"/api/prints/{one['id']}/state", json={"state": "done"})
        items = next(p for p in self.log()["prints"] if p["id"] == one["id"])["items"]
        mark = {"version": items[0]["version"], "state": "failed", "reason": "too tight"}
        answer = self.client.patch(f"/api/prints/{one['id']}/items/{items[0]['item']}", json=mark)
        self.assertEqual(answer.status_code, 200, answer.text)

        self.changed(joints=[wider.model_dump(mode="json")])
        found = self.versions()
        self.assertEqual(len(found["tries"]["t1"]), 2)
        self.assertEqual({p["number"] for p in found["tries"]["t1"]}, {one["number"]})
        self.assertIn("too tight", [p["reason"] for p in found["tries"]["t1"]])
        self.assertEqual(found["now"], [])

        self.send(None)
        self.assertEqual([p["number"] for p in self.versions()["now"]], [one["number"] + 1] * 2)

    def test_a_joint_that_is_not_there_has_none(self) -> None:
        answer = self.client.get(f"/api/projects/{self.project}/joints/j9/versions")
        self.assertEqual(answer.status_code, 404)


class Same(unittest.TestCase):
    def test_another_clearance_of_the_fit_is_another_version(self) -> None:
        joint = PIN.model_copy(update={"clearance_mm": None})
        plan = plan_for(stl_of(box(40, 30, 40)), level(1, 20)).model_copy(update={"joints": (joint,)})
        tight, wide = (plan.model_copy(update={"fits": Fits(snug=snug)}) for snug in (0.1, 0.15))
        kept = JointTry(id="t1", joint=joint, clearance_mm=effective_mm(tight, joint))
        self.assertTrue(kept.same_as(joint, effective_mm(tight, joint)))
        self.assertFalse(kept.same_as(joint, effective_mm(wide, joint)))
        self.assertTrue(kept.belongs_to(joint))
        self.assertFalse(kept.belongs_to(joint.model_copy(update={"id": "j2"})))
        self.assertEqual(kept.label, "V1")
