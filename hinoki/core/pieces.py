"""The parting stage: the model's solid, cut by the partings in order, becomes pieces with stable keys."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np

from hinoki.core.cache import Cache, key_of
from hinoki.core.errors import BadPlan
from hinoki.core.findings import Finding
from hinoki.core.frames import Frame
from hinoki.core.mesh import Points
from hinoki.core.partings import Member, PartingBase
from hinoki.core.solid import Solid

WHOLE = "whole"
MOST_PIECES = 2000


@dataclass(frozen=True)
class End:
    """A member plane a piece ends at: the piece lies below it (side -1) or above (side 1)."""

    parting: str
    member: int
    side: int
    frame: Frame


@dataclass(frozen=True)
class Part:
    """A piece before joints: its key, its solid, where it ends, and the hash of all that made it."""

    key: str
    solid: Solid
    made_by: str
    ends: tuple[End, ...] = ()


@dataclass
class Parted:
    """The pieces, the planes of every parting that cuts, and what was noticed."""

    parts: list[Part]
    members: dict[str, list[Member]] = field(default_factory=dict)
    findings: list[Finding] = field(default_factory=list)


def part_model(
    solid: Solid,
    made_by: str,
    partings: Sequence[PartingBase],
    cache: Cache,
    progress: Callable[[float, str], None] = lambda _f, _p: None,
) -> Parted:
    """Apply `partings` in order.

    A piece's key is the path of sides that led to it; `.n` tells several lumps of one side apart.
    Raises BadPlan when more than MOST_PIECES pieces would come of it.
    """
    out = Parted([Part(WHOLE, solid, made_by)])
    seen: list[tuple[Frame, PartingBase]] = []
    for step, parting in enumerate(partings):
        progress(step / max(1, len(partings)), f"Cutting at {parting.label()}")
        if not parting.on:
            continue
        chosen = [p for p in out.parts if parting.only is None or p.key in parting.only]
        _say_missing(parting, out)
        if not chosen:
            continue
        low, high = _reach([p.solid for p in chosen])
        members = parting.members(low, high)
        out.members[parting.id] = members
        out.findings += _same_place(parting, members, seen)
        chosen_keys = {p.key for p in chosen}
        parts: list[Part] = []
        for part in out.parts:
            parts += _cut(part, parting, members, cache) if part.key in chosen_keys else [part]
            if len(parts) > MOST_PIECES:
                raise BadPlan(
                    f"{parting.label()} would bring the model to more than {MOST_PIECES} pieces. Use fewer partings.",
                    f"parting {parting.id}",
                )
        if len(parts) == len(out.parts):
            out.findings.append(_misses(parting))
        out.parts = parts
    return out


def _cut(part: Part, parting: PartingBase, members: list[Member], cache: Cache) -> list[Part]:
    # even spacing's planes depend on what it reaches, so they count too
    shape = parting.model_dump(mode="json", exclude={"id", "name", "on", "only"})
    key = key_of("cut", part.made_by, shape, _planes(members))
    cuts = cache.get(
        key,
        lambda: [(cut, cut.solid.lumps()) for cut in parting.cut(part.solid, members)],
        lambda found: sum(cut.solid.triangles for cut, _ in found),
    )
    if len(cuts) == 1 and cuts[0][0].side == "":
        return [part]
    frames = {m.number: m.frame for m in members}
    parts = []
    for cut, lumps in cuts:
        for number, lump in enumerate(lumps, start=1):
            name = f"{parting.id}{cut.side}" + (f".{number}" if len(lumps) > 1 else "")
            ends = tuple(End(parting.id, m, side, frames[m]) for m, side in cut.ends)
            path = name if part.key == WHOLE else f"{part.key} {name}"
            parts.append(Part(path, lump, key_of(key, cut.side, number), (*part.ends, *ends)))
    return parts


def _planes(members: Sequence[Member]) -> list[list[float]]:
    return [[*m.frame.origin.tolist(), *m.frame.n.tolist()] for m in members]


def _reach(solids: Sequence[Solid]) -> tuple[Points, Points]:
    return np.min([s.bounds[0] for s in solids], axis=0), np.max([s.bounds[1] for s in solids], axis=0)


def _say_missing(parting: PartingBase, out: Parted) -> None:
    gone = sorted(set(parting.only or ()) - {p.key for p in out.parts})
    if gone:
        out.findings.append(
            Finding(
                severity="look-at",
                code="parting-piece-gone",
                station="divide",
                parting=parting.id,
                message=f"{parting.id.upper()} is set to cut a piece that is not there now "
                f"({', '.join(gone)}). It comes back when that piece does; or choose other pieces.",
            )
        )


def _misses(parting: PartingBase) -> Finding:
    what = "the model" if parting.only is None else "the pieces it is set to cut"
    return Finding(
        severity="must-fix",
        code="parting-misses",
        station="divide",
        parting=parting.id,
        message=f"{parting.id.upper()} ({parting.label()}) misses {what}. Move it, or take it out.",
    )


def _same_place(parting: PartingBase, members: Sequence[Member], seen: list[tuple[Frame, PartingBase]]) -> list[Finding]:
    """Findings for planes that an earlier parting already cuts at, for some of the same pieces."""
    found = []
    for member in members:
        for frame, other in seen:
            shared = parting.only is None or other.only is None or set(parting.only) & set(other.only)
            if shared and same_plane(frame, member.frame):
                found.append(
                    Finding(
                        severity="must-fix",
                        code="parting-twice",
                        station="divide",
                        parting=parting.id,
                        message=f"{parting.id.upper()} ({parting.label()}) lies in the same place as "
                        f"{other.id.upper()} ({other.label()}). Move one of them, or take it out.",
                    )
                )
                break
    seen.extend((m.frame, parting) for m in members)
    return found


def same_plane(one: Frame, two: Frame, within_mm: float = 1e-3) -> bool:
    """Whether two frames lie in one plane, whichever way they look."""
    facing = float(one.n @ two.n)
    return abs(facing) > 1 - 1e-9 and abs(one.offset - np.sign(facing) * two.offset) < within_mm
