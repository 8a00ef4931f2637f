"""Progress on stderr."""

import shutil
import sys

from hinoki.core.progress import Tell, part_of


class ProgressBar:
    """A progress bar on stderr: redrawn on a terminal, one line for each tenth elsewhere."""

    def __init__(self) -> None:
        self._terminal = sys.stderr.isatty()
        self._last = -1

    def show(self, fraction: float, phrase: str) -> None:
        """Show how far it is."""
        tenth = int(fraction * 10)
        if self._terminal:
            width = max(10, min(30, shutil.get_terminal_size().columns - 50))
            full = int(fraction * width)
            print(f"\r[{'#' * full}{'.' * (width - full)}] {fraction:4.0%} {phrase[:40]:<40}", end="", file=sys.stderr)
        elif tenth != self._last:
            print(f"{fraction:4.0%} {phrase}", file=sys.stderr)
        self._last = tenth

    def within(self, low: float, high: float) -> Tell:
        """The same bar for a part of the whole."""
        return part_of(self.show, low, high)

    def end(self) -> None:
        """Take it off the screen."""
        if self._terminal:
            print("\r" + " " * 78 + "\r", end="", file=sys.stderr)
