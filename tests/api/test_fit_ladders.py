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
        made = self.answer(project, "ladder", {"joint": "j1", "from_mm": 0.1, "to_mm": 0.3, "rungs": 3})
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
        refused = self.client.post(f"/api/projects/{project}/ladder", json={"joint": "j1", "from_mm": 0.3, "to_mm": 0.1})
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

    def pair(self) -> dict[str, str]:
        workshop = self.client.get("/api/workshop").json()
        return {"printer_id": workshop["printers"][0]["id"], "material_id": workshop["materials"][0]["id"]}

    def test_any_kind_and_any_hole_is_tried_from_the_workshop(self) -> None:
        hole = {"kind": "hole", "thing": "bearing", "size_mm": 22, "deep_mm": 7}
        face = {"parting": "p1", "member": 0, "a": "a", "b": "b"}
        for of, low in ((hole, -0.1), ({"kind": "dowel", "id": "j1", "face": face, "diameter_mm": 6}, 0.05)):
            asked = self.client.post("/api/workshop/ladders/make", json={**self.pair(), "of": of, "from_mm": low, "rungs": 4})
            self.assertEqual(asked.status_code, 202, asked.text)
            name = self.ended(asked.json())
            made = self.client.get(f"/api/results/ladder/{name}").json()
            self.assertEqual(len(made["clearances_mm"]), 4)
            self.assertIn("hole for a bearing" if of is hole else "dowel", made["label"])
            self.assertEqual(self.client.get(f"/api/ladders/{name}/3mf").status_code, 200)

    def test_what_no_ladder_can_try_is_refused_in_words(self) -> None:
        face = {"parting": "p1", "member": 0, "a": "a", "b": "b"}
        pin = {"kind": "pin", "id": "j1", "face": face}
        negative = self.client.post("/api/workshop/ladders/make", json={**self.pair(), "of": pin, "from_mm": -0.2})
        self.assertEqual(negative.status_code, 422)
        self.assertIn("between 0 and 2 mm", negative.json()["detail"])
        nobody = self.client.post("/api/workshop/ladders/make", json={"printer_id": "x", "material_id": "y", "of": pin})
        self.assertEqual(nobody.status_code, 404)

    def test_own_sizes_are_offered_and_stock_is_kept(self) -> None:
        magnet = {"kind": "magnet", "shape": "disc", "diameter_mm": 9, "thick_mm": 1.5}
        insert = {"kind": "insert", "size": "M3", "insert_bore_mm": 4.2, "insert_long_mm": 5.7}
        rod = {"kind": "rod", "diameter_mm": 2.5, "of": "bamboo"}
        for item, size in (("thin", magnet), ("mine", insert), ("bamboo", rod)):
            body = {"id": item, "name": item.capitalize(), "size": size}
            self.assertEqual(self.client.put(f"/api/workshop/own-sizes/{item}", json=body).status_code, 200)
        sizes = self.client.get("/api/sizes").json()
        self.assertEqual(sizes["magnet"][0], {"name": "Thin (own)", "values": {k: v for k, v in magnet.items() if k != "kind"}})
        self.assertEqual(sizes["screw"][0]["values"]["insert_bore_mm"], 4.2)
        self.assertEqual(sizes["rod"][0]["values"]["of"], "bamboo")
        self.assertIn("rod ø3, steel", [s["name"] for s in sizes["rod"]])
        wrong = self.client.put(
            "/api/workshop/own-sizes/bad", json={"id": "bad", "name": "x", "size": {**magnet, "thick_mm": 0}}
        )
        self.assertEqual(wrong.status_code, 422)
        self.client.put("/api/workshop/stock", json={"name": "magnet disc 6 × 3", "count": 40})
        now = self.client.put("/api/workshop/stock", json={"name": "rod ø3, steel", "length_mm": 500}).json()
        self.assertEqual(
            [(s["name"], s["count"], s["length_mm"]) for s in now["stock"]],
            [("magnet disc 6 × 3", 40, None), ("rod ø3, steel", 0, 500.0)],
        )
        gone = self.client.put("/api/workshop/stock", json={"name": "magnet disc 6 × 3", "count": 0}).json()
        self.assertEqual(len(gone["stock"]), 1)
        needed = [
            {"name": "rod ø3, steel", "count": 2, "length_mm": 300},
            {"name": "nut (ISO 4032) M3", "count": 4, "spares": 1},
        ]
        lacks = self.client.post("/api/workshop/to-buy", json=needed).json()
        self.assertEqual(
            [(b["name"], b["count"], b["length_mm"]) for b in lacks],
            [("nut (ISO 4032) M3", 5, None), ("rod ø3, steel", 0, 100.0)],
        )
        left = self.client.delete("/api/workshop/own-sizes/thin").json()
        self.assertEqual([s["id"] for s in left["own_sizes"]], ["mine", "bamboo"])

    def test_the_exported_workshop_has_ladders_sizes_and_stock_and_takes_each_in_once(self) -> None:
        before = self.client.get("/api/workshop").json()  # other tests share this workshop
        for kept in before["ladders"]:
            self.client.delete(f"/api/workshop/ladders/{kept['id']}")
        for size in before["own_sizes"]:
            self.client.delete(f"/api/workshop/own-sizes/{size['id']}")
        for item in before["stock"]:
            self.client.put("/api/workshop/stock", json={"name": item["name"]})
        self.client.post("/api/workshop/ladders", json=self.entry(made_at="2026-03-01T10:00:00Z"))
        self.client.put("/api/workshop/own-sizes/mine", json={"id": "mine", "name": "Mine", "size": {"kind": "rod"}})
        self.client.put("/api/workshop/stock", json={"name": "nut (ISO 4032) M3", "count": 7})
        out = self.client.get("/api/workshop/workshop.json").json()
        self.assertEqual([len(out[k]) for k in ("ladders", "own_sizes", "stock")], [1, 1, 1])
        for _ in range(2):
            again = self.client.post("/api/workshop/import", json=out).json()
        self.assertEqual([len(again[k]) for k in ("ladders", "own_sizes", "stock")], [1, 1, 1])
        self.client.delete(f"/api/workshop/ladders/{out['ladders'][0]['id']}")
        back = self.client.post("/api/workshop/import", json=out).json()
        self.assertEqual(back["ladders"][0]["made_at"], "2026-03-01T10:00:00Z")
