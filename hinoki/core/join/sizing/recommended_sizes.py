"""What joint suits a mating face: measures worked out from its size, its walls and the printer's line width."""

import itertools
import math
from collections.abc import Callable, Iterator
from functools import partial
from typing import Annotated, Any

from pydantic import AfterValidator
from shapely.geometry import MultiPolygon

from hinoki.core.forms import kind_name, kinds_of, named_kind
from hinoki.core.geometry.enclosed import ends_somewhere, is_closed
from hinoki.core.geometry.sections import largest_circle, least_wall, usual_wall
from hinoki.core.join.joints import (
    SIDES,
    ButtJoint,
    DovetailJoint,
    Joint,
    JointBase,
    KeyJoint,
    LipJoint,
    MagnetJoint,
    ScrewJoint,
    SideName,
    Standing,
    TongueJoint,
)
from hinoki.core.join.joints.finger import meets_panel
from hinoki.core.join.joints.lip import SHORT
from hinoki.core.join.joints.screw import SIZES
from hinoki.core.join.placing import Depths
from hinoki.core.join.sizing.face_measures import count_for, measures, with_room
from hinoki.core.join.sizing.hinge_sizing import has_edge, hinge
from hinoki.core.join.sizing.peg_sizing import pegs
from hinoki.core.join.sizing.rail_sizing import rail
from hinoki.core.join.sizing.turned_sizing import TURNED, turned
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.hardware import magnets

KINDS: tuple[str, ...] = tuple(kind_name(kind) for kind in kinds_of(Joint))


def known(kind: str) -> str:
    """A kind of joint, or `auto`. Raises ValueError for a name that is neither."""
    if kind not in ("auto", *KINDS):
        raise ValueError(f"no kind of joint; there are auto, {', '.join(KINDS)}")
    return kind


SuitKind = Annotated[str, AfterValidator(known)]
Good = Callable[[Joint], bool]
Suit = Callable[[str, Depths, Fit, Standing], Iterator[Joint]]
MOST_SIZES = 12
"""of a kind that are tried on one face"""
NECKS_MM = (10.0, 8.0, 6.0, 5.0, 4.0, 3.0, 2.5, 2.0)
WIDTHS_MM = (6.0, 5.0, 4.0, 3.0, 2.5, 2.0, 1.5)
KEY_SIZES = (2.0, 1.5, 1.25, 1.0, 0.8, 0.6)
"""of the key 10 × 6/4 × 3 (common practice, slope 1 : 5)"""
LEAST_FACE, MOST_SCREW_MM = 8.0, 5.0
"""how many times its diameter a face is long at least for a screw; what the largest common insert takes"""
SHELL_WALL_MM = 6.0
"""a hollow face with a wall up to this is a shell: a lip suits it best"""
MOST_WALLS = 4
SLENDER = 3.0
"""a tongue is no more than so many times as high as it is thick (common practice)"""
MOST_OF_IT = 0.8
"""of a wall's length a rim runs along, where it can"""
LEAST_STRIP = 8.0
"""and so is one that is so many times as long as its wall is thick"""


SWINGS_NOWHERE = (
    "A hinge has room, but the piece does not clear its frame when it opens. Give the hatch a wider gap or a taper, or part it "
    "elsewhere."
)
COMES_OUT = "The piece comes out along this face, so only a hinge or magnets suit it."


def usual_fit(kind: str) -> Fit:
    """The fit a kind is made with unless another is wished: threads bind with less (common practice: 0.2 off the radius), and
    the pins of hinges are to turn."""
    return "sliding" if kind in ("thread", "bayonet", "hinge", "rail", "latch") else "snug"


def any_will_do(_joint: Joint) -> bool:
    """Whether a joint is good: it always is."""
    return True


def suggest(kind: str, joint_id: str, depths: Depths, fit: Fit, standing: Standing, good: Good = any_will_do) -> Joint | None:
    """A joint of `kind` that leaves the least wall everywhere, at as many places as suit the face; None without room.

    `auto` is the kind that suits the face best; at the side of a hatch that is to come out nothing does by itself. None, too,
    for what would hold piece B so that it does not come off in its direction. Of the sizes tried it is the first that is
    `good`. Raises KeyError for a kind that is not known.
    """
    if kind == "auto":
        return None if standing.sideways else _auto(joint_id, depths, fit, standing, good)
    return _first(kind, joint_id, depths, fit, standing, good)


def _first(kind: str, joint_id: str, depths: Depths, fit: Fit, standing: Standing, good: Good) -> Joint | None:
    sizes = itertools.islice(_sizes(kind)(joint_id, depths, fit, standing), MOST_SIZES)
    return next((joint for joint in sizes if standing.lets_off(joint) and good(joint)), None)


