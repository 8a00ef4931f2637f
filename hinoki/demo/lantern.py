"""The fifth demo model: a diver's lantern for a stage, thin-walled and hollow. All measures are made up."""

import math

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.solid import Solid
from hinoki.demo.shapes import turned

NAME = "Sounding lantern"
FILE_NAME = "sounding-lantern.stl"
WALL = 2.4
SKIRT_TOP, DRUM_TOP, HOUSE_TOP, ROOF_TOP = 60.0, 124.0, 276.0, 332.0
SKIRT, DRUM, HOUSE = 126.0, 74.0, 56.0
"""half of how wide the foot, the drum and the housing are"""
PORT_MM, RIM_MM = 30.0, 38.0
"""radius of a port in the housing, and of the rim round it"""
PORT_AT = 200.0


def lantern() -> Mesh:
    """The whole model, closed, about 252 × 252 × 380 mm, in millimetres, standing at Z 0."""
    body = Solid.united([_skirt(), _drum(), _house(), _roof(), _bail(), *_rims()])
    return body.minus([*_ports(), _cable()]).mesh


def _shell(outer: Solid, inner: Solid) -> Solid:
    return outer.minus([inner])


def _skirt() -> Solid:
    """The foot: a cone that is open below."""
    lean = math.hypot(1.0, (SKIRT - DRUM) / SKIRT_TOP) * WALL  # the wall as thick square to itself
    outer = turned(np.array([(0, 0), (SKIRT, 0), (SKIRT, 4), (DRUM, SKIRT_TOP), (0, SKIRT_TOP)]), 192)
    inner = turned(
        np.array([(0, -1), (SKIRT - lean, -1), (SKIRT - lean, 4), (DRUM - WALL, SKIRT_TOP), (DRUM - WALL, 61), (0, 61)]), 192
    )
    return _shell(outer, inner)


def _drum() -> Solid:
    """Where the battery stands: a round wall with a deck over it."""
    outer = turned(np.array([(0, SKIRT_TOP - 0.01), (DRUM, SKIRT_TOP - 0.01), (DRUM, DRUM_TOP), (0, DRUM_TOP)]), 192)
    inner = turned(
        np.array(
            [
                (0, SKIRT_TOP - 1),
                (DRUM - WALL, SKIRT_TOP - 1),
                (DRUM - WALL, 90),
                (DRUM - WALL, DRUM_TOP - 3),
                (0, DRUM_TOP - 3),
            ]
        ),
        192,
    )
    return _shell(outer, inner)


def _square(half: float) -> MultiPolygon:
    """A square with rounded corners."""
    return MultiPolygon([Polygon(shapely.box(-half, -half, half, half).buffer(-6).buffer(6, quad_segs=8))])


def _house() -> Solid:
    """The housing: four walls."""
    return _shell(
        Solid.drawn(_square(HOUSE), DRUM_TOP - 0.01, HOUSE_TOP), Solid.drawn(_square(HOUSE - 4.0), DRUM_TOP, HOUSE_TOP + 1)
    )


def _ring(half: float, z: float) -> Points:
    flat = np.asarray(_square(half).geoms[0].exterior.coords)[:-1]
    return np.column_stack([flat, np.full(len(flat), z)])


def _roof() -> Solid:
    """A hollow roof that slopes on four sides, with a knob for the bail."""
    outer = Solid.hull_of(np.vstack([_ring(HOUSE, HOUSE_TOP - 0.01), _ring(HOUSE, HOUSE_TOP + 6), _ring(22.0, ROOF_TOP)]))
    inner = Solid.hull_of(
        np.vstack([_ring(HOUSE - 4.0, HOUSE_TOP - 1), _ring(HOUSE - 4.0, HOUSE_TOP + 5), _ring(19.0, ROOF_TOP - 3)])
    )
    return _shell(outer, inner).plus([Solid.cylinder(14, ROOF_TOP - 2, ROOF_TOP + 6)])


def _bail() -> Solid:
    """The ring it hangs by."""
    around, ring = 96, 24
    turn, small = (np.linspace(0, 2 * np.pi, n, endpoint=False) for n in (around, ring))
    radius = 19.0 + 4.0 * np.cos(small)[None, :]
    points = np.stack(
        [
            radius * np.cos(turn)[:, None],
            np.broadcast_to(4.0 * np.sin(small)[None, :], (around, ring)),
            radius * np.sin(turn)[:, None] + ROOF_TOP + 25,
        ],
        axis=-1,
    ).reshape(-1, 3)
    i, j = (g.ravel() for g in np.meshgrid(np.arange(around), np.arange(ring), indexing="ij"))
    a, b = i * ring + j, i * ring + (j + 1) % ring
    c, d = ((i + 1) % around) * ring + (j + 1) % ring, ((i + 1) % around) * ring + j
    return Solid.from_mesh(Mesh(points, np.concatenate([np.stack([a, b, c], 1), np.stack([a, c, d], 1)])))


def _through(radius: float, low: float, high: float, side: int) -> Solid:
    """A cylinder that looks out of a side of the housing."""
    turn = math.pi / 2 * side
    cos, sin = math.cos(turn), math.sin(turn)
    lying = np.array([[0, -sin, cos, 0], [0, cos, sin, 0], [-1.0, 0, 0, PORT_AT]])
    return Solid.cylinder(radius, low, high).placed(lying)


def _rims() -> list[Solid]:
    return [_through(RIM_MM, HOUSE - 1.0, HOUSE + 4.0, side) for side in range(4)]


def _ports() -> list[Solid]:
    return [_through(PORT_MM, HOUSE - 6.0, HOUSE + 5.0, side) for side in range(4)]


def _cable() -> Solid:
    return Solid.cylinder(5.0, DRUM_TOP - 6, DRUM_TOP + 1)
