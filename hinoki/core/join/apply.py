"""The join stage: joints are placed on their faces, checked, and applied to the pieces."""

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.divide.partings import DetachParting
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import JUST_INSIDE_MM
from hinoki.core.join.joints import SIDES, Joint, Place, Problem, SideName, Standing, Tools
from hinoki.core.join.keying import asymmetric
from hinoki.core.join.nearby_bores import NearbyBore, bores_near, channels_near
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.placing import Depths, auto_places
from hinoki.core.join.reinforcement import Ground, bossed
from hinoki.core.join.walls import NOTHING_MM3, Weak, weak_tools
from hinoki.core.plan.plan import Plan
from hinoki.core.stages import Keyed, stage
from hinoki.core.workshop.fits import Fit

NOTHING_MM2 = 1e-3
CRUMB_MM3 = 0.5
"""a separate lump under this that a joint left is no part of the piece"""
HAIR_MM = 1e-4
"""far above the rounding of coordinates, far below anything that can be seen"""
NO_HOLLOW = Problem("joint-collar", severity="note")
CUT_STAYS = Problem("joint-cut-printed", severity="must-fix")


def place_joints(
    plan: Plan,
    faces: Sequence[MatingFace],
    ground: Ground,
    cache: Cache,
    progress: Callable[[float, str], None],
    known: Sequence[PlacedJoint] = (),
) -> tuple[list[PlacedJoint], list[Joint]]:
    """All joints whose face is there, placed and checked, off the ways of `ground`; and the joints whose face is not.

    Those that are `known` stand where they do, before all others.
    """
    by_id = {face.ref.id: face for face in faces}
    placed = [replace(one, clashes=[]) for one in known]
    unplaced: list[Joint] = []
    used: dict[str, int] = defaultdict(int)
    order = {joint.id: k for k, joint in enumerate((*(one.joint for one in known), *plan.joints))}
    for step, joint in enumerate(sorted(plan.joints, key=lambda j: j.placed_after)):
        progress(step / max(1, len(plan.joints)), f"Placing {joint.label()}")
        face = by_id.get(joint.face.id)
        if face is None:
            unplaced.append(joint)
        else:
            placed.append(_place(joint, face, plan, placed, ground, cache))
    placed.sort(key=lambda one: order[one.joint.id])
    for one in placed:
        one.first_letter = used[one.face.ref.id]
        used[one.face.ref.id] += len(one.places)
    _find_clashes(placed)
    return placed, sorted(unplaced, key=lambda joint: order[joint.id])


def standing_on(face: MatingFace, plan: Plan, fit: Fit, own_clearance_mm: float | None = None) -> Standing:
    """Where a joint stands on a face: with a clearance of its own, or that of its fit for the two pieces' printers."""
    keys = face.a.key, face.b.key
    return Standing(
        face.frame,
        face.shape,
        plan.clearance_mm(fit, *keys) if own_clearance_mm is None else own_clearance_mm,
        plan.least_wall_mm,
        max(plan.printer_of(key).line_mm for key in keys),
        face.thick_at,
        face.top_at,
        Depths(face),
        face.off,
        face.apart_mm,
        crossed=face.crossed,
    )


def best_side(face: MatingFace, plan: Plan) -> SideName:
    """The piece on which male parts point up most: by the side it was chosen to lie on, else as the model stands. A feature
    that was detached keeps the face it comes off at, to stand on, as long as neither side was chosen."""
    chosen = any(note.down for key in (face.a.key, face.b.key) if (note := plan.pieces.get(key)))
    if not chosen and any(p.id == face.ref.parting and isinstance(p, DetachParting) for p in plan.partings):
        return "a"

    def up(key: str) -> np.ndarray:
        note = plan.pieces.get(key)
        return -np.array(note.down) if note and note.down else np.array([0.0, 0.0, 1.0])

    on_a, on_b = float(face.frame.n @ up(face.a.key)), float(-face.frame.n @ up(face.b.key))
    return "a" if on_a >= on_b - 1e-6 else "b"


@dataclass
class Shaping:
    """What else shapes a piece besides its joints (its marks): what it gains, what it loses, and the hash of that."""

    adds: list[Solid] = field(default_factory=list)
    cuts: list[Solid] = field(default_factory=list)
    keys: list[str] = field(default_factory=list)

    @property
    def fingerprint(self) -> object:
        """What made it."""
        return self.keys


def joined(part: Part, placed: Sequence[PlacedJoint], cache: Cache, more: Shaping | None = None) -> Part:
    """The piece with its joints: what they add, without what they cut, in two batched kernel calls."""
    own = [(p, side) for p in placed for side in SIDES if p.part(side).key == part.key and p.tools.of(side)]
    more = more or Shaping()
    if not own and not more.keys:
        return part
    key, solid = _apply.with_key(cache, part.body, own, more)
    return Part(part.key, solid, key, part.ends)


