"""What lies in each layer of a piece as it prints: its area; and in resin what it traps while it hangs in the vat."""

from dataclasses import dataclass

import numpy as np

from hinoki.core.geometry.equal_rows import different
from hinoki.core.geometry.mesh import Points
from hinoki.core.orient.ray_grid import Walls

LAYERS = 96
"""layers that are looked at"""
LEAST_TRAPPED_MM3 = 100.0
"""less than this is of no account (common practice)"""
Cell = tuple[int, int, int]
"""layer, and place in its rows"""


@dataclass(frozen=True)
class Suction:
    """What a piece traps in resin. `volume_mm3`: the most that is shut in at once, and draws as the piece is lifted off the
    film; `at_mm` the height at which; `closed_mm3`: hollows that never open, so that resin stays in them; `vents`: for each
    space shut in the volume in mm³ and where it begins, (4,) on the bed: there a hole would open it."""

    volume_mm3: float = 0.0
    at_mm: float = 0.0
    closed_mm3: float = 0.0
    vents: tuple[tuple[float, float, float, float], ...] = ()


NOTHING = Suction()


def filled(walls: Walls, layers: int = LAYERS) -> np.ndarray:
    """Cells (layers, nx, ny) that are material, layer by layer from the bed up."""
    middles = (np.arange(layers) + 0.5) * walls.height_mm / layers
    out = np.zeros((layers, len(walls.grid)), dtype=bool)
    for enter, leave in zip(walls.enter, walls.leave, strict=True):
        out |= (enter[None] <= middles[:, None]) & (leave[None] >= middles[:, None])
    return out.reshape(layers, *walls.shape)


def areas(walls: Walls, layers: int = LAYERS) -> Points:
    """Height and area of the layers, (layers, 2), in mm and mm²."""
    middles = (np.arange(layers) + 0.5) * walls.height_mm / layers
    return np.column_stack([middles, filled(walls, layers).sum(axis=(1, 2)) * walls.step_mm**2])


def suction(walls: Walls, lifted: bool = False, layers: int = LAYERS) -> Suction:
    """What is trapped as a piece prints from the plate (Z 0) outwards, its newest layer against the film.

    Space between walls is shut in as long as it reaches, through the layers printed so far, neither the side nor the gap
    under a piece that is `lifted` on support. So a cup that opens away from the plate is shut by the film while its wall
    grows, and one that opens towards the plate by the plate, if it stands flush on it.
    """
    from scipy import ndimage

    solid = filled(walls, layers)
    height = walls.height_mm / layers
    spaces = _Spaces(walls.step_mm**2 * height)
    below: np.ndarray | None = None
    most, at = 0.0, 0
    here_now: set[int] = set()
    for k in range(layers):
        labels, count = ndimage.label(np.pad(~solid[k], 1, constant_values=True))
        here = spaces.add(labels, count, k)
        spaces.open(int(here[0, 0]))
        if below is None:
            for n in np.unique(here[here >= 0]) if lifted else ():
                spaces.open(int(n))
        else:
            both = (here >= 0) & (below >= 0)
            pairs = np.column_stack([here[both], below[both]])
            for a, b in pairs[different(pairs).first]:
                spaces.join(int(a), int(b))
        here_now = {spaces.root(int(n)) for n in np.unique(here[here >= 0])}
        shut = sum(spaces.volume[r] for r in here_now if not spaces.is_open[r])
        if shut > most:
            most, at = shut, k
        below = here
    left = [r for r in spaces.roots() if not spaces.is_open[r]]
    shut_in = [*spaces.released, *((spaces.volume[r], spaces.begins[r]) for r in left)]
    vents = tuple(
        (round(volume, 1), *_place(walls, begins, height)) for volume, begins in shut_in if volume > LEAST_TRAPPED_MM3
    )
    closed = sum(spaces.volume[r] for r in left if r not in here_now)
    return Suction(most if most > LEAST_TRAPPED_MM3 else 0.0, (at + 0.5) * height, closed, vents)


def _place(walls: Walls, begins: Cell, height: float) -> tuple[float, float, float]:
    layer, i, j = begins
    nx, ny = walls.shape
    x, y = walls.grid[min(max(i, 0), nx - 1) * ny + min(max(j, 0), ny - 1)]
    return round(float(x), 2), round(float(y), 2), round((layer + 0.5) * height, 2)


class _Spaces:
    """Spaces between walls, grown layer by layer and joined where they meet (a disjoint-set forest)."""

    def __init__(self, cell_mm3: float) -> None:
        self._cell = cell_mm3
        self._parent: list[int] = []
        self.volume: list[float] = []
        self.is_open: list[bool] = []
        self.begins: list[Cell] = []
        self.released: list[tuple[float, Cell]] = []
        """what was shut in until it met what is open: volume, and where it begins"""

    def add(self, labels: np.ndarray, count: int, layer: int) -> np.ndarray:
        """The spaces of a layer from labels with a rim of one cell; gives their numbers cell by cell, −1 for material."""
        first = len(self._parent)
        sizes = np.bincount(labels.ravel(), minlength=count + 1)
        flat, start = np.unique(labels, return_index=True)
        at = dict(zip(flat.tolist(), start.tolist(), strict=True))
        for n in range(1, count + 1):
            i, j = divmod(at[n], labels.shape[1])
            self._parent.append(first + n - 1)
            self.volume.append(self._cell * int(sizes[n]))
            self.is_open.append(False)
            self.begins.append((layer, i - 1, j - 1))
        return np.where(labels > 0, labels + first - 1, -1)

    def root(self, n: int) -> int:
        while self._parent[n] != n:
            self._parent[n] = self._parent[self._parent[n]]
            n = self._parent[n]
        return n

    def roots(self) -> list[int]:
        return [n for n, parent in enumerate(self._parent) if n == parent]

    def open(self, n: int) -> None:
        self.is_open[self.root(n)] = True

    def join(self, a: int, b: int) -> None:
        a, b = self.root(a), self.root(b)
        if a == b:
            return
        if self.is_open[a] != self.is_open[b]:
            shut = b if self.is_open[a] else a
            self.released.append((self.volume[shut], self.begins[shut]))
        self._parent[b] = a
        self.volume[a] += self.volume[b]
        self.is_open[a] = self.is_open[a] or self.is_open[b]
        self.begins[a] = min(self.begins[a], self.begins[b])
