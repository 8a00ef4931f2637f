"""Hatch: a closed outline projected onto the model and cut to a depth, with a gap all round so that it opens."""

import math
from collections.abc import Mapping, Sequence
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator
from shapely.geometry import Polygon

from hinoki.core.divide.partings.base import (
    Cut,
    CutUp,
    Direction,
    Member,
    PartingBase,
    Reach,
    Remark,
    Spot,
    Turn,
    in_mirror,
    spot,
    uncut,
)
from hinoki.core.divide.partings.outlines import Free, FreePoint, HatchOutline, Rectangle
from hinoki.core.forms import Form
from hinoki.core.geometry.filmless_cut import LEAST_KERF_MM, kerf_for
from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid

HAIR_MM = LEAST_KERF_MM / 2
BOTTOM, LEDGE, SIDES_FROM = 0, 1, 2
"""numbers of its planes"""
LEAST_REST_MM2 = 1.0
ROOT_MM = 1e-4
"""how far its tool's lower part reaches into the upper one"""
OVER_MM = 0.5
"""how far the hatch's tool reaches above the model"""
Gap = Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)]


class HatchParting(PartingBase, frozen=True):
    """A door, a lid, a cover. The outline is that of the opening; the hatch is smaller by the gap on every side."""

    words: ClassVar[Mapping[str, str]] = {
        "hatch-outside": (
            "{parting} ({label}): nothing of the model lies under its outline within its depth. Move it onto the model."
        ),
        "hatch-through": (
            "{parting} ({label}) is as deep as the model or deeper there, so it would fall through. Choose a smaller depth."
        ),
        "hatch-loose": (
            "{parting} ({label}) goes through the wall and has nothing to rest on: it would fall in. Give it a rebate or a "
            "taper."
        ),
    }

    form: ClassVar[Form] = Form(
        "Hatch",
        "hatch",
        ("at_mm", "outward", "turn_deg", "depth_mm", "gap_mm", "taper_deg", "rebate_mm", "rebate_depth_mm"),
        only_if={"rebate_depth_mm": {"rebate_mm": "set"}},
    )

    kind: Literal["hatch"] = "hatch"
    at_mm: Spot = Field((0.0, 0.0, 0.0), title="Middle", description="on the model's surface; depths count from here")
    outward: Direction = Field((0.0, 0.0, 1.0), title="Opens towards", description="direction out of the model")
    outline: HatchOutline = Field(default_factory=Rectangle, title="Outline")
    turn_deg: Turn = Field(0.0, title="Turned")
    depth_mm: Annotated[float, Field(gt=0, le=1e4, allow_inf_nan=False)] = Field(4.0, title="Depth")
    gap_mm: Gap = Field(0.2, title="Gap on each side")
    taper_deg: Annotated[float, Field(ge=0, le=45, allow_inf_nan=False)] = Field(
        0.0, title="Taper", description="by which each side leans inwards with depth"
    )
    rebate_mm: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = Field(
        0.0, title="Rebate", description="width of the ledge it rests on; 0 for none"
    )
    rebate_depth_mm: Annotated[float, Field(gt=0, le=1e4, allow_inf_nan=False)] = Field(2.0, title="Rebate at depth")

    @model_validator(mode="after")
    def _room_inside(self) -> "HatchParting":
        if self.rebate_mm and self.rebate_depth_mm >= self.depth_mm:
            raise ValueError("the rebate lies as deep as the hatch; choose a smaller rebate depth or a greater depth")
        inner = self.outline.ring(self._inset(self.depth_mm) + self.gap_mm)
        if inner is None or Polygon(inner).area < 1.0:
            raise ValueError(
                "nothing of the hatch is left inside its gap, taper and rebate; choose smaller ones or a larger outline"
            )
        return self

    @property
    def takes_away(self) -> bool:
        """The gap."""
        return self.gap_mm > 0

    @property
    def frame(self) -> Frame:
        """The plane the outline is drawn in; it looks outwards."""
        straight = plane_frame(np.array(self.at_mm), np.array(self.outward))
        turn = math.radians(self.turn_deg)
        u = straight.u * math.cos(turn) + straight.v * math.sin(turn)
        return Frame(straight.origin, u, np.cross(straight.n, u), straight.n)

    def members(self, reach: Reach) -> list[Member]:  # noqa: ARG002
        """The bottom, and the ledge where there is one; both look outwards. Without a ledge the straight sides, which look into
        the hatch, too: they are what it has of mating faces where it goes through a wall."""
        flat = plane_frame(np.array(self.at_mm), np.array(self.outward))
        bottom = Member(BOTTOM, flat.raised(-self.depth_mm))
        if self.rebate_mm:
            return [bottom, Member(LEDGE, flat.raised(-self.rebate_depth_mm))]
        return [bottom, *(self._side(*side) for side in self.outline.sides())]

    def _side(self, number: int, start: Points, end: Points) -> Member:
        """The plane midway between the body and the hatch at a straight side of the outline."""
        drop = self.depth_mm + ROOT_MM
        lean, outline = math.atan2(self.depth_mm * math.tan(math.radians(self.taper_deg)), drop), self.frame
        along = (end - start) / np.linalg.norm(end - start)
        inward = -along[1] * outline.u + along[0] * outline.v
        normal = math.cos(lean) * inward + math.sin(lean) * outline.n
        apart = self.gap_mm * math.cos(lean)
        x, y = (start + end) / 2
        middle = outline.origin + x * outline.u + y * outline.v + ROOT_MM * outline.n
        return Member(SIDES_FROM + number, plane_frame(middle, normal).raised(apart / 2), apart)

    def cut(self, solid: Solid, members: Sequence[Member]) -> CutUp:
        """The body (`:b`) and the hatch (`:h`), which comes off outwards."""
        return self._settled(solid, members)._cut(solid, members)

    def _settled(self, solid: Solid, members: Sequence[Member]) -> Self:
        """The hatch with its depths where its planes were settled, and a hair deeper where a face lies there, so that no film
        is left of a wall."""
        depths = {}
        for name, number in (("depth_mm", BOTTOM), ("rebate_depth_mm", LEDGE)):
            member = next((m for m in members if m.number == number), None)
            if member is None:
                continue
            depth = float((np.array(self.at_mm) - member.frame.origin) @ self.frame.n)
            flush = kerf_for(solid.mesh, member.frame.heights(solid.mesh.vertices))
            depths[name] = depth + (HAIR_MM if flush else 0.0)
        return self.model_copy(update=depths)

    def _cut(self, solid: Solid, members: Sequence[Member]) -> CutUp:
        turned = solid.placed(self.frame.to_frame)
        top = float(turned.bounds[1][2]) + OVER_MM
        if top - OVER_MM <= -self.depth_mm + 2 * HAIR_MM:  # its bottom lies on the model or above it
            return uncut(solid)
        within = turned.common(self._tool(top, 0.0))
        taken = [
            lump for lump in within.lumps() if not lump.empty and lump.bounds[0][2] < 0 < lump.bounds[1][2] + self.depth_mm
        ]
        if not taken:
            return uncut(solid, Remark("must-fix", "hatch-outside"))
        column = Solid.drawn_ring(self._ring(self.depth_mm, 0.0), float(turned.bounds[0][2]) - 1, -self.depth_mm + 1e-6)
        if not self._holds and turned.common(column).volume_mm3 < 1e-6:
            return uncut(solid, Remark("must-fix", "hatch-through"))
        body = turned.minus(taken)
        hatch = Solid.united(taken).common(self._tool(top, self.gap_mm)) if self.gap_mm else Solid.united(taken)
        if hatch.empty or body.empty:
            return uncut(solid)
        back = self.frame.to_world
        loose = self._over_nothing(turned)
        numbers = [m.number for m in members if m.beside_mm is None or loose]
        cuts = (
            Cut(":b", body.placed(back), tuple((n, -1) for n in numbers)),
            Cut(":h", hatch.placed(back), tuple((n, 1) for n in numbers), whole=True, off=spot(self.frame.n)),
        )
        if not loose or self._holds:
            return CutUp(cuts)
        return CutUp(cuts, (Remark("look-at", "hatch-loose"),))

    def label(self) -> str:
        """Such as “Hatch · 30.0 × 20.0, 4.0 deep”."""
        return f"Hatch · {self.outline.label()}, {self.depth_mm:.1f} deep"

    def mirrored(self, axis: int, about_mm: float) -> Self:
        """The hatch on the other side."""
        outward = in_mirror(np.array(self.outward), axis, 0, direction=True)
        at = in_mirror(np.array(self.at_mm), axis, about_mm)
        straight = plane_frame(at, outward)
        right = in_mirror(self.frame.u, axis, 0, direction=True)
        # seen from outside the mirror turns left and right round: a free outline is turned over with it
        turn = math.degrees(math.atan2(float(-right @ straight.v), float(-right @ straight.u)))
        outline = self.outline
        if isinstance(outline, Free):
            outline = Free(corners=tuple(FreePoint(x_mm=-p.x_mm, y_mm=p.y_mm) for p in reversed(outline.corners)))
        return self.model_copy(
            update={"outward": spot(outward), "at_mm": spot(at), "turn_deg": round(turn, 6), "outline": outline}
        )

    def moved(self, shift: Points) -> Self:
        """The hatch shifted."""
        return self.model_copy(update={"at_mm": spot(np.array(self.at_mm) + shift)})

    def across(self) -> Points:
        """Sideways."""
        return self.frame.u

    def _inset(self, depth: float) -> float:
        """How far the opening is drawn in at a depth, below the ledge where there is one."""
        return depth * math.tan(math.radians(self.taper_deg)) + self.rebate_mm

    def _ring(self, depth: float, more: float, ledge: bool = True) -> Points:
        inset = self._inset(depth) - (0.0 if ledge else self.rebate_mm) + more
        ring = self.outline.ring(inset)
        if ring is None:  # refused when the plan is read
            raise ValueError(f"{self.id}: the outline holds no ring drawn in by {inset}")
        return ring

    def _tool(self, top: float, more: float) -> Solid:
        """The opening, or the hatch drawn in by `more`, from the bottom to above the model, in the outline's frame."""
        low = self.rebate_depth_mm if self.rebate_mm else self.depth_mm
        upper = Solid.drawn_ring(self._ring(0.0, more, False), 0.0, max(top, OVER_MM))
        parts = [Solid.frustum(self._ring(low, more, False), self._ring(0.0, more, False), -low, ROOT_MM), upper]
        if self.rebate_mm:
            parts.append(Solid.frustum(self._ring(self.depth_mm, more), self._ring(low, more), -self.depth_mm, -low + ROOT_MM))
        return Solid.united(parts)

    @property
    def _holds(self) -> bool:
        """Whether a ledge or slanting sides hold the hatch, whatever lies under it."""
        return self.rebate_mm > 0 or self.taper_deg > 0

    def _over_nothing(self, turned: Solid) -> bool:
        """Whether there is nothing of the model under its bottom."""
        ring = Polygon(self._ring(self.depth_mm, 0.0))
        return bool(turned.slice(-self.depth_mm - 1e-3).intersection(ring).area <= LEAST_REST_MM2)
