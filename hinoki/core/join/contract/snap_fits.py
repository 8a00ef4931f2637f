"""Snap fits: how far hooks and rims are strained as they go in, and with which force they bend, go in and let go.

A hook is a beam `long_mm` long, `wide_mm` wide and `thick_mm` thick at its root, bent at its end by `bent_mm`. The formulas are
those of the design guides that makers of plastics publish for snap fits (there as y = 0.67 ε L²/t, and y = 1.09 ε L²/t for a
beam half as thick at its end; from memory). Both follow from the beam equation for a load at the end, which tests integrate.
"""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from hinoki.core.geometry.mesh import Points

STRAIGHT, TAPERED = 2 / 3, 16 * math.log(2) - 10
"""how far a beam bends, in ε L²/t: equally thick all along, and half as thick at its end"""
FRICTION = 0.4
"""of a printed plastic on itself (0.3 to 0.5, from memory)"""
LEAST_CATCH_MM = 0.3
"""what catches less than this lets go by itself (common practice)"""
POISSON = 0.35
"""of common plastics (handbooks, from memory)"""
OFTEN = 0.6
"""of the strain that is permissible once, what is permissible often (common practice; as in those guides, from memory)"""


@dataclass(frozen=True)
class Flex:
    """How far something is strained as it goes in, which share of the strain that is permissible once it may have, and whether
    its fibres run along the normal of the face or round in it."""

    strain: float
    share: float
    fibres: Literal["along the normal", "round the face"]


@dataclass(frozen=True)
class Cantilever:
    """A beam, lengths in mm; `tapered`: half as thick at its end."""

    long_mm: float
    wide_mm: float
    thick_mm: float
    tapered: bool

    def strain(self, bent_mm: float) -> float:
        """The largest strain, at its root: ε = t y / (k L²)."""
        return self.thick_mm * bent_mm / ((TAPERED if self.tapered else STRAIGHT) * self.long_mm**2)

    def force_n(self, bent_mm: float, modulus_mpa: float) -> float:
        """The force at its end, across it: P = b t²/6 · E ε / L."""
        return self.wide_mm * self.thick_mm**2 / 6 * modulus_mpa * self.strain(bent_mm) / self.long_mm


@dataclass(frozen=True)
class Ring:
    """A round rim that is widened or narrowed at its edge, lengths in mm: the radius of its middle, and its thickness."""

    radius_mm: float
    thick_mm: float

    def strain(self, by_mm: float) -> float:
        """Round it, of a radius that changes by so much: ε = y / r."""
        return by_mm / self.radius_mm

    def force_n(self, by_mm: float, modulus_mpa: float) -> float:
        """The force at its edge, outwards all round: P = 2 π r · 2 β³ D y with D = E t³/(12 (1 − ν²)) and
        β⁴ = 3 (1 − ν²)/(r t)², a long cylindrical shell with a shear force at its edge (Timoshenko and Woinowsky-Krieger,
        Theory of Plates and Shells, from memory)."""
        stiff = 1 - POISSON**2
        bending = modulus_mpa * self.thick_mm**3 / (12 * stiff)
        beta = (3 * stiff) ** 0.25 / math.sqrt(self.radius_mm * self.thick_mm)
        return float(2 * math.pi * self.radius_mm * 2 * beta**3 * bending * by_mm)


@dataclass(frozen=True)
class BowedSide:
    """The side of a wall between two corners that hold it, bent out at its free edge, lengths in mm: from where it is pushed to
    the nearest corner, and its thickness."""

    free_mm: float
    thick_mm: float

    def strain(self, by_mm: float) -> float:
        """Along its edge: ε = 3.75 t y / s², a plate held at both sides and pushed at its free edge (by Ritz's method, which a
        test works out; a beam held at both ends has 3)."""
        return 3.75 * self.thick_mm * by_mm / self.free_mm**2

    def force_n(self, by_mm: float, modulus_mpa: float) -> float:
        """What bends it so far: P = 0.91 E t³ y / s², by the same."""
        return 0.91 * modulus_mpa * self.thick_mm**3 * by_mm / self.free_mm**2


@dataclass(frozen=True)
class PushedRing:
    """A round rim that is pushed outwards or inwards at `count` ≥ 2 places spread evenly, lengths in mm: the radius of its
    middle, and its thickness.

    With θ = π/count the moment under each load W is W r/2 · (1/θ − cot θ), and the radius there changes by W r³/(E I) ·
    ((θ + sin θ cos θ)/(4 sin² θ) − 1/(2 θ)) (Roark's Formulas for Stress and Strain, circular rings, from memory).
    """

    radius_mm: float
    thick_mm: float
    count: int

    @property
    def _moves(self) -> float:
        """How far its radius changes, in W r³/(E I)."""
        angle = math.pi / self.count
        return (angle + math.sin(angle) * math.cos(angle)) / (4 * math.sin(angle) ** 2) - 1 / (2 * angle)

    def strain(self, by_mm: float) -> float:
        """At each place, round it: ε = M t / (2 E I)."""
        angle = math.pi / self.count
        bends = (1 / angle - 1 / math.tan(angle)) / 2
        return bends / self._moves * self.thick_mm * by_mm / (2 * self.radius_mm**2)

    def force_n(self, by_mm: float, modulus_mpa: float) -> float:
        """What all of them together push with, where as much of the wall bends with the rim as of a flat side: 0.45 times half
        the way from one place to the next."""
        high = 0.45 * math.pi * self.radius_mm / self.count
        stiff = modulus_mpa * high * self.thick_mm**3 / 12
        return self.count * stiff * by_mm / (self._moves * self.radius_mm**3)


def along_n(across_n: float, slope_deg: float, friction: float = FRICTION) -> float:
    """The force along a beam that bends it by a slope at `slope_deg` to its length: W = P (μ + tan α) / (1 − μ tan α).

    Infinite where the slope locks: at 90°, and wherever friction holds, tan α ≥ 1/μ.
    """
    tan = math.tan(math.radians(slope_deg)) if slope_deg < 90 else math.inf
    return math.inf if friction * tan >= 1 else across_n * (friction + tan) / (1 - friction * tan)


def bent_at(share: float) -> float:
    """How far a straight beam is bent at a share of its length, as a share of that at its end: s² (3 − s) / 2; straight
    beyond its end."""
    return 1.5 * share - 0.5 if share > 1 else max(0.0, share) ** 2 * (3 - max(0.0, share)) / 2


def freed_at_once(places: Points, looks: Points) -> bool:
    """Whether one small move along the face frees all hooks: each held sideways and before its nose, free to give way behind
    it. `places` (n, 2) and the unit ways their noses look (n, 2).

    A move is a slide and a turn (dx, dy, ω); a point p moves by (dx − ω p_y, dy + ω p_x). Whether there is one
    is asked of a linear programme.
    """
    from scipy.optimize import linprog

    middle = places.mean(axis=0)
    reach = max(1.0, float(np.abs(places - middle).max()))
    p = (places - middle) / reach

    def rows(ways: Points) -> Points:
        return np.column_stack([ways, ways[:, 1] * p[:, 0] - ways[:, 0] * p[:, 1]])

    beside = np.column_stack([-looks[:, 1], looks[:, 0]])
    one, none = np.ones(len(p)), np.zeros(len(p))
    found = linprog(np.zeros(3), A_ub=rows(looks), b_ub=-one, A_eq=rows(beside), b_eq=none, bounds=[(None, None)] * 3)
    return bool(found.status == 0)
