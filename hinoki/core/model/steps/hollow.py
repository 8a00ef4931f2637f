"""Hollow: a cavity that leaves a wall, open or closed, with drain holes, and a lattice or formers inside."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.findings import Finding, Params
from hinoki.core.forms import AXIS_WORDS, Form
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.sections import section_of
from hinoki.core.geometry.shape import Body, Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.offsets.inside import formers, lattice
from hinoki.core.model.offsets.offset import Distances, cavity_of
from hinoki.core.model.steps.base import AXES, Axis, Coordinate, Outcome, Spot, StepBase, StepRefused, Tell, number
from hinoki.core.progress import part_of

Wall = Annotated[float, Field(ge=0.3, le=100, allow_inf_nan=False)]
OrNothing = Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)]
SAMPLES = 2000
CELLS_ACROSS = 260
WALL_OFF = 0.15
"""a wall that is thinner than asked for by more than this share is pointed out"""


class Drain(BaseModel, frozen=True):
    """A hole for what is left inside: where it starts on the surface, and its diameter."""

    at_mm: Spot
    inwards: Spot = Field(description="direction into the model")
    diameter_mm: Annotated[float, Field(ge=0.5, le=100, allow_inf_nan=False)] = 4.0


class HollowStep(StepBase, frozen=True):
    """Takes out the inside and leaves a wall."""

    form: ClassVar[Form] = Form(
        "Hollow",
        "leave a wall",
        (
            "wall_mm", "open_side", "open_at_mm", "lattice_mm", "strut_mm", "former_mm", "former_axis", "former_wall_mm",
            "former_hole", "rod_mm",
        ),
        group="Shape",
        words={
            "former_axis": AXIS_WORDS,
            "open_side": {
                "closed": "closed inside",
                "x-": "open at X−",
                "x+": "open at X+",
                "y-": "open at Y−",
                "y+": "open at Y+",
                "z-": "open at the bottom",
                "z+": "open at the top",
            },
        },
        only_if={
            "open_at_mm": {"open_side": ("x-", "x+", "y-", "y+", "z-", "z+")},
            "strut_mm": {"lattice_mm": "set"},
            "former_axis": {"former_mm": "set"},
            "former_wall_mm": {"former_mm": "set"},
            "former_hole": {"former_mm": "set"},
            "rod_mm": {"former_mm": "set"},
        },
    )  # fmt: skip

    kind: Literal["hollow"] = "hollow"
    wall_mm: Wall = Field(3.0, title="Wall")
    open_side: Literal["closed", "x-", "x+", "y-", "y+", "z-", "z+"] = Field("closed", title="Open at")
    open_at_mm: Coordinate = Field(
        0.0, title="Opened at", description="plane from which the cavity is drawn out to the open side"
    )
    drains: tuple[Drain, ...] = Field((), max_length=40, title="Drain holes")
    lattice_mm: OrNothing = Field(0.0, title="Lattice", description="spacing of an inner lattice; 0 for none")
    strut_mm: Annotated[float, Field(ge=0.4, le=50, allow_inf_nan=False)] = Field(1.6, title="Strut")
    former_mm: OrNothing = Field(0.0, title="Formers", description="spacing of cross walls; 0 for none")
    former_axis: Axis = Field("z", title="Formers along")
    former_wall_mm: Wall = Field(2.0, title="Former wall")
    former_hole: Annotated[float, Field(ge=0, le=0.9, allow_inf_nan=False)] = Field(
        0.6, title="Lightening hole", description="share of the room in each former that is left open"
    )
    rod_mm: OrNothing = Field(0.0, title="Rod bore", description="a straight bore through all formers; 0 for none")

    def label(self) -> str:
        """Such as “Hollow, wall 3 mm, 2 drain holes”."""
        parts = [f"Hollow, wall {number(self.wall_mm)} mm"]
        if self.open_side != "closed":
            parts.append(f"open at {self.open_side[0].upper()}{'−' if self.open_side[1] == '-' else '+'}")
        if self.drains:
            parts.append(f"{len(self.drains)} drain {'hole' if len(self.drains) == 1 else 'holes'}")
        if self.lattice_mm:
            parts.append(f"lattice {number(self.lattice_mm)}")
        if self.former_mm:
            parts.append(f"formers every {number(self.former_mm)}")
        return ", ".join(parts)

    def apply(self, shape: Shape, tell: Tell) -> Outcome:
        """Hollow every body. Raises StepRefused where none is thick enough."""
        bodies, taken, walls = [], 0.0, []
        for body in shape.bodies:
            if body.solid is None:
                bodies.append(body)
                continue
            cavity = cavity_of(body.solid, self.wall_mm, fineness(body.solid, self.wall_mm), tell)
            if cavity is None:
                bodies.append(body)
                continue
            walls.append(thinnest(body.solid, cavity))
            hollowed = self._hollowed(body.solid, cavity, part_of(tell, 0.9, 1.0))
            taken += body.solid.volume_mm3 - hollowed.volume_mm3
            bodies.append(Body(body.name, solid=hollowed))
        if not walls:
            raise StepRefused(
                f"The model is nowhere thicker than twice {number(self.wall_mm)} mm, so nothing can be taken out.", self.id
            )
        share = 100 * taken / shape.volume_mm3
        least, at = min(walls, key=lambda w: w[0])
        said = [f"takes out {taken / 1000:.1f} cm³ ({share:.0f} %)", f"least wall found {least:.2f} mm"]
        return Outcome(Shape(tuple(bodies)), said, self._too_thin(least, at))

    def _too_thin(self, least: float, at: Points) -> list[Finding]:
        """What is said where the wall asked for was not met."""
        if least >= (1 - WALL_OFF) * self.wall_mm:
            return []
        x, y, z = (round(float(v), 1) for v in at)
        params: Params = {"wall_mm": float(least), "wanted_mm": self.wall_mm, "at_mm": [x, y, z]}
        return [Finding(severity="look-at", code="wall-thinner", station="model", step=self.id, params=params, at_mm=(x, y, z))]

    def _hollowed(self, solid: Solid, cavity: Solid, tell: Tell) -> Solid:
        kept: list[Solid] = []
        if self.lattice_mm > 0:
            tell(0.0, "Drawing the lattice")
            kept.append(lattice(cavity, self.lattice_mm, self.strut_mm))
        if self.former_mm > 0:
            axis, wall = AXES[self.former_axis], self.former_wall_mm
            kept.append(formers(cavity, axis, self.former_mm, wall, self.former_hole, self.rod_mm, tell))
        tell(1.0, "Taking the cavity out")
        room = cavity.minus(kept) if kept else cavity
        cutters = [room, *(self._drain(d) for d in self.drains)]
        if self.open_side != "closed":
            cutters.append(self._mouth(solid, cavity))
        return solid.minus(cutters)

    def _mouth(self, solid: Solid, cavity: Solid) -> Solid:
        """The cavity's section at the open plane, drawn out to beyond the model."""
        axis, sign = "xyz".index(self.open_side[0]), 1.0 if self.open_side[1] == "+" else -1.0
        frame = plane_frame(np.eye(3)[axis] * self.open_at_mm, np.eye(3)[axis] * sign)
        section = section_of(cavity, frame)
        if section.is_empty:
            low, high = cavity.bounds
            raise StepRefused(
                f"The cavity does not reach the open plane at {number(self.open_at_mm)} mm; it reaches from {low[axis]:.1f} to "
                f"{high[axis]:.1f} mm along {'XYZ'[axis]}.",
                self.id,
            )
        return Solid.drawn(section, 0.0, float(np.linalg.norm(solid.size))).placed(frame.to_world)

    def _drain(self, drain: Drain) -> Solid:
        way = np.array(drain.inwards)
        length = float(np.linalg.norm(way))
        if length < 1e-6:
            raise StepRefused("A drain hole has no direction. Pick its place again.", self.id)
        frame = plane_frame(np.array(drain.at_mm), way / length)
        deep = 3 * self.wall_mm + drain.diameter_mm
        return Solid.cylinder(drain.diameter_mm / 2, -2 * self.wall_mm, deep, around=True).placed(frame.to_world)


