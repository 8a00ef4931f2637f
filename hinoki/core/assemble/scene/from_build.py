"""The scene of a build: its pieces, loose parts, fasteners and channels as parts that are put together."""

from collections.abc import Sequence

import numpy as np

from hinoki.core.assemble.scene.parts import Door, Gives, Held, Scene, Thread, Unit, UnitKind
from hinoki.core.build import Build
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channel_cuts import Bored
from hinoki.core.join.contract.terms import Direction, direction_of
from hinoki.core.join.giving_way import given_way, gives
from hinoki.core.join.joints import SIDES, HingeJoint, ScrewJoint
from hinoki.core.join.opening.swings import axis_of
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.walls import NOTHING_MM3
from hinoki.core.orient.resting.default_resting import printed_together
from hinoki.core.stages import key_of


def scene_of(built: Build) -> Scene:
    """The units of a build. Pieces carry their piece key as id; what is printed as one, that of the lowest number."""
    scene = Scene(numbers=dict(built.numbers))
    together = printed_together(built.placed)
    by_key = {p.key: p for p in built.parts}
    names = {p.key: p.name for p in built.pieces}
    unit_of: dict[str, str] = {}
    for part in sorted(built.parts, key=lambda p: scene.numbers[p.key]):
        if part.key in unit_of:
            continue
        keys = sorted(together.get(part.key, {part.key}), key=lambda k: scene.numbers[k])
        numbers = tuple(scene.numbers[k] for k in keys)
        scene.units[part.key] = Unit(
            id=part.key,
            kind="piece",
            name=" + ".join(names.get(k, k) for k in keys),
            solids=tuple(by_key[k].solid for k in keys),
            made_by=key_of("unit", [by_key[k].made_by for k in keys]),
            keys=tuple(keys),
            numbers=numbers,
        )
        unit_of |= dict.fromkeys(keys, part.key)
        scene.printed += [(k, keys[0]) for k in keys[1:]]
    for face in built.faces:
        _meet(scene, unit_of[face.a.key], unit_of[face.b.key], face.shape.area)
    numbered = {n: k for k, n in scene.numbers.items()}
    for piece in built.pieces:
        for other in piece.neighbours:
            _meet(scene, unit_of[piece.key], unit_of[numbered[other]], 0.0)
    _planes(scene, built, unit_of)
    for placed_joint in built.placed:
        _joint(scene, placed_joint, unit_of)
    for way in built.ways:
        _way(scene, way, built, unit_of)
    return scene


def _meet(scene: Scene, a: str, b: str, area: float) -> None:
    if a != b:
        pair = frozenset((a, b))
        scene.together[pair] = scene.together.get(pair, 0.0) + area


def _planes(scene: Scene, built: Build, unit_of: dict[str, str]) -> None:
    for part in built.before:
        for end in part.ends:
            if end.side < 0:
                plane = direction_of(end.frame.n), round(end.frame.offset, 4)
                if plane not in scene.planes:
                    scene.planes.append(plane)
    for part in built.before:
        found = [reach_of(part.solid.mesh.vertices, plane) for plane in scene.planes]
        known = scene.reaches.setdefault(unit_of[part.key], found)
        both = zip(known, found, strict=True)
        scene.reaches[unit_of[part.key]] = [(min(a[0], b[0]), max(a[1], b[1])) for a, b in both]
    for part in built.before:
        for made in part.made:
            if made.off is not None:
                scene.off[unit_of[part.key]] = made.parting, direction_of(np.array(made.off))


def reach_of(vertices: Points, plane: tuple[Direction, float]) -> tuple[float, float]:
    """How far points (n, 3) reach below and above a plane, given by its normal and its distance from the origin, mm."""
    heights = vertices @ np.array(plane[0]) - plane[1]
    return float(heights.min()), float(heights.max())


