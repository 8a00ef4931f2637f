"""Still pictures of bodies without a screen: rays from the eye through every pixel, shaded by how the surface leans."""

import io
from collections.abc import Sequence

import numpy as np
from PIL import Image

from hinoki.core.geometry.mesh import Mesh, Points, stacked
from hinoki.core.geometry.raycast import Rays

PAPER = (246, 236, 214)
LIGHT = np.array([-0.35, -0.6, 0.72])
CORNER = np.array([0.62, -0.85, 0.62])
DARKEST = 0.42
TWICE = 2
"""rays a pixel, each way"""


SHELF_PX = (360, 270)
"""of the picture of a project"""


def picture(bodies: Sequence[tuple[Mesh, str]], size: tuple[int, int] = (256, 256), eye: Points = CORNER) -> bytes:
    """A PNG of coloured bodies (`#rrggbb`) seen along parallel lines from the side `eye` (3,) points to, on plain paper; the
    same bytes for the same bodies."""
    mesh = stacked([m for m, _ in bodies])
    colours = np.concatenate([np.full((len(m.faces), 3), _rgb(colour)) for m, colour in bodies])
    away = eye / np.linalg.norm(eye)
    right = np.cross([0.0, 0.0, 1.0], away)
    right = right / np.linalg.norm(right) if np.linalg.norm(right) > 1e-9 else np.array([1.0, 0.0, 0.0])
    up = np.cross(away, right)
    flat = mesh.vertices @ np.column_stack([right, up, away])
    low, high = flat.min(axis=0), flat.max(axis=0)
    wide, tall = size[0] * TWICE, size[1] * TWICE
    scale = 1.08 * max((high[0] - low[0]) / wide, (high[1] - low[1]) / tall, 1e-9)
    middle = (low + high) / 2
    x = middle[0] + (np.arange(wide) - (wide - 1) / 2) * scale
    y = middle[1] - (np.arange(tall) - (tall - 1) / 2) * scale
    at_x, at_y = np.meshgrid(x, y)
    starts = at_x.ravel()[:, None] * right + at_y.ravel()[:, None] * up + (high[2] + 10.0) * away
    _, face = Rays(mesh).first(starts, np.broadcast_to(-away, starts.shape))
    seen = face >= 0
    lit = np.abs(mesh.face_normals[face[seen]] @ (LIGHT / np.linalg.norm(LIGHT)))
    out = np.full((len(face), 3), PAPER, dtype=np.float64)
    out[seen] = colours[face[seen]] * (DARKEST + (1 - DARKEST) * lit)[:, None]
    image = Image.fromarray(out.reshape(tall, wide, 3).round().astype(np.uint8))
    stream = io.BytesIO()
    image.resize(size, Image.Resampling.BOX).save(stream, "PNG", optimize=False)
    return stream.getvalue()


def _rgb(colour: str) -> Points:
    return np.array([int(colour[k : k + 2], 16) for k in (1, 3, 5)], dtype=np.float64)


PIGMENTS = (
    "#c9a36b", "#8fa37e", "#b9806a", "#7f9bb0", "#d2b5a0", "#a29bb8", "#c4b45f", "#8bb0a6", "#b58fa0", "#9fa7ae", "#d09a5f",
    "#7e8f6b",
)  # fmt: skip
"""the muted colours of the pieces, in turn, as screens draw them"""
LOOSE_COLOUR = "#8f5b34"


def pigment(number: int | None) -> str:
    """A piece's colour; that of loose parts without a number."""
    return LOOSE_COLOUR if number is None else PIGMENTS[(number - 1) % len(PIGMENTS)]
