"""A part laid against another: a face of it onto a face of that, snapped to holes, round bosses and middles near the places."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated

import numpy as np
import shapely
from pydantic import BaseModel, Field
from shapely.geometry import LinearRing, MultiPolygon

from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.frames import Frame, composed, inverted, turned_to
from hinoki.core.geometry.mesh import Points, placed_box
from hinoki.core.geometry.rotations import turned_about_axes
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.faced.half_joint import flat_face
from hinoki.core.model.prepared_model import prepared
from hinoki.core.parts.make_part import Place
from hinoki.core.plan.parts import Instance
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, quiet

ROUND_SHARE = 0.01
"""an outline whose corners lie so evenly about its middle, as a share of its radius, is a circle"""
LEAST_CORNERS = 8
NEAR_MM = 3.0
"""a place so near to the edge or the middle of a circle means its axis"""
NEAR_SHARE = 0.1
"""a place so near to the middle of a face, as a share of its size, means the middle"""
Degrees = Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)]


class LayAgainst(BaseModel, frozen=True):
    """A place on the open part in its own coordinates, one on another instance in those of the open part's first instance, and
    a turn about the common axis once the two faces lie on each other."""

    own: Place
    other: Place
    turn_deg: Degrees = 0.0
    apart_mm: Annotated[float, Field(ge=-1e4, le=1e4, allow_inf_nan=False)] = 0.0


@dataclass(frozen=True)
class Snapped:
    """A place as it is meant: its point (3,), the way the face looks (3,), and what it was snapped to."""

    at: Points
    facing: Points
    to: str = ""


def laid_against(
    plan: Plan, which: int, how: LayAgainst, source_of: Callable[[str], bytes], cache: Cache, tell: Tell = quiet
) -> tuple[Plan, str]:
    """The plan with an instance (from 0) of the open part laid against what stands at the other place, and what was snapped to.

    It is turned by the least that brings the faces onto each other. Raises BadPlan where there is no such instance, or nothing
    of another part at that place.
    """
    if which >= len(plan.instances):
        raise BadPlan(f"There is no {plan.label} {which + 1}; it stands {len(plan.instances)} times.", "which")
    body = _solid(plan, source_of, cache)
    own = snapped(body, np.array(how.own.at_mm), np.array(how.own.facing))
    view = plan.instances[0].matrix
    picked = _placed(Snapped(np.array(how.other.at_mm), np.array(how.other.facing)), view)
    target = _of_others(plan, which, picked, source_of, cache)
    now = plan.instances[which].matrix
    facing = now[:, :3] @ own.facing
    turn = _onto(facing, -target.facing)[:, :3]
    about = turned_to(target.facing)[:, :3]
    spin = about @ turned_about_axes((0.0, 0.0, how.turn_deg)) @ about.T
    linear = spin @ turn @ now[:, :3]
    at = target.at + how.apart_mm * target.facing - linear @ own.at
    instance = Instance.of(np.column_stack([linear, at]))
    instances = (*plan.instances[:which], instance, *plan.instances[which + 1 :])
    tell(1.0, "Laid")
    said = f"{own.to or 'the place picked'} onto {target.to or 'the place picked'}"
    return plan.model_copy(update={"instances": instances}), said


def snapped(body: Solid, at: Points, facing: Points) -> Snapped:
    """What a place on a body means: the middle of a hole or boss whose edge it is near, the middle of the face, or itself."""
    facing = facing / np.linalg.norm(facing)
    face = flat_face(body, at, facing)
    if face is None:
        return Snapped(at, facing)
    for middle, radius in _circles(face.shape):
        off = float(np.hypot(*middle))
        if min(off, abs(off - radius)) < min(NEAR_MM, radius):
            return Snapped(_world(face.frame, middle), facing, f"the middle of a circle ø{2 * radius:.1f}")
    x0, y0, x1, y1 = face.shape.bounds
    middle = np.array([(x0 + x1) / 2, (y0 + y1) / 2])
    if np.hypot(*middle) < NEAR_SHARE * max(x1 - x0, y1 - y0):
        return Snapped(_world(face.frame, middle), facing, "the middle of the face")
    return Snapped(at, facing)


def _circles(shape: MultiPolygon) -> list[tuple[Points, float]]:
    """The circles among the outlines of a face (holes, bosses, round faces), the smallest first: middle (2,), and radius."""
    rings = [ring for polygon in shape.geoms for ring in (polygon.exterior, *polygon.interiors)]
    found = [circle for ring in rings if (circle := _circle(ring)) is not None]
    return sorted(found, key=lambda one: one[1])


def _circle(ring: LinearRing) -> tuple[Points, float] | None:
    points = shapely.get_coordinates(ring)[:-1]
    if len(points) < LEAST_CORNERS:
        return None
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    radii = np.hypot(*(points - middle).T)
    radius = float(radii.mean())
    return (middle, radius) if float(np.abs(radii - radius).max()) < max(ROUND_SHARE * radius, 0.02) else None


def _of_others(plan: Plan, which: int, target: Snapped, source_of: Callable[[str], bytes], cache: Cache) -> Snapped:
    """The place on whatever stands there besides the instance that is moved, snapped. Raises BadPlan."""
    for part_id in plan.part_ids:
        part = plan.working_on(part_id)
        if not part.begun:
            continue
        body = _solid(part, source_of, cache)
        low, high = body.bounds
        for k, instance in enumerate(part.instances):
            if part_id == plan.part_id and k == which:
                continue
            lowest, highest = placed_box(low, high, instance.matrix)
            if (target.at < lowest - 1).any() or (target.at > highest + 1).any():
                continue
            there = _placed(target, inverted(instance.matrix))
            found = snapped(body, there.at, there.facing)
            if found.to or flat_face(body, there.at, there.facing) is not None:
                return _placed(found, instance.matrix)
    raise BadPlan("Nothing flat of another part is at this place. Click a flat face of one.", "other")


def _solid(plan: Plan, source_of: Callable[[str], bytes], cache: Cache) -> Solid:
    ready = prepared(plan, source_of, cache, quiet)
    if ready.solid is None:
        raise BadPlan(f"The surface of {plan.label} is not closed. Make it right first.", "part")
    return ready.solid


def _placed(place: Snapped, matrix: Points) -> Snapped:
    return Snapped(matrix[:, :3] @ place.at + matrix[:, 3], matrix[:, :3] @ place.facing, place.to)


def _world(frame: Frame, flat: Points) -> Points:
    return np.asarray(frame.world(flat[None])[0])


def _onto(way: Points, wanted: Points) -> Points:
    """The (3, 4) matrix of the least turn that brings one unit vector (3,) onto another."""
    return composed(turned_to(wanted), inverted(turned_to(way))) if way @ wanted < 1 - 1e-12 else np.eye(3, 4)
