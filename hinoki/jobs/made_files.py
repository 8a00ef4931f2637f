"""What operations draw and keep, as files by their path in the cache folder, wherever these are put."""

from abc import ABC, abstractmethod
from typing import Literal

from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.present.display_mesh import display_arrays, display_buffer, gaps_buffer, thickness_buffer


class MadeFiles(ABC):
    """The half of a workspace (see operations.context.Workspace) that makes files."""

    @abstractmethod
    def there(self, path: str) -> bool:
        """Whether a file is there already, so that it need not be made."""

    @abstractmethod
    def put(self, path: str, content: bytes) -> None:
        """Keep a file."""

    def draw(self, name: str, mesh: Mesh) -> bool:
        """Make a drawing where there is none; whether there was none."""
        path = f"meshes/{name}.bin"
        if self.there(path):
            return False
        self.put(path, display_buffer(mesh))
        return True

    def map_walls(self, name: str, mesh: Mesh) -> None:
        """Make a thickness map where there is none."""
        path = f"meshes/{name}.thick"
        if not self.there(path):
            positions, _, indices = display_arrays(mesh)
            self.put(path, thickness_buffer(mesh, positions, indices))

    def draw_gaps(self, name: str, surface: Mesh, gaps: Points) -> None:
        """Make a drawing, and a map of the gaps over its faces."""
        if self.draw(name, surface):
            self.put(f"meshes/{name}.thick", gaps_buffer(surface, gaps))

    def keep(self, folder: Literal["answers", "builds", "exports"], name: str, content: bytes) -> None:
        """Keep a file."""
        self.put(f"{folder}/{name}", content)
