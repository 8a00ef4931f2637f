"""`python -m hinoki.demo.made NUMBER FILE`: the model file of one demo project, made in a process of its own.

It ends with the one that started it."""

import os
import sys
from pathlib import Path

from hinoki.core.parent_process import Watched


def main() -> int:
    """Make it and write it."""
    lifeline = Watched(os.getppid())
    from hinoki.demo.projects import DEMOS

    Path(sys.argv[2]).write_bytes(DEMOS[int(sys.argv[1])].source())
    lifeline.stop()
    return 0


if __name__ == "__main__":
    sys.exit(main())
