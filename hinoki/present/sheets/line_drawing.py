"""Drawings of bodies without a screen: shaded, in ink outlines with hidden lines removed, by rays from the eye through every
point. What lies where in the picture is told too, so that arrows and balloons can be drawn over it."""

import io
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.slide_collision import Form

Singles = NDArray[np.float32]

TWICE = 2
"""rays a pixel, each way"""
PAPER = np.array([255.0, 255.0, 255.0])
INK = np.array([43.0, 38.0, 32.0], dtype=np.float32)
LIGHT = (np.array([-0.35, -0.6, 0.72]) / np.linalg.norm([-0.35, -0.6, 0.72])).astype(np.float32)
DARKEST = 0.62
CREASE = 0.80
"""edges between faces whose normals' cosine is below this are drawn"""
STEP = 0.006
"""a jump in depth by this share of the picture's width is an edge"""
LEAST_STEP_PX = 5.0
MARGIN = 1.12


@dataclass(frozen=True)
class Drawn:
    """A body to draw: how far it has been moved (3,), its colour, and whether it is pale: what was there before."""

    id: str
    form: Form
    shift: Points
    colour: str
    pale: bool = False


@dataclass(frozen=True)
class View:
    """A view along parallel lines: `right`, `up` and `away` (3,) unit vectors, the middle of the picture in right and up, and
    millimetres a pixel."""

    right: Points
    up: Points
    away: Points
    middle: Points
    scale: float
    width: int
    height: int

    def at(self, points: Points) -> Points:
        """Places (n, 2) of points (n, 3) in the picture, 0 to 1 from its upper left corner."""
        x = (points @ self.right - self.middle[0]) / self.scale / self.width + 0.5
        y = 0.5 - (points @ self.up - self.middle[1]) / self.scale / self.height
        return np.column_stack([x, y])


@dataclass(frozen=True)
class Picture:
    """A PNG, the view it was made by, and for every body that is seen a place on it (0 to 1, from the upper left)."""

    png: bytes
    view: View
    seen: dict[str, tuple[float, float]]


def view_of(bodies: Sequence[Drawn], eye: Points, width: int, height: int, also: Points | None = None) -> View:
    """The view from the side `eye` (3,) points to that just holds all bodies, and the points `also` (n, 3)."""
    away = eye / np.linalg.norm(eye)
    right = np.cross([0.0, 0.0, 1.0], away)
    right = right / np.linalg.norm(right) if np.linalg.norm(right) > 1e-9 else np.array([1.0, 0.0, 0.0])
    up = np.cross(away, right)
    frame = np.column_stack([right, up])
    flat = [_hull_of(b.form) @ frame + b.shift @ frame for b in bodies]
    if also is not None and len(also):
        flat.append(also @ frame)
    every = np.concatenate(flat)
    low, high = every.min(axis=0), every.max(axis=0)
    scale = MARGIN * max((high[0] - low[0]) / width, (high[1] - low[1]) / height, 1e-9)
    return View(right, up, away, (low + high) / 2, float(scale), width, height)


def _hull_of(form: Form) -> Points:
    low, high = form.bounds
    corners = np.array([[(low, high)[k >> i & 1][i] for i in range(3)] for k in range(8)])
    return form.mesh.vertices if len(form.mesh.vertices) < 5000 else _extremes(form, corners)


