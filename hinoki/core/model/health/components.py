"""Lumps of a surface: inside-out ones, overlapping ones, and specks."""

from dataclasses import dataclass
from itertools import combinations

import numpy as np

from hinoki.core.errors import OpenSurface
from hinoki.core.geometry.lumps import lumps_of
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.health.report import MOST_PLACES, Issue, Place

SPECK_SHARE = 1e-5
"""a lump below this share of the largest one's volume and across is a speck"""
SPECK_MM = 2.0
MOST_PAIRS = 400


@dataclass(frozen=True)
class Lump:
    """One connected part of a surface. `volume_mm3` is signed; `closed` says whether it means anything."""

    mesh: Mesh
    volume_mm3: float
    closed: bool
    low: Points
    high: Points

    @property
    def middle(self) -> Points:
        """Middle of its box."""
        return np.asarray((self.low + self.high) / 2)

    @property
    def across_mm(self) -> float:
        """Longest side of its box."""
        return float((self.high - self.low).max())


def split_lumps(mesh: Mesh) -> list[Lump]:
    """The connected parts of a surface, in the order of their first faces."""
    count, own = lumps_of(mesh)
    if count == 1:
        low, high = mesh.bounds
        return [Lump(mesh, mesh.volume_mm3, mesh.edges.closed, low, high)]
    order = np.argsort(own, kind="stable")
    starts = np.searchsorted(own[order], np.arange(count + 1))
    found = []
    for k in range(count):
        part = mesh.only(order[starts[k] : starts[k + 1]])
        low, high = part.bounds
        found.append(Lump(part, part.volume_mm3, part.edges.closed, low, high))
    return found


def specks_of(lumps: list[Lump]) -> list[int]:
    """Numbers of lumps that are tiny beside the largest."""
    if len(lumps) < 2:
        return []
    most = max(abs(lump.volume_mm3) for lump in lumps)
    across = max(lump.across_mm for lump in lumps)
    return [
        k
        for k, lump in enumerate(lumps)
        if abs(lump.volume_mm3) < SPECK_SHARE * most and lump.across_mm < max(SPECK_MM, 0.01 * across)
    ]


def inside_out(lumps: list[Lump]) -> list[int]:
    """Numbers of closed lumps whose faces look inwards although they are no cavity of another."""
    found = []
    for k, lump in enumerate(lumps):
        if not lump.closed or lump.volume_mm3 >= 0:
            continue
        around = [
            o
            for j, o in enumerate(lumps)
            if j != k and o.closed and o.volume_mm3 > 0 and (o.low <= lump.low).all() and (o.high >= lump.high).all()
        ]
        winding = sum(_winding(o.mesh, lump.mesh.vertices[:1]) for o in around)
        if winding < 0.5:
            found.append(k)
    return found


def _winding(mesh: Mesh, at: Points) -> float:
    import igl

    return float(igl.winding_number(mesh.vertices, mesh.faces, np.ascontiguousarray(at))[0])


def overlapping(lumps: list[Lump], least_mm3: float = 1e-3) -> list[tuple[int, int, float, Points]]:
    """Pairs of closed, outward lumps that share a volume: (one, other, mm³, middle of what they share)."""
    good = [k for k, lump in enumerate(lumps) if lump.closed and lump.volume_mm3 > 0]
    pairs = [
        (i, j)
        for i, j in combinations(good, 2)
        if (lumps[i].low < lumps[j].high).all() and (lumps[j].low < lumps[i].high).all()
    ]
    solids: dict[int, Solid | None] = {}
    found = []
    for i, j in pairs[:MOST_PAIRS]:
        for k in (i, j):
            if k not in solids:
                solids[k] = _solid(lumps[k].mesh)
        one, two = solids[i], solids[j]
        if one is None or two is None:
            continue
        shared = one.common(two)
        if shared.volume_mm3 > least_mm3:
            found.append((i, j, shared.volume_mm3, shared.centre_of_box))
    return found


def _solid(mesh: Mesh) -> Solid | None:
    try:
        return Solid.from_mesh(mesh)
    except OpenSurface:
        return None


def lump_issues(lumps: list[Lump]) -> list[Issue]:
    """Findings about the lumps of a surface."""
    found = []
    wrong = inside_out(lumps)
    if wrong:
        found.append(
            Issue(
                "surface-inside-out",
                "must-fix",
                len(wrong),
                {"lumps": len(lumps)},
                [_place(lumps[k]) for k in wrong[:MOST_PLACES]],
            )
        )
    specks = specks_of(lumps)
    if specks:
        found.append(
            Issue(
                "lumps-specks",
                "look-at",
                len(specks),
                {},
                [_place(lumps[k]) for k in specks[:MOST_PLACES]],
            )
        )
    return [*found, *_overlap_issues(lumps), *_count_issues(lumps, len(specks), wrong)]


def _overlap_issues(lumps: list[Lump]) -> list[Issue]:
    """Lumps that reach into each other."""
    found = []
    shared = overlapping(lumps)
    if shared:
        total = sum(v for _, _, v, _ in shared)
        found.append(
            Issue(
                "lumps-overlap",
                "look-at",
                len(shared),
                {"shared_cm3": float(total) / 1000},
                [Place(at, max(1.0, v ** (1 / 3)), None, f"{v:.1f} mm³ shared") for _, _, v, at in shared[:MOST_PLACES]],
            )
        )
    return found


def _count_issues(lumps: list[Lump], specks: int, wrong: list[int]) -> list[Issue]:
    """How many lumps and cavities there are."""
    found = []
    others = len(lumps) - specks
    cavities = sum(1 for k, lump in enumerate(lumps) if lump.closed and lump.volume_mm3 < 0 and k not in wrong)
    if others - cavities > 1:
        found.append(
            Issue(
                "surface-lumps",
                "note",
                others - cavities,
            )
        )
    if cavities:
        found.append(
            Issue(
                "surface-cavities",
                "note",
                cavities,
            )
        )
    return found


def _place(lump: Lump) -> Place:
    return Place(lump.middle, lump.across_mm / 2, None, f"{lump.across_mm:.2f} mm across")
