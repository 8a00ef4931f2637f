"""The assembly over real requests: planned, pinned, rearranged, ticked, photographed, drawn."""

import io

from PIL import Image

from hinoki.core.printlog.photographs import MOST_BYTES
from tests.api.test_api import ApiCase
from tests.shapes import box, stl_of

PARTINGS = [{"kind": "flat", "id": "p1", "axis": "z", "at_mm": 30}, {"kind": "flat", "id": "p2", "axis": "z", "at_mm": 60}]


def picture(kind: str = "PNG") -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (80, 60), "white").save(out, kind)
    return out.getvalue()


class Assembling(ApiCase):
    limit = 20_000_000

    def project(self) -> str:
        project = self.begin("Column")
        self.bring(project, stl_of(box(60, 60, 90)))
        self.settle(project)
        self.put(project, self.revision(project), partings=PARTINGS)
        return project

    def test_it_is_planned_and_its_drawings_can_be_fetched(self) -> None:
        project = self.project()
        view = self.answer(project, "assemble")
        self.assertEqual([s["proof"] for s in view["steps"]], ["proved"] * 3)
        for unit in view["units"]:
            self.assertEqual(self.client.get(f"/api/meshes/{unit['bodies'][0]['mesh']}").status_code, 200)

    def test_an_order_is_changed_pinned_and_found_not_to_work(self) -> None:
        project = self.project()
        view = self.answer(project, "assemble")
        first, second, third = (s["lead"] for s in view["steps"])
        body = {"steps": view["order"], "change": {"kind": "move", "unit": third, "before": second}}
        steps = self.client.post(f"/api/projects/{project}/assembly/arrange", json=body).json()["steps"]
        self.assertEqual([s["unit"] for s in steps], [first, third, second])
        steps[1]["onto"] = first
        self.assertEqual(self.put(project, self.revision(project), assembling={"order": steps}).status_code, 200)
        again = self.answer(project, "assemble")
        self.assertTrue(again["pinned"])
        self.assertEqual([s["lead"] for s in again["steps"]], [first, third, second])

    def test_changes_that_make_no_sense_are_refused(self) -> None:
        project = self.project()
        order = self.answer(project, "assemble")["order"]
        for change, words in (
            ({"kind": "move", "unit": "nobody"}, "There is no step for nobody"),
            ({"kind": "ungroup", "unit": order[0]["unit"]}, "no group to resolve"),
        ):
            answer = self.client.post(f"/api/projects/{project}/assembly/arrange", json={"steps": order, "change": change})
            self.refused(answer, 422, words)
        bad = {"steps": order, "change": {"kind": "swap"}}
        self.assertEqual(self.client.post(f"/api/projects/{project}/assembly/arrange", json=bad).status_code, 422)
        self.refused(self.client.post("/api/projects/none/assemble"), 404)

    def test_without_a_model_there_is_nothing_to_assemble(self) -> None:
        self.refused(self.client.post(f"/api/projects/{self.begin()}/assemble"), 404, "no model yet")

    def test_ticks_are_kept_and_taken_back(self) -> None:
        project = self.project()
        url = f"/api/projects/{project}/bench"
        self.assertEqual(self.client.put(f"{url}/ticks", json={"unit": "p1-", "done": True}).json()["ticked"], ["p1-"])
        self.client.put(f"{url}/ticks", json={"unit": "p1-", "done": True})
        self.assertEqual(self.client.get(url).json()["ticked"], ["p1-"])
        self.assertEqual(self.client.put(f"{url}/ticks", json={"unit": "p1-", "done": False}).json()["ticked"], [])
        self.client.put(f"{url}/ticks", json={"unit": "p1-", "done": True})
        self.assertEqual(self.client.delete(f"{url}/ticks").json()["ticked"], [])
        self.assertEqual(self.client.get("/api/projects/none/bench").status_code, 404)

    def test_a_photograph_is_kept_shown_and_taken_away(self) -> None:
        project = self.project()
        url = f"/api/projects/{project}/bench/photo?unit=p1-"
        self.assertEqual(list(self.client.put(url, content=picture()).json()["photos"]), ["p1-"])
        answer = self.client.get(url)
        self.assertEqual((answer.status_code, answer.headers["content-type"]), (200, "image/jpeg"))
        self.assertEqual(self.client.delete(url).json()["photos"], {})
        self.refused(self.client.get(url), 404, "no photograph")

    def test_what_is_no_photograph_or_too_large_is_refused_and_the_old_one_stays(self) -> None:
        project = self.project()
        url = f"/api/projects/{project}/bench/photo?unit=p1-"
        before = self.client.put(url, content=picture("JPEG")).json()["photos"]
        self.refused(self.client.put(url, content=b"<svg/>"), 422, "no photograph")
        self.refused(self.client.put(url, content=b"\0" * (MOST_BYTES + 1)), 413, "larger than")
        self.assertEqual(self.client.get(f"/api/projects/{project}/bench").json()["photos"], before)

    def test_sheets_are_drawn_and_fetched_as_pdf_and_page(self) -> None:
        project = self.project()
        self.client.put(f"/api/projects/{project}/bench/photo?unit=p1-", content=picture())
        found = self.answer(project, "sheets")
        for ending, kind in (("pdf", "application/pdf"), ("html", "text/html")):
            answer = self.client.get(f"/api/projects/{project}/assembly/sheets/{found['file']}.{ending}")
            self.assertEqual(answer.status_code, 200)
            self.assertTrue(answer.headers["content-type"].startswith(kind))
        page = answer.text
        self.assertIn("data:image/jpeg", page)
        self.refused(self.client.get(f"/api/projects/{project}/assembly/sheets/sheet-{'0' * 32}.pdf"), 404, "draw them again")
        self.assertEqual(self.client.get(f"/api/projects/{project}/assembly/sheets/..%2Fhinoki.db").status_code, 404)
