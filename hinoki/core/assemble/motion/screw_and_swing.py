"""Motions that turn, tried in positions by exact overlap: threads unscrewed along their own helix, bayonets turned back."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hinoki.core.assemble.scene.parts import Door, Thread, Unit
from hinoki.core.cache import Cache
from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.mesh import Points, stacked
from hinoki.core.geometry.slide_collision import Form, slide
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import Direction, direction_of
from hinoki.core.join.opening.swings import swing_of
from hinoki.core.stages import stage

STEP_DEG, LUG_STEP_DEG = 30.0, 3.0
"""between the positions that are tried, of a thread and of the lugs of a bayonet"""
OPENINGS = (15.0, 30.0, 45.0, 60.0, 90.0)
"""by how much a door is opened before it is tried to come off, in turn"""
FREE_MM3, LUG_FREE_MM3 = 0.5, 1e-3
"""what a thread that is tight shares with its socket by rounding, and lugs, which have their clearance; more is a meeting"""


@dataclass(frozen=True)
class Turned:
    """How unscrewing went: free, or where and what was met at which angle."""

    free: bool
    angle_deg: float = 0.0
    met: str = ""
    volume_mm3: float = 0.0
    at: tuple[float, float, float] | None = None


def frame_of(thread: Thread) -> Frame:
    """The thread's axis as a frame, `n` the way it comes off."""
    return plane_frame(np.array(thread.at), np.array(thread.axis))


def screwed(thread: Thread, turns: float) -> Points:
    """The (3, 4) matrix of the outer unit unscrewed by so many turns."""
    frame = frame_of(thread)
    n, at = frame.n, frame.origin
    angle = 2 * math.pi * turns * thread.by.hand
    cross = np.array([[0, -n[2], n[1]], [n[2], 0, -n[0]], [-n[1], n[0], 0]])
    turn = np.eye(3) + math.sin(angle) * cross + (1 - math.cos(angle)) * (cross @ cross)
    return np.column_stack([turn, at - turn @ at + n * thread.by.lead_mm * turns])


def unscrewed(thread: Thread, moving: Sequence[Unit], still: Sequence[Unit], cache: Cache) -> Turned:
    """Turn units off the others in steps, until the thread is free, or lugs stand before their slots. Each pair
    of units is tried once, whatever else goes along."""
    tried = [_tried(cache, thread, unit, other) for unit in moving for other in still]
    return min((one for one in tried if not one.free), key=lambda one: (one.angle_deg, -one.volume_mm3), default=Turned(True))


@dataclass(frozen=True)
class Swung:
    """A door swung open by `angle_deg` and then slid off along `way`."""

    angle_deg: float
    way: Direction


def swung_off(door: Door, moving: Sequence[Unit], still: Sequence[Unit], cache: Cache) -> Swung | None:
    """How a door whose pin is out comes off its frame: swung open as little as will do, in steps, and then straight away."""
    return _swung(cache, door, moving, still, cache)


@stage("swung")
def _swung(door: Door, moving: Sequence[Unit], still: Sequence[Unit], cache: Cache) -> Swung | None:
    """A door swung and slid among units."""
    frame = door.axis.frame
    angles = [a for a in OPENINGS if a < door.opens_deg] + [door.opens_deg]
    others = {f"{u.id} {k}": s for u in still for k, s in enumerate(u.solids)}
    for before, angle in zip([0.0, *angles], angles, strict=False):
        if any(swing_of(s, others, door.axis, angle, before).angle is not None for u in moving for s in u.solids):
            return None
        turned = door.axis.turned(angle)
        body = Form(stacked([s.placed(turned).mesh for u in moving for s in u.solids]))
        for k in range(8):
            spin = math.radians(45 * k + 90)
            way = math.cos(spin) * frame.u + math.sin(spin) * frame.v
            if all(slide(body, u.form(cache), way).free for u in still):
                return Swung(angle, direction_of(way))
    return None


@stage("unscrew", version=2)
def _tried(thread: Thread, moving: Unit, still: Unit) -> Turned:
    """A unit turned off another one."""
    frame = frame_of(thread)
    seen = frame.seen(np.concatenate([s.mesh.vertices for s in moving.solids]))
    far = float(np.hypot(seen[:, 0], seen[:, 1]).max())
    lowest, high = float(seen[:, 2].min()), float(seen[:, 2].max())
    swept = Solid.cylinder(far + 1.0, lowest - 1.0, high + thread.by.length_mm + 1.0).placed(frame.to_world)
    # only what the other has within reach of the turning one, and of that only what has company there
    near = [s.common(swept) for s in still.solids if s.box_meets(swept)]
    near = [s for s in near if not s.empty]
    if not near:
        return Turned(True)
    top = max(float(frame.seen(s.mesh.vertices)[:, 2].max()) for s in near)
    lid = Solid.cylinder(far + 2.0, lowest - 2.0, top + 0.5).placed(frame.to_world)
    bodies = [part for s in moving.solids if not (part := s.common(lid)).empty]
    whole = thread.by.turns
    each, least = (STEP_DEG, FREE_MM3) if thread.by.lead_mm else (LUG_STEP_DEG, LUG_FREE_MM3)
    steps = max(1, math.ceil(whole * 360 / each))
    for step in range(steps + 1):
        turns = whole * step / steps
        matrix = screwed(thread, turns)
        for turned in (body.placed(matrix) for body in bodies):
            for both in (solid.common(turned) for solid in near if solid.box_meets(turned)):
                if both.volume_mm3 > least:
                    x, y, z = (round(float(c), 2) for c in both.centre_of_box)
                    return Turned(False, round(turns * 360, 0), still.id, round(both.volume_mm3, 2), (x, y, z))
    return Turned(True)
