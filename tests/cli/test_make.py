"""`hinoki make` on the command line: what it writes, says and exits with."""

import contextlib
import csv
import io
import json
import tempfile
import unittest
from pathlib import Path

from pypdfium2 import PdfDocument

from hinoki.cli import main
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.plan import Plan
from tests.effort import either
from tests.shapes import box, level, stl_of, tube


class Make(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.model = self.folder / "tall tube.stl"
        self.model.write_bytes(stl_of(box(100, 100, 520).minus([Solid.box([-38, -38, -1], [38, 38, 521])])))
        self.out = self.folder / "out"

    def run_propose(self, *more: str) -> tuple[int, str, str]:
        out = io.TextIOWrapper(io.BytesIO(), encoding="utf-8", write_through=True)
        err = io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            try:
                code = main(["propose", str(self.model), *more])
            except SystemExit as stop:
                code = int(stop.code or 0)
        return code, out.buffer.getvalue().decode(), err.getvalue()

    def test_proposals_are_printed_with_their_figures_and_as_plans(self) -> None:
        code, out, _ = self.run_propose("--bed", "220x220x250")
        self.assertEqual(code, 0)
        self.assertIn("1. Few pieces: 2 cuts across Z", out)
        self.assertIn("3 pieces, ", out)
        code, out, _ = self.run_propose("--bed", "220x220x250", "--prefer", "sturdy", "--max-pieces", "2", "--json")
        document = json.loads(out)
        self.assertEqual((code, document["schema"], len(document["proposals"])), (0, "hinoki-proposals/1", 3))
        self.assertEqual(document["proposals"][0]["title"], "Sturdiest joints")
        self.assertIn("the least is 3", document["remarks"][0])
        path = self.folder / "plan.json"
        path.write_text(json.dumps(document["proposals"][1]["plan"]))
        code, out, _ = self.run_make("--plan", str(path), "--joint", "none", "--lean")
        self.assertEqual(code, 0, out)
        self.assertEqual(len(self.report()["pieces"]), document["proposals"][1]["figures"]["pieces"])

    def test_what_cannot_be_proposed_is_said(self) -> None:
        for more, said in ((("--bed", "3x3x3"), "more than 600 pieces"), ((), "--bed is needed")):
            code, _, err = self.run_propose(*more)
            self.assertEqual(code, 2)
            self.assertIn(said, err)
        self.assertEqual(self.run_propose("--bed", "220x220x250", "--max-pieces", "0")[0], 2)

    def test_kinds_of_joint_are_asked_for_by_name_and_reported(self) -> None:
        parted = self.halved()
        for kind in either(
            ("auto", "thread"), ("auto", "dowel", "thread", "lip", "key")
        ):  # each kind by itself is tested in the core
            code, out, _ = self.run_make(*parted, "--joint", kind, "--fit", "sliding", "--lean")
            self.assertEqual(code, 0, out)
            joints = self.report()["joints"]
            self.assertTrue(joints, kind)
            wanted = {"pin"} if kind == "auto" else {kind}
            self.assertEqual({j["kind"] for j in joints}, wanted)
            for joint in joints:
                gap = joint["clearance_measured_mm"]
                if kind != "screw":
                    self.assertAlmostEqual(gap, 0.2, delta=0.012, msg=kind)
                if joint["loose"]:
                    loose = next(item for item in self.report()["loose"] if item["name"] == joint["loose"])
                    self.assertTrue((self.out / loose["file"]).exists())

    def test_marks_and_one_way(self) -> None:
        code, out, _ = self.run_make(*self.halved(), "--joint", "pin", "--marks", "--one-way", "--lean")
        self.assertEqual(code, 0, out)
        report = self.report()
        self.assertEqual({m["text"] for m in report["mating_marks"]}, {"A1", "A2"})
        self.assertTrue(all(j["parameters"]["one_way"] for j in report["joints"]))
        self.assertNotIn("turned-assembly", {f["code"] for f in report["findings"]})

    def test_the_assembly_is_in_the_report_and_on_its_sheets(self) -> None:
        code, out, _ = self.run_make(*self.halved(), "--joint", "thread")
        self.assertEqual(code, 0, out)
        self.assertIn("assembly: 2 steps (1 proved, 1 tried by sampling)", out)
        assembly = self.report()["assembly"]
        self.assertEqual([s["adds"] for s in assembly["steps"]], [[1], [2]])
        second = assembly["steps"][1]
        self.assertEqual((second["onto"], second["motion"]["kind"], second["proof"]), (1, "screw", "tried by sampling"))
        self.assertEqual((assembly["groups"], assembly["locked"], assembly["cut_short"]), ([], [], False))
        self.assertAlmostEqual(assembly["balance"]["centre_mm"][0], 0.0, delta=0.5)
        self.assertGreater(assembly["balance"]["tip_deg"], 5)
        pages = PdfDocument(self.out / "assembly.pdf")
        self.assertIn("Screw piece 2", "".join(p.get_textpage().get_text_range() for p in pages))

    def halved(self) -> tuple[str, ...]:
        """The words that ask for the model in two halves: what `make` divides by itself is tested by itself."""
        plan = self.folder / "halved.json"
        plan.write_text(Plan(partings=(level(1, 260),)).json_text())
        return "--plan", str(plan), "--bed", "220x220x290"

    def run_make(self, *more: str, model: Path | None = None) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            try:
                code = main(["make", str(model or self.model), "--out", str(self.out), *more])
            except SystemExit as stop:
                code = int(stop.code or 0)
        return code, out.getvalue(), err.getvalue()

    def report(self) -> dict:  # type: ignore[type-arg]
        return json.loads((self.out / "report.json").read_text())  # type: ignore[no-any-return]

    def test_it_parts_joins_and_writes_everything(self) -> None:
        code, out, err = self.run_make("--bed", "220x220x250")
        self.assertEqual(code, 0)
        self.assertIn("3 pieces", out)
        self.assertIn("%", err)
        report = self.report()
        self.assertEqual(len(report["pieces"]), 3)
        self.assertTrue(all(p["fits"] and p["closed"] for p in report["pieces"]))
        self.assertEqual([j["kind"] for j in report["joints"]], ["pin", "pin"])
        self.assertEqual(report["bed_mm"], [220, 220, 250])
        self.assertGreater(report["seconds"]["total"], 0)
        for name in ("pieces.3mf", "plan.json", "cut-list.csv", *(p["file"] for p in report["pieces"])):
            self.assertTrue((self.out / name).exists(), name)
        rows = list(csv.DictReader((self.out / "cut-list.csv").read_text().splitlines()))
        self.assertEqual([r["number"] for r in rows], ["1", "2", "3"])
        for piece, row in zip(report["pieces"], rows, strict=True):
            lies = piece["resting"]
            self.assertEqual(set(lies), {"direction", "support_mm3", "overhang_mm2", "contact_mm2", "height_mm", "tip_deg"})
            self.assertEqual((lies["support_mm3"], lies["tip_deg"] > 10), (0, True))
            self.assertEqual(float(row["mass_g"]), piece["estimate"]["mass_g"])
        for batch in report["batches"]:
            self.assertEqual(set(batch) >= {"file", "printer", "pieces", "minutes", "mass_g", "placements"}, True)
            self.assertTrue((self.out / batch["file"]).exists())
        again = self.folder / "again.json"
        again.write_bytes((self.out / "plan.json").read_bytes())
        self.assertTrue(all(n["down"] for n in json.loads(again.read_text())["pieces"].values()))

    def test_the_candidates_of_one_file(self) -> None:
        cup = self.folder / "cup.stl"
        cup.write_bytes(stl_of(tube(30, 27, 60).plus([Solid.cylinder(30, 0, 3)])))
        out = io.TextIOWrapper(io.BytesIO(), encoding="utf-8", write_through=True)
        with contextlib.redirect_stdout(out):
            self.assertEqual(main(["orient", str(cup), "--json"]), 0)
            self.assertEqual(main(["orient", str(cup), "--prefer", "fastest"]), 0)
        text = out.buffer.getvalue().decode()  # type: ignore[attr-defined]
        document, end = json.JSONDecoder().raw_decode(text)
        self.assertEqual((document["schema"], len(document["candidates"])), ("hinoki-orient/1", 4))
        best = document["candidates"][0]
        self.assertEqual((best["rest"]["down"], best["support_mm3"]), ([0, 0, -1], 0))
        self.assertIn("1. as it stands", text[end:])
        with contextlib.redirect_stderr(io.StringIO()) as err:
            self.assertEqual(main(["orient", str(self.folder / "none.stl")]), 2)
        self.assertIn("none.stl", err.getvalue())

    def test_dowels_fit_and_wall_are_followed(self) -> None:
        code, _, _ = self.run_make(*self.halved(), "--joint", "dowel", "--fit", "loose", "--least-wall", "2.5", "--lean")
        report = self.report()
        self.assertEqual(code, 0)
        self.assertEqual({(j["kind"], j["fit"], j["clearance_mm"]) for j in report["joints"]}, {("dowel", "loose", 0.3)})
        self.assertTrue(any((self.out / "loose").iterdir()))

    def test_a_fit_ladder_is_written_and_nonsense_refused(self) -> None:
        out = self.folder / "ladder"
        with contextlib.redirect_stdout(io.StringIO()) as said:
            code = main(
                ["ladder", "dovetail", "--param", "neck_mm=5", "--param", "head_mm=10", "--rungs", "4", "--out", str(out)]
            )
        self.assertEqual(code, 0)
        self.assertIn("dovetail 5/10 × 3: 4 rungs, 5 pieces", said.getvalue())
        report = json.loads((out / "ladder.json").read_text())
        self.assertEqual((len(report["clearances_mm"]), report["clearances_mm"][0]), (4, 0.05))
        self.assertTrue((out / "ladder.3mf").exists())
        for bad, words in (
            (["--param", "nose_mm=5"], "no measure 'nose_mm'"),
            (["--param", "neck_mm"], "NAME=VALUE"),
            (["--param", "neck_mm=12", "--param", "head_mm=5"], "wider than its neck"),
            (["--rungs", "40"], "3 to 9 rungs"),
        ):
            with contextlib.redirect_stderr(io.StringIO()) as error:
                self.assertEqual(main(["ladder", "dovetail", *bad, "--out", str(out)]), 2)
            self.assertIn(words, error.getvalue())

    def test_no_joints_and_inches(self) -> None:
        self.model.write_bytes(stl_of(box(4, 4, 12)))
        code, _, _ = self.run_make("--bed", "220x220x250", "--unit", "inch", "--joint", "none", "--lean")
        self.assertEqual(code, 0)
        self.assertEqual(self.report()["model"]["size_mm"], [101.6, 101.6, 304.8])
        self.assertEqual((len(self.report()["pieces"]), self.report()["joints"]), (2, []))

    def test_a_plan_is_followed_and_comes_out_again(self) -> None:
        self.run_make("--bed", "220x220x250", "--lean")
        first = self.report()
        plan = self.out / "plan.json"
        code, _, _ = self.run_make("--plan", str(plan), "--lean")
        self.assertEqual(code, 0)
        second = self.report()
        for report in (first, second):
            del report["seconds"]
        self.assertEqual(first, second)

    def test_what_of_a_plan_does_not_match_another_model_is_said_and_another_name_is_no_other_model(self) -> None:
        plan = self.folder / "plan.json"
        self.run_make(*self.halved(), "--joint", "none", "--lean")
        document = json.loads((self.out / "plan.json").read_text())
        document["pieces"]["p9+"] = {"name": "Chimney"}
        plan.write_text(json.dumps(document))
        renamed, short = self.folder / "renamed.stl", self.folder / "short.stl"
        renamed.write_bytes(self.model.read_bytes())
        short.write_bytes(stl_of(tube(50, 38, 400)))
        self.assertNotIn("of the plan:", self.run_make("--plan", str(plan), "--lean", model=renamed)[1])
        _, out, err = self.run_make("--plan", str(plan), "--lean", model=short)
        self.assertIn("made for another model file", err)
        self.assertIn("of the plan: The settings of Chimney wait", out)

    def test_something_to_fix_exits_1_with_all_written(self) -> None:
        plan = self.folder / "plan.json"
        plan.write_text(Plan(partings=(level(1, 100),)).json_text())
        code, out, _ = self.run_make("--plan", str(plan), "--bed", "220x220x250", "--lean")
        self.assertEqual(code, 1)
        self.assertIn("must fix", out)
        self.assertEqual([p["fits"] for p in self.report()["pieces"]], [True, False])

    def test_an_open_surface_is_written_and_exits_1(self) -> None:
        whole = box(40, 40, 40).mesh
        self.model.write_bytes(write_stl(Mesh(whole.vertices, whole.faces[2:])))
        code, out, _ = self.run_make("--bed", "220x220x250")
        self.assertEqual(code, 1)
        self.assertIn("1 hole (4 open edges", out)
        self.assertFalse(self.report()["model"]["closed"])

    def refused(self, *more: str, model: Path | None = None) -> str:
        code, _, err = self.run_make(*more, model=model)
        self.assertEqual(code, 2)
        self.assertFalse(self.out.exists())
        return err.strip().splitlines()[-1]

    def test_unusable_input_exits_2_with_one_line(self) -> None:
        bed = ("--bed", "220x220x250")
        self.assertIn("No such file", self.refused(*bed, model=self.folder / "not there.stl"))
        self.assertIn("folder", self.refused(*bed, model=self.folder))
        self.assertIn("--bed is needed", self.refused())
        self.assertIn("every side", self.refused("--bed", "220x0x250"))
        self.assertIn("not three lengths", self.refused("--bed", "large"))
        self.assertIn("--least-wall", self.refused(*bed, "--least-wall", "0"))
        for name, content, words in (
            ("empty.stl", b"", "empty"),
            ("text.stl", b"only words\n", "text file"),
            ("cut.stl", self.model.read_bytes()[:1000], "cut off"),
            ("model.xyz", b"x", "cannot be read"),
        ):
            path = self.folder / name
            path.write_bytes(content)
            self.assertIn(words, self.refused(*bed, model=path))

    def test_unusable_plans_exit_2(self) -> None:
        plan = self.folder / "plan.json"
        for text, words in (
            ('{"schema": "hinoki-plan/9"}', "newer Hinoki"),
            ('{"schema": "hinoki-plan/1", "partings": [{"kind": "wavy", "id": "p1"}]}', "not known"),
            (Plan(partings=(level(1, 9999),)).json_text(), "misses the model"),
            (Plan(partings=(level(1, 100), level(2, 100))).json_text(), "same place"),
            ("not json", "not JSON"),
        ):
            plan.write_text(text)
            self.assertIn(words, self.refused("--plan", str(plan)))


class Parts(unittest.TestCase):
    """Several parts on the command line."""

    out: Path
    setUp, run_make, report = Make.setUp, Make.run_make, Make.report

    def rows(self) -> dict[str, tuple[str, str]]:
        rows = csv.DictReader((self.out / "cut-list.csv").read_text().splitlines())
        return {row["key"]: (row["name"], row["count"]) for row in rows}

    def test_each_is_made_as_often_as_asked(self) -> None:
        (self.folder / "pod.stl").write_bytes(stl_of(box(30, 30, 40)))
        (self.folder / "long rail.stl").write_bytes(stl_of(box(20, 20, 300)))
        pod, rail = str(self.folder / "pod.stl"), str(self.folder / "long rail.stl")
        code, out, _ = self.run_make("--bed", "220x220x250", "--lean", "--part", f"{pod}:6", "--part", rail)
        self.assertEqual(code, 0, out)
        rows = self.rows()
        self.assertEqual(rows["q2 whole"], ("pod", "6"))
        self.assertEqual([count for key, (_, count) in rows.items() if key.startswith("q3 ")], ["1", "1"])
        report = self.report()
        self.assertEqual([len(p["instances"]) for p in report["parts"]], [1, 6, 1])
        self.assertEqual({p["part"] for p in report["pieces"]}, {"q1", "q2", "q3"})
        self.assertEqual(sum(len(b["placements"]) for b in report["batches"]), sum(int(count) for _, count in rows.values()))
        again, _, err = self.run_make("--plan", str(self.out / "plan.json"), "--lean")
        self.assertEqual(again, 2)
        self.assertIn("The plan has a part of pod.stl, which was not given.", err)
        before = rows
        code, out, _ = self.run_make("--plan", str(self.out / "plan.json"), "--lean", "--part", pod, "--part", rail)
        self.assertEqual((code, self.rows()), (0, before), out)

    def test_a_list_tells_where_they_stand(self) -> None:
        (self.folder / "pod.stl").write_bytes(stl_of(box(30, 30, 40)))
        listed = self.folder / "parts.json"
        places = [{"at_mm": [80, 0, 0]}, {"at_mm": [-80, 0, 0], "mirrored": True}]
        listed.write_text(json.dumps([{"file": "pod.stl", "name": "Pod", "instances": places}]))
        code, out, _ = self.run_make("--bed", "220x220x250", "--lean", "--parts", str(listed))
        self.assertEqual(code, 0, out)
        rows = self.rows()
        self.assertEqual((rows["q2 whole"], rows["q2 whole mirrored"]), (("Pod", "1"), ("Pod mirrored", "1")))
        self.assertEqual(self.report()["parts"][1]["instances"][1]["at_mm"], [-80.0, 0.0, 0.0])

    def test_bad_input_is_said(self) -> None:
        (self.folder / "pod.stl").write_bytes(stl_of(box(30, 30, 40)))
        pod = str(self.folder / "pod.stl")
        bad = self.folder / "bad.json"
        for content, more, said in (
            ("", ("--part", f"{pod}:0"), "made 1 to 2000 times"),
            ("", ("--part", "nowhere.stl"), "No such file"),
            ("{", ("--parts", str(bad)), "not a JSON list of parts"),
            ('[{"file": "pod.stl", "cuont": 3}]', ("--parts", str(bad)), "cuont"),
        ):
            bad.write_text(content)
            code, _, err = self.run_make("--bed", "220x220x250", *more)
            self.assertEqual(code, 2)
            self.assertIn(said, err)
