"""Processes that do not outlive the one that started them, however it ends and whatever they are doing."""

import os
import select
import signal
import threading

EVERY_S = 0.5
SERVER = "HINOKI_SERVER"
"""where the environment says which process is the server"""


class Watched:
    """Ends this process soon after its parent (its process id) has ended, from a thread; until `stop`."""

    def __init__(self, parent: int) -> None:
        self._parent = parent
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._look, name="lifeline", daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """Look no more."""
        self._stop.set()
        self._thread.join()

    def _look(self) -> None:
        while os.getppid() == self._parent:
            if self._stop.wait(EVERY_S):
                return
        os._exit(0)


def end_with(line: int) -> None:
    """End this process at once when the other end of `line`, a pipe on which nothing is ever sent, is closed.

    The kernel does it, by a signal whose default is to end the process: also amid a long computation, when no thread of ours
    gets its turn. Where there are no such signals, the process ends when it next reads its jobs.
    """
    if not hasattr(signal, "SIGIO"):
        return
    import fcntl

    signal.signal(signal.SIGIO, signal.SIG_DFL)
    fcntl.fcntl(line, fcntl.F_SETOWN, os.getpid())
    fcntl.fcntl(line, fcntl.F_SETFL, fcntl.fcntl(line, fcntl.F_GETFL) | os.O_ASYNC)
    if select.select([line], [], [], 0)[0]:  # it was closed before
        os._exit(0)
