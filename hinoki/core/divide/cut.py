"""The parting stage: the model's solid, cut by the partings in order, becomes pieces with stable keys."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from hinoki.core.cache import Cache
from hinoki.core.divide.partings import CutUp, Member, PartingBase
from hinoki.core.divide.partings.base import Cut, Reach, Remark, uncut
from hinoki.core.divide.snap_to_face import settle
from hinoki.core.errors import BadPlan
from hinoki.core.findings import Finding
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.solid import Solid
from hinoki.core.progress import Tell, along, quiet
from hinoki.core.stages import Keyed, key_of, stage

WHOLE = "whole"
MOST_PIECES = 2000


@dataclass(frozen=True)
class End:
    """A member plane a piece ends at: the piece lies below it (side -1) or above (side 1), `off_mm` away from it."""

    parting: str
    member: int
    side: int
    frame: Frame
    off_mm: float = 0.0

    @property
    def ends_at(self) -> Frame:
        """The plane in which the piece itself ends."""
        return self.frame.raised(self.side * self.off_mm) if self.off_mm else self.frame


@dataclass(frozen=True)
class Made:
    """What one parting did to a piece: its side of the parting, the numbers of the surfaces the cut made (from, to), and the
    direction (3,) in which the piece comes off the others, where no plane tells it."""

    parting: str
    side: str
    surfaces: tuple[int, int]
    off: tuple[float, float, float] | None = None


@dataclass(frozen=True)
class Part:
    """A piece before joints: its key, its solid, where it ends, the cuts that made it, and the hash of all that."""

    key: str
    solid: Solid
    made_by: str
    ends: tuple[End, ...] = ()
    made: tuple[Made, ...] = ()

    @property
    def fingerprint(self) -> object:
        """Its key, which tells where it ends, and what made it."""
        return self.key, self.made_by

    @property
    def body(self) -> Keyed[Solid]:
        """Its solid alone, whatever the piece is called."""
        return Keyed(self.solid, self.made_by)


@dataclass(frozen=True)
class Change:
    """What a parting changes in the cut list: pieces it cut, and pieces that came of them."""

    cut: int
    into: int
    mm3_lost: float = 0.0


@dataclass
class Parted:
    """The pieces, the planes and the effect of every parting that cuts, and what was noticed."""

    parts: list[Part]
    members: dict[str, list[Member]] = field(default_factory=dict)
    changes: dict[str, Change] = field(default_factory=dict)
    findings: list[Finding] = field(default_factory=list)

    @property
    def lost_mm3(self) -> float:
        """What the partings took away on purpose, such as the gap around a hatch."""
        return sum(c.mm3_lost for c in self.changes.values())


@dataclass(frozen=True)
class _Done:
    """A cut as remembered: the lumps of every side, what was said, and the numbers of the surfaces it made."""

    sides: tuple[tuple[Cut, tuple[Solid, ...]], ...]
    remarks: tuple[Remark, ...]
    surfaces: tuple[int, int]


def part_model(
    solid: Solid,
    made_by: str,
    partings: Sequence[PartingBase],
    cache: Cache,
    progress: Tell = quiet,
) -> Parted:
    """Apply `partings` in order.

    A piece's key is the path of sides that led to it; `.n` tells several lumps of one side apart.
    Raises BadPlan when more than MOST_PIECES pieces would come of it.
    """
    out = Parted([Part(WHOLE, solid, made_by)])
    seen: list[tuple[Frame, PartingBase]] = []
    for parting in along(partings, progress, lambda k: f"Cutting at {partings[k].label()}"):
        if not parting.on:
            continue
        chosen = [p for p in out.parts if parting.only is None or p.key in parting.only]
        _say_missing(parting, out)
        if chosen:
            _apply(parting, chosen, out, seen, cache)
    return out


def part_further(parts: Sequence[Part], parting: PartingBase, cache: Cache) -> list[Part]:
    """The pieces after one more parting. Raises BadPlan as part_model does."""
    out = Parted(list(parts))
    chosen = [p for p in parts if parting.only is None or p.key in parting.only]
    if chosen:
        _apply(parting, chosen, out, [], cache)
    return out.parts


def _apply(parting: PartingBase, chosen: list[Part], out: Parted, seen: list[tuple[Frame, PartingBase]], cache: Cache) -> None:
    members = parting.members(Reach([p.solid for p in chosen]))
    members, remarks = settle(members, [p.body for p in chosen], cache)
    out.members[parting.id] = members
    twice = _same_place(parting, members, seen)
    out.findings += twice
    chosen_keys = {p.key for p in chosen}
    parts: list[Part] = []
    cut = into = 0
    lost = 0.0
    for part in out.parts:
        if part.key not in chosen_keys:
            parts.append(part)
            continue
        made, said = _cut(part, parting, members, cache)
        remarks += [r for r in said if r not in remarks]
        if made != [part]:
            cut, into = cut + 1, into + len(made)
            if parting.takes_away:
                lost += part.solid.volume_mm3 - sum(p.solid.volume_mm3 for p in made)
        parts += made
        if len(parts) > MOST_PIECES:
            raise BadPlan(
                f"{parting.label()} would bring the model to more than {MOST_PIECES} pieces. Use fewer partings.",
                f"parting {parting.id}",
            )
    remarks = [r for r in remarks if cut or r.code != "parting-settled"]
    out.findings += [_remarked(parting, remark) for remark in remarks]
    if not cut and not twice and not remarks:
        out.findings.append(_misses(parting))
    out.changes[parting.id] = Change(cut, into, lost)
    out.parts = parts


def _cut(part: Part, parting: PartingBase, members: list[Member], cache: Cache) -> tuple[list[Part], tuple[Remark, ...]]:
    """The parts of a piece."""
    key, done = _cut_now.with_key(cache, part.body, parting, members)
    if len(done.sides) == 1 and done.sides[0][0].side == "":
        return [part], done.remarks
    planes = {m.number: m for m in members}
    parts = []
    for cut, lumps in done.sides:
        for number, lump in enumerate(lumps, start=1):
            name = f"{parting.id}{cut.side}" + (f".{number}" if len(lumps) > 1 else "")
            ends = tuple(End(parting.id, m, side, planes[m].frame, (planes[m].beside_mm or 0.0) / 2) for m, side in cut.ends)
            path = name if part.key == WHOLE else f"{part.key} {name}"
            made = Made(parting.id, cut.side, done.surfaces, cut.off)
            parts.append(Part(path, lump, key_of(key, cut.side, number), (*part.ends, *ends), (*part.made, made)))
    return parts, done.remarks


@stage("cut", weigh=lambda done: sum(cut.solid.triangles for cut, _ in done.sides))
def _cut_now(body: Keyed[Solid], parting: PartingBase, members: Sequence[Member]) -> _Done:
    """A body cut; even spacing's planes depend on what it reaches, so they count beside the parting."""
    first = Solid.next_surface()
    up: CutUp = parting.cut(body.value, members)
    sides = tuple((cut, lumps) for cut in up.cuts if (lumps := _lumps(cut)))
    if len(sides) == 1 < len(up.cuts):  # the other side has nothing left once it is tidied up
        (whole,) = uncut(body.value).cuts
        sides = ((whole, (whole.solid,)),)
    return _Done(sides, up.remarks, (first, Solid.next_surface()))


