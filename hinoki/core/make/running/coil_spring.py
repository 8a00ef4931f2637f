"""Coil spring: a round or square wire wound about Z, with a ring at either end; its rate and stress by formula."""

import math
from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.findings import Finding, Params
from hinoki.core.forms import Form
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.polygons import round_sides
from hinoki.core.geometry.solid import Solid, triangulated
from hinoki.core.make.base import Made, MakerBase, NotMade, Size, length
from hinoki.core.make.running.elastic import SHEAR_SHARE, Coil, shear_modulus_mpa
from hinoki.core.progress import Tell
from hinoki.core.workshop.materials import Material

WIRE_SIDES = 20
STEPS_A_TURN = 72
LEAST_INDEX, MOST_INDEX = 3.0, 20.0
"""of mean diameter to wire: tighter ones are not wound, wider ones tangle (common practice; EN 13906-1 takes 4 to 20)"""
SINKS = 0.35
"""of a wire's thickness, how far the first and last turn lie in the rings at the ends"""


class SpringMaker(MakerBase, frozen=True):
    """A compression spring, standing on one of its end rings. All but the rings gives way."""

    form: ClassVar[Form] = Form(
        "Coil spring",
        "rate and stress by formula",
        ("wire", "wire_mm", "outside_mm", "free_mm", "turns", "pressed_mm", "wound"),
        group="What moves",
        words={
            "wire": {"round": "round", "square": "square, prints better"},
            "wound": {"right": "right-handed", "left": "left-handed"},
        },
    )

    kind: Literal["spring"] = "spring"
    wire: Literal["round", "square"] = Field("square", title="Wire")
    wire_mm: Size = Field(2.4, title="Wire thick", description="its diameter, or its side")
    outside_mm: Size = Field(20.0, title="Outside", description="diameter over all")
    free_mm: Size = Field(40.0, title="Long", description="unloaded, with the rings at its ends")
    turns: Annotated[float, Field(ge=1, le=100, allow_inf_nan=False)] = Field(
        6.0, title="Turns", description="that give way: without the rings at the ends"
    )
    pressed_mm: Annotated[float, Field(ge=0, le=2000, allow_inf_nan=False)] = Field(
        8.0, title="Pressed by", description="how far it is pressed in use; force and stress are told for that"
    )
    wound: Literal["right", "left"] = Field("right", title="Wound")

    @property
    def coil(self) -> Coil:
        """What gives way."""
        return Coil(self.wire_mm, self.outside_mm - self.wire_mm, self.turns, self.wire == "square")

    @property
    def rise_mm(self) -> float:
        """From the middle of the wire where it leaves the lower ring to that where it meets the upper one."""
        return self.free_mm - 2 * self.wire_mm - self.wire_mm * (1 - 2 * SINKS)

    @property
    def most_mm(self) -> float:
        """How far it can be pressed before its turns touch."""
        return self.rise_mm - self.turns * self.wire_mm

    def make(self, host: Solid | None, clearance_mm: float, tell: Tell) -> Made:  # noqa: ARG002
        """About Z from Z 0 up to its length. Raises NotMade."""
        tell(0.1, "Winding the spring")
        coil = self.coil
        if coil.mean_mm <= 0 or not LEAST_INDEX <= coil.index <= MOST_INDEX:
            raise NotMade(
                f"The turns must be {LEAST_INDEX:g} to {MOST_INDEX:g} times as wide as the wire is thick; these are "
                f"{max(0.0, coil.index):.1f} times. Change the wire or the outside."
            )
        pitch = self.rise_mm / self.turns
        if self.most_mm < 0.2 * self.turns:
            raise NotMade(
                f"{length(self.turns)} turns of {length(self.wire_mm)} mm wire do not stand apart in {length(self.free_mm)} mm."
                " Make it longer, or take fewer turns."
            )
        start = self.wire_mm + self.wire_mm * (0.5 - SINKS)
        wound = self._helix(start, pitch)
        inner, outer = self.outside_mm / 2 - self.wire_mm, self.outside_mm / 2
        ends = [(0.0, self.wire_mm), (self.free_mm - self.wire_mm, self.free_mm)]
        rings = [
            Solid.cylinder(outer, low, high).minus([Solid.cylinder(inner, low - 1, high + 1, around=True)])
            for low, high in ends
        ]
        tell(0.6, "Joining its ends")
        spring = Solid.united([wound, *rings])
        slope = math.degrees(math.atan2(pitch, math.pi * coil.mean_mm))
        return Made(
            spring, (f"turns {length(pitch)} mm apart, rising at {slope:.0f}°; can be pressed by {self.most_mm:.1f} mm",)
        )

    def _helix(self, start: float, pitch: float) -> Solid:
        """The wire along its helix: sections square to it, joined, and closed at both ends."""
        count = max(2, math.ceil(self.turns * STEPS_A_TURN)) + 1
        along = np.linspace(0, 2 * math.pi * self.turns, count)
        hand = 1.0 if self.wound == "right" else -1.0
        radius = self.coil.mean_mm / 2
        out = np.column_stack([np.cos(along), hand * np.sin(along), np.zeros(count)])
        middles = radius * out + np.column_stack([np.zeros((count, 2)), start + pitch * along / (2 * math.pi)])
        way = np.column_stack([-radius * np.sin(along), hand * radius * np.cos(along), np.full(count, pitch / (2 * math.pi))])
        way /= np.linalg.norm(way, axis=1)[:, None]
        up = np.cross(way, out) * hand  # upwards, whichever way it is wound
        ring = self._section()
        n = len(ring)
        points = middles[:, None] + ring[None, :, :1] * out[:, None] + ring[None, :, 1:] * up[:, None]
        column = np.arange(n)
        after = (column + 1) % n
        base = (np.arange(count - 1) * n)[:, None]
        a, b, c, d = base + column, base + after, base + n + after, base + n + column
        cap = triangulated(ring)
        sides = [np.stack([a, d, c], axis=-1).reshape(-1, 3), np.stack([a, c, b], axis=-1).reshape(-1, 3)]
        faces = np.vstack([*sides, cap, cap[:, ::-1] + (count - 1) * n])
        return Solid.from_mesh(Mesh(points.reshape(-1, 3), faces[:, ::-1] if hand > 0 else faces))

    def _section(self) -> Points:
        """Corners (n, 2) of the wire's section, outwards and upwards; a round one has the circle's area."""
        half = self.wire_mm / 2
        if self.wire == "square":
            return np.array([(-half, -half), (half, -half), (half, half), (-half, half)])
        n = max(WIRE_SIDES, round_sides(half))
        turn = 2 * np.pi * np.arange(n) / n
        fair = half * math.sqrt(2 * math.pi / (n * math.sin(2 * math.pi / n)))
        return fair * np.column_stack([np.cos(turn), np.sin(turn)])

    def behaves(self, material: Material) -> tuple[str, ...]:
        """Its rate, and the force where it is pressed."""
        rate = self.coil.rate_n_mm(shear_modulus_mpa(material))
        told = f"{_newtons(rate)} N for each mm in {material.name}"
        return (f"{told}; pressed by {length(self.pressed_mm)} mm: {_newtons(rate * self.pressed_mm)} N",)

    def problems(self, material: Material) -> Sequence[Finding]:
        """Pressed till its turns touch, or beyond what the material bears."""
        found = []
        if self.pressed_mm > self.most_mm:
            most: Params = {"pressed_mm": self.pressed_mm, "most_mm": self.most_mm}
            found.append(Finding(severity="must-fix", code="spring-shut", station="model", params=most))
        force = self.coil.rate_n_mm(shear_modulus_mpa(material)) * min(self.pressed_mm, max(0.0, self.most_mm))
        stress, bears = self.coil.stress_mpa(force), SHEAR_SHARE * material.tension_mpa
        if stress > bears:
            figures = {"stress_mpa": stress, "bears_mpa": bears}
            found.append(
                Finding(
                    severity="look-at", code="spring-stress", station="model", params={**figures, "material": material.name}
                )
            )
        return found


def _newtons(value: float) -> str:
    """A force in a sentence: three figures that count."""
    return f"{value:.3g}"