def _sizes(kind: str) -> Suit:
    """What is tried of a kind: by a rule of this module, or as the kind itself says."""
    return _KINDS[kind] if kind in _KINDS else partial(_own_sizes, named_kind(Joint, kind))


def _own_sizes(kind: type[JointBase], joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> Iterator[Joint]:
    return with_room(kind.sizes(joint_id, depths.face.ref, fit, standing), depths, standing)  # type: ignore[arg-type]


def why_not(kind: str, depths: Depths, fit: Fit, standing: Standing) -> str | None:
    """Why nothing of a kind is suggested for a face that has room for it, in a sentence; None where it has no room."""
    if kind == "hinge":
        return SWINGS_NOWHERE if has_edge(depths, fit, standing) else None
    if not standing.sideways:
        return None
    return COMES_OUT if kind == "auto" or next(_sizes(kind)("j1", depths, fit, standing), None) is not None else None


def _auto(joint_id: str, depths: Depths, fit: Fit, standing: Standing, good: Good) -> Joint:
    """Shells get a lip, faces with room pins, slim walls with an underside keys; a small face a dowel, the rest glue."""
    shell = any(part.interiors for part in standing.shape.geoms)
    wall = least_wall(standing.shape)
    order = ["pin", "key", "dowel", "butt"]
    if (shell and wall is not None and wall[0] <= SHELL_WALL_MM) or is_wall(standing.shape):
        order.insert(0, "lip")
    if any(meets_panel(standing, side) for side in SIDES):
        order.insert(order.index("butt"), "finger")
    best: Joint | None = None
    for kind in order:
        found = _first(kind, joint_id, depths, fit, standing, good)
        if found is None:
            continue
        if kind in ("lip", "butt") or getattr(found, "count", 1) >= 2:
            return best if kind == "butt" and best is not None else found
        best = best or found
    return best or ButtJoint(id=joint_id, face=depths.face.ref, fit=fit)


def _dovetail(joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> Iterator[Joint]:
    """Neck to head to depth as 5 : 10 : 3 (common practice), along the longer side."""
    _, across, angle = measures(standing.shape)
    sizes: Iterator[Joint] = (
        DovetailJoint(
            id=joint_id, face=depths.face.ref, fit=fit, neck_mm=n, head_mm=2 * n, height_mm=0.6 * n, along_deg=angle,
            stop_mm=max(3.0, standing.least_wall_mm),
        )
        for n in NECKS_MM
        if 2 * n <= 0.5 * across
    )  # fmt: skip
    return with_room(sizes, depths, standing)


def _tongue(joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> Iterator[Joint]:
    """As wide as a third of the wall at most, along the longer side, not seen from outside; one in each of several walls, as
    between which a panel stands."""
    _, across, angle = measures(MultiPolygon([max(standing.shape.geoms, key=lambda part: part.area)]))
    walls = min(MOST_WALLS, len(standing.shape.geoms))
    sizes: Iterator[Joint] = (
        TongueJoint(
            id=joint_id, face=depths.face.ref, fit=fit, count=walls, width_mm=w, height_mm=w, along_deg=angle,
            stop_mm=max(2.0, standing.least_wall_mm),
        )
        for w in WIDTHS_MM
        if w <= 0.4 * across
    )  # fmt: skip
    return with_room(sizes, depths, standing)


def _key(joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> Iterator[Joint]:
    extent, _, _ = measures(standing.shape)
    sizes: Iterator[Joint] = (
        KeyJoint(
            id=joint_id, face=depths.face.ref, fit=fit, count=count_for(extent) if extent > 4 * 6 * s else 1,
            length_mm=10 * s, end_mm=6 * s, waist_mm=4 * s, thickness_mm=3 * s,
        )
        for s in KEY_SIZES
        if 6 * s <= 0.35 * extent
    )  # fmt: skip
    return with_room(sizes, depths, standing)


def _lip(joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> Iterator[Joint]:
    """Half the wall thick and 1.5 times the wall high (common practice); in the middle of an open wall, a third of it, where
    that prints. None where half a wall does not print or would get too thin over its height; along open walls those first that
    run along most of them."""
    shorter: list[Joint] = []
    for wall, rim in _rims(standing):
        height = min(8.0, max(2.0, round(3 * min(wall, SHELL_WALL_MM)) / 2), SLENDER * rim.get("thickness_mm", wall))
        for high in (height, 0.75 * height, 0.5 * height):  # lower where walls lean or get thinner further in
            joint = LipJoint(id=joint_id, face=depths.face.ref, fit=fit, height_mm=round(2 * high) / 2, **rim)
            share = joint.share(standing)
            if share is None:
                share = 0.0 if any(p.severity == "must-fix" for p in joint.problems(standing, [], depths)) else 1.0
            if share >= MOST_OF_IT:
                yield joint
            elif share >= SHORT:
                shorter.append(joint)
    yield from shorter


def _rims(standing: Standing) -> Iterator[tuple[float, dict[str, Any]]]:
    """The wall and the measures of rims that a face may have room for: with room on both sides before on one."""
    wall_mm, two_lines = usual_wall(standing.shape) or 0.0, 2 * standing.line_mm
    if not is_wall(standing.shape):
        wall = least_wall(standing.shape)
        hollow = any(part.interiors for part in standing.shape.geoms)
        if wall is not None and wall[0] >= 4 * standing.line_mm:
            yield wall[0], {"runs": "inner" if hollow else "middle"}
        if not hollow or wall_mm > SHELL_WALL_MM:
            return
    side = two_lines + standing.clearance_mm
    middle, inner = [], []
    if wall_mm >= two_lines + 2 * side:
        for thick in (max(two_lines, math.floor(20 * min(wall_mm / 3, wall_mm - 2 * side)) / 20), two_lines):
            middle.append({"runs": "middle", "thickness_mm": thick, "land_mm": round((wall_mm - thick) / 2, 3)})
    if wall_mm >= two_lines + side and ends_somewhere(standing.shape):
        for share in (0.5, 1.0, 0.0):  # walls may lean either way over its height
            thick = math.floor(20 * (two_lines + share * (wall_mm - two_lines - side))) / 20
            inner.append({"runs": "inner", "thickness_mm": thick, "on": standing.first})
    # a piece that stands between others at an angle comes in askew, as a rim at one side lets it
    yield from ((wall_mm, rim) for rim in ((*inner, *middle) if standing.corner else (*middle, *inner)))


def is_wall(shape: MultiPolygon) -> bool:
    """Whether a face is the wall of a shell that ends somewhere: thin, and many times as long."""
    if all(is_closed(part) for part in shape.geoms):
        return False
    wall = usual_wall(shape)
    return wall is not None and wall <= SHELL_WALL_MM and shape.area >= LEAST_STRIP * wall**2


def discs_on_sale() -> list[tuple[float, float]]:
    """Diameters and thicknesses of disc magnets, large and thin ones first."""
    return sorted({(m.diameter_mm, m.thick_mm) for m in magnets() if m.shape == "disc"}, key=lambda m: (-m[0], m[1]))


def _magnet(joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> Iterator[Joint]:
    """Discs on sale up to a fifth of the face, large and thin ones first."""
    extent, _, _ = measures(standing.shape)
    sizes: Iterator[Joint] = (
        MagnetJoint(
            id=joint_id, face=depths.face.ref, fit=fit, count=count_for(extent), diameter_mm=diameter, thick_mm=thick
        )
        for diameter, thick in discs_on_sale()
        if diameter <= max(5.0, extent / 5)
    )  # fmt: skip
    return with_room(sizes, depths, standing)


def _screw(joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> Iterator[Joint]:
    """Screws into inserts, the size by the face, the heads in the piece that is thinner behind it."""
    extent, _, _ = measures(standing.shape)
    _, middle = largest_circle(standing.shape)
    place = (float(middle[0]), float(middle[1]))
    on: SideName = "a" if standing.through("a", place, None) < standing.through("b", place, None) else "b"
    sizes: Iterator[Joint] = (
        ScrewJoint(id=joint_id, face=depths.face.ref, fit=fit, count=count_for(extent), size=size, on=on)
        for size in reversed(SIZES)
        if LEAST_FACE * float(size[1:]) <= max(16.0, extent) and float(size[1:]) <= MOST_SCREW_MM
    )
    return with_room(sizes, depths, standing)


def _butt(joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> Iterator[Joint]:  # noqa: ARG001
    yield ButtJoint(id=joint_id, face=depths.face.ref, fit=fit)


def _hinge(joint_id: str, depths: Depths, fit: Fit, standing: Standing) -> Iterator[Joint]:
    found = hinge(joint_id, depths, fit, standing)
    if found is not None:
        yield found


_KINDS: dict[str, Suit] = {
    "pin": pegs("pin"),
    "dowel": pegs("dowel"),
    "dovetail": _dovetail,
    "key": _key,
    "lip": _lip,
    "tongue": _tongue,
    **{kind: turned(sizes) for kind, sizes in TURNED.items()},
    "magnet": _magnet,
    "screw": _screw,
    "hinge": _hinge,
    "rail": rail,
    "butt": _butt,
}
