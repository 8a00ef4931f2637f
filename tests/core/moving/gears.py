"""Involute gears and bodies for tests of what moves."""

import math

import numpy as np

from hinoki.core.geometry.solid import Solid
from hinoki.core.moving.bodies import Body

PRESSURE_DEG = 20.0
STEPS = 30


def body(name: str, solid: Solid, movement: str | None = None) -> Body:
    """A body called so, of a movement or standing."""
    return Body(name, name, (solid,), f"{name} {solid.volume_mm3} {solid.bounds}", 1, movement)


def involute_gear(module: float, teeth: int, thinner_mm: float, wide_mm: float) -> Solid:
    """A spur gear about Z whose teeth are `thinner_mm` thinner on the pitch circle than half its pitch; the first lies about X.

    Half a tooth is ψ = π/(2z) − j/(2 m z)·… + inv α − inv α(r) wide at radius r, with cos α(r) = r_b/r and inv x = tan x − x
    (ISO 21771; DIN 3960).
    """
    pitch, alpha = module * teeth / 2, math.radians(PRESSURE_DEG)
    base, tip, root = pitch * math.cos(alpha), pitch + module, pitch - 1.25 * module
    inv = lambda x: math.tan(x) - x  # noqa: E731 - as handbooks write it
    half = (math.pi * module / 2 - thinner_mm) / (2 * pitch)

    def lean(radius: float) -> float:
        return half + inv(alpha) - inv(math.acos(min(1.0, base / radius)))

    radii = np.linspace(max(base, root), tip, STEPS)
    flank = [(r, lean(float(r))) for r in radii]
    tooth = [(root, -lean(float(radii[0]))), *((r, -a) for r, a in flank), *((r, a) for r, a in reversed(flank))]
    tooth.append((root, lean(float(radii[0]))))
    ring = [
        (r * math.cos(a + 2 * math.pi * k / teeth), r * math.sin(a + 2 * math.pi * k / teeth))
        for k in range(teeth)
        for r, a in tooth
    ]
    return Solid.drawn_ring(np.array(ring), 0.0, wide_mm)
