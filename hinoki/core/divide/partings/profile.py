"""Profile: a line drawn on a view, with straight and smooth parts, drawn out straight through the model."""

import math
from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import BaseModel, Field, model_validator
from shapely.geometry import LineString

from hinoki.core.divide.partings.base import (
    CutUp,
    Direction,
    Length,
    Member,
    PartingBase,
    Reach,
    Remark,
    in_mirror,
    spot,
    uncut,
)
from hinoki.core.divide.partings.extruded_cutter import Line, cut_along, reaching_out
from hinoki.core.forms import Form
from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid

LEAST_STRAIGHT_MM = 2.0
SMOOTH_STEPS = 24
WITHIN_MM = 0.01


class LinePoint(BaseModel, frozen=True):
    """A point of a line, in the view's plane; a smooth one is passed without a corner."""

    x_mm: Length = Field(title="Right")
    y_mm: Length = Field(title="Up")
    smooth: bool = Field(False, title="Smooth")


class ProfileParting(PartingBase, frozen=True):
    """A line seen from a direction and drawn out through everything, away from the eye."""

    words: ClassVar[Mapping[str, str]] = {
        "line-ends-inside/inside": (
            "{parting}: the {end} point of its line lies inside the model's outline, so the line ends in the model. Move the "
            "{end} point out beyond the outline."
        ),
        "line-ends-inside/no way": (
            "{parting}: no straight way out of the model was found from the {end} point of its line. Move it further out."
        ),
        "line-crosses-itself": (
            "{parting}: its line would cross itself where its ends are led out of the model. Move the ends apart."
        ),
        "seam-all-curved": "{parting}: its seam is curved all along, so it gives no flat face for joints. Straight parts do.",
    }

    form: ClassVar[Form] = Form("Profile", "profile", ("eye",))

    kind: Literal["profile"] = "profile"
    eye: Direction = Field((0.0, -1.0, 0.0), title="Seen from", description="direction from the model to the eye")
    points: tuple[LinePoint, ...] = Field(min_length=2, max_length=400, title="Points")

    @model_validator(mode="after")
    def _a_line(self) -> "ProfileParting":
        flat = np.array([[p.x_mm, p.y_mm] for p in self.points])
        near = np.linalg.norm(np.diff(flat, axis=0), axis=1) < WITHIN_MM
        if near.any():
            k = int(np.argmax(near)) + 1
            raise ValueError(f"points {k} and {k + 1} of the line lie in one place; move one of them or take it out")
        if not LineString(self.curve[0]).is_simple:
            raise ValueError("the line crosses itself; move its points so that it does not")
        return self

    @property
    def frame(self) -> Frame:
        """The plane of the view through the model's origin, looking at the eye: right is `u`, up is `v`."""
        return plane_frame(np.zeros(3), np.array(self.eye))

    @property
    def curve(self) -> tuple[Points, tuple[tuple[int, int], ...]]:
        """The line (n, 2), and the pieces of it that are straight, as (first point, last point)."""
        return _curve(self.points)

    def members(self, reach: Reach) -> list[Member]:  # noqa: ARG002
        """A plane for every straight piece of the line that is long enough for a face."""
        return [Member(k, frame) for k, frame in enumerate(self._line(self.curve[0]).planes())]

    def cut(self, solid: Solid, members: Sequence[Member]) -> CutUp:
        """Right (`-`) and left (`+`) of the line, in its direction."""
        shadow = solid.placed(self.frame.to_frame).silhouette()
        points, remark = reaching_out(self.curve[0], shadow)
        if remark is not None or points is None:
            return uncut(solid, *([remark] if remark else []))
        line = self._line(points, shift=1).in_planes([m.frame for m in members])
        cuts = cut_along(solid, line, spot(self.frame.n))
        if len(cuts) < 2:
            return uncut(solid)
        if not line.straight:
            return CutUp(tuple(cuts), (Remark("note", "seam-all-curved"),))
        return CutUp(tuple(cuts))

    def label(self) -> str:
        """Such as “Profile · 5 points”."""
        return f"Profile · {len(self.points)} points"

    def mirrored(self, axis: int, about_mm: float) -> Self:
        """The line on the other side, seen from the other side too."""
        eye = in_mirror(np.array(self.eye), axis, 0, direction=True)
        there = plane_frame(np.zeros(3), eye)
        world = self.frame.world(np.array([[p.x_mm, p.y_mm] for p in self.points]))
        flat = there.flat(np.array([in_mirror(p, axis, about_mm) for p in world]))
        points = tuple(
            LinePoint(x_mm=round(float(x), 6), y_mm=round(float(y), 6), smooth=p.smooth)
            for (x, y), p in zip(flat, self.points, strict=True)
        )
        return self.model_copy(update={"eye": spot(eye), "points": points})

    def moved(self, shift: Points) -> Self:
        """The line shifted in its view."""
        x, y = float(shift @ self.frame.u), float(shift @ self.frame.v)
        points = tuple(p.model_copy(update={"x_mm": p.x_mm + x, "y_mm": p.y_mm + y}) for p in self.points)
        return self.model_copy(update={"points": points})

    def across(self) -> Points:
        """Up, where the line runs more to the side, else to the side."""
        ends = self.points[-1].x_mm - self.points[0].x_mm, self.points[-1].y_mm - self.points[0].y_mm
        return self.frame.v if abs(ends[0]) >= abs(ends[1]) else self.frame.u

    def _line(self, points: Points, shift: int = 0) -> Line:
        flat, straight = self.curve
        long = [(a, b) for a, b in straight if np.linalg.norm(flat[b] - flat[a]) >= LEAST_STRAIGHT_MM]
        return Line(self.frame, points, tuple((a + shift, b + shift) for a, b in long))


