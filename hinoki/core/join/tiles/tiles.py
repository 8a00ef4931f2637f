"""Modules: equal pieces, such as the tiles of a field, that magnets in their sides let meet in any order."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.sections import flat_faces_at
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.pegs import into
from hinoki.core.join.contract.terms import Bought, LooseOnes
from hinoki.core.join.joints import Standing, Tool
from hinoki.core.join.tiles.polarity import Edge, Side, turned_to_hold
from hinoki.core.join.tiles.side_joints import SideJoint, side_joint
from hinoki.core.join.walls import Weak, weak_tools
from hinoki.core.plan.tile_set import ModuleSet
from hinoki.core.stages import Keyed, key_of, stage
from hinoki.core.workshop.hardware import Hardware

if TYPE_CHECKING:
    from hinoki.core.plan.plan import Plan

FLAT = 1e-4
OUTERMOST_MM = 0.02
LEAST_SIDE_MM2 = 4.0
TOGETHER_MM = 0.5
"""sides whose middles lie nearer than this stand against each other"""
MOST_TRIES = 200_000
"""for fields as they stand in a model: more would take seconds"""


@dataclass(frozen=True)
class ModuleSide:
    """A flat, upright side: its frame (origin in the middle of its width at the underside's level, `v` up, `n` outwards), its
    width, and where it begins and ends above the underside."""

    frame: Frame
    wide_mm: float
    low_mm: float
    high_mm: float

    def standing(self, clearance_mm: float, wall_mm: float) -> Standing:
        """Its outline as what magnets stand on."""
        outline = shapely.box(-self.wide_mm / 2, self.low_mm, self.wide_mm / 2, self.high_mm)
        return Standing(self.frame, MultiPolygon([outline]), clearance_mm, wall_mm)


@dataclass
class Module:
    """One piece as a module: its sides in turn, seen from above to the left, and by how many of them its pattern is turned."""

    part: Part
    sides: list[ModuleSide]
    turned: int = 0
    tools: list[Tool] = field(default_factory=list)
    weak: list[Weak] = field(default_factory=list)
    narrow: list[int] = field(default_factory=list)
    """sides (from 0) too narrow for what is on them"""


@dataclass(frozen=True)
class Modules:
    """A set of modules as it is in the pieces: the pattern of one of them, and what was found."""

    wanted: ModuleSet
    each: list[Module]
    pattern: list[Side]
    edges: list[Edge]
    as_it_stands: bool
    """whether all neighbours hold as they stand in the model"""
    key: str
    clearance_mm: float = 0.0
    apart_mm: float = 0.0
    """of two a side, middle to middle"""
    high_mm: float = 0.0
    """of their middles above the underside"""

    @property
    def joint(self) -> SideJoint:
        """How their sides meet."""
        return side_joint(self.wanted)

    @property
    def label(self) -> str:
        """Such as “4 modules, 2 magnets 6 × 3 a side”."""
        many = len(self.each)
        return f"{many} {'module' if many == 1 else 'modules'}, {self.joint.label()} a side"

    @property
    def many(self) -> int:
        """How many sides each has; 0 where they differ."""
        return len(self.pattern)

    def bought(self, wall_mm: float) -> list[tuple[str, Bought]]:
        """The magnets as halves, each with the key of its piece."""
        magnets = self.wanted.magnets
        found: list[tuple[str, Bought]] = []
        for module in self.each if self.pattern and self.wanted.by == "magnets" else []:
            for side, spots in zip(module.sides, poles_of(module, self.pattern), strict=True):
                standing = side.standing(self.clearance_mm, wall_mm)
                for x, z, pole in spots:
                    matrix = into(side.frame, "a", (x, z))
                    halves = magnets.halves(matrix, pole, "a", standing) if pole != "key" else []
                    found += [(module.part.key, b) for b in halves]
        return found

    def hardware(self, copies: Mapping[str, int] | None = None) -> list[Hardware]:
        """What is bought for every copy of a piece (by its key; one where none is told)."""
        count = sum(len(m.tools) * (copies or {}).get(m.part.key, 1) for m in self.each)
        return self.joint.hardware(count) if count else []

    def keys(self, copies: Mapping[str, int]) -> LooseOnes | None:
        """The loose keys: one for every two sides."""
        module = next((m for m in self.each if m.tools), None)
        body = self.joint.key(module.sides[0].standing(self.clearance_mm, 0.0)) if module is not None else None
        if body is None:
            return None
        grooves = sum(len(m.tools) * copies.get(m.part.key, 1) for m in self.each)
        one = self.wanted
        name = f"module key {one.neck_mm:g}/{one.head_mm:g}, {body.size[2]:.0f} long"
        return LooseOnes(name, body, (grooves + 1) // 2)


def sides_of(solid: Solid, least_mm: float) -> list[ModuleSide]:
    """The outermost flat upright sides of a module, at least `least_mm` wide; in turn, the one looking along X first."""
    mesh = solid.mesh
    face_areas, normals = mesh.face_areas, mesh.face_normals
    upright = np.abs(normals[:, 2]) < FLAT
    under = float(solid.bounds[0][2])
    areas: dict[tuple[float, float, float], float] = {}
    ends = {}
    for normal, at, area in zip(normals[upright], mesh.vertices[mesh.faces[upright, 0]], face_areas[upright], strict=True):
        key = round(float(normal[0]), 3) + 0.0, round(float(normal[1]), 3) + 0.0, round(float(normal @ at), 2)
        areas[key] = areas.get(key, 0.0) + float(area)
        ends[key] = normal, at
    found = []
    for key, area in areas.items():
        normal, at = ends[key]
        out = float((mesh.vertices @ normal).max())
        if area < LEAST_SIDE_MM2 or float(normal @ at) < out - OUTERMOST_MM:
            continue
        side = _side(solid, normal, at, under)
        if side is not None and side.wide_mm >= least_mm:
            found.append(side)
    return sorted(found, key=lambda s: float(np.arctan2(s.frame.n[1], s.frame.n[0])) % (2 * np.pi - 1e-6))


def _side(solid: Solid, normal: Points, at: Points, under: float) -> ModuleSide | None:
    up = np.array([0.0, 0.0, 1.0])
    n = np.array([normal[0], normal[1], 0.0]) / np.hypot(normal[0], normal[1])
    origin = n * float(n @ at) + up * under
    frame = Frame(origin, np.cross(up, n), up, n)
    shape = flat_faces_at(solid.mesh, frame, True)
    if shape.is_empty:
        return None
    x0, low, x1, high = shape.bounds
    return ModuleSide(
        Frame(frame.world(np.array([[(x0 + x1) / 2, 0.0]]))[0], frame.u, frame.v, frame.n), x1 - x0, max(0.0, low), high
    )


def modules_in(wanted: ModuleSet, parts: Sequence[Part], clearance_mm: float, least_wall_mm: float, cache: Cache) -> Modules:
    """The modules of a set: their sides, the pattern of poles, how each is turned so that neighbours hold, and the pockets."""
    own = [p for p in parts if wanted.pieces is None or p.key in wanted.pieces]
    least = 2 * (side_joint(wanted).half_mm + clearance_mm + least_wall_mm)
    sides = [_sides(cache, part.body, least) for part in own]
    return _modules(cache, wanted, own, sides, clearance_mm, least_wall_mm)


@stage("sides")
def _sides(body: Keyed[Solid], least_mm: float) -> list[ModuleSide]:
    """The flat, upright sides of a piece."""
    return sides_of(body.value, least_mm)


@stage("modules", weigh=lambda made: 400 * sum(len(m.tools) for m in made.each) + 100)
def _modules(
    wanted: ModuleSet, parts: Sequence[Part], sides: Sequence[list[ModuleSide]], clearance_mm: float, least_wall_mm: float
) -> Modules:
    """The modules that pieces with such sides make."""
    key = _modules.key(wanted, parts, sides, clearance_mm, least_wall_mm)
    each = [Module(part, own) for part, own in zip(parts, sides, strict=True)]
    counts = {len(m.sides) for m in each}
    if len(counts) != 1 or counts & {0, 1, 2}:
        return Modules(wanted, each, [], [], True, key, clearance_mm)
    every = [s for m in each for s in m.sides]
    high = wanted.high_mm or (max(s.low_mm for s in every) + min(s.high_mm for s in every)) / 2
    apart = wanted.apart_mm or min(s.wide_mm for s in every) / 2
    poles = side_joint(wanted).pattern(len(each[0].sides), apart, high)
    edges = _edges(each)
    turns = turned_to_hold(poles, len(each), edges, MOST_TRIES)
    made = Modules(wanted, each, poles, edges, turns is not None, key, clearance_mm, apart, high)
    for module, turn in zip(each, turns or [0] * len(each), strict=True):
        module.turned = turn
        _bore(module, side_joint(wanted), poles, clearance_mm, least_wall_mm)
    return made


def _edges(each: Sequence[Module]) -> list[Edge]:
    """Which sides stand against each other in the model, whole side to whole side."""
    found: list[Edge] = []
    for a, one in enumerate(each):
        for b in range(a + 1, len(each)):
            for i, side in enumerate(one.sides):
                for j, other in enumerate(each[b].sides):
                    if float(side.frame.n @ other.frame.n) < -1 + FLAT and (
                        float(np.linalg.norm(side.frame.origin - other.frame.origin)) < TOGETHER_MM
                    ):
                        found.append((a, i, b, j))
    return found


def poles_of(module: Module, sides: Sequence[Side]) -> list[Side]:
    """The pattern as it lies on the sides of one module: turned by so many of them."""
    count = len(sides)
    return [sides[(k - module.turned) % count] for k in range(count)]


def _bore(module: Module, joint: SideJoint, sides: Sequence[Side], clearance_mm: float, wall_mm: float) -> None:
    index = 0
    for k, (side, spots) in enumerate(zip(module.sides, poles_of(module, sides), strict=True)):
        if any(abs(x) + joint.half_mm + clearance_mm > side.wide_mm / 2 for x, _, _ in spots):
            module.narrow.append(k)
        standing = side.standing(clearance_mm, wall_mm)
        tools: list[Tool] = []
        for x, z, pole in spots:
            tool = joint.tool(index, standing, (x, z), pole)
            tools += [tool] if tool is not None else []
            index += 1
        module.weak += weak_tools(tools, module.part.solid, wall_mm, set(range(index)), side.frame)
        module.tools += tools


def all_modules(plan: "Plan", parts: Sequence[Part], cache: Cache) -> list[Modules]:
    """The modules of all sets of a plan."""
    found = []
    for wanted in plan.modules:
        keys = [p.key for p in parts if wanted.pieces is None or p.key in wanted.pieces]
        found.append(modules_in(wanted, parts, plan.clearance_mm(wanted.fit, *keys), plan.least_wall_mm, cache))
    return found


def pockets_of(modules: Sequence[Modules]) -> list[tuple[Solid, str, list[str]]]:
    """What all of them cut: for each piece its pockets, their hash, and its key."""
    return [
        (Solid.united(cuts), key_of(module.key, m.part.key), [m.part.key])
        for module in modules
        for m in module.each
        if (cuts := [t.cut for t in m.tools if t.cut is not None])
    ]


def tails_of(modules: Sequence[Modules]) -> list[tuple[Solid, str, str]]:
    """What all of them add: for each piece what stands out of its sides, its hash, and its key."""
    return [
        (Solid.united(adds), key_of(module.key, m.part.key, "tails"), m.part.key)
        for module in modules
        for m in module.each
        if (adds := [t.add for t in m.tools if t.add is not None])
    ]


def faces_held(modules: Modules, faces: Sequence[MatingFace]) -> dict[str, tuple[int, int]]:
    """The mating faces (their ids) that magnets of tiles hold, with the index of piece A's tile and of its side there."""
    if not modules.many:
        return {}
    edges = {frozenset(modules.each[m].part.key for m in (a, b)): (a, i, b, j) for a, i, b, j in modules.edges}
    found: dict[str, tuple[int, int]] = {}
    for face in faces:
        edge = edges.get(frozenset((face.a.key, face.b.key)))
        if edge is not None:
            a, i, b, j = edge
            found[face.ref.id] = (a, i) if modules.each[a].part.key == face.a.key else (b, j)
    return found