def falls_apart(part: Part, placed: Sequence[PlacedJoint], cache: Cache) -> bool:
    """Whether joints leave a piece in more lumps than it has without them."""
    return may_sever(part, placed) and len(joined(part, placed, cache).solid.lumps()) > len(part.solid.lumps())


def may_sever(part: Part, placed: Sequence[PlacedJoint]) -> bool:
    """Whether what joints cut of a piece may go through all there is, or what they add may hang free; bores lie within the
    material."""
    own = [(one, side) for one in placed for side in SIDES if one.part(side).key == part.key]
    return any(side in one.gains or any(t.bore is None and t.cut is not None for t in one.tools.of(side)) for one, side in own)


@stage("join", weigh=lambda solid: solid.triangles)
def _apply(body: Keyed[Solid], own: Sequence[tuple[PlacedJoint, SideName]], more: Shaping) -> Solid:
    """A piece with what its joints and marks add, and without what they take."""
    solid = body.value
    adds = list(more.adds)
    cuts = list(more.cuts)
    for placed, side in own:
        if side in placed.gains:
            adds.append(placed.gains[side])
        other = placed.part("b" if side == "a" else "a").solid
        doubtful = {weak.tool.index for weak in placed.weak if weak.through_mm is not None} | set(placed.beside)
        for tool in placed.tools.of(side):
            if tool.add is not None and (tool.clipped or tool.index in doubtful):
                # A ∪ (add ∩ (A ∪ B)) = A ∪ (add ∩ B): only what may stick out of B pays for the clipping. B is moved into A by
                # a hair: where the face slants, rounding would leave a slit between the two
                adds.append(
                    tool.add.common(other.moved(*(HAIR_MM * (placed.face.frame.n if side == "b" else -placed.face.frame.n))))
                )
            elif tool.add is not None:
                adds.append(tool.add)
            if tool.cut is not None:
                cuts.append(tool.cut)
    done = solid.plus(adds).minus(cuts)
    return done.without_crumbs(CRUMB_MM3) if any(p.joint.leaves_crumbs for p, _ in own) else done


def _place(
    joint: Joint, face: MatingFace, plan: Plan, before: Sequence[PlacedJoint], ground: Ground, cache: Cache
) -> PlacedJoint:
    joint = joint.placed_on(best_side(face, plan))
    kept = _kept(face, before)

    def on(face: MatingFace) -> Standing:
        return replace(standing_on(face, plan, joint.fit, joint.clearance_mm), kept=kept)

    standing, bare = on(face), face.shape
    wish = joint.collar(standing)
    grown = ground.collared(face, wish, cache) if wish else None
    if grown:
        face = grown.face
        standing = on(face)
    near = [*bores_near(joint, face, standing, before), *channels_near(face, ground)]
    places, room = _chosen_places(cache, joint, face, standing, near)
    if grown and wish and wish.around_mm is not None:
        grown = bossed(grown, bare, places, wish)
        face, standing = grown.face, on(grown.face)
    placeless = joint.model_copy(update={"places": None})  # chosen or given, the same places have the same tools
    key, (tools, weak, problems, beside) = _made.with_key(cache, placeless, face, standing, places)
    if wish and not grown:
        problems = [*problems, NO_HOLLOW]
    gains = grown.gains if grown else {}
    return PlacedJoint(joint, face, standing, places, tools, room, key, problems, weak, beside, gains=gains, bare=bare)


@stage("placed")
def _chosen_places(
    joint: Joint, face: MatingFace, standing: Standing, near: Sequence[NearbyBore]
) -> tuple[list[Place], MultiPolygon]:
    """Where the elements of a joint stand: where the maker put them, else spread; and the room they have."""
    taken = [(n.side, n.cut) for n in near]
    places, room = auto_places(joint, Depths(face), standing, taken)
    if joint.places is not None:
        return list(joint.places), room
    if joint.turns_never:
        apart = joint.apart_mm + 2 * standing.clearance_mm + standing.least_wall_mm
        places = asymmetric(joint, standing, places, room, apart)
    return places, room


@stage("tools", 2, weigh=lambda made: 400 * len(made[0].each) + 100)
def _made(
    joint: Joint, face: MatingFace, standing: Standing, places: Sequence[Place]
) -> tuple[Tools, list[Weak], list[Problem], list[int]]:
    """The tools of a joint at its places, those that leave too little wall, what it notices itself, and those of its elements
    that do not stand wholly on the face."""
    tools = _beyond_gap(_tools(joint, standing, places), standing)
    on_face = {i for i, place in enumerate(places) if shapely.contains_xy(face.shape, *place)}
    weak = [
        weak
        for side in SIDES
        for weak in weak_tools(tools.of(side), face.part(side).solid, standing.least_wall_mm, on_face, standing.frame)
    ]
    cannot = joint.cut_as_printed_mm is not None and joint.thinner(standing.clearance_mm - joint.cut_as_printed_mm) is None
    problems = joint.problems(standing, places, Depths(face))
    return tools, weak, [*problems, CUT_STAYS] if cannot else list(problems), _beside(joint, standing, places)


