"""What a test process closes when it ends: its browser, servers of its own."""

import atexit
from contextlib import ExitStack

ENDING = ExitStack()
atexit.register(ENDING.close)
