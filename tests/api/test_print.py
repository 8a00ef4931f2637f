"""Orientation and batches over real requests."""

from tests.api.test_api import ApiCase
from tests.shapes import box, stl_of

PARTING = {"kind": "flat", "id": "p1", "axis": "z", "at_mm": 30}


class Printing(ApiCase):
    def project(self) -> str:
        project = self.begin()
        self.bring(project, stl_of(box(60, 60, 60)))
        self.settle(project)
        self.put(project, self.revision(project), partings=[PARTING])
        return project

    def test_one_piece_and_all_pieces_are_oriented(self) -> None:
        project = self.project()
        key = self.build(project)["pieces"][0]["key"]
        one = self.answer(project, "orient", "orientations", {"piece": key, "preset": "fastest"})
        self.assertEqual([p["key"] for p in one["pieces"]], [key])
        best = one["pieces"][0]["candidates"][0]
        self.assertEqual((best["broken"], best["support_mm3"], best["rest"]["height_mm"]), ([], 0, 30))
        every = self.answer(project, "orient", "orientations", {"weights": {"support": 1}})
        self.assertEqual(len(every["pieces"]), 2)

    def test_a_locked_piece_is_left_out_of_all(self) -> None:
        project = self.project()
        key = self.build(project)["pieces"][0]["key"]
        self.put(project, self.revision(project), pieces={key: {"down": [1, 0, 0], "locked": True}})
        every = self.answer(project, "orient", "orientations", {})
        self.assertEqual(len(every["pieces"]), 1)
        self.assertNotEqual(every["pieces"][0]["key"], key)

    def test_wishes_that_make_no_sense_are_refused(self) -> None:
        project = self.project()
        for question, body in (
            ("orient", {"weights": {"support": -1}}),
            ("orient", {"preset": "prettiest"}),
            ("batches", {"gap_mm": -1}),
            ("batches", {"most_hours": 0}),
        ):
            self.assertEqual(self.client.post(f"/api/projects/{project}/{question}", json=body).status_code, 422, body)

    def test_batches_have_everything_once_and_power_at_the_workshops_price(self) -> None:
        project = self.project()
        cheap = self.answer(project, "batches", "batches", {})
        self.assertEqual(sorted(n for b in cheap["batches"] for t in b["things"] for n in t["pieces"]), [1, 2])
        self.client.put("/api/workshop/settings", json={"currency": "€", "power_price": 1.3})
        dear = self.answer(project, "batches", "batches", {})
        kwh = sum(b["kwh"] for b in dear["batches"])
        self.assertAlmostEqual(dear["cost"] - cheap["cost"], kwh * 1.0, delta=0.05)

    def test_nothing_to_print_is_said(self) -> None:
        project = self.begin()
        self.refused(self.client.post(f"/api/projects/{project}/batches", json={}), 404, "no model yet")
