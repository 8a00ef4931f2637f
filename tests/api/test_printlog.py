"""The print log over real HTTP against simulated printers: prints, printers that misbehave, pieces marked, edits heeded."""

import contextlib
import io
import sqlite3
import time
import unittest
from pathlib import Path
from typing import Any
from unittest.mock import patch

import httpx
from PIL import Image

from hinoki.core.formats.registry import read_file
from hinoki.core.join.joints import FaceRef, PinJoint
from hinoki.printers.simulator.launch import StandIn, running
from hinoki.store.tables import prints
from tests.api.test_api import ApiCase
from tests.shapes import box, level, stl_of
from tests.simulated import simulated

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
PIN = PinJoint(id="j1", face=FACE, on="a", clearance_mm=0.1)


def photograph(size: int = 64) -> bytes:
    out = io.BytesIO()
    Image.effect_noise((size, size), 90).save(out, "PNG")
    return out.getvalue()


class LogCase(ApiCase):
    def setUp(self) -> None:
        self.project = self.begin()
        self.bring(self.project, stl_of(box(40, 30, 40)))
        more = {"partings": [level(1, 20).model_dump(mode="json")], "joints": [PIN.model_dump(mode="json")]}
        self.assertEqual(self.put(self.project, self.revision(self.project), **more).status_code, 200)
        self.settle(self.project)

    def machine(self, address: str, **more: object) -> str:
        printer = self.plan(self.project)["printer"]["id"]
        body = {"name": "Sim", "address": address, "printer_id": printer, **more}
        answer = self.client.post("/api/machines", json=body)
        self.assertEqual(answer.status_code, 201, answer.text)
        name = str(answer.json()["id"])
        self.addCleanup(self.client.delete, f"/api/machines/{name}")
        return name

    def ready(self, batch: int = 1, only: dict[str, int] | None = None) -> str:
        asked = self.client.post(f"/api/projects/{self.project}/prepare-batch", json={"batch": batch, "only": only})
        self.assertEqual(asked.status_code, 202, asked.text)
        return self.ended(asked.json())

    def send(self, machine: str | None, **more: Any) -> dict[str, Any]:
        name = self.ready(only=more.pop("only", None))
        body = {"prepared": name, "revision": self.revision(self.project), "machine_id": machine, **more}
        answer = self.client.post(f"/api/projects/{self.project}/prints", json=body)
        self.assertEqual(answer.status_code, 201, answer.text)
        self.addCleanup(self.stop, answer.json()["id"])
        found: dict[str, Any] = answer.json()
        return found

    def stop(self, print_id: str) -> None:
        self.client.post(f"/api/prints/{print_id}/stop")
        self.client.put(f"/api/prints/{print_id}/state", json={"state": "stopped"})

    def log(self) -> dict[str, Any]:
        found: dict[str, Any] = self.client.get(f"/api/projects/{self.project}/log").json()
        return found

    def until(self, print_id: str, what: Any, seconds: float = 20.0) -> dict[str, Any]:
        """The print once `what` is true of it."""
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            one = next(p for p in self.log()["prints"] if p["id"] == print_id)
            if what(one):
                return dict(one)
            time.sleep(0.05)
        raise AssertionError(f"still {one['state']}, gone since {one['gone_since']}: {one['why']}")

    def faults(self, address: str, mode: str) -> None:
        with contextlib.suppress(httpx.TransportError):  # one that dies does not answer
            httpx.put(f"{address}/faults", json={"mode": mode}, timeout=5)


