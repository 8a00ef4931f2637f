"""Runs one simulated printer; it ends with the process that started it, also while it is still being read."""

import sys

from hinoki.core.parent_process import Watched


def main() -> None:
    """Take `--parent N` off the arguments, watch that process, and run the printer."""
    words = sys.argv
    if "--parent" in words:
        place = words.index("--parent")
        Watched(int(words[place + 1]))
        del words[place : place + 2]
    from hinoki.printers.simulator.service import main as run

    run()


if __name__ == "__main__":
    main()
