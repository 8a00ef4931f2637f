"""What fits the bed, and a search for a way that does: one and the same for what is proposed and for what is laid."""

from collections.abc import Sequence

import numpy as np

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.rotations import around, spread_over_sphere, turn_down, turns_down
from hinoki.core.workshop.printers import SLACK_MM, Printer, circle_around

TURNS = np.radians(np.arange(0.0, 180.0, 2.0))
"""turns about Z at which the room beside a piece is looked at"""
SEEDS = 24
"""directions from which a way that fits is looked for nearby"""
NEARER_DEG = (6.0, 3.0, 1.5, 0.75, 0.4)
MOST_AT_ONCE = 500_000
"""corners that are turned at once"""
MANY, FEW_POINTS = 32, 200
"""from so many directions on they are looked at by so many corners first"""
MOST_POINTS = 1500
"""corners of a hull that are looked at; what is found is proved on all of them"""


def fits(points: Points, down: Points, printer: Printer) -> bool:
    """Whether a body whose hull has the corners `points` (n, 3) fits the bed with `down` (3,) towards it, turned any way."""
    return bool(fitting(points, printer, down[None])[0])


def to_spare(points: Points, down: Points, printer: Printer) -> float:
    """How much room is left in the tightest direction, in mm, at the best of TURNS; below zero where it does not fit."""
    lying = points @ turn_down(down).T
    high = float(printer.room_mm[2] - np.ptp(lying[:, 2]))
    if printer.bed_shape == "round":
        return min(high, float(printer.room_mm[0]) - 2 * circle_around(lying[:, :2])[1])
    widths = np.ptp(lying[:, :2] @ np.array([np.cos(TURNS), np.sin(TURNS)]), axis=0)
    across = np.minimum(printer.room_mm[0] - widths, printer.room_mm[1] - np.roll(widths, len(TURNS) // 2))
    return min(high, float(across.max()))


def fitting(points: Points, printer: Printer, downs: Points) -> "np.ndarray":
    """Which of the directions `downs` (n, 3) fit, (n,)."""
    if len(downs) < MANY or len(points) <= FEW_POINTS:
        return _fitting(points, printer, downs)
    # what does not fit by its outermost corners alone does not fit
    found = _fitting(points[_outermost(points, FEW_POINTS)], printer, downs)
    found[found] = _fitting(points, printer, downs[found])
    return found


def _fitting(points: Points, printer: Printer, downs: Points) -> "np.ndarray":
    """The same, looked at by all of the points."""
    found = np.zeros(len(downs), dtype=bool)
    turns, block = turns_down(downs), max(1, MOST_AT_ONCE // max(1, len(points)))
    for begin in range(0, len(downs), block):
        lying = turns[begin : begin + block] @ points.T
        low, fit = _unturned(lying, printer)
        for number in np.flatnonzero(low & ~fit):
            fit[number] = printer.takes(lying[number, :2].T)
        found[begin : begin + block] = low & fit
    return found


def _unturned(lying: Points, printer: Printer) -> tuple["np.ndarray", "np.ndarray"]:
    """Of bodies as they lie, (n, 3, m): which are low enough, and which, not turned about Z, are seen to lie within the bed."""
    room = printer.room_mm + SLACK_MM
    wide, deep, high = np.ptp(lying, axis=2).T
    fit = (wide <= room[0]) & (deep <= room[1]) | (deep <= room[0]) & (wide <= room[1])
    return high <= room[2], fit & (printer.bed_shape == "rectangular")


def ways_that_fit(points: Points, printer: Printer, downs: Points) -> list[Points]:
    """Directions near those of `downs` (n, 3) with the most room that do fit, the roomiest first; none where none was found."""
    few = _thinned(points)
    room = np.array([to_spare(few, down, printer) for down in downs])
    found: list[tuple[float, Points]] = []
    for k in np.argsort(-room, kind="stable")[:SEEDS]:
        spare, down = float(room[k]), downs[k]
        for degrees in NEARER_DEG:
            near = around(down, degrees)
            rooms = [to_spare(few, one, printer) for one in near]
            if max(rooms) > spare:
                spare, down = max(rooms), near[int(np.argmax(rooms))]
        if spare >= -SLACK_MM and fits(points, down, printer):
            found.append((spare, down))
    return [down for _, down in sorted(found, key=lambda f: -f[0])]


def printer_for(points: Points, printers: Sequence[Printer], downs: Points) -> int | None:
    """The number of the first printer on whose bed a body fits with any of the directions; None for none."""
    for number, printer in enumerate(printers):
        diagonal = float(np.linalg.norm(printer.room_mm))
        if float(np.linalg.norm(np.ptp(points, axis=0))) > 2 * diagonal:
            continue
        if _any_fits(points, printer, downs):
            return number
    return None


def _any_fits(points: Points, printer: Printer, downs: Points) -> bool:
    """Whether a body fits with any of a few directions; turned on the bed it is looked at only where it has to be."""
    lying = turns_down(downs) @ points.T
    low, fit = _unturned(lying, printer)
    return bool((low & fit).any()) or any(printer.takes(lying[number, :2].T) for number in np.flatnonzero(low))


def _thinned(points: Points) -> Points:
    """Corners of a hull that reach furthest in any of many directions."""
    return np.asarray(points[_outermost(points, MOST_POINTS)])


def _outermost(points: Points, most: int) -> "np.ndarray | slice":
    """The numbers of at most so many of the points (n, 3): those that reach furthest in directions all round."""
    if len(points) <= most:
        return slice(None)
    return np.unique((points @ spread_over_sphere(most).T).argmax(axis=0))
