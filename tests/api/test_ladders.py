"""Fit ladders over real requests: made for a joint, answered, kept beside each other, taken over into the fits."""

import io
import zipfile

from hinoki.core.formats.registry import read_file
from tests.api.test_api import ApiCase
from tests.shapes import box, stl_of

PIN = {
    "kind": "pin", "id": "j1", "face": {"parting": "p1", "member": 0, "a": "p1-", "b": "p1+"}, "diameter_mm": 6, "length_mm": 7,
}  # fmt: skip
ANSWERS = {"clearances_mm": [0.05, 0.1, 0.15, 0.2, 0.25], "answers": ["no", "force", "hand", "slides", "rattles"]}


class Ladders(ApiCase):
    def entry(self, **more: object) -> dict[str, object]:
        workshop = self.client.get("/api/workshop").json()
        pair = {"printer_id": workshop["printers"][0]["id"], "material_id": workshop["materials"][0]["id"]}
        return {**pair, "layer_mm": 0.2, "joint": "2 pins ø6 × 7", "answers": ANSWERS, **more}

    def test_a_ladder_of_a_joint_is_made_and_loaded(self) -> None:
        project = self.begin()
        self.bring(project, stl_of(box(60, 60, 60)))
        self.settle(project)
        parting = {"kind": "flat", "id": "p1", "axis": "z", "at_mm": 30}
        self.put(project, self.revision(project), partings=[parting], joints=[PIN])
        made = self.answer(project, "ladders", "ladders", {"joint": "j1", "from_mm": 0.1, "to_mm": 0.3, "rungs": 3})
        self.assertEqual(made["clearances_mm"], [0.1, 0.2, 0.3])
        self.assertEqual(len(made["pieces"]), 4)
        self.assertGreater(made["minutes"], 1)
        name = f"{made['file']}.json"
        whole = self.client.get(f"/api/ladders/{name}/3mf")
        self.assertGreater(len(read_file(whole.content, "a.3mf").mesh.faces), 100)
        parts = zipfile.ZipFile(io.BytesIO(self.client.get(f"/api/ladders/{name}/stl").content))
        self.assertEqual(len(parts.namelist()), 4)

    def test_senseless_ladders_are_refused_in_words(self) -> None:
        project = self.begin()
        self.bring(project, stl_of(box(60, 60, 60)))
        self.settle(project)
        refused = self.client.post(f"/api/projects/{project}/ladders", json={"joint": "j1", "from_mm": 0.3, "to_mm": 0.1})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("smaller to a larger", refused.json()["detail"])
        wrong = self.client.post("/api/workshop/ladders/told", json={"clearances_mm": [0.1, 0.2, 0.3], "answers": ["no"]})
        self.assertEqual(wrong.status_code, 422)
        gone = self.client.post("/api/workshop/ladders", json=self.entry(printer_id="none"))
        self.assertEqual(gone.status_code, 404)
        self.assertIn("not in the workshop", gone.json()["detail"])

    def test_answers_are_told_kept_compared_and_taken_over(self) -> None:
        told = {t["fit"]: t["clearance_mm"] for t in self.client.post("/api/workshop/ladders/told", json=ANSWERS).json()}
        self.assertEqual(told, {"press": 0.1, "snug": 0.15, "sliding": 0.2, "loose": 0.25})
        first = self.client.post("/api/workshop/ladders", json=self.entry(made_at="2026-03-01T10:00:00Z")).json()
        self.assertEqual(len(first), 1)
        tighter = {**ANSWERS, "answers": ["force", "hand", "slides", "rattles", "rattles"]}
        both = self.client.post("/api/workshop/ladders", json=self.entry(answers=tighter)).json()
        self.assertEqual([len(both), both[1]["made_at"][:10]], [2, "2026-03-01"], "the older one stays")
        snug = [next(t["clearance_mm"] for t in one["learned"] if t["fit"] == "snug") for one in both]
        self.assertEqual(snug, [0.1, 0.15])
        body = {k: both[0][k] for k in ("printer_id", "material_id")} | {"clearances_mm": {"snug": 0.1}, "note": "pins"}
        fits = self.client.post("/api/workshop/ladders/fits", json=body).json()["fits"]
        self.assertEqual([(f["fit"], f["clearance_mm"], f["origin"]) for f in fits], [("snug", 0.1, "ladder")])
        left = self.client.delete(f"/api/workshop/ladders/{both[0]['id']}").json()
        self.assertEqual(len(left), 1)

    def test_sizes_on_sale(self) -> None:
        sizes = self.client.get("/api/sizes").json()
        self.assertIn({"name": "M30 × 3.5", "values": {"diameter_mm": 30, "pitch_mm": 3.5}}, sizes["thread"])
        self.assertIn("disc 12.7 × 3.2", [s["name"] for s in sizes["magnet"]])
