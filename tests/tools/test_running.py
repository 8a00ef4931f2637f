"""The tests' own machinery: what is chosen, in what order it is run, how much is tried, and that nothing fails unseen."""

import os
import subprocess
import sys
import tempfile
import unittest
from contextlib import ExitStack
from pathlib import Path
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

from tests.effort import AT_LEAST, THOROUGH, tried
from tests.running.changed import ABOUT, touched_by
from tests.running.lanes import run_all
from tests.running.outcome import run
from tests.running.units import ROOT, Unit, collected, expected_s, longest_first

HERE = "tests.tools.test_running"


class Sample(unittest.TestCase):
    """Not run by itself: it passes, fails or ends its process as it is told."""

    def runTest(self) -> None:
        what = os.environ["HINOKI_SAMPLE"]
        if what == "ends":
            os._exit(3)
        self.assertEqual(what, "passes")


def load_tests(loader: unittest.TestLoader, _tests: unittest.TestSuite, _pattern: str | None) -> unittest.TestSuite:
    """All but the sample."""
    kinds = (Chosen, Changed, Run, Effort)
    return unittest.TestSuite(loader.loadTestsFromTestCase(kind) for kind in kinds)


class Chosen(unittest.TestCase):
    def setUp(self) -> None:
        # a busy machine measured long times: which tests a name stands for does not lean on that
        self.enterContext(mock.patch("tests.running.units.known_seconds", return_value={}))

    def test_a_module_a_class_and_words_of_a_name(self) -> None:
        folder = {unit.name for unit in collected(["core.assemble"])}
        self.assertTrue(any(name.startswith("tests.core.assemble.test_assemble.") for name in folder))
        (module,) = collected(["core.test_layers"])
        self.assertGreater(len(module.tests), 1)
        (again,) = collected(["core.test_layers.Layers"])
        self.assertEqual(again, module)
        (one,) = collected(["core.test_layers"], ["contracts"])
        self.assertEqual(one.tests, ("tests.core.test_layers.Layers.test_the_contracts_hold",))

    def test_a_name_that_is_none_is_refused(self) -> None:
        with self.assertRaisesRegex(SystemExit, "core.test_nothing names no tests"):
            collected(["core.test_nothing"])

    def test_every_test_is_in_one_unit_and_a_long_class_is_run_test_by_test(self) -> None:
        whole = collected(["core.test_layers"])
        slow = dict.fromkeys(whole[0].tests, 30.0)
        with mock.patch("tests.running.units.known_seconds", return_value=slow):
            apart = collected(["core.test_layers"])
            self.assertEqual([u.tests for u in apart], [(test,) for test in whole[0].tests])
            self.assertEqual(expected_s(apart[0], slow), 30.0)

    def test_the_longest_begin_first(self) -> None:
        units = [Unit(n, (n,)) for n in ("a", "b", "c")]
        with mock.patch("tests.running.units.known_seconds", return_value={"a": 2.0, "b": 9.0, "c (fixture)": 3.0, "c": 1.0}):
            self.assertEqual([u.name for u in longest_first(units)], ["b", "c", "a"])


