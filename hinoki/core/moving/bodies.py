"""What moves and what stands: the finished pieces and parts of a project where they rest, and which movement each is of."""

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from hinoki.core.build import Build
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.mesh import Mesh, Points, stacked
from hinoki.core.geometry.solid import Solid
from hinoki.core.moving.movements import Movement
from hinoki.core.stages import key_of

PATCHES, NEARER = 4, 1 / 3
"""parts of a surface by how far they are from an axis, each that much nearer to it than the one before"""
BALLS = 8
"""by which it is seen that bodies are far from each other"""


@dataclass(frozen=True)
class Body:
    """Something that moves or stands as one: its bodies where it is at rest, mm, and the movement that it belongs to."""

    id: str
    label: str
    solids: tuple[Solid, ...]
    made_by: str
    number: int
    """of its piece, or one of its own"""
    movement: str | None = None
    surface: Mesh | None = None
    """a part of its surface only"""

    @property
    def fingerprint(self) -> object:
        """What made it, and what moves it."""
        return self.id, self.label, self.made_by, self.movement

    @cached_property
    def mesh(self) -> Mesh:
        """All its surfaces, or the part of them that is meant."""
        return stacked([one.mesh for one in self.solids]) if self.surface is None else self.surface

    def patches(self, reach_mm: Points) -> list["Body"]:
        """Its surface in parts that are ever nearer to a line, of which its corners are `reach_mm` (n,) away."""
        far = reach_mm[self.mesh.faces].max(axis=1)
        limits = [0.0, *(far.max() * NEARER**k for k in range(PATCHES - 1, 0, -1)), math.inf]
        chosen = [np.flatnonzero((far > low) & (far <= high)) for low, high in itertools.pairwise(limits)]
        return [replace(self, id=f"{self.id}/{k}", surface=self.mesh.only(own)) for k, own in enumerate(chosen) if len(own)]

    @cached_property
    def middle(self) -> Points:
        """Of its box, (3,)."""
        points = self.mesh.vertices
        return np.asarray((points.min(axis=0) + points.max(axis=0)) / 2)

    @cached_property
    def balls(self) -> tuple[Points, Points]:
        """Middles (n, 3) and radii (n,), mm, of balls along it that hold all of its surface."""
        corners = self.mesh.vertices[self.mesh.faces]
        along = corners.mean(axis=1)[:, int(np.argmax(np.ptp(self.mesh.vertices, axis=0)))]
        groups = [corners[own].reshape(-1, 3) for own in np.array_split(np.argsort(along), BALLS) if len(own)]
        middles = np.array([(own.min(axis=0) + own.max(axis=0)) / 2 for own in groups])
        radii = [np.linalg.norm(own - middle, axis=1).max() for own, middle in zip(groups, middles, strict=True)]
        return middles, np.array(radii)

    @cached_property
    def solid(self) -> Solid:
        """All of it as one."""
        return self.solids[0] if len(self.solids) == 1 else Solid.together(self.solids)


def bodies_of(built: Build, movements: Sequence[Movement]) -> list[Body]:
    """Every instance of every part as one body; of parts some of whose pieces are moved, each piece as one.

    Raises BadPlan where two movements want the same, or one moves what is not there; ValueError where other parts were not
    built.
    """
    wanted: dict[str, Movement] = {}
    for one in movements:
        for name in one.moves:
            if name in wanted:
                raise BadPlan(f"{wanted[name].label} and {one.label} both move {name}; let one ride on the other.", one.id)
            wanted[name] = one
    found: list[Body] = []
    for part in built.all_parts:
        plan = part.plan
        keys = [part.project_key(one.key) for one in part.pieces]
        by_piece = any(key in wanted for key in keys)
        for k, instance in enumerate(plan.instances if part.parts else ()):
            matrix = instance.matrix
            placed = [(one, piece, key) for one, piece, key in zip(part.parts, part.pieces, keys, strict=True)]
            groups = [[one] for one in placed] if by_piece and k == 0 else [placed]
            for group in groups:
                whole = len(group) == len(placed) and not (by_piece and k == 0)
                name = instance_name(plan.part_id, k) if whole else group[0][2]
                mover = wanted.pop(name, None)
                found.append(
                    Body(
                        id=name,
                        label=plan.instance_label(k) if whole else f"piece {group[0][1].number}",
                        solids=tuple(one.solid.placed(matrix) for one, _, _ in group),
                        made_by=key_of("moving body", [one.made_by for one, _, _ in group], matrix),
                        number=group[0][1].number if not whole else len(found) + 1,
                        movement=mover.id if mover is not None else None,
                    )
                )
    for name, mover in wanted.items():
        raise BadPlan(f"{mover.label} moves {name}, which is not there now. Choose what it moves again.", mover.id)
    return found


def instance_name(part_id: str, which: int) -> str:
    """What an instance (from 0) of a part is called, such as “q2 #1”."""
    return f"{part_id} #{which + 1}"


def movable(built: Build) -> list[tuple[str, str]]:
    """What a movement can move, each by the name plans have for it, and in words: every instance, and the pieces of parts that
    stand once."""
    found: list[tuple[str, str]] = []
    several = sum(len(part.plan.instances) for part in built.all_parts) > 1
    for part in built.all_parts:
        plan = part.plan
        if several or len(part.pieces) < 2:
            found += [(instance_name(plan.part_id, k), plan.instance_label(k)) for k in range(len(plan.instances))]
        if len(part.pieces) > 1 and len(plan.instances) == 1:
            of = f" of {plan.label}" if several else ""
            found += [(part.project_key(one.key), f"piece {one.number}{of}") for one in part.pieces]
    return found
