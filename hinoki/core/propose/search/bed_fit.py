"""What fits the printers, and how many pieces a body needs at least."""

import math
from collections.abc import Sequence
from itertools import permutations

import numpy as np

from hinoki.core.divide.cut import Part
from hinoki.core.geometry.mesh import Points
from hinoki.core.orient.resting.bed_fit import fits, printer_for
from hinoki.core.orient.resting.resting_faces import AS_IT_STANDS, down_directions
from hinoki.core.workshop.printers import SLACK_MM, Printer

LEAST_ROOM_MM = 1.0


class Room:
    """The printers to use, each less what is kept for joints that stand out, or for a thinned model."""

    def __init__(self, printers: Sequence[Printer], kept_mm: float = 0.0) -> None:
        self.printers = [_smaller(p, kept_mm) for p in printers]
        self._names = [p.id for p in printers]
        self._boxes = [_inside(p) for p in self.printers]
        self.lengths = sorted({round(float(v), 6) for box in self._boxes for v in box}, reverse=True)
        self.largest = max(self._boxes, key=lambda b: float(b.prod()))
        self._ways = np.array([box[list(way)] for box in self._boxes for way in permutations(range(3))])

    def needed(self, size: Points) -> int:
        """Lower bound on the pieces of a box of `size` (3,): the product of ceil(size/bed), the best way up."""
        return int(np.maximum(np.ceil((size - SLACK_MM) / self._ways), 1).prod(axis=1).min())

    def needed_by(self, points: Points) -> int:
        """The same for points (n, 3): the better of their upright box and the one along their principal axes."""
        if len(points) < 3:
            return 1
        upright = self.needed(np.ptp(points, axis=0))
        if upright <= 1:
            return upright
        _, axes = np.linalg.eigh(np.cov(points.T))
        return min(upright, self.needed(np.ptp(points @ axes, axis=0)))

    def printer_for(self, part: Part) -> str | None:
        """The first printer a piece fits, laid in any of the ways Orient tries; none where it fits none."""
        if fits(part.solid.mesh.vertices, AS_IT_STANDS, self.printers[0]):
            return self._names[0]
        hull = part.solid.hull.mesh
        directions = down_directions(hull, [-end.side * end.frame.n for end in part.ends])
        number = printer_for(hull.vertices, self.printers, np.array([down for down, _ in directions]))
        return None if number is None else self._names[number]


def _inside(printer: Printer) -> Points:
    """The largest upright box of a printer; in a round bed the square in the circle."""
    room = printer.room_mm
    return np.array([room[0] / math.sqrt(2), room[0] / math.sqrt(2), room[2]]) if printer.bed_shape == "round" else room


def _smaller(printer: Printer, by_mm: float) -> Printer:
    """The printer with `by_mm` less room on every axis."""
    if by_mm <= 0:
        return printer
    room = printer.room_mm - by_mm
    room = np.maximum(room, LEAST_ROOM_MM)
    bed = (float(room[0]), float(room[1]))
    return printer.model_copy(update={"bed_mm": bed, "height_mm": float(room[2]), "margin_mm": 0.0})
