"""The model of the sixth demo project: a signal box by a level crossing, in the parts it came in."""

import numpy as np
from shapely.geometry import Polygon

from hinoki.core.formats.threemf_write import Placed, write_3mf
from hinoki.core.geometry.mesh import Points, rounded_to_single
from hinoki.core.geometry.solid import Solid
from hinoki.demo.shapes import drawn_out

NAME = "Reedmere signal box"
FILE_NAME = "reedmere-signal-box.3mf"
LONG, DEEP, HIGH, WALL = 150.0, 100.0, 84.0, 3.0
SILL, PANE_WIDE, PANE_HIGH = 36.0, 26.0, 30.0
"""of a window: height of its opening's lower edge, and the opening in the wall"""
FRAME, SUNK, PROUD = 3.0, 2.0, 0.6
"""a frame is so much wider than its opening on each side, sunk into the wall, and stands out of it"""
EAVES = 9.0
PLUG = 5.0
LEVER, SLOT, FOOT, FOOT_ROOM, FOOT_HIGH = 3.2, 3.6, 5.0, 0.2, 8.0
"""a lever's thickness, its slot's width, the radius of its foot, the room round that, and how high its middle is"""
LEVERS_AT, LEVERS_LONG, LEVERS_Y = (-15.0, -5.0, 5.0, 15.0), 48.0, -DEEP / 2 - 45.0


def walls() -> Solid:
    """Floor and four walls, with openings for the windows and a door."""
    outer = Solid.box([-LONG / 2, -DEEP / 2, 0], [LONG / 2, DEEP / 2, HIGH])
    inner = Solid.box([-LONG / 2 + WALL, -DEEP / 2 + WALL, WALL], [LONG / 2 - WALL, DEEP / 2 - WALL, HIGH + 1])
    opening = Solid.box([-PANE_WIDE / 2, -WALL - 1, SILL], [PANE_WIDE / 2, WALL + 1, SILL + PANE_HIGH])
    door = Solid.box([-10, DEEP / 2 - WALL - 1, WALL], [10, DEEP / 2 + 1, 46])
    boards = [Solid.box([-LONG / 2 - 1, y - 0.4, z - 0.4], [LONG / 2 + 1, y + 0.4, z + 0.4])
              for y in (-DEEP / 2, DEEP / 2) for z in range(8, 34, 6)]  # fmt: skip
    return outer.minus([inner, door, *(opening.placed(place) for place in window_places()), *boards])


def window() -> Solid:
    """A window of four panes in its opening in the wall y = 0, which lies behind it: its outside looks along −Y."""
    wide, tall = PANE_WIDE / 2 + FRAME, PANE_HIGH + 2 * FRAME
    frame = Solid.box([-wide, -PROUD, SILL - FRAME], [wide, SUNK, SILL - FRAME + tall])
    panes = [
        Solid.box([x - 5.6, -PROUD - 1, z - 6.6], [x + 5.6, SUNK + 1, z + 6.6])
        for x in (-6.6, 6.6)
        for z in (SILL + 7.4, SILL + PANE_HIGH - 7.4)
    ]
    sill = drawn_out(
        Polygon([(-wide, -PROUD - 1.6), (wide, -PROUD - 1.6), (wide, 0), (-wide, 0)]), SILL - FRAME, SILL - FRAME + 2
    )
    return frame.minus(panes).plus([sill])


def window_places() -> list[Points]:
    """Where the windows stand: three in front, one at either end, one at the back."""
    front = [_place(0.0, (x, -DEEP / 2, 0)) for x in (-46.0, 0.0, 46.0)]
    return [*front, _place(90.0, (LONG / 2, 0, 0)), _place(-90.0, (-LONG / 2, 0, 0)), _place(180.0, (46.0, DEEP / 2, 0))]