class Prints(LogCase):
    def test_from_batch_to_measured_print_and_what_it_teaches(self) -> None:
        with simulated() as (address, simulation):
            spool = self.client.post("/api/spools", json={"material_id": "pla", "name": "Sand", "full_g": 400}).json()[-1]["id"]
            one = self.send(self.machine(address), spool_id=spool)
            self.assertEqual((one["state"], [i["state"] for i in one["items"]]), ("sending", ["in a batch"] * 2))
            done = self.until(one["id"], lambda p: p["state"] == "done")
            self.assertEqual([i["state"] for i in done["items"]], ["printed"] * 2)
            truth = simulation.jobs[one["id"]]
            self.assertAlmostEqual(done["grams"], truth.grams, delta=0.02)
            self.assertAlmostEqual(done["minutes"], truth.printed_s / 60, delta=0.1)
            (factor,) = self.log()["learned"]["factors"]
            self.assertAlmostEqual(factor["factor"]["time"], done["minutes"] / done["batch"]["minutes"], delta=1e-3)
            left = next(s for s in self.client.get("/api/spools").json() if s["id"] == spool)["left_g"]
            self.assertAlmostEqual(left, 400 - done["grams"], delta=0.01)
            answer = self.answer(self.project, "batch")
            self.assertRegex(answer["batches"][0]["rests_on"], r"^\d prints?: time × 1\.")
            (of_all,) = self.client.get("/api/log/factors").json()
            expected = done["batch"]["minutes"] * of_all["factor"]["time"]
            self.assertAlmostEqual(answer["batches"][0]["took"]["minutes"], expected, delta=0.2)
            shelf = next(p for p in self.client.get("/api/projects").json() if p["id"] == self.project)
            self.assertEqual((shelf["pieces"], shelf["printed"]), (2, 2))
        self.client.delete(f"/api/spools/{spool}")

    def test_pause_go_on_and_stop(self) -> None:
        with simulated(speed=400.0) as (address, _):
            one = self.send(self.machine(address))
            self.until(one["id"], lambda p: p["state"] == "printing")
            self.assertEqual(self.client.post(f"/api/prints/{one['id']}/pause").status_code, 200)
            self.until(one["id"], lambda p: p["state"] == "paused")
            self.client.post(f"/api/prints/{one['id']}/resume")
            self.until(one["id"], lambda p: p["state"] == "printing")
            refused = self.client.delete(f"/api/prints/{one['id']}")
            self.assertEqual((refused.status_code, "stop it before" in refused.json()["detail"]), (409, True))
            self.client.post(f"/api/prints/{one['id']}/stop")
            done = self.until(one["id"], lambda p: p["state"] == "stopped")
            self.assertEqual({i["state"] for i in done["items"]}, {"failed"})
            self.assertEqual(self.client.delete(f"/api/prints/{one['id']}").status_code, 204)

    def test_the_log_never_tells_half_of_a_change(self) -> None:
        """A print is stopped between the reading of its pieces and its own."""
        with simulated(speed=400.0) as (address, _):
            one = self.send(self.machine(address))
            self.until(one["id"], lambda p: p["state"] == "printing")
            items_of = prints.items_of

            def and_stop(connection: sqlite3.Connection, column: str, value: str) -> list[prints.Item]:
                found = items_of(connection, column, value)
                if column == "project_id":
                    self.stop(one["id"])
                return found

            with patch.object(prints, "items_of", and_stop):
                seen = next(p for p in self.log()["prints"] if p["id"] == one["id"])
            self.assertEqual((seen["state"], {i["state"] for i in seen["items"]}), ("printing", {"printing"}))
            self.until(one["id"], lambda p: p["state"] == "stopped")

    def test_filament_runs_out_and_a_person_goes_on(self) -> None:
        with simulated(filament_g=5.0) as (address, _):
            one = self.send(self.machine(address))
            paused = self.until(one["id"], lambda p: p["state"] == "paused")
            self.assertEqual(paused["progress"]["said"], "out of filament")
            while self.until(one["id"], lambda p: p["state"] in ("paused", "done"))["state"] == "paused":
                self.client.post(f"/api/prints/{one['id']}/resume")
                time.sleep(0.3)

    def test_a_batch_that_does_not_fit_is_refused_with_the_printers_words(self) -> None:
        with simulated(room=(30, 30, 30)) as (address, _):
            one = self.send(self.machine(address))
            done = self.until(one["id"], lambda p: p["state"] == "refused")
            self.assertRegex(done["why"], "It does not fit: it reaches to .* and there is room for 30 × 30 × 30 mm")
            self.assertEqual({i["state"] for i in done["items"]}, {"not printed"})

    def test_what_fails_is_printed_again(self) -> None:
        with simulated() as (address, _):
            machine = self.machine(address)
            one = self.send(machine)
            self.until(one["id"], lambda p: p["state"] == "done")
            bad = next(i for i in self.log()["prints"][0]["items"] if i["number"] == 2)
            said = {"version": bad["version"], "result": "failed", "reason": "warped"}
            self.client.patch(f"/api/prints/{one['id']}/items/{bad['item']}", json=said)
            (again,) = self.log()["standing"]["again"]
            self.assertEqual((again["key"], again["count"], again["why"]), (bad["key"], 1, ["failed"]))
            layout = self.answer(self.project, "batch", {"only": {bad["key"]: 1}})
            self.assertEqual([t["pieces"] for b in layout["batches"] for t in b["things"]], [[2]])
            second = self.send(machine, only={bad["key"]: 1})
            self.assertTrue(second["batch"]["reprint"])
            self.until(second["id"], lambda p: p["state"] == "done")
            now = self.log()
            self.assertEqual(now["standing"]["again"], [])
            self.assertEqual(now["standing"]["pieces"], {"done": 2.0, "all": 2.0})
            self.assertEqual([c["reason"] for c in now["learned"]["causes"]], ["warped"])