def _joint(scene: Scene, placed_joint: PlacedJoint, unit_of: dict[str, str]) -> None:
    a, b = (unit_of[placed_joint.part(side).key] for side in SIDES)
    joint, standing = placed_joint.joint, placed_joint.standing
    there = bool(placed_joint.places) or joint.wanted == 0
    if a == b or not there:
        return
    normal = direction_of(standing.frame.n)
    motions = joint.motions(standing)
    loose_name = joint.loose_name()
    free = joint.turns or (loose_name is not None and bool(placed_joint.tools.loose))
    scene.held.append(
        Held(
            joint=joint.id,
            label=joint.label(),
            kind=joint.kind,
            a=a,
            b=b,
            motions=None if motions is None or free else frozenset(motions),
            normal=normal,
            glued=joint.kind == "butt" and bool(getattr(joint, "glue", "")),
            press=joint.fit == "press" and joint.kind not in ("butt", "magnet", "screw"),
            pull_n=float(getattr(joint, "pull_n", lambda: 0.0)()) * len(placed_joint.places) if joint.kind == "magnet" else 0.0,
            area_mm2=placed_joint.face.shape.area,
        )
    )
    _gives(scene, placed_joint, a, b)
    loose = _loose(scene, placed_joint, a, b) if loose_name is not None else []
    _threads(scene, placed_joint, a, b, loose)
    if isinstance(joint, ScrewJoint):
        _screws(scene, placed_joint, a, b)
    if isinstance(joint, HingeJoint) and not joint.prints_together:
        _pin(scene, placed_joint, a, b)


def _threads(scene: Scene, placed_joint: PlacedJoint, a: str, b: str, loose: Sequence[str]) -> None:
    """What is turned off what: one unit off the other, or loose parts off both, or off the piece they lock in."""
    joint, frame = placed_joint.joint, placed_joint.standing.frame
    normal, back = direction_of(frame.n), direction_of(-frame.n)
    spots = [(float(x), float(y), float(z)) for x, y, z in frame.world(np.array(placed_joint.places).reshape(-1, 2))]
    if joint.turn is not None:
        pairs = [(a, b, normal)] if not loose else [(a, loose[0], normal), (b, loose[0], back)]
        for inner, outer, axis in pairs:
            scene.threads.append(Thread(joint.id, inner, outer, spots[0], axis, joint.turn))
    if joint.loose_turn is not None:
        inner, axis = (a, normal) if joint.turned_in == "a" else (b, back)
        for own, spot in zip(loose, spots, strict=True):
            scene.threads.append(Thread(joint.id, inner, own, spot, axis, joint.loose_turn))


def _gives(scene: Scene, placed_joint: PlacedJoint, a: str, b: str) -> None:
    """What of either unit bends while the two go together; of several joints between them all of it."""
    if not gives(placed_joint):
        return
    for unit, other, side in ((a, b, SIDES[0]), (b, a, SIDES[1])):
        straight, bent = given_way(placed_joint.tools, side)
        if not straight and not bent:
            continue
        before = scene.gives.get((unit, other), Gives((), (), ""))
        made_by = key_of("gives", before.made_by, placed_joint.made_by)
        scene.gives[unit, other] = Gives(before.straight + straight, before.bent + bent, made_by)


def _loose(scene: Scene, placed_joint: PlacedJoint, a: str, b: str) -> list[str]:
    """The loose parts of a joint, those that lie alike as one unit; their ids."""
    groups: dict[tuple[Direction, int], list[Solid]] = {}
    for index, loose in enumerate(placed_joint.tools.loose):
        alone = index if placed_joint.joint.loose_turn is not None else 0  # each is turned by itself
        groups.setdefault((loose.way or direction_of(loose.flat[2, :3]), alone), []).append(loose.solid)
    ids = []
    for k, ((up, _), solids) in enumerate(groups.items()):
        name = placed_joint.joint.loose_name() or "loose part"
        own = f"{placed_joint.joint.id} loose{f' {k + 1}' if k else ''}"
        n = placed_joint.standing.frame.n
        ways = (direction_of(n), direction_of(-n), up, direction_of(-np.array(up)))
        count = len(solids)
        scene.units[own] = Unit(
            id=own,
            kind="loose",
            name=f"{count} × {name}" if count > 1 else name,
            solids=tuple(solids),
            made_by=key_of("unit", placed_joint.made_by, own.partition(" ")[2]),
            joins=frozenset((a, b)),
            joint=placed_joint.joint.id,
            ways=tuple(dict.fromkeys(ways)),
            count=count,
        )
        ids.append(own)
        for piece in (a, b):
            _meet(scene, own, piece, 0.0)
    return ids


