"""The pieces as they lie on the bed: each on the side that suits it best, those that print as one together."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import partial

import numpy as np

from hinoki.core.cache import Cache, key_of
from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import MatingFace, touching
from hinoki.core.geometry.frames import composed
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.shape_hash import shape_hash
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.apply import PlacedJoint
from hinoki.core.join.contract.base import Direction
from hinoki.core.join.hinge_sweep import axis_of
from hinoki.core.join.joints import HingeJoint
from hinoki.core.orient.resting.resting_faces import ALONG, LEAST_CONTACT_MM2, Rest, rest_on, rests
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, along
from hinoki.present.build import piece_view
from hinoki.present.schemas.build import PieceView


def printed_together(placed: Sequence[PlacedJoint]) -> dict[str, frozenset[str]]:
    """For every piece (its key) that comes off the bed as one with others, all of those, itself included."""
    found: dict[str, frozenset[str]] = {}
    for one in placed:
        if one.joint.prints_together and one.places:
            pair = frozenset((one.face.a.key, one.face.b.key))
            whole = pair.union(*(found.get(key, frozenset()) for key in pair))
            found |= dict.fromkeys(whole, whole)
    return found


def turned_to_print(placed: Sequence[PlacedJoint]) -> dict[str, Points]:
    """For pieces (their keys) that print opened on a hinge in place, the matrix (3, 4) from where they are in the model."""
    found: dict[str, Points] = {}
    for one in placed:
        axis = axis_of(one)
        if one.joint.prints_together and axis is not None and isinstance(one.joint, HingeJoint):
            turn = axis.turned(one.joint.opens_deg)
            found[one.face.b.key] = composed(found[one.face.a.key], turn) if one.face.a.key in found else turn
    return found


def pieces_laid(
    plan: Plan,
    parts: Sequence[Part],
    before: Sequence[Part],
    faces: Sequence[MatingFace],
    placed: Sequence[PlacedJoint],
    numbers: Mapping[str, int],
    cache: Cache,
    for_screen: bool,
    progress: Tell,
) -> list[PieceView]:
    """All pieces by number, with the ways to lay them, best first; other ways than the best only for the screen."""
    near: dict[str, set[int]] = {part.key: set() for part in parts}
    normals: dict[str, list[Points]] = {part.key: [] for part in parts}
    for face in faces:
        near[face.a.key].add(numbers[face.b.key])
        near[face.b.key].add(numbers[face.a.key])
        normals[face.a.key].append(face.frame.n)
        normals[face.b.key].append(-face.frame.n)
    for a, b in touching(before, faces, cache):
        near[a.key].add(numbers[b.key])
        near[b.key].add(numbers[a.key])
    bare = {part.key: part for part in before}
    by_key = {part.key: part for part in parts}
    together, turned = printed_together(placed), turned_to_print(placed)
    views: list[PieceView] = []
    for part in along(parts, progress, lambda k: f"Resting piece {k + 1} of {len(parts)}"):
        group = sorted(together.get(part.key, {part.key}), key=lambda k: numbers[k])
        first = by_key[group[0]]
        chosen = next((_turned(n.down, turned.get(k)) for k in group if (n := plan.pieces.get(k)) and n.down), None)
        printer, made_by = plan.bed_for(first.key), [by_key[k].made_by for k in group]
        body = partial(as_one, [(by_key[k].solid, turned.get(k)) for k in group])
        out = [np.array(_turned(n, turned.get(k))) for k in group for n in normals[k]]
        opened = [turned[k].tolist() for k in group if k in turned]
        key = key_of("rest", made_by, opened, printer, [n.tolist() for n in out], for_screen)
        upright = [p.face.frame.n for p in placed if p.joint.upright and {p.face.a.key, p.face.b.key} & set(group)]
        found: list[Rest] = cache.get(
            key,
            lambda b=body, o=out, p=printer, u=upright: rests(b(), o, p, not for_screen, u),  # type: ignore[misc]
        )
        if chosen is not None:
            own_key = key_of("rest on", made_by, opened, printer, chosen, [n.tolist() for n in out])
            own = cache.get(own_key, lambda b=body, c=chosen, p=printer, o=out: named(rest_on(b(), np.array(c), p), o))  # type: ignore[misc]
            found = [own, *(r for r in found if r.down @ own.down < 1 - 1e-6)]
        if part.key in turned:
            found = [r.after(turned[part.key]) for r in found]
        view = piece_view(
            plan,
            part.key,
            numbers[part.key],
            part.solid,
            bare[part.key].solid,
            part.made_by,
            found[: 8 if for_screen else 1],
            chosen is not None,
            sorted(near[part.key]),
        )
        view.shape = cache.get(key_of("shape hash", part.made_by), partial(shape_hash, part.solid))
        view.prints_with = [numbers[k] for k in group if k != part.key]
        views.append(view)
    return sorted(views, key=lambda p: p.number)


def named(rest: Rest, mating: Sequence[Points]) -> Rest:
    """A side that was chosen, by what it is: as the piece stands, a mating face, another flat face, or leaning."""
    if rest.down[2] < -ALONG:
        return replace(rest, what="as it stands")
    if any(float(rest.down @ normal) > ALONG for normal in mating):
        return replace(rest, what="mating face")
    return replace(rest, what="flat face" if rest.contact_mm2 >= LEAST_CONTACT_MM2 else "leaning")


def as_one(group: Sequence[tuple[Solid, Points | None]]) -> Solid:
    """Solids as they print, each turned by its matrix (3, 4), in one."""
    solids = [solid if turn is None else solid.placed(turn) for solid, turn in group]
    return solids[0] if len(solids) == 1 else Solid.together(solids)


def _turned(way: Direction | Points, turn: Points | None) -> Direction:
    """A direction in the model as it is where the piece prints."""
    x, y, z = np.array(way) if turn is None else turn[:, :3] @ np.array(way)
    return float(x), float(y), float(z)