class Misbehaving(LogCase):
    def test_one_that_hangs_comes_back(self) -> None:
        with simulated(speed=150.0) as (address, simulation):
            one = self.send(self.machine(address))
            self.until(one["id"], lambda p: p["state"] == "printing")
            self.faults(address, "hang")
            gone = self.until(one["id"], lambda p: p["gone_since"], 30)
            self.assertEqual(gone["state"], "printing")
            self.faults(address, "none")
            simulation.speed = 20_000.0
            back = self.until(one["id"], lambda p: p["state"] == "done")
            self.assertIsNone(back["gone_since"])

    def test_garbage_changes_nothing_and_is_told(self) -> None:
        with simulated(speed=150.0) as (address, simulation):
            machine = self.machine(address)
            one = self.send(machine)
            self.until(one["id"], lambda p: p["state"] == "printing")
            self.faults(address, "garbage")
            gone = self.until(one["id"], lambda p: p["gone_since"])
            self.assertEqual(gone["state"], "printing")
            self.assertEqual(gone["progress"]["said"], "The printer answers something that cannot be understood.")
            view = next(m for m in self.client.get("/api/machines").json() if m["machine"]["id"] == machine)
            self.assertEqual((view["answers"], "cannot be understood" in view["says"]), (False, True))
            self.faults(address, "none")
            simulation.speed = 20_000.0
            self.until(one["id"], lambda p: p["state"] == "done")

    def test_one_that_reboots_leaves_a_print_that_broke_off(self) -> None:
        with simulated(speed=150.0) as (address, _):
            one = self.send(self.machine(address))
            self.until(one["id"], lambda p: p["state"] == "printing" and p["progress"]["fraction"] > 0)
            self.faults(address, "restart")
            done = self.until(one["id"], lambda p: p["state"] == "broke off")
            self.assertIn("knows nothing of this job", done["why"])
            self.assertEqual([(i["state"], i["reason"]) for i in done["items"]], [("failed", "printer stopped")] * 2)
            self.assertGreater(done["progress"]["fraction"], 0)
            self.assertGreater(done["grams"], 0)
            self.assertEqual(len(self.log()["standing"]["again"]), 2)

    def test_one_that_dies_in_the_middle_leaves_a_correct_record(self) -> None:
        with running([StandIn("Sim", (220.0, 220.0, 250.0), 1)], 150.0) as (address,):
            for _ in range(600):
                with contextlib.suppress(httpx.TransportError):
                    httpx.get(address, timeout=1)
                    break
                time.sleep(0.05)
            one = self.send(self.machine(address))
            self.until(one["id"], lambda p: p["state"] == "printing" and p["minutes"])
            self.faults(address, "die")
            gone = self.until(one["id"], lambda p: p["gone_since"])
            self.assertEqual((gone["state"], gone["ended_at"]), ("printing", None))
            said = self.client.put(f"/api/prints/{one['id']}/state", json={"state": "broke off"}).json()
            self.assertEqual((said["state"], {i["state"] for i in said["items"]}), ("broke off", {"failed"}))
            self.assertIsNotNone(said["ended_at"])
            self.assertGreater(said["minutes"], 0)

    def test_a_job_that_was_not_sent_from_here_is_noted_and_not_recorded(self) -> None:
        with simulated(speed=100.0) as (address, _):
            machine = self.machine(address)
            self.faults(address, "strange job")
            view = next(m for m in self.client.get("/api/machines").json() if m["machine"]["id"] == machine)
            self.assertEqual((view["strange"], view["print_id"]), (True, None))
            self.assertEqual(self.log()["prints"], [])

    def test_an_address_where_nothing_is_keeps_the_print_until_it_is_stopped(self) -> None:
        one = self.send(self.machine("http://127.0.0.1:9"))
        gone = self.until(one["id"], lambda p: p["gone_since"])
        self.assertEqual(gone["state"], "sending")
        stopped = self.client.post(f"/api/prints/{one['id']}/stop").json()
        self.assertEqual((stopped["state"], {i["state"] for i in stopped["items"]}), ("stopped", {"not printed"}))
        self.assertIn("did not answer", stopped["why"])

    def test_a_senseless_printer_is_refused(self) -> None:
        printer = self.plan(self.project)["printer"]["id"]
        for body, told in (
            ({"name": "x", "address": "ftp://x", "printer_id": printer}, "begins with http"),
            ({"name": "x", "address": "http://x", "printer_id": "none"}, "which printer of the workshop"),
            ({"name": "x", "address": "http://x", "printer_id": printer, "spool_id": 99}, "spool"),
        ):
            answer = self.client.post("/api/machines", json=body)
            self.assertIn(answer.status_code, (404, 422))
            self.assertIn(told, answer.json()["detail"])


