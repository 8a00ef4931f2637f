"""Patterns on a face: one, a row, a ring (bolt circle), a grid; from a point, the middle, the edges or along one; mirrored."""

import math
from collections.abc import Mapping
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.forms import Condition
from hinoki.core.geometry.mesh import Points

MOST_PLACES = 400
Far = Annotated[float, Field(ge=-1e4, le=1e4, allow_inf_nan=False)]
Round = Annotated[float, Field(gt=0, le=1e4, allow_inf_nan=False)]
Degrees = Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)]
Count = Annotated[int, Field(ge=1, le=200)]
SAME_MM = 1e-6


PATTERN_FIELDS = (
    "pattern", "measured_from", "x_mm", "y_mm", "turn_deg", "count", "step_mm", "rows", "row_step_mm", "ring_mm", "mirrored",
)  # fmt: skip
PATTERN_WORDS = {
    "pattern": {"one": "one", "row": "a row", "ring": "a ring", "grid": "a grid"},
    "measured_from": {
        "point": "the point picked",
        "middle": "the face's middle",
        "edges": "its left and lower edge",
        "edge": "along the nearest edge",
    },
    "mirrored": {"no": "none", "across": "left and right", "up": "above and below", "both": "both"},
}
PATTERN_ONLY_IF: Mapping[str, Mapping[str, Condition]] = {
    "count": {"pattern": ("row", "ring", "grid")},
    "step_mm": {"pattern": ("row", "grid")},
    "rows": {"pattern": ("grid",)},
    "row_step_mm": {"pattern": ("grid",)},
    "ring_mm": {"pattern": ("ring",)},
}
"""what the form of anything that stands in a pattern asks"""


class Pattern(BaseModel, frozen=True):
    """Where elements stand in a face, mm and degrees in its plane; `pattern` says which of the figures count."""

    pattern: Literal["one", "row", "ring", "grid"] = Field("one", title="Pattern")
    measured_from: Literal["point", "middle", "edges", "edge"] = Field(
        "point", title="Measured from",
        description="the point picked, the middle of the face, its left and lower edge, or along the edge nearest the point",
    )  # fmt: skip
    x_mm: Far = Field(0.0, title="Across", description="of the first one, or of the ring's middle; along an edge, or across")
    y_mm: Far = Field(0.0, title="Up", description="of the first one, or of the ring's middle; inwards from an edge, or up")
    turn_deg: Degrees = Field(0.0, title="Turned", description="all of it, about where it is measured from")
    count: Count = Field(4, title="Count", description="in a row, or in the ring")
    step_mm: Round = Field(20.0, title="Step", description="from one to the next")
    rows: Count = Field(2, title="Rows")
    row_step_mm: Round = Field(20.0, title="Between rows")
    ring_mm: Round = Field(40.0, title="Ring", description="diameter of the circle through their middles")
    mirrored: Literal["no", "across", "up", "both"] = Field(
        "no", title="Mirrored copies", description="on the other side of where it is measured from"
    )

    @property
    def flat(self) -> Points:
        """Places (n, 2) about where it is measured from, in the order of the pattern; no two in one place."""
        own = self._own() + np.array([self.x_mm, self.y_mm])
        flips = {"no": [(1, 1)], "across": [(1, 1), (-1, 1)], "up": [(1, 1), (1, -1)]}
        both = [(1, 1), (-1, 1), (1, -1), (-1, -1)]
        every = np.concatenate([own * flip for flip in flips.get(self.mirrored, both)])
        _, first = np.unique(np.round(every / SAME_MM), axis=0, return_index=True)
        angle = math.radians(self.turn_deg)
        turn = np.array([[math.cos(angle), -math.sin(angle)], [math.sin(angle), math.cos(angle)]])
        return np.asarray(every[np.sort(first)] @ turn.T)

    def _own(self) -> Points:
        """(n, 2) from its first place, or from the middle of the ring."""
        if self.pattern == "ring":
            angles = 2 * np.pi * np.arange(self.count) / self.count
            return self.ring_mm / 2 * np.column_stack([np.cos(angles), np.sin(angles)])
        along = np.arange(self.count if self.pattern in ("row", "grid") else 1) * self.step_mm
        rows = np.arange(self.rows if self.pattern == "grid" else 1) * self.row_step_mm
        x, y = np.meshgrid(along, rows)
        return np.column_stack([x.ravel(), y.ravel()])

    @property
    def chord_mm(self) -> float | None:
        """From one of a ring to the next: D · sin(180° / n) (the chord table of workshop handbooks); None for no ring."""
        return self.ring_mm * math.sin(math.pi / self.count) if self.pattern == "ring" and self.count > 1 else None
