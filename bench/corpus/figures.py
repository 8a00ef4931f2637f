"""Figures with limbs, horns and tails: what is thin goes off at its root, faces stay whole."""

from itertools import pairwise

import numpy as np

from bench.corpus.entry import Entry, Wants
from hinoki.core.geometry.solid import Solid
from tests.shapes import ellipsoid


def limb(*points: tuple[float, float, float, float]) -> Solid:
    """A rounded limb through points with radii."""
    balls = [ellipsoid(r, r, r).moved(x, y, z) for x, y, z, r in points]
    return Solid.united(Solid.united([a, b]).hull for a, b in pairwise(balls))


def standing(arms_down: bool) -> Solid:
    """A person on a base, 420 mm high."""
    parts = [ellipsoid(48, 32, 85).moved(0, 0, 245), ellipsoid(30, 32, 36).moved(0, 0, 375)]
    parts.append(Solid.cylinder(17, 300, 350))
    parts += [limb((s * 24, 0, 190, 22), (s * 30, 0, 100, 17), (s * 32, -4, 12, 15)) for s in (-1, 1)]
    hand = (75.0, -10.0, 160.0) if arms_down else (185.0, 0.0, 300.0)
    parts += [
        limb(
            (s * 44, 0, 300, 15),
            (s * 0.6 * hand[0] + s * 12, 0, (300 + hand[2]) / 2 + 12, 11),
            (s * hand[0], hand[1], hand[2], 9),
        )
        for s in (-1, 1)
    ]
    return Solid.united([*parts, Solid.box([-80, -55, -10], [80, 55, 6])])


def beast() -> Solid:
    """Four legs, a tail and two horns."""
    body = limb((-110, 0, 130, 48), (0, 0, 140, 52), (100, 0, 135, 46))
    head = limb((135, 0, 190, 32), (185, 0, 180, 22))
    legs = [limb((x, y, 110, 22), (x, y, 8, 16)) for x in (-95, 85) for y in (-32, 32)]
    horns = [limb((140, s * 20, 215, 9), (150, s * 55, 255, 6), (175, s * 60, 300, 3)) for s in (-1, 1)]
    tail = limb((-150, 0, 150, 12), (-220, 0, 170, 8), (-270, 0, 230, 4))
    return Solid.united([body, head, tail, *legs, *horns])


def bust() -> Solid:
    """Head and shoulders on a pillar; the face stays whole."""
    head = ellipsoid(75, 90, 105).moved(0, 0, 250)
    nose = Solid.hull_of(np.array([[-9, -86, 235], [9, -86, 235], [0, -112, 238], [-4, -88, 275], [4, -88, 275]]))
    return Solid.united(
        [
            head,
            nose,
            Solid.cylinder(42, 100, 200),
            ellipsoid(150, 75, 60).moved(0, 0, 110),
            Solid.box([-70, -60, 0], [70, 60, 90]),
        ]
    )


def octopus() -> Solid:
    """Eight arms round a head: nothing to cut but arms."""
    arms = []
    for k in range(8):
        c, s = np.cos(k * np.pi / 4), np.sin(k * np.pi / 4)
        arms.append(
            limb((45 * c, 45 * s, 45, 20), (110 * c, 110 * s, 18, 15), (190 * c, 190 * s, 20, 8), (235 * c, 235 * s, 45, 4))
        )
    return Solid.united([ellipsoid(70, 70, 90).moved(0, 0, 110), *arms])


ENTRIES = (
    Entry(
        "figures", "person, arms out", lambda: standing(False), Wants(mirror="x", clear=(((-28, -40, 345), (28, -10, 405)),))
    ),
    Entry(
        "figures", "person, arms down", lambda: standing(True), Wants(mirror="x", clear=(((-28, -40, 345), (28, -10, 405)),))
    ),
    Entry("figures", "beast", beast, Wants(mirror="y")),
    Entry("figures", "bust", bust, Wants(mirror="x", clear=(((-50, -115, 190), (50, -60, 310)),))),
    Entry("figures", "octopus", octopus, Wants(mirror="x")),
)
