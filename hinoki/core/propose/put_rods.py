"""Rods that hold what joints cannot: through the middle of a seam that bends, and on through all that lie along its line.

A rod is chosen as a maker would: as thick as the seams need, no thicker, as long as it must be held; where a peg stands in its
way, the rod takes its place and the face is glued.
"""

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.bending import SAFE_BENDING, Bent, bent_seams
from hinoki.core.check.check import check
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.findings import Finding
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.sections import largest_circle
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channel_cuts import MOST_SLENDER
from hinoki.core.join.channels.rod import RodWay
from hinoki.core.join.contract.pegs import PegJoint
from hinoki.core.join.contract.strength import Stuff
from hinoki.core.join.joint_edits import added
from hinoki.core.join.joints import ButtJoint, Joint
from hinoki.core.join.rods_across import embedded_mm, held_long_mm, rod_bears
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.propose.lay_pieces import Rebuild
from hinoki.core.workshop.hardware import table

OF = ("steel", "carbon")
"""what a rod is made of: the first that does"""
STEP_MM = 1.0
"""how finely it is looked at how far a rod may go"""
LONGEST_MM = 1000.0
"""rods are sold by the metre (common practice)"""
HELD_TIMES = 3.0
"""a rod is held on at least so many of its diameters (common practice)"""
WHOLE_MM = 5.0
"""lengths are cut to whole multiples of this where there is room"""
ROOMY = 0.95
"""places with so large a share of the most room are as good"""
MOST_TILT = math.cos(math.radians(60))
MOST_TRIED = 4
"""rods that are built and checked"""
IN_THE_WAY = ("way-meets-joint", "joint-no-room")
"""findings that tell that a joint and a rod want the same room"""
MOST_ROUNDS = 3
"""how often joints make room"""
BETTER = 1.5
"""a rod that makes a seam so many times as strong is worth it, though it does not do all"""


@dataclass(frozen=True)
class Rodded:
    """The plan with a rod, its name, the joints that made room for it, how many times what bends it the seam bears now; or why
    there is none."""

    plan: Plan
    rod: str = ""
    given_up: tuple[str, ...] = ()
    times: float = 0.0
    why: str = ""


@dataclass(frozen=True)
class _Line:
    """A straight line through the model: a point on a face, a direction, and how much room there is along it."""

    at: Points
    way: Points
    steps: Points
    """(n,) places along it, mm from the point"""
    room: Points
    """(n,) how far the surface of the model is away there; 0 outside"""


def with_rod(plan: Plan, built: Build, face_id: str, rebuild: Rebuild, cache: Cache, tell: Tell = quiet) -> Rodded:
    """A rod through the face that bears most of what bends it, and leaves nothing to be fixed that was not before."""
    seams = bent_seams(built)
    seam = next((s for s in seams if any(f.ref.id == face_id for f in s.load.faces)), None)
    if seam is None or built.whole is None:
        return Rodded(plan, why="Nothing tells what bends this seam: its pieces meet elsewhere, too.")
    if seam.times >= SAFE_BENDING:
        return Rodded(plan, why="This seam bears what bends it.")
    face = next(f for f in seam.load.faces if f.ref.id == face_id)
    weak = [s for s in seams if s.times < SAFE_BENDING and not s.opens]
    looking = part_of(tell, 0.0, 0.5)
    lines = _lines(built.whole, face, weak)
    rods = sorted(_rods(plan, lines, face, weak, looking), key=lambda r: (-round(r[0], 2), r[1].diameter_mm, r[1].long_mm))
    if not rods:
        least = f"{plan.least_wall_mm:g}"
        return Rodded(plan, why=f"No rod has room here with a wall of {least} mm. Part it where it is thicker.")
    known = {f.id for f in check(built, cache).findings}
    weak_yet: tuple[float, RodWay] | None = None
    for number, (_, rod) in enumerate(rods[:MOST_TRIED]):
        tell(0.5 + 0.5 * number / MOST_TRIED, f"Trying a {rod.label()}")
        found = _tried(plan, rod, rebuild, cache, known, face_id)
        if found is None:
            continue
        if found.times >= SAFE_BENDING or found.times > BETTER * seam.times:
            return found
        weak_yet = max(weak_yet or (0.0, rod), (found.times, rod), key=lambda r: r[0])
    if weak_yet is not None:
        times, rod = weak_yet
        why = f"With a {rod.label()}, all that has room here, the seam would bear {times:.1f} times what bends it, as against "
        return Rodded(plan, why=f"{why}{seam.times:.1f} without. Part it where it is thicker.")
    return Rodded(plan, why="The rods that have room here would be in the way of joints. Move those, or part it elsewhere.")


