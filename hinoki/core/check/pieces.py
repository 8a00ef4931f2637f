"""Findings about pieces: those that do not fit, those without a joint, settings for pieces that are gone."""

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.fixes import joint_fixes, shifts
from hinoki.core.divide.mating_faces import MatingFace, face_label
from hinoki.core.divide.partings import LapParting
from hinoki.core.findings import Finding, Fix, Params
from hinoki.core.join.apply import falls_apart, may_sever
from hinoki.core.join.contract.terms import direction_of
from hinoki.core.join.joints import ButtJoint
from hinoki.core.join.tiles.tiles import faces_held
from hinoki.core.orient.resting.piece import Piece
from hinoki.core.orient.resting.resting_faces import LEAST_CONTACT_MM2
from hinoki.core.plan.batch_settings import LADDER, loose_key, thing_of
from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.parts import MIRRORED, own_keys
from hinoki.core.plan.plan import Plan

BALANCE = 1e-6
MOST_SIDES = 8
"""other sides of a piece that are looked at"""


def _glued(face: MatingFace) -> Fix:
    joint = ButtJoint(id="j1", face=face.ref)
    return Fix(kind="add-joint", code="glue", joint=joint.model_dump(mode="json"))


def _gone(build: Build) -> list[str]:
    """Keys of pieces that something was set for, and that are not there now."""
    plan = build.plan
    loose = {loose_key(item.name) for item in build.loose}
    pinned = [key for key, laid in plan.batching.laid.items() if laid.pinned and not key.startswith(LADDER)]
    by_hand = {thing_of(key) for key in (*pinned, *plan.batching.copies)}
    if plan.parts:  # what is laid or copied of other parts, or comes of several, is not known here
        own = own_keys(plan.part_id, dict.fromkeys(by_hand, 0))
        by_hand = {key.removesuffix(MIRRORED) for key in own if not key.startswith(loose_key(""))}
    noted = {k for k, n in plan.pieces.items() if n.name or n.down or n.printer_id or n.material_id}
    return sorted((noted | by_hand) - set(build.numbers) - loose)


def _unsteady(piece: Piece, build: Build, cache: Cache) -> Finding:
    """A piece that would fall over while it prints, with another side it stands on where there is one."""
    other = next((r for r in build.resting(cache).rests(piece.key)[:MOST_SIDES] if r.fits and r.stands), None)
    down = None if other is None else direction_of(other.down)
    fixes = () if down is None else (Fix(kind="rest", code="stands", pieces=(piece.key,), down=down),)
    rest = piece.rest
    point = bool(rest.contact_mm2 < LEAST_CONTACT_MM2)
    params: Params = {"name": piece.name, "contact_mm2": float(rest.contact_mm2)}
    if not point:
        params |= {"tip_deg": float(rest.tip_deg)}
    return Finding(
        severity="must-fix" if point else "look-at",
        code="piece-unsteady",
        station="orient",
        piece=piece.number,
        params=params,
        fixes=fixes,
    )


def piece_findings(build: Build, cache: Cache) -> list[Finding]:
    """Everything noticed about the pieces of a build."""
    found = [_over(piece, build) if not piece.fits else _unsteady(piece, build, cache) for piece in _lying_badly(build)]
    found += [_bare(face, build) for face in _without_joint(build)]
    found += [_waiting(key, build.plan) for key in _gone(build)] if build.state == "whole" else _open(build)
    found += _in_bits(build, cache)
    balance = build.balance
    if balance is not None and balance.relative_error > BALANCE:
        found.append(
            Finding(
                severity="must-fix",
                code="volume-lost",
                station="check",
                params={"share": balance.relative_error},
            )
        )
    return found


def _in_bits(build: Build, cache: Cache) -> list[Finding]:
    """Pieces that joints leave in several bits, at each joint that does so alone; hinges tell of their knuckles themselves."""
    found, done = [], {part.key: part.solid for part in build.parts}
    for part in build.before:
        own = [one for one in build.placed if part.key in (one.face.a.key, one.face.b.key)]
        if not may_sever(part, own) or len(done[part.key].lumps()) <= len(part.solid.lumps()):
            continue
        alone = [one for one in own if falls_apart(part, [one], cache)] or own
        for one in (one for one in alone if one.joint.kind != "hinge"):
            found.append(
                Finding(
                    severity="must-fix",
                    code="joint-severs",
                    station="join",
                    face=face_label(one.face, build.numbers),
                    joint=one.joint.id,
                    params={"joint": one.joint.label(), "piece": build.numbers[part.key]},
                    about=part.key,
                    fixes=joint_fixes(one),
                )
            )
    return found


def _lying_badly(build: Build) -> list[Piece]:
    """Pieces that are over their bed, or would not stand on it."""
    printer_of = build.plan.printer_of
    return [
        p
        for p in build.pieces
        if not p.fits or (build.state == "whole" and not p.rest.stands and printer_of(p.key).process == "filament")
    ]


def _over(piece: Piece, build: Build) -> Finding:
    printer = build.plan.printer_of(piece.key)
    return Finding(
        severity="must-fix",
        code="piece-over",
        station="divide",
        piece=piece.number,
        params={
            "name": piece.name,
            "printer": printer.name,
            "room_mm": [float(v) for v in printer.room_mm],
            "rests_on": piece.rest.what,
            "over_mm": [float(v) for v in piece.over_mm],
        },
        fixes=shifts(piece, build),
    )


def _without_joint(build: Build) -> list[MatingFace]:
    jointed = {one.face.ref.id for one in build.placed}
    laps = {p.id for p in build.plan.partings if isinstance(p, LapParting)}
    held = {ref for one in build.modules for ref in faces_held(one, build.faces)}
    return [f for f in build.faces if f.ref.id not in jointed | held and f.ref.parting not in laps and not round(f.apart_mm, 3)]


def _bare(face: MatingFace, build: Build) -> Finding:
    label = face_label(face, build.numbers)
    return Finding(
        severity="note",
        code="face-bare",
        station="join",
        face=label,
        fixes=(_glued(face),),
    )


def _waiting(key: str, plan: Plan) -> Finding:
    note = plan.pieces.get(key, PieceNote())
    return Finding(
        severity="note",
        code="piece-gone",
        station="divide",
        params={"name": note.name or key},
        about=key,
    )


def _open(build: Build) -> list[Finding]:
    """Partings of a surface that does not close."""
    count = len(build.plan.partings)
    if not count:
        return []
    return [
        Finding(
            severity="must-fix",
            code="open-cannot-part",
            station="divide",
            params={"count": count},
        )
    ]
