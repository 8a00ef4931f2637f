"""Hardware: what is bought. Tables with their sources stand in hinoki/data/hardware."""

import csv
import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources
from typing import Literal

MagnetShape = Literal["disc", "ring", "block"]
GLUE_POINT = "glue point"
MU_0 = 4e-7 * math.pi
"""permeability of empty space, T·m/A"""


@dataclass(frozen=True)
class Hardware:
    """Something to buy: what it is, such as “magnet disc 10 × 3”, how many, and a length to cut it to, where it is cut."""

    name: str
    count: int
    length_mm: float | None = None


@dataclass(frozen=True)
class Magnet:
    """A magnet on sale: discs and rings by diameter, blocks by length and width; the remanence of its grade in tesla."""

    shape: MagnetShape
    diameter_mm: float
    thick_mm: float
    width_mm: float = 0.0
    hole_mm: float = 0.0
    remanence_t: float = 1.3

    @property
    def name(self) -> str:
        """Such as “magnet disc 10 × 3”."""
        across = f"{self.diameter_mm:g}"
        if self.shape == "block":
            across += f" × {self.width_mm:g}"
        if self.shape == "ring":
            across += f"/{self.hole_mm:g}"
        return f"magnet {self.shape} {across} × {self.thick_mm:g}"

    @property
    def area_mm2(self) -> float:
        """Of one pole."""
        if self.shape == "block":
            return self.diameter_mm * self.width_mm
        return math.pi / 4 * (self.diameter_mm**2 - (self.hole_mm**2 if self.shape == "ring" else 0.0))

    def most_pull_n(self) -> float:
        """Upper bound of the pull on an equal magnet in contact, in newtons: B²·A / (2·µ0) with its remanence (textbook)."""
        return self.remanence_t**2 * self.area_mm2 * 1e-6 / (2 * MU_0)

    def pull_n(self, gap_mm: float) -> float:
        """An estimate of the pull on an equal magnet across a gap, in newtons.

        The stress B²/(2·µ0) over the pole's area, with the field halfway between the two on their axis, each of them taken
        for a disc of the same area magnetised along its axis: B = Br/2 · ((t + z)/√(r² + (t + z)²) − z/√(r² + z²)) at z from
        its pole (textbook).
        """
        r, t, z = math.sqrt(self.area_mm2 / math.pi), self.thick_mm, gap_mm / 2
        field = self.remanence_t * ((t + z) / math.hypot(r, t + z) - z / math.hypot(r, z))
        return field**2 * self.area_mm2 * 1e-6 / (2 * MU_0)


def table(name: str) -> list[dict[str, str]]:
    """The rows of a table in hinoki/data/hardware, its lines of remarks left out."""
    text = (resources.files("hinoki.data") / "hardware" / f"{name}.csv").read_text()
    return list(csv.DictReader(line for line in text.splitlines() if not line.startswith("#")))


@lru_cache(maxsize=1)
def magnets() -> tuple[Magnet, ...]:
    """The magnets commonly on sale, in the order of the table."""
    return tuple(
        Magnet(
            shape=row["shape"],  # type: ignore[arg-type]
            diameter_mm=float(row["diameter_mm"]),
            thick_mm=float(row["thick_mm"]),
            width_mm=float(row["width_mm"] or 0),
            hole_mm=float(row["hole_mm"] or 0),
            remanence_t=float(row["remanence_t"]),
        )
        for row in table("magnets")
    )


SPARE_FOR = 10
"""one more is bought for every so many, since small things get lost"""


def spares_of(item: Hardware) -> int:
    """How many more to have at hand: none of what is cut to length, or of glue."""
    return 0 if item.length_mm is not None or item.name == GLUE_POINT else math.ceil(item.count / SPARE_FOR)


def added_up(items: Iterable[Hardware]) -> list[Hardware]:
    """One line for each thing and length, by name."""
    counts: dict[tuple[str, float | None], int] = {}
    for item in items:
        key = item.name, item.length_mm
        counts[key] = counts.get(key, 0) + item.count
    return [
        Hardware(name, count, length)
        for (name, length), count in sorted(counts.items(), key=lambda c: (c[0][0], c[0][1] or 0.0))
    ]


BarShape = Literal["round", "square"]


@lru_cache(maxsize=1)
def rod_strengths() -> dict[str, float]:
    """What rods bear of bending by what they are made of, N/mm²."""
    return {row["of"]: float(row["bends_mpa"]) for row in table("rod_strengths")}


def rod_name(shape: BarShape, across_mm: float, of: str) -> str:
    """What a rod is called: “rod ø4, steel”."""
    return f"{'square ' if shape == 'square' else ''}rod {across(shape, across_mm)}, {of}"


def across(shape: BarShape, size_mm: float) -> str:
    """How wide a bar is, as it is written: “ø4” for a round one, “□4” for a square one."""
    return f"{'ø' if shape == 'round' else '□'}{size_mm:g}"
