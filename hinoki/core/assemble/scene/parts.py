"""Units: what is handled as one while a model is put together. Pieces (those printed as one count as one), loose parts, rods,
cables, screws and the pins of hinges."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from hinoki.core.build import Built
from hinoki.core.cache import Cache, key_of
from hinoki.core.geometry.mesh import Points, stacked
from hinoki.core.geometry.slide_collision import Form
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.apply import PlacedJoint
from hinoki.core.join.channel_cuts import Bored
from hinoki.core.join.contract.base import Direction, direction_of
from hinoki.core.join.hinge_sweep import axis_of
from hinoki.core.join.joints import SIDES, HingeJoint, ScrewJoint, ThreadJoint
from hinoki.core.join.joints.hinge import Axis
from hinoki.core.join.walls import NOTHING_MM3
from hinoki.core.orient.resting.default_resting import printed_together

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

    def form(self, cache: Cache) -> Form:
        """Its surface, for sliding."""
        return cache.get(
            key_of("form", self.made_by), lambda: Form(stacked([s.mesh for s in self.solids])), lambda f: len(f.mesh.faces)
        )


@dataclass(frozen=True)
class Thread:
    """A thread between two units: `outer` is unscrewed from `inner` along `axis`; `turn` is +1 where that is right-handed."""

    joint: str
    inner: str
    outer: str
    at: tuple[float, float, float]
    axis: Direction
    lead_mm: float
    length_mm: float
    turn: int


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
    printed: list[tuple[str, str]] = field(default_factory=list)
    """keys of pieces that came off the bed as one: the later, and the one it hangs on"""
    numbers: dict[str, int] = field(default_factory=dict)
    reaches: dict[str, list[tuple[float, float]]] = field(default_factory=dict)
    """for every unit of pieces how far it lies above each of `planes`, without its joints: the least and the most"""

    def of_piece(self, key: str) -> Unit | None:
        """The unit a piece is in."""
        return next((u for u in self.units.values() if key in u.keys), None)

    def named(self, ids: Iterable[str]) -> str:
        """Units in words: “pieces 2 and 4, dowels”."""
        units = [self.units[i] for i in ids]
        pieces = sorted(n for u in units for n in u.numbers)
        words = [] if not pieces else [f"piece{'s' if len(pieces) > 1 else ''} {listed([str(n) for n in pieces])}"]
        return listed([*words, *(u.name for u in units if not u.is_piece)])


def upper(words: str) -> str:
    """Words as a sentence begins with them; what follows stays as it is written."""
    return words[:1].upper() + words[1:]


def listed(words: Sequence[str]) -> str:
    """“a, b and c”."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}" if words else ""


def scene_of(built: Built) -> Scene:
    """The units of a build. Pieces carry their piece key as id; what is printed as one, that of the lowest number."""
    scene = Scene(numbers=dict(built.view.numbers))
    together = printed_together(built.placed)
    by_key = {p.key: p for p in built.parts}
    names = {p.key: p.name for p in built.view.pieces}
    unit_of: dict[str, str] = {}
    for part in sorted(built.parts, key=lambda p: scene.numbers[p.key]):
        if part.key in unit_of:
            continue
        keys = sorted(together.get(part.key, {part.key}), key=lambda k: scene.numbers[k])
        numbers = tuple(scene.numbers[k] for k in keys)
        scene.units[part.key] = Unit(
            id=part.key,
            kind="piece",
            name=" + ".join(names.get(k, k) for k in keys),
            solids=tuple(by_key[k].solid for k in keys),
            made_by=key_of("unit", [by_key[k].made_by for k in keys]),
            keys=tuple(keys),
            numbers=numbers,
        )
        unit_of |= dict.fromkeys(keys, part.key)
        scene.printed += [(k, keys[0]) for k in keys[1:]]
    for face in built.faces:
        _meet(scene, unit_of[face.a.key], unit_of[face.b.key], face.shape.area)
    numbered = {n: k for k, n in scene.numbers.items()}
    for piece in built.view.pieces:
        for other in piece.neighbours:
            _meet(scene, unit_of[piece.key], unit_of[numbered[other]], 0.0)
    _planes(scene, built, unit_of)
    for one in built.placed:
        _joint(scene, one, unit_of)
    for way in built.ways:
        _way(scene, way, built, unit_of)
    return scene