def _rods(
    plan: Plan, lines: Iterable[_Line], face: MatingFace, weak: Sequence[Bent], tell: Tell
) -> Iterator[tuple[float, RodWay]]:
    """For each line the thinnest rod that does, or else the one that does most, with how many weak seams it makes safe and what
    it bears of the others."""
    name = f"w{max((int(w.id[1:]) for w in plan.ways), default=0) + 1}"
    stuff, sizes = Stuff.of(plan.material), _sizes()
    for number, line in enumerate(lines):
        tell(number / (len(weak) + 1), "Looking where a rod has room")
        best: tuple[float, RodWay] | None = None
        for of, across in sizes:
            rod = _laid(
                plan, line, face, weak, RodWay(id=name, start_mm=(0, 0, 0), end_mm=(9, 9, 9), diameter_mm=across, of=of)
            )
            if rod is None:
                continue
            does = 0.0
            for seam in weak:
                held = [embedded_mm(f, rod) for f in seam.load.faces]
                bears = max((rod_bears(rod, min(h), stuff).nmm for h in held if h is not None), default=0.0)
                does += min(1.0, (bears + seam.glue_nmm) / (SAFE_BENDING * seam.load.nmm))
            if best is None or does > best[0] + 1e-6:
                best = does, rod
        if best is not None:
            yield best


def _sizes() -> list[tuple[str, float]]:
    """What rods are made of and their diameters, in the order in which they are tried."""
    rows = [(r["of"], float(r["across_mm"])) for r in table("rods") if r["shape"] == "round" and r["of"] in OF]
    return sorted(rows, key=lambda r: (OF.index(r[0]), r[1]))


def _lines(whole: Solid, face: MatingFace, weak: Sequence[Bent]) -> Iterator[_Line]:
    """Lines through the widest place of a face: square to it, and towards that of each other weak seam, the farthest first."""
    import igl

    at, mesh = _middle(face), whole.mesh
    others = [_middle(f) for s in weak for f in s.load.faces if f.ref.id != face.ref.id]
    ways = [face.frame.n, *(o - at for o in sorted(others, key=lambda o: -float(np.linalg.norm(o - at))))]
    tried: list[Points] = []
    for way in ways:
        unit = way / max(float(np.linalg.norm(way)), 1e-9)
        if abs(float(unit @ face.frame.n)) < MOST_TILT or any(abs(float(unit @ t)) > 1 - 1e-5 for t in tried):
            continue
        tried.append(unit)
        steps = np.arange(-LONGEST_MM, LONGEST_MM + STEP_MM, STEP_MM)
        reach = float(np.linalg.norm(whole.size))
        steps = steps[np.abs(steps) <= reach]
        points = np.ascontiguousarray(at + steps[:, None] * unit)
        squared = igl.point_mesh_squared_distance(points, mesh.vertices, mesh.faces)[0]
        crossed = whole.ray(at - unit * (reach + 1), at + unit * (reach + 1))
        inside = np.searchsorted(np.sort((crossed - at) @ unit), steps) % 2 == 1
        yield _Line(at, unit, steps, np.where(inside, np.sqrt(squared), 0.0))


def _middle(face: MatingFace) -> Points:
    """Where a face (3,) has about the most room; of several such places the one nearest to its middle."""
    radius, centre = largest_circle(face.shape)
    roomy = face.shape.buffer(-ROOMY * radius)
    at = centre if roomy.is_empty else np.array(shapely.shortest_line(roomy, face.shape.centroid).coords[0])
    return np.asarray(face.frame.world(at[None])[0])


