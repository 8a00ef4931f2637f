"""Dividing over real requests: proposals taken, picks, strokes, variants, a parting once more, and refusals."""

import time

from tests.api.test_api import ApiCase
from tests.shapes import box, stl_of


class DivideApi(ApiCase):
    def bar(self) -> str:
        project = self.begin()
        self.bring(project, stl_of(box(440, 60, 60)))
        self.settle(project)
        return project

    def test_a_proposal_is_made_proved_and_taken_and_the_division_before_is_kept(self) -> None:
        project = self.bar()
        self.put(project, self.revision(project), partings=[{"kind": "even", "id": "p1", "axis": "x", "parts": 5}])
        wishes = {"prefer": "fewest"}
        found = self.answer(project, "propose", wishes)
        first = found["proposals"][0]
        self.assertEqual(first["figures"]["pieces"], 2)
        for mesh in first["meshes"].values():
            self.assertEqual(self.client.get(f"/api/meshes/{mesh}").status_code, 200)
        proof = self.answer(project, "prove", {"wishes": wishes, "proposal": first})
        self.assertEqual(proof["partings"], first["partings"])
        body = {"base_revision": self.revision(project), "wishes": wishes, "proposal": first}
        taken = self.client.post(f"/api/projects/{project}/take", json=body).json()
        self.assertEqual(taken["plan"]["partings"], first["partings"])
        self.assertEqual(taken["plan"]["variants"][0]["partings"][0]["parts"], 5)
        self.assertTrue(all(p["fits"] for p in self.build(project)["pieces"]))
        table = self.answer(project, "compare-variants")
        self.assertEqual([d["figures"]["pieces"] for d in table["divisions"]], [2, 5])
        wish = {"do": "switch", "variant": "v1"}
        body = {"base_revision": self.revision(project), "wish": wish}
        switched = self.client.post(f"/api/projects/{project}/variants", json=body).json()
        self.assertEqual(switched["plan"]["partings"][0]["parts"], 5)
        self.refused(self.client.post(f"/api/projects/{project}/variants", json=body), 409)

    def test_the_whole_job_is_planned_by_one_command_and_looked_over(self) -> None:
        project = self.bar()
        base = self.revision(project)
        made = self.answer(project, "plan-whole-job", {"base_revision": base, "wishes": {"prefer": "sturdy"}})
        self.assertEqual((made["label"], made["changed"], made["overview"]["must_fix"]), ("Planned the whole job", True, 0))
        self.assertEqual(self.revision(project), base + 1)
        self.assertTrue(all(p["fits"] for p in self.build(project)["pieces"]))
        seen = self.answer(project, "overview")
        self.assertEqual(seen, made["overview"])
        self.assertEqual([s["station"] for s in seen["stations"]], ["model", "divide", "join", "orient", "batch", "assemble"])
        self.assertIn(
            "2 pieces", next(line["says"] for s in seen["stations"] for line in s["lines"] if line["code"] == "pieces")
        )
        old = self.client.post(f"/api/projects/{project}/plan-whole-job", json={"base_revision": base})
        self.refused(old, 409)

    def test_the_whole_job_of_nothing_is_refused_in_words(self) -> None:
        project = self.begin()
        asked = self.client.post(f"/api/projects/{project}/plan-whole-job", json={"base_revision": self.revision(project)})
        self.refused(asked, 404, "Bring one in first")

    def test_a_pick_becomes_a_parting_and_a_bad_one_a_sentence(self) -> None:
        project = self.bar()
        found = self.answer(project, "pick", {"what": "face", "at_mm": [[220, 0, 30]], "offset_mm": -70})
        self.assertEqual((found["parting"]["axis"], found["parting"]["at_mm"]), ("x", 150.0))
        asked = self.client.post(
            f"/api/projects/{project}/pick", json={"what": "points", "at_mm": [[0, 0, 0], [1, 0, 0], [2, 0, 0]]}
        ).json()
        for _ in range(400):
            job = self.client.get(f"/api/jobs/{asked['id']}").json()
            if job["state"] == "failed":
                break
            time.sleep(0.05)
        self.assertIn("on one line", job["message"])

    def test_a_stroke_is_painted_and_erased(self) -> None:
        project = self.bar()
        stroke = {"radius_mm": 5, "at_mm": [[0, 0, 60]], "normals": [[0, 0, 1]]}
        painted = self.answer(project, "paint", stroke)["painted"]
        self.put(project, self.revision(project), marks=[{"id": "k1", "kind": "keep", "painted": painted}])
        self.assertEqual(self.build(project)["marks"][0]["faces"], 1)
        erased = self.answer(project, "paint", stroke | {"mark": "k1", "erase": True})
        self.assertIsNone(erased["painted"])
        answer = self.client.post(f"/api/projects/{project}/paint", json=stroke | {"mark": "k9"})
        self.refused(answer, 422, "not there any more")
        answer = self.client.post(f"/api/projects/{project}/paint", json=stroke | {"normals": [[0, 0, 1], [0, 0, 1]]})
        self.refused(answer, 422, "as many normals")

    def test_edges_and_once_more(self) -> None:
        project = self.bar()
        self.assertEqual(len(self.answer(project, "edges")["lines"]), 12)
        flat = {"kind": "flat", "id": "p1", "axis": "x", "at_mm": 100}
        body = {"parting": flat, "id": "p2", "how": "mirror", "axis": "x", "about_mm": 0}
        mirrored = self.client.post("/api/partings/again", json=body).json()
        self.assertEqual((mirrored["id"], mirrored["at_mm"]), ("p2", -100.0))

    def test_nonsense_in_a_plan_is_one_sentence_and_nothing_is_lost(self) -> None:
        project = self.bar()
        was = self.revision(project)
        point = [{"x_mm": x, "y_mm": y} for x, y in ((-300, 0), (100, 0), (0, 50), (0, -50))]
        for parting, said in (
            ({"kind": "wedges", "count": 0}, "greater than or equal to 2"),
            ({"kind": "wedges", "count": 1000}, "less than or equal to 60"),
            ({"kind": "profile", "points": point}, "crosses itself"),
            ({"kind": "hatch", "depth_mm": 5, "rebate_mm": 2, "rebate_depth_mm": 5}, "as deep as the hatch"),
            ({"kind": "lap", "axis": "x", "at_mm": 0, "overlap_mm": 0}, "greater than 0"),
        ):
            answer = self.put(project, was, partings=[{"id": "p1"} | parting])
            self.refused(answer, 422, said)
        self.assertEqual(self.revision(project), was)