@lru_cache(maxsize=64)
def _curve(points: tuple[LinePoint, ...]) -> tuple[Points, tuple[tuple[int, int], ...]]:
    """Smooth points take the tangent of a centripetal Catmull-Rom spline (Yuksel, Schaefer, Keyser 2011); between two points
    runs a cubic Hermite curve, or a straight line between corners."""
    flat = np.array([[p.x_mm, p.y_mm] for p in points])
    tangents = [_tangent(flat, k) if p.smooth and 0 < k < len(flat) - 1 else None for k, p in enumerate(points)]
    out = [flat[:1]]
    straight = []
    count = 1
    for k in range(len(flat) - 1):
        a, b = tangents[k], tangents[k + 1]
        if a is None and b is None:
            straight.append((count - 1, count))
            out.append(flat[k + 1 : k + 2])
            count += 1
            continue
        curve = _hermite(flat[k], flat[k + 1], a, b)
        out.append(curve)
        count += len(curve)
    return np.vstack(out), tuple(straight)


def _tangent(points: Points, k: int) -> Points:
    """The direction (2,) of a centripetal Catmull-Rom spline at point k, of length 1."""
    before, here, after = points[k - 1], points[k], points[k + 1]
    one, two = (math.sqrt(float(np.linalg.norm(d))) for d in (here - before, after - here))
    way = (here - before) / one - (after - before) / (one + two) + (after - here) / two
    length = float(np.linalg.norm(way))
    return np.asarray(way / length if length > 1e-9 else (after - here) / two**2)


def _hermite(start: Points, end: Points, a: Points | None, b: Points | None) -> Points:
    """Points (n, 2) after `start` up to `end`; a missing tangent is the one that bends least."""
    chord = float(np.linalg.norm(end - start))
    straight = (end - start) / chord
    first = (a if a is not None else _eased(straight, b)) * chord
    last = (b if b is not None else _eased(straight, a)) * chord
    t = np.linspace(0, 1, SMOOTH_STEPS + 1)[:, None]
    curve = (
        (2 * t**3 - 3 * t**2 + 1) * start + (t**3 - 2 * t**2 + t) * first + (-2 * t**3 + 3 * t**2) * end + (t**3 - t**2) * last
    )
    thin = np.asarray(LineString(curve).simplify(WITHIN_MM).coords)
    return np.asarray(thin[1:])


def _eased(straight: Points, other: Points | None) -> Points:
    """The direction at a corner beside a smooth point: the other tangent mirrored across the chord."""
    if other is None:
        return straight
    return np.asarray(2 * (other @ straight) * straight - other)