class ByHand(LogCase):
    def test_a_folder_gets_the_file_and_a_person_says_how_it_went(self) -> None:
        folder = Path(self.folder.name) / "card"
        one = self.send(self.machine(str(folder), way="folder"))
        gone = self.until(one["id"], lambda p: p["gone_since"])
        self.assertEqual(gone["state"], "sending")
        folder.mkdir()
        self.until(one["id"], lambda p: p["state"] == "sent")
        (file,) = folder.iterdir()
        self.assertEqual([o.name for o in read_file(file.read_bytes(), file.name).objects], [i["name"] for i in one["items"]])
        self.assertEqual(self.client.post(f"/api/prints/{one['id']}/pause").status_code, 422)
        self.client.put(f"/api/prints/{one['id']}/state", json={"state": "printing"})
        done = self.client.put(f"/api/prints/{one['id']}/state", json={"state": "done", "minutes": 99, "grams": 30}).json()
        self.assertEqual((done["state"], done["minutes"], {i["state"] for i in done["items"]}), ("done", 99, {"printed"}))
        wrong = self.client.put(f"/api/prints/{one['id']}/state", json={"state": "printing"})
        self.assertEqual((wrong.status_code, wrong.json()["code"]), (409, "not-so"))

    def test_two_browsers_mark_the_same_piece(self) -> None:
        one = self.send(None)
        self.assertEqual(one["state"], "sent")
        where = f"/api/prints/{one['id']}/items/0"
        version = one["items"][0]["version"]
        first = self.client.patch(where, json={"version": version, "result": "good"})
        self.assertEqual((first.status_code, first.json()["state"]), (200, "printed"))
        second = self.client.patch(where, json={"version": version, "state": "lost"})
        self.assertEqual(second.status_code, 409)
        self.assertIn("was marked elsewhere: it is printed now", second.json()["detail"])
        self.assertEqual(self.log()["prints"][0]["items"][0]["state"], "printed")
        wrong = self.client.patch(where, json={"version": first.json()["version"], "state": "in a batch"})
        self.assertEqual((wrong.status_code, wrong.json()["code"]), (409, "not-so"))

    def test_photographs_are_made_small_limited_and_a_full_disk_is_told(self) -> None:
        one = self.send(None)
        where = f"/api/prints/{one['id']}/photo"
        self.assertEqual(self.client.put(where, content=b"text").status_code, 422)
        kept = self.client.put(where, content=photograph(2000))
        self.assertEqual(kept.status_code, 200, kept.text)
        with Image.open(io.BytesIO(self.client.get(where).content)) as image:
            self.assertEqual((image.format, max(image.size)), ("JPEG", 1280))
        full = int(self.state.database.write(lambda c: c.execute("PRAGMA page_count").fetchone()[0]))
        self.state.database.write(lambda c: c.execute(f"PRAGMA max_page_count = {full}").fetchone())
        try:
            refused = self.client.put(f"/api/prints/{self.send_more()}/photo", content=photograph(1500))
            self.assertEqual((refused.status_code, refused.json()["code"]), (507, "disk-full"))
            self.assertEqual(self.client.get(where).status_code, 200)
        finally:
            self.state.database.write(lambda c: c.execute("PRAGMA max_page_count = 1073741823").fetchone())
        self.assertEqual(self.state.database.write(lambda c: c.execute("PRAGMA integrity_check").fetchone()[0]), "ok")

    def send_more(self) -> str:
        """A print put into what room is left."""
        return str(self.log()["prints"][0]["id"])

    def test_a_note_to_an_old_plan_is_told_that_the_plan_changed(self) -> None:
        name = self.ready()
        self.put(self.project, self.revision(self.project), least_wall_mm=2.0)
        body = {"prepared": name, "revision": self.revision(self.project) - 1, "machine_id": None}
        self.assertEqual(self.client.post(f"/api/projects/{self.project}/prints", json=body).status_code, 409)
        missing = {**body, "prepared": "send-" + "0" * 32 + ".json"}
        self.assertEqual(self.client.post(f"/api/projects/{self.project}/prints", json=missing).status_code, 404)

    def test_a_tight_joint_feeds_the_fits(self) -> None:
        one = self.send(None)
        said = {"print_id": one["id"], "joint": "j1", "answer": "no"}
        answer = self.client.post(f"/api/projects/{self.project}/fit-answers", json=said)
        self.assertEqual((answer.status_code, answer.json()["clearance_mm"]), (201, 0.1))
        (lesson,) = self.log()["lessons"]
        self.assertEqual((lesson["fit"], lesson["better_mm"]), ("snug", 0.2))
        self.client.delete(f"/api/fit-answers/{answer.json()['id']}")
        self.assertEqual(self.log()["lessons"], [])
        missing = self.client.post(f"/api/projects/{self.project}/fit-answers", json={**said, "joint": "j9"})
        self.assertEqual(missing.status_code, 404)