def _meet(scene: Scene, a: str, b: str, area: float) -> None:
    if a != b:
        pair = frozenset((a, b))
        scene.together[pair] = scene.together.get(pair, 0.0) + area


def _planes(scene: Scene, built: Built, unit_of: dict[str, str]) -> None:
    for part in built.before:
        for end in part.ends:
            if end.side < 0:
                plane = direction_of(end.frame.n), round(end.frame.offset, 4)
                if plane not in scene.planes:
                    scene.planes.append(plane)
    for part in built.before:
        found = [reach_of(part.solid.mesh.vertices, plane) for plane in scene.planes]
        known = scene.reaches.setdefault(unit_of[part.key], found)
        both = zip(known, found, strict=True)
        scene.reaches[unit_of[part.key]] = [(min(a[0], b[0]), max(a[1], b[1])) for a, b in both]
    for part in built.before:
        for made in part.made:
            if made.off is not None:
                scene.off[unit_of[part.key]] = made.parting, direction_of(np.array(made.off))


def reach_of(vertices: Points, plane: tuple[Direction, float]) -> tuple[float, float]:
    """How far points (n, 3) reach below and above a plane, given by its normal and its distance from the origin, mm."""
    heights = vertices @ np.array(plane[0]) - plane[1]
    return float(heights.min()), float(heights.max())


def _joint(scene: Scene, one: PlacedJoint, unit_of: dict[str, str]) -> None:
    a, b = (unit_of[one.part(side).key] for side in SIDES)
    joint, standing = one.joint, one.standing
    there = bool(one.places) or joint.wanted == 0
    if a == b or not there:
        return
    normal = direction_of(standing.frame.n)
    motions = joint.motions(standing)
    threaded = isinstance(joint, ThreadJoint)
    loose_name = joint.loose_name()
    free = threaded or (loose_name is not None and bool(one.tools.loose))
    scene.held.append(
        Held(
            joint=joint.id,
            label=joint.label(),
            kind=joint.kind,
            a=a,
            b=b,
            motions=None if motions is None or free else frozenset(motions),
            normal=normal,
            glued=joint.kind == "butt" and bool(getattr(joint, "glue", "")),
            press=joint.fit == "press" and joint.kind not in ("butt", "magnet", "screw"),
            pull_n=float(getattr(joint, "pull_n", lambda: 0.0)()) * len(one.places) if joint.kind == "magnet" else 0.0,
            area_mm2=one.face.shape.area,
        )
    )
    loose = _loose(scene, one, a, b) if loose_name is not None else []
    if isinstance(joint, ThreadJoint):
        at = standing.frame.world(np.array([one.places[0]]))[0]
        spot = float(at[0]), float(at[1]), float(at[2])
        lead, turn = joint.starts * joint.pitch_mm, 1 if joint.hand == "right" else -1
        back = direction_of(-standing.frame.n)
        pairs = [(a, b, normal)] if not loose else [(a, loose[0], normal), (b, loose[0], back)]
        for inner, outer, axis in pairs:
            scene.threads.append(Thread(joint.id, inner, outer, spot, axis, lead, joint.length_mm, turn))
    if isinstance(joint, ScrewJoint):
        _screws(scene, one, a, b)
    if isinstance(joint, HingeJoint) and not joint.prints_together:
        _pin(scene, one, a, b)


