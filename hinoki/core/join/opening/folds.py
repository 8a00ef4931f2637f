"""A folding door: two leaves on hinges, the far one guided by a round runner in a rail; tried over its whole travel."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.closures.hinge import Axis, HingeJoint
from hinoki.core.join.closures.rail import RailJoint
from hinoki.core.join.opening.moving import Met, met
from hinoki.core.join.opening.slides import door_of
from hinoki.core.join.opening.swings import FREE_MM3, angles_to, axis_of
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.stages import stage

ALONG = 0.999
"""axes and rails that agree by less than this do not make one mechanism"""
NEARLY_MM = 1e-6
MOST_DEG = 180
"""a leaf turns no further"""


@dataclass(frozen=True)
class Linkage:
    """Seen along the hinges: the axis of the near leaf, that between the leaves, the guide's pin, each (2,), in the plane of
    `across` and `beside` (3,) each; the guide moves along `across` by `travel_mm`, the near leaf opens by a positive angle
    where `hand` is 1."""

    across: tuple[float, float, float]
    beside: tuple[float, float, float]
    near: tuple[float, float]
    middle: tuple[float, float]
    guide: tuple[float, float]
    travel_mm: float
    hand: int

    @property
    def basis(self) -> Points:
        """Rows that see the world (2, 3)."""
        return np.array([self.across, self.beside])

    def at(self, degrees: float) -> "Folded | None":
        """Where both leaves are when the near one has turned by an angle; None where the guide cannot follow."""
        angle = self.hand * math.radians(degrees)
        near, middle, guide, way = (np.array(v) for v in (self.near, self.middle, self.guide, (1.0, 0.0)))
        moved = near + _turn(angle) @ (middle - near)
        # |guide + s·way − moved| = |guide − middle|: of both places that nearer to where it was
        away = guide - moved
        half, left = float(away @ way), float(away @ away - (guide - middle) @ (guide - middle))
        root = half**2 - left
        if root < 0:
            return None
        gone = min((-half + sign * math.sqrt(root) for sign in (-1.0, 1.0)), key=abs)
        return Folded(self._move(near, angle, near), self._follow(moved, guide + gone * way), gone)

    def _follow(self, middle: Points, guide: Points) -> Points:
        """The matrix (3, 4) of the far leaf, its hinge at `middle` and its pin at `guide`."""
        was, now = np.array(self.guide) - np.array(self.middle), guide - middle
        angle = math.atan2(was[0] * now[1] - was[1] * now[0], float(was @ now))
        return self._move(np.array(self.middle), angle, middle)

    def _move(self, about: Points, angle: float, to: Points) -> Points:
        """The matrix (3, 4) that turns about a place of the plane and takes that to another one."""
        basis = self.basis
        turn = np.eye(3) + basis.T @ (_turn(angle) - np.eye(2)) @ basis
        return np.column_stack([turn, basis.T @ (to - _turn(angle) @ about)])

    @property
    def most_deg(self) -> float:
        """How far the near leaf turns until the guide has gone its travel, in whole degrees; 180 at the most."""
        for degrees in range(1, MOST_DEG + 1):
            now = self.at(float(degrees))
            if now is None or now.gone_mm > self.travel_mm + NEARLY_MM:
                return float(degrees - 1)
        return float(MOST_DEG)


@dataclass(frozen=True)
class Folded:
    """The matrices (3, 4) of the near and the far leaf, and how far the guide has gone."""

    near: Points
    far: Points
    gone_mm: float


@dataclass(frozen=True)
class Fold:
    """A folding door: the pieces (their keys) of both leaves, the joints that make it, and how it moves."""

    near: str
    far: str
    first: PlacedJoint
    second: PlacedJoint
    rail: PlacedJoint
    linkage: Linkage

    @property
    def joints(self) -> tuple[str, ...]:
        """The ids of its hinges and its rail."""
        return tuple(one.joint.id for one in (self.first, self.second, self.rail))


@dataclass(frozen=True)
class Unfolds:
    """The first angle of the near leaf, in degrees, at which a leaf (its key) meets a piece; None where it folds freely."""

    angle: float | None
    leaf: str = ""
    met: Met | None = None


def folds_of(placed: Sequence[PlacedJoint]) -> list[Fold]:
    """All folding doors: a round runner on a leaf that hangs by a hinge on another one, which hangs by a hinge."""
    hinges = [one for one in placed if isinstance(one.joint, HingeJoint) and axis_of(one) is not None]
    found = []
    for rail in placed:
        if not (isinstance(rail.joint, RailJoint) and rail.joint.turning and rail.places):
            continue
        far = door_of(rail)
        for second in (one for one in hinges if far in _pair(one)):
            near = next(key for key in _pair(second) if key != far)
            for first in (one for one in hinges if near in _pair(one) and one is not second):
                linkage = _linkage(first, second, rail, near)
                if linkage is not None:
                    found.append(Fold(near, far, first, second, rail, linkage))
    return found


def _pair(placed: PlacedJoint) -> tuple[str, str]:
    return placed.face.a.key, placed.face.b.key


def _linkage(first: PlacedJoint, second: PlacedJoint, rail: PlacedJoint, near: str) -> Linkage | None:
    """How it moves, seen along the hinges; None where they and the guide's pin are not all along one direction."""
    one, two, joint = axis_of(first), axis_of(second), rail.joint
    if one is None or two is None or not isinstance(joint, RailJoint) or not isinstance(first.joint, HingeJoint):
        return None
    along, standing = one.frame.n, rail.standing
    run = joint.stood(standing, rail.places[0])
    if run is None or min(abs(float(along @ n)) for n in (two.frame.n, standing.frame.n)) < ALONG:
        return None
    way = joint.opening(standing)
    across, beside = way, np.cross(along, way)
    pin = standing.frame.world(np.array([rail.places[0]]))[0] + (run.start + run.end) / 2 * way
    basis = np.array([across, beside])

    def seen(point: Points) -> tuple[float, float]:
        x, y = basis @ point
        return float(x), float(y)

    near_at, middle, guide = (seen(p) for p in (one.frame.origin, two.frame.origin, pin))
    hand = _hand(one, near == first.face.b.key, basis)
    return Linkage(_plain(across), _plain(beside), near_at, middle, guide, joint.travel_mm, hand)


