"""What joints hold: estimates by textbook formulas, named as such."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.polygons import rectangle_sides
from hinoki.core.workshop.materials import Material

ACROSS_LAYERS = 0.5
"""strength between layers as a share of that along them (common practice)"""
WAYS = 72
"""ways a face is bent that are looked at"""
GLUE_MPA = 5.0
"""shear strength of a glued seam in plastic, N/mm² (common practice for quick glues)"""


@dataclass(frozen=True)
class Stuff:
    """The material of the pieces: strength in tension along the layers, and modulus of elasticity, N/mm²."""

    tension_mpa: float
    modulus_mpa: float = Material().modulus_mpa

    @classmethod
    def of(cls, material: Material) -> "Stuff":
        """What joints are told of a material."""
        return cls(material.tension_mpa, material.modulus_mpa)

    @property
    def shear_mpa(self) -> float:
        """By the distortion energy hypothesis (von Mises): σ / √3."""
        return self.tension_mpa / math.sqrt(3)


@dataclass(frozen=True)
class Strength:
    """About how much a joint holds, in newtons, against what, and the formula's name."""

    newtons: float
    how: str


@dataclass(frozen=True)
class Bears:
    """About which bending moment a joint bears, in N mm, and the formula's name."""

    nmm: float
    how: str


def section_modulus_mm3(shape: MultiPolygon) -> float:
    """The least elastic section modulus of a section, whichever way it is bent, in mm³.

    Bent obliquely the stress at a corner p from the middle is at most M · |A⁻¹ p|, A the second moments of area ∫ p pᵀ
    (Navier's formula for both principal axes at once; moments of parts brought to the middle of all by parallel axes).
    """
    from trimesh.path.polygons import second_moments

    parts = [p for p in shape.geoms if p.area > 0]
    if not parts:
        return 0.0
    middle = np.array(shape.centroid.coords[0])
    about = np.zeros((2, 2))
    for part in parts:
        (across_x, across_y, both), *_ = second_moments(part, return_centered=True)
        away = np.array(part.centroid.coords[0]) - middle
        # trimesh gives ∫y², ∫x² and ∫xy about the centroid
        about += np.array([[across_y, both], [both, across_x]]) + part.area * np.outer(away, away)
    corners = shapely.get_coordinates(shape) - middle
    return float(1 / np.linalg.norm(np.linalg.solve(about, corners.T), axis=0).max())


def pulled_apart(newtons: float, shape: MultiPolygon, places: Sequence[tuple[float, float]], how: str) -> Bears:
    """What elements bear that hold together `newtons` against pull, the same each, the worst way the face is bent.

    The face opens about its edge, and each element pulls as far as it is from there: M = F · Σ y² / y of the farthest, as of
    bolts of a bracket that tips (Shigley, *Mechanical Engineering Design*, from memory). Without places all of them pull over
    half of the least width.
    """
    if not places:
        _, shorter = rectangle_sides(shape)
        return Bears(newtons * float(np.linalg.norm(shorter)) / 2, f"{how}, over half the width")
    turns = 2 * np.pi * np.arange(WAYS) / WAYS
    ways = np.column_stack([np.cos(turns), np.sin(turns)])
    edge = (shapely.get_coordinates(shape) @ ways.T).max(axis=0)
    far = np.maximum(edge - np.array(places) @ ways.T, 0.0)  # (places, ways)
    arms = (far**2).sum(axis=0) / np.maximum(far.max(axis=0), 1e-9)
    return Bears(newtons / len(places) * float(arms.min()), f"{how}, about the edge, F·Σy²/y")
