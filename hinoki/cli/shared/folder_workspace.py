"""The files of an operation that is asked on the command line: it reads one model, and writes into one folder."""

from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Literal

from hinoki.core.errors import NotFound
from hinoki.core.formats.ply import write_ply
from hinoki.core.geometry.mesh import Mesh, Points


class FolderWorkspace:
    """A workspace (see `operations.context.Workspace`) of one model file; without a folder nothing is written."""

    def __init__(self, model: bytes, folder: Path | None) -> None:
        self._model, self._folder = model, folder
        self._drawn: set[str] = set()
        self.written: list[Path] = []
        """the files that were written, in order"""

    def source(self, _sha256: str) -> bytes:
        """The model file, which is the only one."""
        return self._model

    def photo(self, _project: str, _unit: str) -> bytes | None:
        """None: photographs are in the application's log only."""
        return None

    def draw(self, name: str, mesh: Mesh) -> bool:
        """Write a drawing as PLY the first time; whether it was the first."""
        first = name not in self._drawn
        if first:
            self._drawn.add(name)
            self._write(f"{name}.ply", lambda: write_ply(mesh))
        return first

    def drawing(self, name: str) -> bytes:
        """Raises NotFound: what the application has drawn is in its own data folder only."""
        raise NotFound(
            f"There is no drawing {name[:40]!r} here. Compare pieces in the application, which keeps them.", "drawing"
        )

    def draw_gaps(self, name: str, surface: Mesh, gaps: Points) -> None:
        """Nothing: the answer has the figures."""

    def map_walls(self, name: str, mesh: Mesh) -> None:
        """Nothing: maps of walls are colours for the application's view."""

    def keep(self, _folder: Literal["answers", "builds", "exports"], name: str, content: bytes) -> None:
        """Write a file."""
        self._write(name, lambda: content)

    def show_pieces(self, drawings: Mapping[str, str]) -> None:
        """Nothing: there is no view that waits for them."""

    def _write(self, name: str, content: Callable[[], bytes]) -> None:
        if self._folder is None:
            return
        self._folder.mkdir(parents=True, exist_ok=True)
        path = self._folder / name
        path.write_bytes(content())
        self.written.append(path)