def _turn(angle: float) -> Points:
    return np.array([[math.cos(angle), -math.sin(angle)], [math.sin(angle), math.cos(angle)]])


def _plain(vector: Points) -> tuple[float, float, float]:
    x, y, z = (float(c) for c in vector)
    return x, y, z


def _hand(axis: Axis, is_door: bool, basis: Points) -> int:
    """Which way round the near leaf opens, seen in the plane; the other way where its hinge opens what it hangs on."""
    turn = basis @ axis.turned(10.0)[:, :3] @ basis.T
    return (1 if turn[1, 0] > 0 else -1) * (1 if is_door else -1)


def unfolds(fold: Fold, parts: Sequence[Part], cache: Cache) -> Unfolds:
    """How a folding door folds among the finished pieces."""
    leaves = {fold.near: next(p for p in parts if p.key == fold.near), fold.far: next(p for p in parts if p.key == fold.far)}
    still = [part for part in parts if part.key not in leaves]
    return _unfolds(cache, leaves[fold.near], leaves[fold.far], still, fold.linkage)


@stage("unfolds")
def _unfolds(near: Part, far: Part, still: Sequence[Part], linkage: Linkage) -> Unfolds:
    """Both leaves in positions a few degrees apart, closer where they leave their frame, against all others and each other."""
    frame = {part.key: part.solid for part in still}
    for angle in angles_to(linkage.most_deg):
        now = linkage.at(angle)
        if now is None:
            break
        moved = [(leaf.key, leaf.solid.placed(m)) for leaf, m in ((near, now.near), (far, now.far))]
        for leaf, key, common in _meetings(moved, frame):
            if common.volume_mm3 > FREE_MM3:
                return Unfolds(angle, leaf, met(key, common))
    return Unfolds(None)


def _meetings(moved: Sequence[tuple[str, Solid]], frame: dict[str, Solid]) -> Iterator[tuple[str, str, Solid]]:
    """What each leaf has in common with the pieces that stay, and the leaves with each other."""
    for leaf, solid in moved:
        for key, other in frame.items():
            if other.box_meets(solid):
                yield leaf, key, other.common(solid)
    (near, a), (far, b) = moved
    yield far, near, a.common(b)
