"""Mating marks: letters sunk into (or raised from) both sides of a mating face, so that pieces find their neighbours."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import MultiPolygon

from hinoki.core.cache import Cache
from hinoki.core.divide.mating_faces import MatingFace, face_label
from hinoki.core.findings import Finding
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import largest_circle
from hinoki.core.geometry.solid import Solid
from hinoki.core.geometry.text_outlines import STEM, lettered
from hinoki.core.join.apply import Shaping
from hinoki.core.join.contract.point_spacing import points_over
from hinoki.core.join.contract.terms import OPENING_MM, ROOT_MM
from hinoki.core.join.joints import SIDES, Place, SideName
from hinoki.core.join.placed_joint import PlacedJoint, letter
from hinoki.core.plan.label_settings import MatingMarks
from hinoki.core.stages import key_of, stage

SIZES_MM = (12.0, 10.0, 8.0, 6.0, 5.0, 4.0, 3.0)
AROUND_MM = 1.0
"""free material around a mark"""
POCKET_MM = 0.2
"""how much deeper and wider the pocket over a raised mark is than the mark"""


@dataclass(frozen=True)
class FaceMark:
    """A mark on one side of a face: what it says, where, how high, what it does to the two pieces."""

    face: MatingFace
    side: SideName
    text: str
    place: Place
    size_mm: float
    shape: MultiPolygon
    """as seen from piece B onto piece A, in the face's plane; on side B it is mirrored, so that it reads right there"""
    tools: Mapping[SideName, tuple[Solid | None, Solid | None]]
    """for each side what it gains and what it loses"""
    key: str


def mark_faces(
    wish: MatingMarks,
    faces: Sequence[MatingFace],
    placed: Sequence[PlacedJoint],
    numbers: Mapping[str, int],
    line_mm: float,
    cache: Cache,
) -> tuple[list[FaceMark], list[Finding]]:
    """Marks for all faces that are to have one, and a finding for each that has no room for a readable one."""
    marks: list[FaceMark] = []
    found: list[Finding] = []
    if not wish.on:
        return marks, found
    for index, face in enumerate(faces):
        if face.ref.id in wish.without:
            continue
        name = letter(index)
        says = {side: _text(wish, name, numbers[part.key]) for side, part in (("a", face.a), ("b", face.b))}
        own = [p for p in placed if p.face.ref.id == face.ref.id]
        made = _marks_on(cache, face, own, wish.model_copy(update={"without": ()}), says, line_mm)
        marks += made
        if not made:
            label = face_label(face, numbers)
            found.append(
                Finding(
                    severity="note",
                    code="mating-mark-unreadable",
                    station="join",
                    face=label,
                )
            )
    return marks, found


def shaping_of(marks: Sequence[FaceMark], part_key: str) -> Shaping:
    """What the marks do to a piece."""
    out = Shaping()
    for mark in marks:
        for side, part in (("a", mark.face.a), ("b", mark.face.b)):
            if part.key == part_key and side in mark.tools:
                add, cut = mark.tools[side]  # type: ignore[index]
                out.adds += [add] if add is not None else []
                out.cuts += [cut] if cut is not None else []
                out.keys.append(mark.key)
    return out


def _text(wish: MatingMarks, name: str, number: int) -> str:
    return {"letter": name, "letter and number": f"{name}{number}", "number": str(number)}[wish.says]


@stage("marks")
def _marks_on(
    face: MatingFace, placed: Sequence[PlacedJoint], wish: MatingMarks, says: Mapping[str, str], line_mm: float
) -> list[FaceMark]:
    """The marks of the two pieces of a face; none where there is no room for both."""
    key = _marks_on.key(face, placed, wish, says, line_mm)
    room = _room(face, placed)
    spots: list[tuple[SideName, Place, float, MultiPolygon]] = []
    for side in SIDES:
        # sunk ones may lie over each other, raised ones need places of their own
        if wish.raised and spots:
            room = as_multi(shapely.difference(room, shapely.box(*spots[0][3].bounds).buffer(AROUND_MM + POCKET_MM)))
        spot = _spot(room, says[side], wish.size_mm, line_mm)
        if spot is None:
            return []
        (x, y), size = spot
        spots.append((side, (x, y), size, _turned(lettered(says[side], size), side, (x, y))))
    return [_mark(face, wish, side, says[side], place, size, shape, key) for side, place, size, shape in spots]


def _turned(drawn: MultiPolygon, side: SideName, place: Place) -> MultiPolygon:
    """Letters moved to their place, mirrored on side B, so that they read right when that piece is looked at."""
    return as_multi(affinity.translate(affinity.scale(drawn, -1.0 if side == "b" else 1.0, origin=(0, 0)), *place))


def _mark(  # noqa: PLR0913 - a mark's own parts
    face: MatingFace, wish: MatingMarks, side: SideName, text: str, place: Place, size: float, shape: MultiPolygon, key: str
) -> FaceMark:
    up = 1.0 if side == "a" else -1.0
    other: SideName = "b" if side == "a" else "a"

    def drawn(area: MultiPolygon, low: float, high: float) -> Solid:
        levels = sorted((up * low, up * high))
        return Solid.drawn(area, *levels).placed(face.frame.to_world)

    tools: dict[SideName, tuple[Solid | None, Solid | None]] = {}
    if wish.raised:
        tools[side] = drawn(shape, -ROOT_MM, wish.depth_mm), None
        pocket = as_multi(shapely.box(*shape.bounds).buffer(POCKET_MM, join_style="mitre"))
        tools[other] = None, drawn(pocket, -OPENING_MM, wish.depth_mm + POCKET_MM)
    else:
        tools[side] = None, drawn(shape, -wish.depth_mm, OPENING_MM)
    return FaceMark(face, side, text, place, size, shape, tools, key_of(key, side))


def _room(face: MatingFace, placed: Sequence[PlacedJoint]) -> MultiPolygon:
    """The face without what joints take or cut there."""
    room: shapely.Geometry = face.shape.buffer(-AROUND_MM)
    for placed_joint in placed:
        for place in placed_joint.stands:
            room = shapely.difference(room, placed_joint.joint.footprint(placed_joint.standing, place).buffer(AROUND_MM))
        for tool in placed_joint.tools.each:
            if tool.cut is not None:
                room = shapely.difference(room, tool.cut.shadow(face.frame).buffer(AROUND_MM))
    return as_multi(room, 1.0)


def _spot(room: MultiPolygon, text: str, wanted_mm: float | None, line_mm: float) -> tuple[Place, float] | None:
    """The place and the height for `text`: as typed, or the largest that has room; none under two lines' strokes."""
    if room.is_empty:
        return None
    least = line_mm / STEM
    _, middle = largest_circle(room)
    points = sorted(points_over(room), key=lambda p: (round(float(np.hypot(p[0] - middle[0], p[1] - middle[1])), 3), p))
    for size in (wanted_mm,) if wanted_mm is not None else SIZES_MM:
        if size < least:
            break
        x0, y0, x1, y1 = lettered(text, size).bounds
        for x, y in [(round(float(middle[0]), 2), round(float(middle[1]), 2)), *points]:
            if shapely.covers(room, shapely.box(x + x0, y + y0, x + x1, y + y1)):
                return (x, y), size
    return None