class Changed(unittest.TestCase):
    def test_what_subjects_name_is_there(self) -> None:
        named = [path for paths in ABOUT.values() for path in paths.split()]
        gone = [path for path in named if not list((ROOT / path).parent.glob(f"{Path(path).name}*"))]
        self.assertEqual(gone, [])

    def short(self, *paths: str) -> set[str]:
        return {m.removeprefix("tests.") for m in touched_by(paths).tests}

    def test_a_kind_of_parting_calls_for_its_own_tests_and_its_screens(self) -> None:
        found = self.short("hinoki/core/divide/partings/wedges.py")
        self.assertLessEqual({"core.divide.test_wedges", "ui.test_wedges", "ui.test_divide", "api.test_divide"}, found)
        self.assertFalse({"core.batch.test_packing", "ui.test_assemble", "core.printlog.test_printlog"} & found)

    def test_imports_are_followed(self) -> None:
        found = self.short("hinoki/core/batch/packing/pack.py")
        self.assertLessEqual({"core.batch.test_packing", "core.batch.test_batches", "reference.test_printing_outside"}, found)
        self.assertNotIn("core.divide.test_partings", found)

    def test_a_screen_calls_for_its_station_and_the_screens_checks(self) -> None:
        change = touched_by(["web/src/stations/assemble/StepsPage.vue"])
        self.assertEqual((set(change.tests), change.folders), ({"tests.ui.test_assemble", "tests.api.test_assemble",
                         "tests.cli.test_assemble"}, {"web"}))  # fmt: skip

    def test_what_is_about_nothing_in_particular_calls_for_the_whole_job(self) -> None:
        self.assertIn("ui.test_whole_job", self.short("web/src/view3d/stage.ts"))
        self.assertIn("ui.test_whole_job", self.short("hinoki/core/build.py"))
        self.assertEqual(self.short("constraints.txt"), {"*"})
        self.assertEqual(self.short("docs/guide.md"), set())


class Run(unittest.TestCase):
    def sample(self, what: str) -> list[tuple[int, int]]:
        unit = Unit(f"{HERE}.Sample", (f"{HERE}.Sample.runTest",))
        with mock.patch.dict(os.environ, {"HINOKI_SAMPLE": what}):
            return [(o.passed, o.failed) for o in run_all([unit], 1, None)]

    def test_what_passes_fails_and_ends_its_process_is_counted(self) -> None:
        self.assertEqual(self.sample("passes"), [(1, 0)])
        self.assertEqual(self.sample("fails"), [(0, 1)])
        self.assertEqual(self.sample("ends"), [(0, 1)])

    def test_a_lane_closes_nothing_of_the_process_it_was_copied_from(self) -> None:
        closed = self.enterContext(tempfile.TemporaryDirectory())
        with mock.patch("tests.running.lanes.ENDING", ExitStack()) as ending:
            ending.callback(lambda: Path(closed, "closed").touch())
            self.assertEqual(self.sample("passes"), [(1, 0)])
        self.assertEqual(list(Path(closed).iterdir()), [])

    def test_a_check_that_fails_says_why(self) -> None:
        good = run(Unit("good", command=(sys.executable, "-c", "print(1)")))
        bad = run(Unit("bad", command=(sys.executable, "-c", "import sys; print('line 7 is wrong'); sys.exit(1)")))
        self.assertEqual((good.passed, good.said), (1, ""))
        self.assertEqual((bad.failed, "line 7 is wrong" in bad.said), (1, True))

    def test_the_last_line_counts(self) -> None:
        command = [sys.executable, "-m", "tests.running", "core.test_layers", "-k", "contracts"]
        done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=True)
        self.assertEqual(done.stdout.splitlines()[-1], "1 passed, 0 failed, 0 skipped")


@unittest.skipIf(THOROUGH, "the limits of an ordinary run")
class Effort(unittest.TestCase):
    def test_examples_beyond_the_time_pass_untried_but_some_are_always_tried(self) -> None:
        seen: list[int] = []

        @tried(50, seconds=0.0)
        @given(st.integers())
        def property_of(number: int) -> None:
            seen.append(number)

        property_of()
        self.assertEqual(len(seen), AT_LEAST)

    def test_the_same_examples_every_time(self) -> None:
        def examples() -> list[int]:
            seen: list[int] = []

            @tried(20, seconds=60.0)
            @given(st.integers())
            def property_of(number: int) -> None:
                seen.append(number)

            property_of()
            return seen

        self.assertEqual(examples(), examples())

    def test_a_failure_is_made_small_whatever_time_that_takes(self) -> None:
        @tried(50, seconds=0.0)
        @given(st.integers(0, 1000))
        def property_of(number: int) -> None:
            assert number < 0, f"{number} is not below nought"

        with self.assertRaisesRegex(AssertionError, "^0 is not below nought"):
            property_of()


if __name__ == "__main__":
    unittest.main()
