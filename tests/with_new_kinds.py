"""Hinoki with the kinds of `tests.new_kinds`: `python -m tests.with_new_kinds serve …`."""

import sys

import tests.new_kinds  # noqa: F401 - first
from hinoki.cli import main
from hinoki.jobs.forkserver import READ_AHEAD

if __name__ == "__main__":
    READ_AHEAD.insert(0, "tests.new_kinds")
    sys.exit(main())
