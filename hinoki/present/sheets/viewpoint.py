"""From where a step is looked at: so that what moves and where it goes are seen, from the same side as long as that will do.

After Agrawala et al. 2003, Designing effective step-by-step assembly instructions, ACM Trans. Graph. 22(3): all that is added
is visible, and the viewpoint is kept.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.slide_collision import Form

FRONT: Points = np.array([0.62, -0.85, 0.62]) / math.sqrt(0.62**2 + 0.85**2 + 0.62**2)
"""the usual side: from the front, the right and above"""
HEIGHTS = (30.0, 60.0, -30.0)
AROUND = 8
SAMPLES = 160
GOOD = 0.55
"""a viewpoint is kept while it shows so much of the best there is"""
HIDDEN = 0.2
"""of what moves less is seen: what lies before it is drawn see-through"""


@dataclass(frozen=True)
class Look:
    """The direction to the eye (3,), and how much of what moves and of its contacts is seen from there, 0 to 1."""

    eye: Points
    seen: float


@dataclass(frozen=True)
class Body:
    """A body in a picture and how far it is moved from its place (3,)."""

    form: Form
    shift: Points
    made_by: str = ""

    @property
    def fingerprint(self) -> object:
        """What made it, and where it is moved."""
        return self.made_by, self.shift


def eyes() -> list[Points]:
    """The directions that are tried, the usual one first."""
    found = [FRONT]
    for height in HEIGHTS:
        for k in range(AROUND):
            turn = math.radians(-54 + 360 * k / AROUND)
            flat = math.cos(math.radians(height))
            found.append(np.array([flat * math.cos(turn), flat * math.sin(turn), math.sin(math.radians(height))]))
    return found


def best_look(
    moving: Sequence[Body], still: Sequence[Body], contacts: Points, before: Points | None, below: bool = False
) -> Look:
    """The side to look from: the usual one, or that of the step before, while it shows enough. What comes from below is looked
    at from below."""
    points, normals = _samples(moving)
    bodies = [*moving, *still]
    looks = []
    every = eyes() if before is None else [FRONT, before, *eyes()]
    for eye in (e for e in every if not below or e[2] < 0):
        facing = normals @ eye > 0.05
        own = _clear(points[facing], eye, bodies).sum() / max(1, len(points)) * 2 if facing.any() else 0.0
        touch = float(_clear(contacts, eye, bodies).mean()) if len(contacts) else own
        looks.append(Look(eye, min(1.0, float(0.6 * own + 0.4 * touch))))
        if looks[0].seen >= GOOD:  # no other can show so much more
            return looks[0]
    best = max(looks, key=lambda look: round(look.seen, 3))
    return next(look for look in looks if look.seen >= GOOD * best.seen)


def _samples(bodies: Sequence[Body]) -> tuple[Points, Points]:
    """Points spread over bodies by area, just outside them, with their normals, each (n, 3); the same every time."""
    points, normals = [], []
    for body in bodies:
        mesh = body.form.mesh
        areas = mesh.face_areas
        total = np.cumsum(areas)
        at = np.searchsorted(total, (np.arange(SAMPLES) + 0.5) / SAMPLES * total[-1])
        at = np.minimum(at, len(areas) - 1)
        n = mesh.face_normals[at]
        points.append(mesh.vertices[mesh.faces[at]].mean(axis=1) + 0.05 * n + body.shift)
        normals.append(n)
    return np.concatenate(points), np.concatenate(normals)


def _clear(points: Points, eye: Points, bodies: Sequence[Body]) -> np.ndarray:
    """Which points nothing hides from an eye far away."""
    open_ = np.ones(len(points), dtype=bool)
    if not len(points):
        return open_
    lows = np.array([body.form.bounds[0] + body.shift for body in bodies])
    highs = np.array([body.form.bounds[1] + body.shift for body in bodies])
    # first for all points at once: few bodies stand between them and the eye
    near = np.flatnonzero(_meet_boxes(np.zeros((1, 3)), eye, lows - points.max(axis=0), highs - points.min(axis=0))[0])
    meets = _meet_boxes(points, eye, lows[near], highs[near])
    for k in np.flatnonzero(meets.any(axis=0)):
        body = bodies[near[k]]
        left = np.flatnonzero(open_ & meets[:, k])
        if len(left):
            starts = points[left] - body.shift
            distance, _ = body.form.rays.first(starts, np.broadcast_to(eye, starts.shape))
            open_[left[np.isfinite(distance)]] = False
    return open_


def _meet_boxes(starts: Points, way: Points, lows: Points, highs: Points) -> np.ndarray:
    """Which rays (n) meet which boxes (m), as (n, m)."""
    with np.errstate(divide="ignore", invalid="ignore"):
        one, two = (lows - starts[:, None]) / way, (highs - starts[:, None]) / way
    near, far = np.fmin(one, two).max(axis=2), np.fmax(one, two).min(axis=2)
    return np.asarray(far >= np.maximum(near, 0.0))


def apart_mm(whole_mm: float, clear_mm: float, pulled: bool) -> float:
    """How far a moving part is drawn from its place: clear of what it goes into, and some more; a wire only partly out."""
    if pulled:
        return 0.25 * whole_mm

    return min(clear_mm + 0.1 * whole_mm, 1.2 * whole_mm)
