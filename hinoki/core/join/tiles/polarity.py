"""Pole patterns of modules: which sides meet, by how many sides one has to be turned, and whether a whole field holds.

A side is what one sees looking at it from outside: magnets at places to the right of its middle and above the underside.
When two modules stand side by side, the other one's side is seen mirrored left to right. Everything is found by trying.
"""

import itertools
from collections.abc import Sequence
from typing import Literal

Pole = Literal["n", "s", "key"]
"""of a magnet; of a tail or peg that stands out (n) and of what takes it (s); of a groove for a loose key"""
Spot = tuple[float, float, Pole]
"""to the right of the side's middle, above the underside (mm), and the pole that looks out"""
Side = tuple[Spot, ...]
Edge = tuple[int, int, int, int]
"""module, the direction its side looks in, and the same of its neighbour"""
MEET_MM = 0.1
SAMPLES = {3: "triangles", 4: "squares", 6: "hexagons"}
"""what sides a field can be laid of"""


def pattern(count: int, a_side: int, apart_mm: float, high_mm: float) -> list[Side]:
    """The sides of a module, in turn: one magnet in the middle, N and S in turn round the module; or N and S in a row."""
    if a_side == 1:
        return [((0.0, high_mm, "n" if k % 2 == 0 else "s"),) for k in range(count)]
    return [((-apart_mm / 2, high_mm, "n"), (apart_mm / 2, high_mm, "s")) for _ in range(count)]


def meets(side: Side, other: Side) -> bool:
    """Whether two sides that look at each other hold: every magnet finds one that pulls it."""
    if len(side) != len(other) or not side:
        return False
    return all(
        any(abs(x + p) < MEET_MM and abs(z - q) < MEET_MM and _holds(pole, there) for p, q, there in other)
        for x, z, pole in side
    )


def _holds(pole: Pole, other: Pole) -> bool:
    return pole == other if "key" in (pole, other) else pole != other


def turns_between(sides: Sequence[Side]) -> list[list[int | None]]:
    """For each side of one module and each of another like it: by how many sides the other must be turned until the two hold,
    the short way round; 0 where they hold at once, None where no turn helps."""
    count = len(sides)
    ways = sorted(range(count), key=lambda k: (min(k, count - k), k))
    short = [k if 2 * k <= count else k - count for k in ways]

    def turn(i: int, j: int) -> int | None:
        return next((s for k, s in zip(ways, short, strict=True) if meets(sides[i], sides[(j + k) % count])), None)

    return [[turn(i, j) for j in range(count)] for i in range(count)]


def turned_to_hold(sides: Sequence[Side], modules: int, edges: Sequence[Edge], most: int | None = None) -> list[int] | None:
    """By how many sides each module of a field is to be turned so that all neighbours hold; None where there is no way.

    Modules are tried in order, each turn of each: all fields there are, or as many as `most` tries reach.
    """
    count = len(sides)
    holds = [[meets(side, other) for other in sides] for side in sides]
    to_earlier: list[list[Edge]] = [[] for _ in range(modules)]
    for a, at, b, looks in edges:
        to_earlier[max(a, b)].append((a, at, b, looks))
    turns: list[int] = []

    def fits(index: int) -> bool:
        return all(holds[(at - turns[a]) % count][(looks - turns[b]) % count] for a, at, b, looks in to_earlier[index])

    trying = [0]
    tries = 0
    while trying and (most is None or tries < most):  # depth first, without recursion: fields may be large
        tries += 1
        index = len(trying) - 1
        turns = trying.copy()
        if turns[index] >= count:
            trying.pop()
            if trying:
                trying[-1] += 1
        elif not fits(index):
            trying[index] += 1
        elif index + 1 == modules:
            return turns
        else:
            trying.append(0)
    return None


def sample_field(count: int) -> tuple[int, list[Edge]] | None:
    """A field of modules with so many equal sides: how many, and which of their sides meet; None where they leave gaps.

    Squares: four rows of four. Hexagons: one and the six around it. Triangles: a large one of four rows, every second
    standing on its tip, whose sides are counted from the one opposite.
    """
    if count == 4:
        spots = list(itertools.product(range(4), range(4)))
        number = {s: k for k, s in enumerate(spots)}
        to_right = [(number[x, y], 0, number[x + 1, y], 2) for x, y in spots if x < 3]
        up = [(number[x, y], 1, number[x, y + 1], 3) for x, y in spots if y < 3]
        return len(spots), to_right + up
    if count == 6:
        return 7, [(0, k, k + 1, (k + 3) % 6) for k in range(6)] + [
            (k + 1, (k + 2) % 6, (k + 1) % 6 + 1, (k + 5) % 6) for k in range(6)
        ]
    if count == 3:
        return _triangles(4)
    return None


def _triangles(rows: int) -> tuple[int, list[Edge]]:
    """Upright ones look down (0), right (1) and left (2); those on their tip up (0), left (1) and right (2)."""
    upright = {(r, k): 0 for r in range(rows) for k in range(r + 1)}
    tipped = {(r, k): 0 for r in range(1, rows) for k in range(r)}
    for number, at in enumerate(upright):
        upright[at] = number
    for number, at in enumerate(tipped, start=len(upright)):
        tipped[at] = number
    edges: list[Edge] = []
    for (row, k), number in tipped.items():
        edges.append((upright[row - 1, k], 0, number, 0))
        edges.append((upright[row, k], 1, number, 1))
        edges.append((upright[row, k + 1], 2, number, 2))
    return len(upright) + len(tipped), edges