def _laid(plan: Plan, line: _Line, face: MatingFace, weak: Sequence[Bent], rod: RodWay) -> RodWay | None:
    """A rod along a line, from where it has to be held to where it has to be; None where it has no room about the face."""
    clearance = max(plan.clearance_mm(rod.fits_by, part.key) for part in (face.a, face.b))
    enough = line.room >= rod.diameter_mm / 2 + clearance + plan.least_wall_mm
    here = int(np.argmin(np.abs(line.steps)))
    if not enough[here]:
        return None
    after, back = np.flatnonzero(~enough[here:]), np.flatnonzero(~enough[: here + 1])
    high = float(line.steps[here + after[0] - 1]) if len(after) else float(line.steps[-1])
    low = float(line.steps[back[-1] + 1]) if len(back) else float(line.steps[0])
    stuff = Stuff.of(plan.material)
    wanted_low, wanted_high = 0.0, 0.0
    for seam in weak:
        for one in seam.load.faces:
            rise = float(line.way @ one.frame.n)
            if abs(rise) < MOST_TILT:
                continue
            at = -float(one.frame.heights(line.at[None])[0]) / rise
            if low < at < high and abs(at) <= MOST_SLENDER * rod.diameter_mm / 2:
                most = min(SAFE_BENDING * seam.load.nmm, rod.bends_nmm or 0.0)
                held = max(HELD_TIMES * rod.diameter_mm, held_long_mm(most, rod.diameter_mm, stuff))
                wanted_low, wanted_high = min(wanted_low, at - held), max(wanted_high, at + held)
    wanted_low, wanted_high = max(low, wanted_low), min(high, wanted_high)
    long = min(WHOLE_MM * math.ceil((wanted_high - wanted_low) / WHOLE_MM), MOST_SLENDER * rod.diameter_mm)
    wanted_high = min(high, wanted_low + long)
    if min(-wanted_low, wanted_high) < rod.diameter_mm:
        return None
    ends = [tuple((np.round(line.at + t * line.way, 2) + 0.0).tolist()) for t in (wanted_low, wanted_high)]
    return rod.model_copy(update={"start_mm": ends[0], "end_mm": ends[1]})


def _tried(plan: Plan, rod: RodWay, rebuild: Rebuild, cache: Cache, known: set[str], face_id: str) -> Rodded | None:
    """The plan with a rod, joints that are in its way given up and their faces glued; None where that leaves more to fix."""
    now, given_up = plan.model_copy(update={"ways": (*plan.ways, rod)}), set[str]()
    for _ in range(MOST_ROUNDS):
        after = rebuild(now)
        found = [f for f in check(after, cache).findings if f.id not in known]
        fewer = _fewer(now, found)
        in_the_way = {f.joint for f in found if f.joint and f.code in IN_THE_WAY} - set(fewer)
        if in_the_way or fewer:
            given_up |= in_the_way | set(fewer)
            now = _glued_instead(now, in_the_way, fewer)
            continue
        if any(f.severity == "must-fix" for f in found):
            return None
        times = next((s.times for s in bent_seams(after) if any(f.ref.id == face_id for f in s.load.faces)), 0.0)
        return Rodded(now, rod.id, tuple(sorted(given_up)), times)
    return None


def _fewer(plan: Plan, found: Sequence[Finding]) -> dict[str, Joint]:
    """Joints, by name, with as many elements as there is room for beside a rod, where there is room for some."""
    rooms = {f.joint: f.params.get("room_for") for f in found if f.code == "joint-no-room"}
    return {
        j.id: j.model_copy(update={"count": room})
        for j in plan.joints
        if isinstance(room := rooms.get(j.id), int) and room > 0 and isinstance(j, PegJoint)
    }


def _glued_instead(plan: Plan, given_up: set[str], fewer: Mapping[str, Joint]) -> Plan:
    """Without some joints and with fewer elements in others; a face that has none left is glued."""
    faces = {j.face.id: j.face for j in plan.joints if j.id in given_up}
    kept = tuple(fewer.get(j.id, j) for j in plan.joints if j.id not in given_up)
    bare = [face for name, face in faces.items() if not any(j.face.id == name for j in kept)]
    return added(plan.model_copy(update={"joints": kept}), [ButtJoint(id="j1", face=face) for face in bare])
