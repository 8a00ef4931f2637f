"""Printers fed by hand: the batch is written into a folder, such as that of a memory card, and a person says how it went."""

import os
import re
import tempfile
from pathlib import Path

from hinoki.core.printlog.records import PreparedBatch
from hinoki.printers.base import Gone, Heard, MachineProblem, Refused, Status


class NotFollowed(MachineProblem):
    """A folder cannot tell how a print goes."""


class FolderPrinter:
    """A folder."""

    follows = False

    def __init__(self, folder: str) -> None:
        self._folder = Path(folder).expanduser()

    def close(self) -> None:
        """Nothing is kept open to a folder."""

    def status(self) -> Status:
        """Whether the folder is there."""
        if not self._folder.is_dir():
            raise Gone(f"The folder {self._folder} is not there. Put the card in, or make the folder.")
        return Status(self._folder.name or str(self._folder), "folder")

    def send(self, print_id: str, batch: PreparedBatch, content: bytes) -> None:
        """Write the file whole or not at all. Its name begins with the batch, and tells the print by its id's beginning."""
        self.status()
        stem = re.sub(r"[^a-z0-9]+", "-", batch.title.lower()).strip("-")[:60] or "batch"
        target = self._folder / f"{stem}-{print_id[:6]}.3mf"
        name = ""
        try:
            handle, name = tempfile.mkstemp(dir=self._folder, prefix=".part-")
            with os.fdopen(handle, "wb") as file:
                file.write(content)
                file.flush()
                os.fsync(file.fileno())
            Path(name).replace(target)
        except OSError as error:
            if name:
                Path(name).unlink(missing_ok=True)
            raise Refused(f"The file could not be written into {self._folder}: {error.strerror}.") from error

    def heard(self, print_id: str) -> Heard:
        """Nothing is heard of a folder. Raises NotFollowed."""
        raise NotFollowed(f"A folder does not tell how print {print_id[:6]} goes; say so in the log.")

    def pause(self, print_id: str) -> None:
        """Nobody is there to be told."""
        self.heard(print_id)

    def resume(self, print_id: str) -> None:
        """Nobody is there to be told."""
        self.heard(print_id)

    def cancel(self, print_id: str) -> None:
        """Nobody is there to be told."""
        self.heard(print_id)
