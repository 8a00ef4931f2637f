"""What puts a finding right: a smaller joint, one moved inwards or spread anew, a parting shifted."""

import math
from dataclasses import replace

import numpy as np
import shapely

from hinoki.core.build import Build
from hinoki.core.findings import Fix, Params
from hinoki.core.join.contract.in_collar import CollarJoint
from hinoki.core.join.joints import Joint
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.sizing.collar_sizing import WIDER_MM, collar_for
from hinoki.core.orient.resting.piece import Piece
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.fits import FITS

MOST_SHIFT_MM = 40.0
"""a parting is not shifted further than this by a fix"""
CLEAR_MM = 0.1


def joint_fixes(placed: PlacedJoint, index: int | None = None) -> tuple[Fix, ...]:
    """Changes of a joint that give its element `index` more wall: inwards, spread anew, smaller."""
    joint = placed.joint
    out: list[Fix] = []
    if joint.places is not None:
        if index is not None and (inwards := _inwards(placed, index)) is not None:
            moved, by = inwards
            out.append(_changed(moved, "inwards", {"by_mm": by}))
        out.append(_changed(joint.model_copy(update={"places": None}), "spread"))
    smaller = joint.smaller()
    if smaller is not None:
        out.append(_changed(smaller, "smaller", {"joint": smaller.label()}))
    return tuple(out)


def tighter(placed: PlacedJoint, short_mm: float, plan: Plan) -> tuple[Fix, ...]:
    """The loosest fit whose smaller clearance leaves `short_mm` more wall, where the joint takes its clearance from a fit."""
    keys = placed.face.a.key, placed.face.b.key
    enough = {fit: plan.clearance_mm(fit, *keys) for fit in FITS}
    found = [fit for fit in FITS if enough[fit] <= placed.clearance_mm - short_mm + 1e-9]
    if placed.joint.clearance_mm is not None or not found:
        return ()
    fit = max(found, key=lambda f: enough[f])
    return (_changed(placed.joint.model_copy(update={"fit": fit}), "fit", {"fit": fit, "clearance_mm": enough[fit]}),)


def fewer(placed: PlacedJoint) -> tuple[Fix, ...]:
    """As many elements as there is room for, or smaller ones."""
    many = len(placed.places)
    fit = (_changed(placed.joint.model_copy(update={"count": many}), "leave-at", {"count": many}),) if many else ()
    smaller = placed.joint.smaller()
    return (*fit, _changed(smaller, "smaller", {"joint": smaller.label()})) if smaller is not None else fit


def in_collar(placed: PlacedJoint) -> tuple[Fix, ...]:
    """What can stand in a collar inside the hollow, where the face is that of a shell."""
    joint = placed.joint
    if not isinstance(joint, CollarJoint) or not any(part.interiors for part in placed.bare.geoms):
        return ()
    thick = collar_for(2 * joint.radius_mm, replace(placed.standing, shape=placed.bare))
    if thick <= joint.collar_mm:
        thick = joint.collar_mm + WIDER_MM[1]
    return (_changed(joint.model_copy(update={"collar_mm": thick}), "collar", {"thick_mm": thick}),)


def _changed(joint: Joint, code: str, params: Params | None = None) -> Fix:
    return Fix(kind="joint", code=code, params=params or {}, joint=joint.model_dump(mode="json"))


def _inwards(placed: PlacedJoint, index: int) -> tuple[Joint, float] | None:
    """The joint with one place moved to the nearest that has room, and how far that is."""
    if placed.room.is_empty or index >= len(placed.places):
        return None
    at = shapely.Point(placed.places[index])
    near = shapely.Point(shapely.get_coordinates(shapely.shortest_line(placed.room, at))[0])
    by = float(near.distance(at))
    if by < 0.05:
        return None
    places = list(placed.places)
    places[index] = (round(near.x, 2) + 0.0, round(near.y, 2) + 0.0)
    return placed.joint.model_copy(update={"places": tuple(places)}), by


def shifts(piece: Piece, build: Build) -> tuple[Fix, ...]:
    """For a piece over its bed the shifts of a flat parting that make it fit, where one alone does."""
    plan, part = build.plan, next((p for p in build.parts if p.key == piece.key), None)
    room = np.sort(plan.printer_of(piece.key).room_mm)
    size = piece.size_mm.round(3)
    out = []
    for end in part.ends if part is not None else ():
        axis = int(np.argmax(np.abs(end.frame.n)))
        if abs(end.frame.n[axis]) < 1 - 1e-9 or not any(p.id == end.parting and p.kind == "flat" for p in plan.partings):
            continue
        others = np.sort(np.delete(size, axis))
        allowed = max((room[k] for k in range(3) if (others <= np.delete(room, k) + 1e-6).all()), default=0.0)
        over = math.ceil(10 * (float(size[axis]) - allowed + CLEAR_MM)) / 10
        if allowed <= 0 or not 0 < over <= MOST_SHIFT_MM or not _neighbours_take(end.parting, axis, over, piece, build):
            continue
        # a piece below the plane gets shorter when the plane comes down
        by = over * end.side * float(np.sign(end.frame.n[axis]))
        out.append(Fix(kind="shift", code="shift", params={"by_mm": over}, parting=end.parting, by_mm=round(by, 3)))
    return tuple(out)


def _neighbours_take(parting: str, axis: int, by: float, piece: Piece, build: Build) -> bool:
    """Whether the pieces across the parting still fit when they get so much longer."""
    for other in build.pieces:
        if other.number not in piece.neighbours or not any(s.startswith(parting) for s in other.key.split()):
            continue
        size = other.size_mm.round(3)
        size[axis] += by
        if (np.sort(size) > np.sort(build.plan.printer_of(other.key).room_mm) + 1e-6).any():
            return False
    return True
