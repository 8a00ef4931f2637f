"""Runs one simulated printer; it ends with the process that started it, also while it is still being read."""

import sys

from hinoki.core.lifeline import Watched


def main() -> None:
    """Take `--parent N` off the arguments, watch that process, and run the printer."""
    words = sys.argv
    if "--parent" in words:
        place = words.index("--parent")
        Watched(int(words[place + 1]))
        del words[place : place + 2]
    from hinoki.stand_ins.printer import main as run

    run()


if __name__ == "__main__":
    main()