def fineness(solid: Solid, wall_mm: float) -> float:
    """Grid cell for a wall: half of it, but no finer than CELLS_ACROSS³ cells in the box around the model."""
    finest = float(np.cbrt(np.prod(np.maximum(solid.size, wall_mm)))) / CELLS_ACROSS
    return max(finest, min(wall_mm / 2, float(solid.size.max()) / 24))


def thinnest(solid: Solid, cavity: Solid) -> tuple[float, Points]:
    """The least of the wall's thickness at sampled points of the cavity, and where that is (3,)."""
    points = sampled(cavity)
    distance, _ = Distances(solid.mesh).nearest(points)
    k = int(np.argmin(distance))
    return float(distance[k]), points[k]


def sampled(solid: Solid, count: int = SAMPLES) -> Points:
    """Points spread evenly over a surface (count, 3), always the same ones."""
    mesh = solid.mesh
    areas = np.cumsum(mesh.face_areas)
    at = np.searchsorted(areas, (np.arange(count) + 0.5) / count * areas[-1])
    k = np.arange(count)
    # the plastic sequence (Roberts) spreads points evenly over the triangle
    a, b = np.mod(0.7548776662466927 * k, 1), np.mod(0.5698402909980532 * k, 1)
    over = a + b > 1
    a, b = np.where(over, 1 - a, a), np.where(over, 1 - b, b)
    corners = mesh.vertices[mesh.faces[at]]
    return np.asarray(
        corners[:, 0] + a[:, None] * (corners[:, 1] - corners[:, 0]) + b[:, None] * (corners[:, 2] - corners[:, 0])
    )


def suggested_drains(solid: Solid, cavity: Solid, down: Points, diameter_mm: float) -> list[Drain]:
    """Holes at the lowest and the highest point of the cavity when `down` points at the bed, straight down and up."""
    heights = cavity.mesh.vertices @ down
    found = []
    for at, way in (
        (cavity.mesh.vertices[int(np.argmax(heights))], down),
        (cavity.mesh.vertices[int(np.argmin(heights))], -down),
    ):
        reach = float(np.linalg.norm(solid.size))
        hits = solid.ray(at, at + way * reach)
        start = hits[0] if len(hits) else at
        x, y, z = (round(float(c), 3) for c in start)
        i, j, k = (round(float(-c), 6) for c in way)
        found.append(Drain(at_mm=(x, y, z), inwards=(i, j, k), diameter_mm=diameter_mm))
    return found
