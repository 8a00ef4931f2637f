"""Progress on stderr."""

import sys
from typing import TYPE_CHECKING

from hinoki.core.progress import Tell, part_of

if TYPE_CHECKING:
    from rich.progress import Progress, TaskID


class ProgressBar:
    """How far a command is: a bar on a terminal, a line for each tenth elsewhere, nothing when it is to be quiet."""

    def __init__(self, quiet: bool = False) -> None:
        self._quiet = quiet
        self._bar: Progress | None = None
        self._task: TaskID | None = None
        self._last = -1

    def show(self, fraction: float, phrase: str) -> None:
        """Show how far it is."""
        if self._quiet:
            return
        if sys.stderr.isatty():
            self._draw(fraction, phrase)
        elif int(fraction * 10) != self._last:
            self._last = int(fraction * 10)
            print(f"{fraction:4.0%} {phrase}", file=sys.stderr)

    def _draw(self, fraction: float, phrase: str) -> None:
        if self._bar is None or self._task is None:
            from rich.console import Console
            from rich.progress import BarColumn, Progress, TaskProgressColumn, TextColumn

            columns = BarColumn(30), TaskProgressColumn(), TextColumn("{task.description}")
            self._bar = Progress(*columns, console=Console(stderr=True), transient=True)
            self._task = self._bar.add_task(phrase, total=1.0)
            self._bar.start()
        self._bar.update(self._task, completed=fraction, description=phrase[:60])

    def within(self, low: float, high: float) -> Tell:
        """The same bar for a part of the whole."""
        return part_of(self.show, low, high)

    def end(self) -> None:
        """Take it off the screen."""
        if self._bar is not None:
            self._bar.stop()
