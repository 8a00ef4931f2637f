"""Piece numbers: given once from the bottom up, and kept as long as the piece is there."""

from collections.abc import Collection, Mapping, Sequence

from hinoki.core.divide.cut import Part


def number_pieces(
    parts: Sequence[Part], remembered: Mapping[str, int], elsewhere: Collection[int] = frozenset()
) -> dict[str, int]:
    """A number for every piece key.

    A key that had a number keeps it; where two remember the same one the lower piece wins. All others get the lowest
    free numbers, low pieces first, then left to right, then front to back. Numbers taken `elsewhere` are those of pieces of
    the project's other parts.
    """
    ordered = sorted(parts, key=_bottom_up)
    numbers: dict[str, int] = {}
    taken: set[int] = set(elsewhere)
    for part in ordered:
        wish = remembered.get(part.key)
        if wish is not None and wish not in taken:
            numbers[part.key] = wish
            taken.add(wish)
    free = (n for n in range(1, len(parts) + len(taken) + 1) if n not in taken)
    for part in ordered:
        if part.key not in numbers:
            numbers[part.key] = next(free)
    return numbers


def _bottom_up(part: Part) -> tuple[float, float, float, str]:
    low, _ = part.solid.bounds
    x, y, _ = part.solid.centre_of_box
    return round(float(low[2]), 1), round(float(y), 1), round(float(x), 1), part.key
