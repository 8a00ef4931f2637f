"""Vehicles: hulls, a fuselage with wings, a car's body, a rocket."""

import numpy as np

from bench.corpus.entry import Entry, Wants
from hinoki.core.geometry.solid import Solid
from tests.shapes import ellipsoid


def hull(wall: float) -> Solid:
    """A boat of 620 mm, open above; `wall` 0 for a full one."""
    outer = ellipsoid(310, 80, 95).minus([Solid.box([-400, -200, 0], [400, 200, 200])])
    if not wall:
        return outer
    return outer.minus([ellipsoid(310 - wall, 80 - wall, 95 - wall)])


def ship() -> Solid:
    """A full hull with a deck house, a funnel and two masts of 7 mm."""
    house = Solid.box([-70, -35, -2], [60, 35, 45])
    masts = [Solid.cylinder(3.5, -5, 210).moved(x, 0, 0) for x in (-180, 160)]
    return Solid.united([hull(0), house, Solid.cylinder(18, 40, 95).moved(-20, 0, 0), *masts])


def aeroplane() -> Solid:
    """A fuselage of 480 mm with swept wings and a tail."""
    body = ellipsoid(240, 32, 34)
    wings = [_plate((40, s * 20, -6), (-40, s * 260, 8), 90, 40, 9) for s in (-1, 1)]
    tails = [_plate((-190, s * 8, 5), (-225, s * 90, 8), 45, 25, 5) for s in (-1, 1)]
    fin = Solid.hull_of(np.array([[x, y, z] for x, z in ((-150, 20), (-225, 20), (-210, 110), (-235, 110)) for y in (-3, 3)]))
    return Solid.united([body, *wings, *tails, fin])


def _plate(root: tuple[float, float, float], tip: tuple[float, float, float], long: float, end: float, thick: float) -> Solid:
    corners = [(root, long, thick), (tip, end, thick / 2)]
    return Solid.hull_of(
        np.array([[x + dx * w / 2, y, z + dz * t / 2] for (x, y, z), w, t in corners for dx in (-1, 1) for dz in (-1, 1)])
    )


def car() -> Solid:
    """A shell of 3 mm: a body and a cabin, open below, with wheel arches."""
    outer = Solid.united([Solid.box([-210, -80, 0], [210, 80, 60]), _cabin(0)])
    inner = Solid.united([Solid.box([-207, -77, -1], [207, 77, 57]), _cabin(3)])
    wheels = [
        Solid.cylinder(36, -90, 90).placed(np.array([[1.0, 0, 0, x], [0, 0, -1.0, 0], [0, 1.0, 0, 0]])) for x in (-130, 130)
    ]
    return outer.minus([inner, *wheels])


def _cabin(wall: float) -> Solid:
    return Solid.hull_of(
        np.array(
            [
                [x, y, z]
                for y in (-70 + wall, 70 - wall)
                for x, z in ((-120 + wall, 50), (90 - wall, 50), (-80 + wall, 120 - wall), (40 - wall, 120 - wall))
            ]
        )
    )


def rocket() -> Solid:
    """A tube of 2 mm with a nose and four fins."""
    body = Solid.cylinder(60, 0, 420).minus([Solid.cylinder(58, -1, 400)])
    nose = ellipsoid(60, 60, 160).moved(0, 0, 420).minus([Solid.box([-100, -100, 0], [100, 100, 419])])
    fin = Solid.hull_of(np.array([[x, y, z] for x, z in ((58, 0), (58, 120), (130, 0), (130, 40)) for y in (-2, 2)]))
    quarter = np.array([[0.0, -1, 0, 0], [1, 0, 0, 0], [0, 0, 1.0, 0]])
    fins = [fin]
    for _ in range(3):
        fins.append(fins[-1].placed(quarter))
    return Solid.united([body, nose, *fins])


ENTRIES = (
    Entry("vehicles", "hull 3 mm", lambda: hull(3.0), Wants(mirror="y")),
    Entry("vehicles", "full hull", lambda: hull(0.0), Wants(mirror="y")),
    Entry("vehicles", "ship", ship, Wants(mirror="y", carries_n=5.0)),
    Entry("vehicles", "aeroplane", aeroplane, Wants(mirror="y")),
    Entry("vehicles", "car", car, Wants(mirror="y")),
    Entry("vehicles", "rocket", rocket, Wants(mirror="y", over_bound=2.5)),
)
