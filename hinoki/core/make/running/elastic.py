"""How springs and thin webs give way: rates, stresses and strains by the formulas of handbooks."""

import math
from dataclasses import dataclass

from hinoki.core.join.contract.snap_fits import POISSON
from hinoki.core.workshop.materials import Material

SHEAR_SHARE = 1 / math.sqrt(3)
"""of the strength in tension, what is borne in shear (von Mises)"""
SQUARE_STIFF, SQUARE_TORSION = 5.588, 2.404
"""of square wire: c = G a⁴ / (5.588 n D³), τ = 2.404 F D / a³ (EN 13906-1, from memory; as 0.1406 and 0.208 of Saint-Venant's
torsion of a square bar)"""


def shear_modulus_mpa(material: Material) -> float:
    """G = E / (2 (1 + ν)), N/mm²."""
    return material.modulus_mpa / (2 * (1 + POISSON))


@dataclass(frozen=True)
class Coil:
    """A cylindrical coil spring: wire and mean diameter of its turns, mm; how many turns give way."""

    wire_mm: float
    mean_mm: float
    turns: float
    square: bool = False

    @property
    def index(self) -> float:
        """Mean diameter to wire."""
        return self.mean_mm / self.wire_mm

    def rate_n_mm(self, shear_mpa: float) -> float:
        """c = G d⁴ / (8 n D³), of square wire G a⁴ / (5.588 n D³) (EN 13906-1)."""
        stiff = SQUARE_STIFF if self.square else 8.0
        return float(shear_mpa * self.wire_mm**4 / (stiff * self.turns * self.mean_mm**3))

    def stress_mpa(self, force_n: float) -> float:
        """The most shear, at the inner side of a turn: τ = k 8 F D / (π d³), of square wire k 2.404 F D / a³, with Wahl's
        factor k = (4 w − 1)/(4 w − 4) + 0.615 / w for the curvature (Wahl 1944)."""
        w = self.index
        wahl = (4 * w - 1) / (4 * w - 4) + 0.615 / w
        torsion = SQUARE_TORSION if self.square else 8 / math.pi
        return wahl * torsion * force_n * self.mean_mm / self.wire_mm**3


@dataclass(frozen=True)
class Web:
    """A thin web that bends evenly over its length: how long (along the bend), thick and wide (along the fold) it is, mm."""

    long_mm: float
    thick_mm: float
    wide_mm: float

    def strain(self, folded_deg: float) -> float:
        """The most, in its skins: ε = t / (2 R) with R = L / θ (a beam in pure bending)."""
        return self.thick_mm * math.radians(folded_deg) / (2 * self.long_mm)

    def moment_nmm(self, folded_deg: float, modulus_mpa: float) -> float:
        """What folds it, N·mm: M = E I θ / L with I = b t³ / 12."""
        return modulus_mpa * self.wide_mm * self.thick_mm**3 / 12 * math.radians(folded_deg) / self.long_mm
