"""Units: what is handled as one while a model is put together. Pieces (those printed as one count as one), loose parts, rods,
cables, screws and the pins of hinges."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.geometry.mesh import Points, stacked
from hinoki.core.geometry.slide_collision import Form
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.closures.hinge import Axis
from hinoki.core.join.contract.terms import Direction, Turn
from hinoki.core.stages import Keyed, stage

UnitKind = Literal["piece", "loose", "rod", "cable", "screw", "pin", "stand"]
FASTENERS: tuple[UnitKind, ...] = ("screw", "pin", "cable")
Ids = frozenset[str]


@dataclass(frozen=True)
class Unit:
    """One unit: `id` is its name in the plan, `numbers` are of its pieces, `joins` the ids of the units it joins."""

    id: str
    kind: UnitKind
    name: str
    solids: tuple[Solid, ...]
    made_by: str
    keys: tuple[str, ...] = ()
    numbers: tuple[int, ...] = ()
    joins: Ids = frozenset()
    joint: str | None = None
    ways: tuple[Direction, ...] = ()
    """directions in which it may come off, beside the plain ones"""
    only: Direction | None = None
    """the one direction in which it comes out of what it joins: a screw"""
    count: int = 1
    path: tuple[tuple[float, float, float], ...] = ()
    """middle line of a cable"""

    @property
    def is_piece(self) -> bool:
        """Whether it is one piece, or several printed as one."""
        return self.kind == "piece"

    @property
    def solid(self) -> Solid:
        """All of it as one body."""
        return self.solids[0] if len(self.solids) == 1 else Solid.together(self.solids)

    @property
    def box(self) -> tuple[Points, Points]:
        """Lowest and highest corner, each (3,)."""
        boxes = [s.bounds for s in self.solids]
        return np.min([b[0] for b in boxes], axis=0), np.max([b[1] for b in boxes], axis=0)

    @property
    def middle(self) -> Points:
        """Middle of its box."""
        low, high = self.box
        return np.asarray((low + high) / 2)

    @property
    def volume_mm3(self) -> float:
        """Of all its bodies."""
        return sum(s.volume_mm3 for s in self.solids)

    @property
    def fingerprint(self) -> object:
        """What it is called, what it is, and what made it."""
        return self.id, self.name, self.kind, self.numbers, self.made_by

    @property
    def bodies(self) -> Keyed[tuple[Solid, ...]]:
        """Its solids alone, whatever it is called."""
        return Keyed(self.solids, self.made_by)

    def form(self, cache: Cache) -> Form:
        """Its surface, for sliding."""
        return form_of(cache, self.bodies)


@stage("form", weigh=lambda form: len(form.mesh.faces))
def form_of(bodies: Keyed[tuple[Solid, ...]]) -> Form:
    """The surface of bodies, for sliding."""
    return Form(stacked([s.mesh for s in bodies.value]))


@dataclass(frozen=True)
class Thread:
    """A thread or a bayonet between two units: `outer` is turned off `inner` about `axis`, the way it comes off."""

    joint: str
    inner: str
    outer: str
    at: tuple[float, float, float]
    axis: Direction
    by: Turn


@dataclass(frozen=True)
class Door:
    """A hinge between two units: `door` swings open on `frame` about the axis by `opens_deg`; `pin` is its loose pin."""

    joint: str
    door: str
    frame: str
    axis: Axis
    opens_deg: float
    pin: str | None


@dataclass(frozen=True)
class Held:
    """What a joint between two units does: the directions in which `b` can go onto `a` (None: any), what holds them."""

    joint: str
    label: str
    kind: str
    a: str
    b: str
    motions: frozenset[Direction] | None
    normal: Direction
    glued: bool = False
    press: bool = False
    pull_n: float = 0.0
    area_mm2: float = 0.0


@dataclass(frozen=True)
class Gives:
    """What of a unit gives way while it goes onto another one, such as snap hooks: as it is, and bent."""

    straight: tuple[Solid, ...]
    bent: tuple[Solid, ...]
    made_by: str

    @property
    def fingerprint(self) -> object:
        """What made it."""
        return self.made_by


Bodies = dict[str, tuple[Solid, ...]]
"""bodies by unit"""


@dataclass
class Scene:
    """All units of a model and how they stand to each other."""

    units: dict[str, Unit] = field(default_factory=dict)
    held: list[Held] = field(default_factory=list)
    threads: list[Thread] = field(default_factory=list)
    doors: list[Door] = field(default_factory=list)
    together: dict[frozenset[str], float] = field(default_factory=dict)
    """area in mm² on which two units meet"""
    planes: list[tuple[Direction, float]] = field(default_factory=list)
    """unit normal and offset of the planes that parted the model"""
    off: dict[str, tuple[str, Direction]] = field(default_factory=dict)
    """units that come off the others as their parting tells (a hatch, a hub): the parting, and the direction"""
    gives: dict[tuple[str, str], Gives] = field(default_factory=dict)
    """what of a unit gives way while it and another one go together"""
    printed: list[tuple[str, str]] = field(default_factory=list)
    """keys of pieces that came off the bed as one: the later, and the one it hangs on"""
    numbers: dict[str, int] = field(default_factory=dict)
    reaches: dict[str, list[tuple[float, float]]] = field(default_factory=dict)
    """for every unit of pieces how far it lies above each of `planes`, without its joints: the least and the most"""
    by_name: bool = False
    """whether its units are parts of the project, called by their names, and not pieces of one, by their numbers"""

    @property
    def fingerprint(self) -> object:
        """All its units and how they stand to each other."""
        together = sorted((sorted(pair), area) for pair, area in self.together.items())
        joints = self.held, self.threads, self.doors, sorted(self.gives.items(), key=lambda g: g[0])
        return list(self.units.values()), joints, together, self.planes, self.off, self.printed, self.reaches

    def of_piece(self, key: str) -> Unit | None:
        """The unit a piece is in."""
        return next((u for u in self.units.values() if key in u.keys), None)

    def named(self, ids: Iterable[str]) -> str:
        """Units in words: “pieces 2 and 4, dowels”."""
        units = [self.units[i] for i in ids]
        if self.by_name:
            return listed([u.name for u in sorted(units, key=lambda u: u.numbers)])
        pieces = sorted(n for u in units for n in u.numbers)
        words = [] if not pieces else [f"piece{'s' if len(pieces) > 1 else ''} {listed([str(n) for n in pieces])}"]
        return listed([*words, *(u.name for u in units if not u.is_piece)])


def upper(words: str) -> str:
    """Words as a sentence begins with them; what follows stays as it is written."""
    return words[:1].upper() + words[1:]


def listed(words: Sequence[str]) -> str:
    """“a, b and c”."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}" if words else ""


def plain_motions(scene: Scene) -> dict[frozenset[str], list[Held]]:
    """What joints say, for each two units."""
    pairs: dict[frozenset[str], list[Held]] = {}
    for one in scene.held:
        pairs.setdefault(frozenset((one.a, one.b)), []).append(one)
    return pairs
