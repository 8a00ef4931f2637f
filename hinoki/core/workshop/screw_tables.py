"""Screws, nuts and inserts on sale: tables of hinoki/data/hardware by nominal diameter."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from hinoki.core.workshop.hardware import table

WOOD_HEAD = 2.0
"""head of a wood screw as a share of its diameter (common practice)"""
PILOT = 0.75
"""pilot bore of a wood screw as a share of its diameter, so that it cuts into plastic without splitting it (common practice)"""


@dataclass(frozen=True)
class Head:
    """A screw's head: its diameter and height in mm."""

    diameter_mm: float
    high_mm: float


@dataclass(frozen=True)
class Insert:
    """A heat-set insert: length, the bore it goes into, and the least boss around it, in mm."""

    length_mm: float
    bore_mm: float
    boss_mm: float


def head_of(size_mm: float, countersunk: bool) -> Head:
    """The head of a machine screw: ISO 4762, or ISO 7046. Raises KeyError for a size that has none."""
    return _heads("iso7046" if countersunk else "iso4762")[size_mm]


def clearance_hole_mm(size_mm: float) -> float:
    """The medium clearance hole of ISO 273."""
    return _column("iso273", "medium_mm")[size_mm]


def nut_of(size_mm: float) -> tuple[float, float]:
    """Width across flats and height of a nut of ISO 4032."""
    return _column("iso4032", "across_flats_mm")[size_mm], _column("iso4032", "high_mm")[size_mm]


def inserts_of(size_mm: float) -> list[Insert]:
    """Inserts for a size, short ones first; empty where none is common."""
    rows = [r for r in table("inserts") if float(r["size_mm"]) == size_mm]
    return [Insert(float(r["length_mm"]), float(r["bore_mm"]), float(r["boss_mm"])) for r in rows]


def lengths_of(size_mm: float) -> list[float]:
    """Nominal lengths on sale for a size, short ones first."""
    rows = [r for r in table("screw_lengths") if float(r["from_mm"]) <= size_mm <= float(r["to_mm"])]
    return sorted(float(r["length_mm"]) for r in rows)


@lru_cache(maxsize=8)
def _heads(name: str) -> dict[float, Head]:
    return {float(r["size_mm"]): Head(float(r["head_mm"]), float(r["head_high_mm"])) for r in table(name)}


@lru_cache(maxsize=8)
def _column(name: str, column: str) -> dict[float, float]:
    return {float(r["size_mm"]): float(r[column]) for r in table(name)}


Size = Literal["M2", "M2.5", "M3", "M4", "M5", "M6", "M8"]
