"""What joints hold: estimates by textbook formulas, named as such."""

import math
from dataclasses import dataclass

ACROSS_LAYERS = 0.5
"""strength between layers as a share of that along them (common practice)"""
GLUE_MPA = 5.0
"""shear strength of a glued seam in plastic, N/mm² (common practice for quick glues)"""


@dataclass(frozen=True)
class Stuff:
    """The material of the pieces: strength in tension along the layers, N/mm²."""

    tension_mpa: float

    @property
    def shear_mpa(self) -> float:
        """By the distortion energy hypothesis (von Mises): σ / √3."""
        return self.tension_mpa / math.sqrt(3)


@dataclass(frozen=True)
class Strength:
    """About how much a joint holds, in newtons, against what, and the formula's name."""

    newtons: float
    how: str
