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
        one = self.answer(project, "orient", {"piece": key, "preset": "fastest"})
        self.assertEqual([p["key"] for p in one["pieces"]], [key])
        best = one["pieces"][0]["candidates"][0]
        self.assertEqual((best["broken"], best["support_mm3"], best["rest"]["height_mm"]), ([], 0, 30))
        every = self.answer(project, "orient", {"weights": {"support": 1}})
        self.assertEqual(len(every["pieces"]), 2)

    def test_a_locked_piece_is_left_out_of_all(self) -> None:
        project = self.project()
        key = self.build(project)["pieces"][0]["key"]
        self.put(project, self.revision(project), pieces={key: {"down": [1, 0, 0], "locked": True}})
        every = self.answer(project, "orient", {})
        self.assertEqual(len(every["pieces"]), 1)
        self.assertNotEqual(every["pieces"][0]["key"], key)

    def test_wishes_that_make_no_sense_are_refused(self) -> None:
        project = self.project()
        for question, body in (
            ("orient", {"weights": {"support": -1}}),
            ("orient", {"preset": "prettiest"}),
        ):
            self.assertEqual(self.client.post(f"/api/projects/{project}/{question}", json=body).status_code, 422, body)
        for batching in (
            {"gap_mm": -1},
            {"most_hours": 0},
            {"copies": {"p1+": 10_000}},
            {"laid": {"p1+": {"bed": 0, "x_mm": 0, "y_mm": 0}}},
        ):
            self.assertEqual(self.put(project, self.revision(project), batching=batching).status_code, 422, batching)

    def test_batches_have_everything_once_and_power_at_the_workshops_price(self) -> None:
        project = self.project()
        cheap = self.answer(project, "batch", {})
        self.assertEqual(sorted(n for b in cheap["batches"] for t in b["things"] for n in t["pieces"]), [1, 2])
        self.client.put("/api/workshop/settings", json={"currency": "€", "power_price": 1.3})
        dear = self.answer(project, "batch", {})
        kwh = sum(b["took"]["kwh"] for b in dear["batches"])
        self.assertAlmostEqual(dear["took"]["cost"] - cheap["took"]["cost"], kwh * 1.0, delta=0.05)

    def test_a_piece_asked_for_alone_tells_how_it_lies_now_and_its_likes(self) -> None:
        project = self.project()
        key = self.build(project)["pieces"][0]["key"]
        alone = self.answer(project, "orient", {"piece": key})["pieces"][0]
        self.assertEqual(alone["now"]["rest"]["down"], [0, 0, -1])
        self.assertEqual([m["number"] for m in alone["mates"]], [2])
        self.assertAlmostEqual(alone["layers"][0][1], 3600, delta=150)
        (outline,) = alone["now"]["contact"]
        self.assertEqual((min(x for x, _ in outline), max(y for _, y in outline)), (-30, 30))
        every = self.answer(project, "orient", {})["pieces"][0]
        self.assertEqual((every["now"], every["mates"]), (None, []))

    def test_a_card_and_the_batches_tell_the_same_time(self) -> None:
        """Laid as a card says, a piece takes in the batches what the card said, within 5 %."""
        project = self.project()
        pieces = self.build(project)["pieces"]
        for piece in pieces:
            alone = self.answer(project, "orient", {"piece": piece["key"]})["pieces"][0]
            batches = self.answer(project, "batch", {})
            (thing,) = (t for t in batches["each"] if t["key"] == piece["key"])
            self.assertAlmostEqual(alone["now"]["minutes"] / thing["took"]["minutes"], 1, delta=0.05)

    def test_a_move_by_hand_is_tried_and_an_overlap_refused(self) -> None:
        project = self.project()
        asked = self.client.post(f"/api/projects/{project}/batch").json()
        name = self.ended(asked)
        view = self.client.get(f"/api/results/batch/{name}").json()
        one, other = view["batches"][0]["things"]
        path = f"/api/projects/{project}/batches/{name}/move"
        onto = {"key": one["key"], "bed": 1, "x_mm": other["x_mm"], "y_mm": other["y_mm"]}
        self.refused(self.client.post(path, json=onto), 409, "overlaps", "drop it on a free place")
        free = self.client.post(path, json={"key": one["key"], "bed": 2}).json()["laid"]
        self.assertEqual((free[one["key"]]["bed"], free[other["key"]]["pinned"]), (2, False))
        self.put(project, self.revision(project), partings=[PARTING], batching={"laid": free})
        after = self.answer(project, "batch", None)
        self.assertEqual([[t["key"] for t in b["things"]] for b in after["batches"]], [[other["key"]], [one["key"]]])
        self.refused(self.client.post(path.replace(name, "batch-" + "0" * 32 + ".json"), json=onto), 404, "lay the batches out")

    def test_what_went_out_is_remembered_with_what_changed_since(self) -> None:
        project = self.project()
        self.build(project)
        wish = {"pieces": "ply", "model": False, "faces": True}
        self.ended(self.client.post(f"/api/projects/{project}/exports", json=wish).json())
        (went,) = self.client.get(f"/api/projects/{project}/exports").json()
        self.assertEqual((went["pieces"], went["batches"], went["changed"], went["gone"]), (2, 1, [], []))
        first = self.revision(project)
        self.put(project, first, partings=[{**PARTING, "at_mm": 25}])
        self.build(project)
        (went,) = self.client.get(f"/api/projects/{project}/exports").json()
        self.assertEqual((went["revision"], went["changed"], went["gone"]), (first, [1, 2], []))
        self.put(project, self.revision(project), partings=[])
        self.build(project)
        (went,) = self.client.get(f"/api/projects/{project}/exports").json()
        self.assertEqual(len(went["gone"]), 2)

    def test_a_plan_from_elsewhere_is_followed_and_what_does_not_match_is_said(self) -> None:
        project = self.project()
        plan = self.plan(project)
        plan["pieces"] = {"p1+": {"name": "Lid"}, "p7+": {"name": "Chimney", "down": [0, 0, 1]}}
        plan["partings"].append({"kind": "flat", "id": "p2", "axis": "z", "at_mm": 400})
        other = self.begin("Other")
        path = f"/api/projects/{other}/take-plan"
        self.refused(self.client.post(path, json={"base_revision": 1, "plan": plan}), 404, "no model yet")
        self.bring(other, stl_of(box(50, 50, 50)))
        self.settle(other)
        self.refused(self.client.post(path, json={"base_revision": 2, "plan": {"schema": "x"}}), 422, "not a Hinoki plan")
        taken = self.client.post(path, json={"base_revision": self.revision(other), "plan": plan})
        self.assertEqual(taken.status_code, 200, taken.text)
        build = self.build(other)
        self.assertEqual([p["name"] for p in build["pieces"]], ["Piece 1", "Lid"])
        codes = {f["code"] for f in build["findings"]}
        self.assertLessEqual({"parting-misses", "piece-gone"}, codes)

    def test_nothing_to_print_is_said(self) -> None:
        project = self.begin()
        self.refused(self.client.post(f"/api/projects/{project}/batch", json={}), 404, "no model yet")
