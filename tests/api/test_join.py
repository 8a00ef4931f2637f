"""Joining over real requests: joints that suit, where there is no room, and what is refused."""

from tests.api.test_api import ApiCase
from tests.shapes import box, stl_of


class JoinApi(ApiCase):
    def block(self, side: float = 60) -> str:
        project = self.begin()
        self.bring(project, stl_of(box(side, side, 60)))
        self.settle(project)
        self.put(project, self.revision(project), partings=[{"kind": "flat", "id": "p1", "axis": "z", "at_mm": 30}])
        self.build(project)
        return project

    def test_joints_that_suit_come_with_their_measures_and_are_kept(self) -> None:
        project = self.block()
        found = self.answer(project, "suggest-joints", {"kind": "dovetail"})
        self.assertEqual((found["without"], found["joints"][0]["kind"]), ([], "dovetail"))
        self.put(project, self.revision(project), joints=found["joints"])
        view = self.build(project)
        self.assertEqual(view["joints"][0]["label"], "dovetail 10/20 × 6")
        self.assertTrue(view["joints"][0]["shapes"][0])
        again = self.answer(project, "suggest-joints", {"kind": "auto"})
        self.assertEqual(again["joints"], [])  # no face is bare any more

    def test_a_face_without_room_is_named(self) -> None:
        project = self.block(3)
        found = self.answer(project, "suggest-joints", {"kind": "pin"})
        self.assertEqual((found["joints"], found["without"]), ([], ["p1/0 p1-|p1+"]))
        glue = self.answer(project, "suggest-joints", {"kind": "auto"})
        self.assertEqual(glue["joints"][0]["kind"], "butt")

    def test_what_is_no_joint_is_refused_in_words(self) -> None:
        project = self.block()
        refused = self.client.post(f"/api/projects/{project}/suggest-joints", json={"kind": "nail"})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("kind", refused.json()["detail"])
        face = {"parting": "p1", "member": 0, "a": "p1-", "b": "p1+"}
        wrong = [{"kind": "dovetail", "id": "j1", "face": face, "neck_mm": 9, "head_mm": 9}]
        answer = self.put(project, self.revision(project), joints=wrong)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("wider than its neck", answer.json()["detail"])
