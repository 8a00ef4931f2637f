"""`python -m hinoki.demo.made NUMBER FILE`: the model file of one demo project, made in a process of its own.

It ends with the one that started it."""

import os
import sys
from pathlib import Path

from hinoki.core.parent_process import Watched

NICE = 10
"""how far it stands back behind what somebody waits for"""


def main() -> int:
    """Make it and write it."""
    lifeline = Watched(os.getppid())
    if hasattr(os, "nice"):
        os.nice(NICE)
    from hinoki.demo.projects import DEMOS

    Path(sys.argv[2]).write_bytes(DEMOS[int(sys.argv[1])].source())
    lifeline.stop()
    return 0


if __name__ == "__main__":
    sys.exit(main())
