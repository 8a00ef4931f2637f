"""Points, directions, planes and outlines in schemas."""

from pydantic import BaseModel

Vec3 = tuple[float, float, float]
Ring = list[tuple[float, float]]
Outline = list[list[Ring]]
"""polygons, each of an outline and its holes"""


class FrameView(BaseModel):
    """A plane in the model's space."""

    origin: Vec3
    u: Vec3
    v: Vec3
    n: Vec3