def _kept(face: MatingFace, before: Sequence[PlacedJoint]) -> shapely.Geometry:
    """What of a face the joints that were placed on it take for themselves."""
    own = [o.joint.keeps(o.standing, place) for o in before if o.face.ref.id == face.ref.id for place in o.places]
    return shapely.union_all(own) if own else MultiPolygon()


def _tools(joint: Joint, standing: Standing, places: Sequence[Place]) -> Tools:
    """The tools of a joint; where its cut is printed already and stays, its male parts are thinner by what is asked more."""
    printed = joint.cut_as_printed_mm
    thin = None if printed is None else joint.thinner(standing.clearance_mm - printed)
    if printed is None or thin is None:
        return joint.tools(standing, places)
    as_printed = replace(standing, clearance_mm=printed)
    return joint.tools(as_printed, places).with_male_of(thin.tools(as_printed, places))


def _beyond_gap(tools: Tools, standing: Standing) -> Tools:
    """The tools with their guards where the pieces are: what of a bore lies between two pieces needs no material."""
    if not standing.apart_mm:
        return tools
    frame, half = standing.frame, standing.apart_mm / 2 + JUST_INSIDE_MM
    ends = {"a": Frame(frame.origin, frame.v, frame.u, -frame.n).raised(half), "b": frame.raised(half)}
    each = []
    for tool in tools.each:
        bore, around = (guard and guard.ahead_of(ends[tool.side]) for guard in (tool.bore, tool.around))
        each.append(replace(tool, bore=bore, around=around))
    return Tools(each, tools.loose)


def _beside(joint: Joint, standing: Standing, places: Sequence[Place]) -> list[int]:
    if not joint.within_face:
        return []
    feet = [joint.footprint(standing, place) for place in places]
    return [
        i for i, foot in enumerate(feet) if foot.is_empty or foot.difference(standing.shape.buffer(0.02)).area > NOTHING_MM2
    ]


def _find_clashes(placed: Sequence[PlacedJoint]) -> None:
    """Note every pair of cuts that meet inside one piece, and of loose parts beside the walls with what others put there."""
    _find_loose_clashes(placed)
    in_piece: dict[str, list[tuple[PlacedJoint, int, Solid]]] = defaultdict(list)
    for one in placed:
        for side in SIDES:
            for tool in one.tools.of(side):
                if tool.cut is not None:
                    in_piece[one.part(side).key].append((one, tool.index, tool.bore or tool.cut))
    for bores in in_piece.values():
        for i, (one, index, bore) in enumerate(bores):
            for other, other_index, other_bore in bores[i + 1 :]:
                if one is other and index == other_index:
                    continue
                if bore.box_meets(other_bore) and bore.common(other_bore).volume_mm3 > NOTHING_MM3:
                    one.clashes.append((index, other.joint.id, other_index))


def _find_loose_clashes(placed: Sequence[PlacedJoint]) -> None:
    """Note every loose part that lies beside its pieces where a collar or an ear of another joint is, or another loose part."""
    beside = [_beside_pieces(one) for one in placed]
    for i, one in enumerate(placed):
        for k, other in enumerate(placed):
            if i == k or not beside[i]:
                continue
            keys = {one.face.a.key, one.face.b.key}
            bodies = [body for side, body in other.gains.items() if other.part(side).key in keys]
            bodies += beside[k] if i < k else []
            for solid in beside[i]:
                meets = [m for b in bodies if solid.box_meets(b) and (m := solid.common(b)).volume_mm3 > NOTHING_MM3]
                if meets:
                    first, second = (one, other) if i < k else (other, one)
                    at = meets[0].centre_of_mass
                    first.clashes.append((_nearest(first, at), second.joint.id, _nearest(second, at)))


def _beside_pieces(one: PlacedJoint) -> list[Solid]:
    """The loose parts of a joint that lies in no cut of its own."""
    return [] if any(tool.cut is not None for tool in one.tools.each) else [loose.solid for loose in one.tools.loose]


def _nearest(one: PlacedJoint, at: np.ndarray) -> int:
    """The element of a joint that is nearest to a point (3,)."""
    if not one.places:
        return 0
    return int(np.argmin(np.linalg.norm(one.standing.frame.world(np.array(one.places)) - at, axis=1)))
