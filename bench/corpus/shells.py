"""Shells of 1.6 to 5 mm: helmets, masks, domes, boxes of sheet; open and closed."""

import numpy as np

from bench.corpus.entry import Entry, Wants
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from tests.shapes import box, ellipsoid, tube


def shell(x: float, y: float, z: float, wall: float) -> Solid:
    """A closed shell about the origin, by its half axes."""
    return ellipsoid(x, y, z).minus([ellipsoid(x - wall, y - wall, z - wall)])


def helmet(wall: float) -> Solid:
    """A helmet open below, with two eyes and a ridge from front to back."""
    bowl = shell(130, 160, 155, wall).minus([Solid.box([-200, -200, -300], [200, 200, -80])])
    eyes = [Solid.box([x - 30, -200, -5], [x + 30, -90, 32]) for x in (-45, 45)]
    ridge = shell(6, 166, 168, 5.9).minus([Solid.box([-200, -200, -300], [200, 200, 60])])
    return bowl.minus(eyes).plus([ridge])


def mask() -> Solid:
    """Half a face: a shell of 3 mm with eyes and a nose, symmetric about x = 0."""
    face = shell(95, 60, 130, 3).minus([Solid.box([-200, -5, -200], [200, 200, 200])])
    nose = Solid.hull_of(np.array([[-14, -52, -20], [14, -52, -20], [0, -82, -22], [-6, -55, 40], [6, -55, 40]]))
    eyes = [Solid.cylinder(17, -50, 50).placed(_towards_y(x, 35)) for x in (-38, 38)]
    return face.plus([nose]).minus(eyes)


def _towards_y(x: float, z: float) -> Points:
    return np.array([[1.0, 0, 0, x], [0, 0, -1.0, -60.0], [0, 1.0, 0, z]])


def half_mask() -> Solid:
    """From the eyes up: an open strip of wall all round, 2.4 mm."""
    return mask().common(Solid.box([-200, -200, 0], [200, 200, 200]))


def dome() -> Solid:
    """Half a ball of 420 mm, 2 mm thick."""
    return shell(210, 210, 210, 2).minus([Solid.box([-300, -300, -300], [300, 300, 0])])


def duct() -> Solid:
    """A square tube of 1.6 mm that turns by a right angle."""
    outer = Solid.united([Solid.box([-40, -40, 0], [40, 40, 260]), Solid.box([-40, -40, 180], [300, 40, 260])])
    inner = Solid.united(
        [Solid.box([-38.4, -38.4, -1], [38.4, 38.4, 258.4]), Solid.box([-38.4, -38.4, 181.6], [301, 38.4, 258.4])]
    )
    return outer.minus([inner])


def visor() -> Solid:
    """A third of a wide tube, 3 mm thick: a strip that is open at both ends."""
    return tube(180, 177, 120).common(Solid.box([-300, -300, -1], [300, -90, 121]))


def shoulder_plate() -> Solid:
    """A bent plate with a rolled edge."""
    plate = shell(150, 110, 90, 3.2).common(Solid.box([-200, -200, 15], [200, 200, 200]))
    rim = shell(152, 112, 92, 6).common(Solid.box([-200, -200, 15], [200, 200, 21]))
    return plate.plus([rim])


ENTRIES = (
    Entry("shells", "helmet 3 mm", lambda: helmet(3.0), Wants(mirror="x", clear=(((-80, -170, -8), (80, -120, 36)),))),
    Entry("shells", "helmet 5 mm", lambda: helmet(5.0), Wants(mirror="x", clear=(((-80, -170, -8), (80, -120, 36)),))),
    Entry("shells", "mask", mask, Wants(mirror="x", clear=(((-20, -90, -30), (20, -50, 45)),))),
    Entry("shells", "half mask", half_mask, Wants(mirror="x")),
    Entry("shells", "dome", dome, Wants(over_bound=2.5)),
    Entry("shells", "duct", duct, Wants(mirror="y")),
    Entry("shells", "visor", visor, Wants(mirror="x")),
    Entry("shells", "shoulder plate", shoulder_plate, Wants(mirror="x")),
    Entry("shells", "closed egg", lambda: shell(140, 140, 190, 4), Wants(over_bound=2.5)),
    Entry("shells", "sheet box", lambda: box(300, 200, 150).minus([Solid.box([-148, -98, 2], [148, 98, 148])])),
)