def _loose(scene: Scene, one: PlacedJoint, a: str, b: str) -> list[str]:
    """The loose parts of a joint, those that lie alike as one unit; their ids."""
    groups: dict[Direction, list[Solid]] = {}
    for loose in one.tools.loose:
        groups.setdefault(direction_of(loose.flat[2, :3]), []).append(loose.solid)
    ids = []
    for k, (up, solids) in enumerate(groups.items()):
        name = one.joint.loose_name() or "loose part"
        own = f"{one.joint.id} loose{f' {k + 1}' if k else ''}"
        n = one.standing.frame.n
        ways = (direction_of(n), direction_of(-n), up, direction_of(-np.array(up)))
        count = len(solids)
        scene.units[own] = Unit(
            id=own,
            kind="loose",
            name=f"{count} × {name}" if count > 1 else name,
            solids=tuple(solids),
            made_by=key_of("unit", one.made_by, own.partition(" ")[2]),
            joins=frozenset((a, b)),
            joint=one.joint.id,
            ways=tuple(dict.fromkeys(ways)),
            count=count,
        )
        ids.append(own)
        for piece in (a, b):
            _meet(scene, own, piece, 0.0)
    return ids


def _screws(scene: Scene, one: PlacedJoint, a: str, b: str) -> None:
    joint = one.joint
    if not isinstance(joint, ScrewJoint):
        return
    bodies = joint.bought(one.standing, one.places)
    out = direction_of(joint.axis(one.standing, one.places[0]))
    names = [h.name for h in joint.hardware(one.standing, one.places) if "screw" in h.name]
    if not bodies:
        return
    own = f"{joint.id} screws"
    scene.units[own] = Unit(
        id=own,
        kind="screw",
        name=f"{len(bodies)} × {names[0]}" if names else "screws",
        solids=tuple(body.solid.placed(body.matrix) for body in bodies),
        made_by=key_of("unit", one.made_by, "screws"),
        joins=frozenset((a, b)),
        joint=joint.id,
        ways=(out,),
        only=out,
        count=len(bodies),
    )
    for piece in (a, b):
        _meet(scene, own, piece, 0.0)


def _pin(scene: Scene, one: PlacedJoint, a: str, b: str) -> None:
    axis = axis_of(one)
    bodies = one.joint.bought(one.standing, one.places)
    if axis is None or not bodies or not isinstance(one.joint, HingeJoint):
        return
    own = f"{one.joint.id} pin"
    scene.units[own] = Unit(
        id=own,
        kind="pin",
        name=f"hinge {bodies[0].name}",
        solids=tuple(body.solid.placed(body.matrix) for body in bodies),
        made_by=key_of("unit", one.made_by, "pin"),
        joins=frozenset((a, b)),
        joint=one.joint.id,
        ways=(direction_of(axis.frame.n), direction_of(-axis.frame.n)),
    )
    scene.doors.append(Door(one.joint.id, b, a, axis, one.joint.opens_deg, own))
    for piece in (a, b):
        _meet(scene, own, piece, 0.0)


def _way(scene: Scene, one: Bored, built: Built, unit_of: dict[str, str]) -> None:
    # its bore is open beyond its ends: only what the wire or rod itself runs in counts
    body = one.way.body()
    met = [p.key for p in built.before if p.key in one.pieces and p.solid.common(body).volume_mm3 > NOTHING_MM3]
    joins = frozenset(unit_of[k] for k in met)
    if not joins:
        return
    path = one.way.path()
    ends = path[-1] - path[0]
    along = direction_of(ends / np.linalg.norm(ends))
    kinds: dict[str, UnitKind] = {"rod": "rod", "cable": "cable", "stand": "stand"}
    name = one.way.label() if one.way.kind != "cable" else f"wire, {one.way.long_mm:.0f} mm in its tunnel"
    scene.units[one.way.id] = Unit(
        id=one.way.id,
        kind=kinds[one.way.kind],
        name=name,
        solids=(body,),
        made_by=key_of("unit", one.key),
        joins=joins,
        ways=(along, direction_of(-np.array(along))),
        path=tuple((float(x), float(y), float(z)) for x, y, z in path),
    )
    for piece in joins:
        _meet(scene, one.way.id, piece, 0.0)


def plain_motions(scene: Scene) -> dict[frozenset[str], list[Held]]:
    """What joints say, for each two units."""
    pairs: dict[frozenset[str], list[Held]] = {}
    for one in scene.held:
        pairs.setdefault(frozenset((one.a, one.b)), []).append(one)
    return pairs
