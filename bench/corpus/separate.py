"""Parts that came separate: what touches, what stands apart, what is put through something else."""

from bench.corpus.entry import Entry, Wants
from hinoki.core.geometry.solid import Solid
from tests.shapes import box, ellipsoid, tube


def snowman() -> Solid:
    """Three balls that touch, and a hat, each a lump of its own."""
    balls = [
        ellipsoid(110, 110, 110).moved(0, 0, 110),
        ellipsoid(80, 80, 80).moved(0, 0, 299),
        ellipsoid(55, 55, 55).moved(0, 0, 433),
    ]
    return Solid.together([*balls, Solid.cylinder(60, 490, 496), Solid.cylinder(38, 497, 560)])


def lidded_box() -> Solid:
    """A box and its lid beside it."""
    case = box(280, 180, 90).minus([Solid.box([-137, -87, 3], [137, 87, 91])])
    lid = Solid.united([Solid.box([-140, 110, 0], [140, 290, 4]), Solid.box([-136.6, 113.4, 3], [136.6, 286.6, 9])])
    return Solid.together([case, lid])


def tower_of_rings() -> Solid:
    """Five rings on a post, with play."""
    post = Solid.united([Solid.box([-90, -90, 0], [90, 90, 14]), Solid.cylinder(14, 13, 190)])
    rings = [tube(80 - 10 * k, 14.4, 30).moved(0, 0, 14.2 + 32 * k) for k in range(5)]
    return Solid.together([post, *rings])


def chest() -> Solid:
    """A carcass with two drawers in it, 0.6 mm of play."""
    carcass = Solid.box([-150, -100, 0], [150, 100, 180]).minus(
        [Solid.box([-144, -101, z], [144, 94, z + 78]) for z in (6, 96)]
    )
    drawers = [
        Solid.box([-143.4, -100, z + 0.6], [143.4, 93.4, z + 77.4]).minus([Solid.box([-139, -96, z + 4], [139, 90, z + 80])])
        for z in (6, 96)
    ]
    return Solid.together([carcass, *drawers])


ENTRIES = (
    Entry("separate", "snowman", snowman, Wants(mirror="x")),
    Entry("separate", "box and lid", lidded_box),
    Entry("separate", "rings on a post", tower_of_rings),
    Entry("separate", "chest of drawers", chest, Wants(mirror="x")),
)
