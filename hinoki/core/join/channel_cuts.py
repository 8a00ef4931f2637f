"""The ways of a plan in its pieces: what they cut, where they come out of the model, and what they meet."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import MatingFace, face_label
from hinoki.core.findings import Finding, Params, Severity
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channels import WayBase
from hinoki.core.join.contract.terms import Direction, direction_of
from hinoki.core.join.insertion import Pair, agreed, by_pair
from hinoki.core.join.joints import SIDES
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.walls import NOTHING_MM3
from hinoki.core.plan.plan import Plan
from hinoki.core.stages import Keyed, stage

MOST_SLENDER = 150.0
"""a rod longer than so many times its diameter bends under its own weight (common practice)"""
ENTRY = 3.0
"""how many diameters of it may stand out at an end"""
HIDDEN_WAYS = np.array([(x, y, z) for x in (-1, 0, 1) for y in (-1, 0, 1) for z in (-1, 0, 1) if x or y or z], dtype=np.float64)
FAR_MM = 1e4


@dataclass(frozen=True)
class Bored:
    """A way, its bore, and the pieces (their keys) it goes through."""

    way: WayBase
    bore: Solid
    key: str
    clearance_mm: float = 0.0
    pieces: list[str] = field(default_factory=list)

    def joins(self, face: MatingFace) -> bool:
        """Whether it goes through both pieces of a face."""
        return face.a.key in self.pieces and face.b.key in self.pieces


def bored(plan: Plan, parts: Sequence[Part], cache: Cache) -> list[Bored]:
    """The bores of all ways, and which pieces each of them meets."""
    found = []
    for way in plan.ways:
        clearance = max((plan.clearance_mm(way.fits_by, p.key) for p in parts), default=0.0)
        key, bore = _bore.with_key(cache, way, clearance)
        one = Bored(way, bore, key, clearance)
        for part in parts:
            if part.solid.box_meets(bore) and _goes_through(cache, Keyed(bore, key), part.body):
                one.pieces.append(part.key)
        found.append(one)
    return found


@stage("way", weigh=lambda bore: bore.triangles)
def _bore(way: WayBase, clearance_mm: float) -> Solid:
    """What a way cuts out of the pieces."""
    return way.bore(clearance_mm)


@stage("met")
def _goes_through(bore: Keyed[Solid], body: Keyed[Solid]) -> bool:
    """Whether a bore takes anything of a piece."""
    return _meets(body.value, bore.value)


def way_findings(
    ways: Sequence[Bored], placed: Sequence[PlacedJoint], whole: Solid, numbers: Mapping[str, int]
) -> list[Finding]:
    """Ways that come out of the model, meet joints, bend too tightly, or go through nothing."""
    found: list[Finding] = []
    for one in ways:
        way = one.way
        if not one.pieces:
            found.append(_about(way, "way-misses", "look-at"))
            continue
        tight = way.tight_mm()
        if tight is not None:
            found.append(_about(way, "way-too-tight", "look-at", {"radius_mm": float(tight)}))
        across = way.diameter_mm
        if way.kind == "rod" and way.long_mm > MOST_SLENDER * across:
            found.append(_about(way, "way-slender", "look-at", {"times": way.long_mm / across}))
        found += _outside(one, whole, across)
        for joint in placed:
            if not joint.joint.wanted:  # it runs all round: a way may go through a rim
                found += _through_rim(one, joint, numbers)
                continue
            sides = [s for s in SIDES if joint.part(s).key in one.pieces]
            tools = [t for s in sides for t in joint.tools.of(s) if t.cut is not None or t.add is not None]
            hit = next((t for t in tools if _touches(t.cut or t.add, one.bore)), None)
            if hit is not None:
                params: Params = {"name": joint.name(hit.index), "face": face_label(joint.face, numbers)}
                found.append(_about(way, "way-meets-joint", "must-fix", params, joint.joint.id))
    return found


def _through_rim(one: Bored, joint: PlacedJoint, numbers: Mapping[str, int]) -> list[Finding]:
    """What a way takes of a rim that it goes through, along the outline."""
    rims = [t.add for s in SIDES if joint.part(s).key in one.pieces for t in joint.tools.of(s) if t.add is not None]
    taken = [rim.common(one.bore) for rim in rims if rim.box_meets(one.bore)]
    lost = [t for t in taken if t.volume_mm3 > NOTHING_MM3]
    if not lost:
        return []
    long = max(float(np.hypot(*(t.placed(joint.standing.frame.to_frame).size[:2]))) for t in lost)
    params: Params = {"joint": joint.joint.label(), "face": face_label(joint.face, numbers), "long_mm": long}
    return [_about(one.way, "way-through-rim", "note", params, joint.joint.id)]


def rod_motions(ways: Sequence[Bored], faces: Sequence[MatingFace]) -> dict[Pair, frozenset[Direction]]:
    """For each two pieces that meet and that a rod goes through: along it, either way."""
    found: dict[Pair, frozenset[Direction]] = {}
    for one in ways:
        if one.way.kind != "rod":
            continue
        line = np.subtract(one.way.end_mm, one.way.start_mm)
        way = line / np.linalg.norm(line)
        along = frozenset((direction_of(way), direction_of(-way)))
        for face in faces:
            if one.joins(face):
                pair = face.a.key, face.b.key
                found[pair] = found[pair] & along if pair in found else along
    return found


def rod_findings(
    rods: Mapping[Pair, frozenset[Direction]], placed: Sequence[PlacedJoint], numbers: Mapping[str, int]
) -> list[Finding]:
    """Pieces that joints let go together in one way, and their rods in another."""
    found: list[Finding] = []
    together = by_pair(placed)
    for pair, along in rods.items():
        joints = together.get(pair, [])
        allowed = agreed(joints)
        screws = next((p for p in joints if p.joint.turns), None)
        if (allowed is None or allowed & along) and screws is None and along:
            continue
        faces = "|".join(str(n) for n in sorted(numbers[key] for key in pair))
        other = (screws or joints[0]).joint.label() if joints else "other rods"
        params: Params = {"pieces": faces, "other": other}
        found.append(Finding(severity="must-fix", code="way-at-odds", station="join", params=params, about=faces))
    return found


def _outside(one: Bored, whole: Solid, across: float) -> list[Finding]:
    """Where its bore leaves the model between its ends; a hollow inside is no outside."""
    ends = np.array([one.way.start_mm, one.way.end_mm])
    for lump in one.bore.minus([whole]).lumps():
        if lump.volume_mm3 <= NOTHING_MM3:
            continue
        low, high = lump.bounds
        middle = (low + high) / 2
        near = np.linalg.norm(np.maximum(np.maximum(low - ends, ends - high), 0.0), axis=1).min()
        # an entry: the end of the way, and no more
        short = not one.way.ends_inside or float(np.linalg.norm(high - low)) < ENTRY * across
        if (near < across and short) or _hidden(whole, middle):
            continue
        by = min(float(np.min(high - low)), across)
        at = (round(float(middle[0]), 2), round(float(middle[1]), 2), round(float(middle[2]), 2))
        return [_about(one.way, "way-comes-out", "must-fix", {"by_mm": by}, at=at)]
    return []


def _hidden(whole: Solid, point: np.ndarray) -> bool:
    """Whether the model lies all round a point: it is in a hollow, not outside."""
    ways = HIDDEN_WAYS / np.linalg.norm(HIDDEN_WAYS, axis=1, keepdims=True)
    return all(len(whole.ray(point, point + FAR_MM * way)) for way in ways)


def _about(
    way: WayBase,
    code: str,
    severity: Severity,
    params: Params | None = None,
    joint: str | None = None,
    at: tuple[float, float, float] | None = None,
) -> Finding:
    every: Params = {"way": way.label(), **(params or {})}
    return Finding(severity=severity, code=code, station="join", params=every, joint=joint, about=way.id, at_mm=at)


def _meets(solid: Solid, bore: Solid) -> bool:
    return solid.common(bore).volume_mm3 > NOTHING_MM3


def _touches(tool: Solid | None, bore: Solid) -> bool:
    return tool is not None and tool.box_meets(bore) and _meets(tool, bore)