class Edits(LogCase):
    def edited(self, **more: Any) -> dict[str, Any]:
        plan = self.plan(self.project) | more
        body = {"base_revision": self.revision(self.project), "plan": plan}
        answer = self.client.post(f"/api/projects/{self.project}/plan/touches", json=body).json()
        if answer["job"]:
            found: dict[str, Any] = self.client.get(f"/api/results/edit-impact/{self.ended(answer['job'])}").json()
            return found
        return dict(answer["touches"])

    def test_a_command_waits_for_a_word_about_printed_pieces(self) -> None:
        one = self.send(None)
        for item in one["items"]:
            said = {"version": item["version"], "state": "printed"}
            self.client.patch(f"/api/prints/{one['id']}/items/{item['item']}", json=said)
        was, joint = self.revision(self.project), self.plan(self.project)["joints"][0]
        face = "/".join((joint["face"]["parting"], f"{joint['face']['member']} {joint['face']['a']}|{joint['face']['b']}"))
        asked = {"kind": "dovetail", "faces": [face], "instead_of": joint["id"], "base_revision": was}
        found = self.answer(self.project, "add-joints", asked)
        self.assertEqual(([t["number"] for t in found["touches"]["touched"]], found["touches"]["kept"]), ([1, 2], None))
        self.assertEqual(self.revision(self.project), was)
        self.answer(self.project, "add-joints", {**asked, "printed_pieces": "change"})
        self.assertEqual(self.revision(self.project), was + 1)
        self.assertEqual([j["kind"] for j in self.plan(self.project)["joints"]], ["dovetail"])

    def test_before_an_edit_what_it_touches_and_how_it_can_stay(self) -> None:
        one = self.send(None)
        upper = next(i for i in one["items"] if i["number"] == 2)
        lower = next(i for i in one["items"] if i["number"] == 1)
        for item, state in ((upper, "printed"), (lower, "not printed")):
            said = {"version": item["version"], "state": state}
            self.client.patch(f"/api/prints/{one['id']}/items/{item['item']}", json=said)
        self.assertEqual(self.edited(mating_marks={"on": False})["touched"], [])
        wider = [{**self.plan(self.project)["joints"][0], "clearance_mm": 0.3}]
        found = self.edited(joints=wider)
        self.assertEqual([(t["number"], t["can_stay"]) for t in found["touched"]], [(2, True)])
        kept = self.put(self.project, self.revision(self.project), **found["kept"])
        self.assertEqual(kept.status_code, 200, kept.text)
        self.build(self.project)
        row = next(r for r in self.log()["standing"]["board"] if r["number"] == 2)
        self.assertEqual((row["missing"], row["old"]), (0, []))
        self.client.post(f"/api/projects/{self.project}/undo", json={"base_revision": self.revision(self.project)})
        changed = self.put(self.project, self.revision(self.project), joints=wider)
        self.assertEqual(changed.status_code, 200)
        self.build(self.project)
        row = next(r for r in self.log()["standing"]["board"] if r["number"] == 2)
        self.assertEqual((row["missing"], len(row["old"])), (1, 1))
        asked = self.client.post(f"/api/prints/{one['id']}/items/{upper['item']}/difference")
        name = self.ended(asked.json())
        told = self.client.get(f"/api/results/difference/{name}").json()
        self.assertEqual((told["where"], told["faces"]), (["joint"], ["1|2"]))
        self.assertEqual(self.client.get(f"/api/meshes/{told['more_mesh']}").status_code, 200)
        wrong = self.client.post(f"/api/prints/{one['id']}/items/{upper['item']}/same", json={"difference": name})
        self.assertEqual(wrong.status_code, 422)


if __name__ == "__main__":
    unittest.main()