def _extremes(form: Form, corners: Points) -> Points:
    """A thinned set of points whose outline is that of the body, near enough for a frame round it."""
    step = max(1, len(form.mesh.vertices) // 4000)
    vertices = form.mesh.vertices
    ends = [int(k) for axis in range(3) for k in (vertices[:, axis].argmin(), vertices[:, axis].argmax())]
    return np.concatenate([vertices[::step], vertices[ends], 0.5 * (corners + vertices[ends].mean(axis=0))])


def draw(bodies: Sequence[Drawn], view: View, see_through: bool = False) -> Picture:
    """The picture of bodies. With `see_through` pale ones let what lies behind them show."""
    front = _layer(bodies, view)
    colours = _shaded(bodies, front)
    lines = _edges(front, view)
    if see_through:
        strong = [b for b in bodies if not b.pale]
        behind = _layer(strong, view)
        index = {b.id: k for k, b in enumerate(bodies)}
        pale = np.array([b.pale for b in bodies] + [False])
        hidden = (behind.body >= 0) & pale[front.body]
        own = _shaded(strong, behind)
        colours[hidden] = 0.62 * own[hidden] + 0.38 * colours[hidden]
        more = _edges(behind, view)
        lines = np.maximum(lines * np.where(hidden, 0.5, 1.0), more)
        seen = front.body.copy()
        named = np.array([index[b.id] for b in strong] or [0])
        seen[hidden] = named[behind.body[hidden]]
        front = _Layer(seen, front.depth, front.normal)
    out = colours + (INK - colours) * lines[..., None]
    image = Image.fromarray(out.round().clip(0, 255).astype(np.uint8))
    stream = io.BytesIO()
    image.resize((view.width, view.height), Image.Resampling.BOX).save(stream, "PNG", optimize=False)
    return Picture(stream.getvalue(), view, _places(bodies, front.body))


@dataclass
class _Layer:
    """What is seen at every ray (tall, wide): the body's number (−1: none), its depth, its normal (3, tall, wide)."""

    body: NDArray[np.int16]
    depth: Singles
    normal: Singles


def _layer(bodies: Sequence[Drawn], view: View) -> _Layer:
    tall, wide = view.height * TWICE, view.width * TWICE
    step = view.scale / TWICE
    x = view.middle[0] + (np.arange(wide) - (wide - 1) / 2) * step
    y = view.middle[1] - (np.arange(tall) - (tall - 1) / 2) * step
    body = np.full((tall, wide), -1, dtype=np.int16)
    depth = np.full((tall, wide), -np.inf, dtype=np.float32)
    normal = np.zeros((3, tall, wide), dtype=np.float32)
    frame = np.column_stack([view.right, view.up, view.away])
    for number, one in enumerate(bodies):
        low, high = one.form.bounds
        corners = np.array([[(low, high)[k >> i & 1][i] for i in range(3)] for k in range(8)]) + one.shift
        flat = corners @ frame
        left, right = np.searchsorted(x, [flat[:, 0].min(), flat[:, 0].max()])
        top, bottom = np.searchsorted(-y, [-flat[:, 1].max(), -flat[:, 1].min()])
        if left >= right or top >= bottom:
            continue
        far = float(flat[:, 2].max()) + 10.0
        columns = x[left:right, None] * view.right + far * view.away - one.shift
        rows = y[top:bottom, None] * view.up
        starts = (rows[:, None, :] + columns[None, :, :]).reshape(-1, 3)
        distance, face = one.form.rays.first(starts, np.broadcast_to(-view.away, starts.shape))
        here = np.where(face >= 0, far - distance, -np.inf).astype(np.float32).reshape(bottom - top, right - left)
        window = (slice(top, bottom), slice(left, right))
        nearer = here > depth[window]
        depth[window][nearer] = here[nearer]
        body[window][nearer] = number
        seen = face[nearer.ravel()]
        for axis, along in enumerate(one.form.mesh.face_normals.T.astype(np.float32)):
            normal[axis][window][nearer] = along[seen]
    return _Layer(body, depth, normal)


def _shaded(bodies: Sequence[Drawn], layer: _Layer) -> Singles:
    """The colour of every ray, (tall, wide, 3)."""
    colours = np.array([_pale(_rgb(b.colour)) if b.pale else _rgb(b.colour) for b in bodies] + [PAPER], dtype=np.float32)
    darkest = np.array([0.86 if b.pale else DARKEST for b in bodies] + [1.0], dtype=np.float32)[layer.body]
    lit = np.abs(_dot(layer.normal, LIGHT))
    return np.asarray(colours[layer.body] * (darkest + (1 - darkest) * lit)[..., None])


def _edges(layer: _Layer, view: View) -> Singles:
    """How much ink lies at every ray, 0 to 1."""
    tall, wide = layer.body.shape
    ink = np.zeros((tall, wide), dtype=np.float32)
    jump = view.scale * max(STEP * max(view.width, view.height), LEAST_STEP_PX)
    full = layer.body >= 0
    depth = np.where(full, layer.depth, 0)
    for down, right in ((0, 1), (1, 0)):
        here = (slice(0, tall - down), slice(0, wide - right))
        there = (slice(down, tall), slice(right, wide))
        both = full[here] & full[there]
        hard = (layer.body[here] != layer.body[there]) | (both & (np.abs(depth[here] - depth[there]) > jump))
        bent = both & (_dot(layer.normal[:, *here], layer.normal[:, *there]) < CREASE)
        ink[here] = np.maximum(ink[here], np.where(hard, np.float32(0.95), 0.5 * bent))
        ink[there] = np.maximum(ink[there], np.float32(0.8) * hard)
    return ink


def _dot(a: Singles, b: Singles) -> Singles:
    return np.asarray(a[0] * b[0] + a[1] * b[1] + a[2] * b[2])


def _places(bodies: Sequence[Drawn], body: NDArray[np.int16]) -> dict[str, tuple[float, float]]:
    """For every body that is seen a place well within what is seen of it."""
    found = {}
    tall, wide = body.shape
    small = body[::4, ::4]
    for number, one in enumerate(bodies):
        rows, columns = np.nonzero(small == number)
        if not len(rows):
            continue
        near = np.abs(rows - np.median(rows)) + np.abs(columns - np.median(columns))
        k = int(np.argmin(near))
        found[one.id] = (float((4 * columns[k] + 2) / wide), float((4 * rows[k] + 2) / tall))
    return found


def _pale(colour: Points) -> Points:
    return np.asarray(0.25 * colour + 0.75 * np.array([250.0, 246.0, 238.0]))


def _rgb(colour: str) -> Points:
    return np.array([int(colour[k : k + 2], 16) for k in (1, 3, 5)], dtype=np.float64)