def _screws(scene: Scene, placed_joint: PlacedJoint, a: str, b: str) -> None:
    joint = placed_joint.joint
    if not isinstance(joint, ScrewJoint):
        return
    bodies = joint.bought(placed_joint.standing, placed_joint.places)
    out = direction_of(joint.axis(placed_joint.standing, placed_joint.places[0]))
    names = [h.name for h in joint.hardware(placed_joint.standing, placed_joint.places) if "screw" in h.name]
    if not bodies:
        return
    own = f"{joint.id} screws"
    scene.units[own] = Unit(
        id=own,
        kind="screw",
        name=f"{len(bodies)} × {names[0]}" if names else "screws",
        solids=tuple(body.solid.placed(body.matrix) for body in bodies),
        made_by=key_of("unit", placed_joint.made_by, "screws"),
        joins=frozenset((a, b)),
        joint=joint.id,
        ways=(out,),
        only=out,
        count=len(bodies),
    )
    for piece in (a, b):
        _meet(scene, own, piece, 0.0)


def _pin(scene: Scene, placed_joint: PlacedJoint, a: str, b: str) -> None:
    axis = axis_of(placed_joint)
    bodies = placed_joint.joint.bought(placed_joint.standing, placed_joint.places)
    if axis is None or not bodies or not isinstance(placed_joint.joint, HingeJoint):
        return
    own = f"{placed_joint.joint.id} pin"
    scene.units[own] = Unit(
        id=own,
        kind="pin",
        name=f"hinge {bodies[0].name}",
        solids=tuple(body.solid.placed(body.matrix) for body in bodies),
        made_by=key_of("unit", placed_joint.made_by, "pin"),
        joins=frozenset((a, b)),
        joint=placed_joint.joint.id,
        ways=(direction_of(axis.frame.n), direction_of(-axis.frame.n)),
    )
    scene.doors.append(Door(placed_joint.joint.id, b, a, axis, placed_joint.joint.opens_deg, own))
    for piece in (a, b):
        _meet(scene, own, piece, 0.0)


def _way(scene: Scene, one: Bored, built: Build, unit_of: dict[str, str]) -> None:
    # its bore is open beyond its ends: only what the wire or rod itself runs in counts
    body = one.way.body()
    met = [p.key for p in built.before if p.key in one.pieces and p.solid.common(body).volume_mm3 > NOTHING_MM3]
    joins = list(dict.fromkeys(unit_of[k] for k in met))
    if not joins:
        return
    path = one.way.path()
    ends = path[-1] - path[0]
    along = direction_of(ends / np.linalg.norm(ends))
    kinds: dict[str, UnitKind] = {"rod": "rod", "cable": "cable", "stand": "stand"}
    name = one.way.label() if one.way.kind != "cable" else f"wire, {one.way.long_mm:.0f} mm in its tunnel"
    scene.units[one.way.id] = Unit(
        id=one.way.id,
        kind=kinds[one.way.kind],
        name=name,
        solids=(body,),
        made_by=key_of("unit", one.key),
        joins=frozenset(joins),
        ways=(along, direction_of(-np.array(along))),
        path=tuple((float(x), float(y), float(z)) for x, y, z in path),
    )
    for piece in joins:
        _meet(scene, one.way.id, piece, 0.0)