def _lumps(cut: Cut) -> tuple[Solid, ...]:
    """What a side is parted into: its lumps, those of nothing but rounding left out."""
    lumps = (cut.solid,) if cut.whole else cut.solid.lumps()
    return tuple(lump for lump in lumps if lump.triangles and lump.volume_mm3 > 0)


def _remarked(parting: PartingBase, remark: Remark) -> Finding:
    return Finding(
        severity=remark.severity,
        code=remark.code,
        station="divide",
        parting=parting.id,
        params={"label": parting.label(), **remark.params},
    )


def _say_missing(parting: PartingBase, out: Parted) -> None:
    gone = sorted(set(parting.only or ()) - {p.key for p in out.parts})
    if gone:
        out.findings.append(
            Finding(
                severity="look-at",
                code="parting-piece-gone",
                station="divide",
                parting=parting.id,
                params={"gone": gone},
            )
        )


def _misses(parting: PartingBase) -> Finding:
    return Finding(
        severity="must-fix",
        code="parting-misses",
        station="divide",
        parting=parting.id,
        params={"label": parting.label(), "case": "model" if parting.only is None else "pieces"},
    )


def _same_place(parting: PartingBase, members: Sequence[Member], seen: list[tuple[Frame, PartingBase]]) -> list[Finding]:
    """Findings for planes that an earlier parting already cuts at, for some of the same pieces."""
    found = []
    planes = [m for m in members if m.beside_mm is None]
    for member in planes:
        for frame, other in seen:
            shared = parting.only is None or other.only is None or set(parting.only) & set(other.only)
            if shared and frame.same_plane(member.frame):
                found.append(
                    Finding(
                        severity="must-fix",
                        code="parting-twice",
                        station="divide",
                        parting=parting.id,
                        params={"label": parting.label(), "other": other.id.upper(), "other_label": other.label()},
                        about=other.id,
                    )
                )
                break
    seen.extend((m.frame, parting) for m in planes)
    return found
