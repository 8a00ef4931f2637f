"""Slender props: what bends in the hand, and what little face there is to join."""

from itertools import pairwise

import numpy as np

from bench.corpus.entry import Entry, Wants
from hinoki.core.geometry.solid import Solid
from tests.shapes import ellipsoid, tube

HELD = 40.0
"""newtons at the far end of what is swung about"""


def sword(long: float) -> Solid:
    """A flat blade, a guard, a grip and a pommel, lying along Z."""
    flat = np.array([[x, y, z] for z, w in ((120, 26), (long - 100, 16)) for x, y in ((-w, 0), (w, 0), (0, -6), (0, 6))])
    tip = np.array([[-16, 0, long - 101], [16, 0, long - 101], [0, -6, long - 101], [0, 6, long - 101], [0, 0, long]])
    return Solid.united(
        [
            Solid.hull_of(flat),
            Solid.hull_of(tip),
            Solid.box([-80, -10, 106], [80, 10, 124]),
            Solid.cylinder(13, 0, 112),
            ellipsoid(22, 22, 18),
        ]
    )


def staff() -> Solid:
    """A round staff of 28 mm, 1.6 m long, with an orb."""
    return Solid.united([Solid.cylinder(14, 0, 1500), ellipsoid(45, 45, 45).moved(0, 0, 1530), Solid.cylinder(20, 1380, 1400)])


def wand() -> Solid:
    """A taper from 16 to 7 mm, 380 mm long."""
    return Solid.cone(8, 3.5, 0, 380)


def bow() -> Solid:
    """An arc of 1.1 m with a grip."""
    a = np.linspace(-0.9, 0.9, 25)
    points = np.column_stack([620 * np.cos(a) - 620, np.zeros(25), 620 * np.sin(a)])
    wide = 9 + 7 * np.cos(a / 0.9 * np.pi / 2)
    balls = [ellipsoid(w, w * 0.7, w).moved(*p) for p, w in zip(points, wide, strict=True)]
    return Solid.united(Solid.united([p, q]).hull for p, q in pairwise(balls))


def mast() -> Solid:
    """A mast of 8.8 mm with three yards."""
    yards = [
        Solid.cylinder(3, -w, w).placed(np.array([[0, 0, 1.0, 0], [0, 1.0, 0, 0], [-1.0, 0, 0, z]]))
        for z, w in ((140, 110), (240, 85), (330, 60))
    ]
    return Solid.united([Solid.cylinder(4.4, 0, 420), *yards])


def axe() -> Solid:
    """A haft and a broad head."""
    blade = Solid.hull_of(
        np.array([[x, y, z] for x, z in ((20, 560), (20, 640), (160, 500), (190, 600), (160, 700)) for y in (-9, 9)])
    )
    return Solid.united([Solid.cylinder(16, 0, 680), blade])


ENTRIES = (
    Entry("slender", "sword 800", lambda: sword(800), Wants(mirror="x", carries_n=HELD)),
    Entry("slender", "sword 1100", lambda: sword(1100), Wants(mirror="x", carries_n=HELD)),
    Entry("slender", "staff", staff, Wants(carries_n=HELD)),
    Entry("slender", "wand", wand),
    Entry("slender", "bow", bow, Wants(carries_n=HELD)),
    Entry("slender", "mast", mast, Wants(carries_n=5.0)),
    Entry("slender", "axe", axe, Wants(carries_n=HELD)),
    Entry("slender", "pipe", lambda: tube(21, 17, 900)),
)