def roof() -> Solid:
    """A gabled roof with a plug that finds the walls."""
    half = DEEP / 2 + EAVES
    gable = Polygon([(-half, 0.0), (half, 0.0), (half, 3.0), (0.0, 38.0), (-half, 3.0)])
    upright = drawn_out(gable, -LONG / 2 - EAVES, LONG / 2 + EAVES)
    lying = upright.placed(np.array([[0.0, 0, 1, 0], [1, 0, 0, 0], [0, 1, 0, HIGH]]))
    room = WALL + 0.2
    plug = Solid.box([-LONG / 2 + room, -DEEP / 2 + room, HIGH - PLUG], [LONG / 2 - room, DEEP / 2 - room, HIGH + 1])
    hollow = Solid.box([-LONG / 2 + 9, -DEEP / 2 + 9, HIGH - PLUG - 1], [LONG / 2 - 9, DEEP / 2 - 9, HIGH + 4])
    return lying.plus([plug]).minus([hollow])


def chimney() -> Solid:
    """A stack that reaches into the ridge."""
    stack = Solid.box([-7, -7, 0], [7, 7, 40]).plus([Solid.box([-9, -9, 33], [9, 9, 37])])
    return stack.minus([Solid.cylinder(3.5, 30, 41)]).moved(52, 0, HIGH + 24)


def stair() -> Solid:
    """A stair along the left end of the box, with one string outside; the right one is its mirror image."""
    steps = [Solid.box([0, 9.0 * k, 0], [22, 9.0 * (k + 1), 6.0 * (k + 1)]) for k in range(6)]
    string = drawn_out(Polygon([(0.0, 0.0), (54.0, 0.0), (54.0, 44.0), (46.0, 44.0), (0.0, 10.0)]), -2.5, 0.0)
    outside = string.placed(np.array([[0.0, 0, 1, 0], [1, 0, 0, 0], [0, 1, 0, 0]]))
    return Solid.united([*steps, outside]).moved(-LONG / 2 - 22.0, -DEEP / 2 - 24.0, 0)


def lever_frame() -> Solid:
    """A block with a slot for each lever, round below, where a lever's foot turns in it; open above for its swing."""
    block = Solid.box([-LEVERS_LONG / 2, -12, 0], [LEVERS_LONG / 2, 12, FOOT_HIGH + 7])
    slots = []
    for x in LEVERS_AT:
        foot = Solid.cylinder(FOOT + FOOT_ROOM, -SLOT / 2, SLOT / 2).placed(_across(x, FOOT_HIGH))
        slots += [foot, Solid.box([x - SLOT / 2, -6.5, FOOT_HIGH], [x + SLOT / 2, 6.5, FOOT_HIGH + 8])]
    return block.minus(slots)


def lever() -> Solid:
    """A flat lever with a round foot and a grip, upright at x 0."""
    foot = Solid.cylinder(FOOT, -LEVER / 2, LEVER / 2).placed(_across(0.0, FOOT_HIGH))
    shaft = Solid.box([-LEVER / 2, -2.0, FOOT_HIGH], [LEVER / 2, 2.0, 52])
    grip = Solid.box([-LEVER / 2, -3.0, 44], [LEVER / 2, 3.0, 56])
    return Solid.united([foot, shaft, grip])


def signal_box() -> dict[str, Solid]:
    """All bodies by name, each where it stands."""
    flip = np.column_stack([np.diag([-1.0, 1.0, 1.0]), np.zeros(3)])
    windows = {f"Window {k}": window().placed(place) for k, place in enumerate(window_places(), 1)}
    stairs = {"Stair, left": stair(), "Stair, right": stair().placed(flip)}
    levers = {f"Lever {k}": lever().moved(x, LEVERS_Y, 0) for k, x in enumerate(LEVERS_AT, 1)}
    frame = {"Lever frame": lever_frame().moved(0, LEVERS_Y, 0)}
    return {"Walls": walls()} | windows | {"Roof": roof(), "Chimney": chimney()} | stairs | frame | levers


def signal_box_source() -> bytes:
    """The model file: a 3MF of all bodies, each an object."""
    return write_3mf([Placed(name, rounded_to_single(body.mesh)) for name, body in signal_box().items()], NAME)


def _across(x: float, high: float) -> Points:
    """What is drawn upright about Z laid along X, its middle at a height."""
    return np.array([[0.0, 0, 1, x], [0, 1, 0, 0], [-1, 0, 0, high]])


def _place(degrees: float, at: tuple[float, float, float]) -> Points:
    c, s = {0.0: (1, 0), 90.0: (0, 1), -90.0: (0, -1), 180.0: (-1, 0)}[degrees]
    return np.column_stack([np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]]), np.array(at)])
