"""Who stands in whose way: for two units and a direction, whether one can slide past the other without end."""

import dataclasses
import math
from collections.abc import Iterable

import numpy as np

from hinoki.core.assemble.scene.parts import Gives, Held, Ids, Scene, Thread, Unit, form_of, plain_motions
from hinoki.core.cache import Cache
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.slide_collision import FREE, WITHIN_MM, Slide, slide
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import Direction, direction_of
from hinoki.core.stages import Keyed, stage

ALIKE = 1 - 1e-6
"""directions whose cosine is above this are one"""
NO_WAY = Slide(False, 0.0, None, False)
"""a joint says so"""

MOST_TOLD = 6
"""what has more than so many things against it is no way worth ranking further"""


class Blocking:
    """Answers about pairs of units, each worked out once: by the joints between them where those say, else on their exact
    triangles. Equal shapes in equal places are remembered in the cache from build to build."""

    def __init__(self, scene: Scene, cache: Cache) -> None:
        self.scene, self.cache = scene, cache
        self._joints = plain_motions(scene)
        self._threads = {frozenset((t.inner, t.outer)): t for t in scene.threads}
        self._known: dict[tuple[str, str, Direction], bool] = {}
        self._near: dict[str, list[str]] = {i: [] for i in scene.units}
        for pair in sorted(scene.together, key=lambda p: -scene.together[p]):
            one, two = sorted(pair)
            self._near[one].append(two)
            self._near[two].append(one)
        self._boxes = {i: tuple(tuple(map(float, c)) for c in u.box) for i, u in scene.units.items()}
        self.asked = 0

    def near(self, unit: str) -> list[str]:
        """Units that one touches, those with the largest faces first."""
        return self._near[unit]

    def joints_between(self, moving: Ids, still: Ids) -> list[Held]:
        """The joints from one set of units to another."""
        return [h for h in self.scene.held if (h.a in moving and h.b in still) or (h.b in moving and h.a in still)]

    def threads_between(self, moving: Ids, still: Ids) -> list[Thread]:
        """The threads from one set of units to another."""
        return [
            t for t in self.scene.threads if (t.inner in moving) != (t.outer in moving) and {t.inner, t.outer} <= moving | still
        ]

    def free(self, moving: str, still: str, way: Direction) -> bool:
        """Whether one unit can slide off another along a way, as far as that one is concerned."""
        key = (moving, still, way)
        known = self._known.get(key)
        if known is None:
            back = direction_of(-np.array(way))
            known = self._known[key] = self._known[still, moving, back] = self._free(moving, still, way)
        return known

    def said(self, moving: str, still: str, way: Direction) -> bool | None:
        """What joints say without a look at the shapes: True and False are sure, None is not."""
        units = self.scene.units
        one, two = units[moving], units[still]
        if "cable" in (one.kind, two.kind):
            return True  # a wire bends; where it must be pulled is told elsewhere
        pair = frozenset((moving, still))
        if pair in self._threads:
            return False
        for screw, other, out in ((one, still, way), (two, moving, direction_of(-np.array(way)))):
            if screw.only is not None and other in screw.joins:
                return bool(np.dot(screw.only, out) > ALIKE)
        for held in self._joints.get(pair, ()):
            if held.motions is not None:
                # `motions` bring B onto A: the way off is the other way round
                sign = -1.0 if held.b == moving else 1.0
                if not any(sign * float(np.dot(m, way)) > ALIKE for m in held.motions):
                    return False
        return None

    def _free(self, moving: str, still: str, way: Direction) -> bool:
        said = self.said(moving, still, way)
        if said is not None:
            return said
        self.asked += 1
        return self._slid(moving, still, way, False).free

    def stop(self, moving: str, still: str, way: Direction, shift: Points | None = None, by_shape: bool = False) -> Slide:
        """The first place where a unit meets another on a way, from where it is or moved by `shift` (3,).

        With `by_shape` what joints say does not count.
        """
        said = None if by_shape else self.said(moving, still, way)
        if said is not None:
            return FREE if said else NO_WAY
        return self._slid(moving, still, way, True, shift)

    def _boxes_pass(self, moving: str, still: str, way: Direction, shift: Points | None) -> bool:
        """Whether even the box around one unit passes that around the other: a ray against the box of all differences."""
        (low, high), (least, most) = self._boxes[moving], self._boxes[still]
        near, far = 0.0, math.inf
        for k in range(3):
            by = 0.0 if shift is None else float(shift[k])
            begin, end = least[k] - high[k] - by + WITHIN_MM, most[k] - low[k] - by - WITHIN_MM
            if abs(way[k]) < 1e-12:
                if begin >= 0 or end <= 0:
                    return True
                continue
            one, two = begin / way[k], end / way[k]
            near, far = max(near, min(one, two)), min(far, max(one, two))
        return near >= far

    def _slid(self, moving: str, still: str, way: Direction, exact: bool, shift: Points | None = None) -> Slide:
        if self._boxes_pass(moving, still, way, shift):
            return FREE
        by = None if shift is None else np.round(shift, 6)
        return _slid(self.cache, self._bodies(moving, still), self._bodies(still, moving), way, exact, by, self.cache)

    def _bodies(self, unit: str, other: str) -> Keyed[tuple[Solid, ...]]:
        """A unit as it is while it and another one go together: what gives way then is bent."""
        return self.giving(unit, (other,)).bodies

    def giving(self, unit: str, others: Iterable[str]) -> Unit:
        """A unit with all bent that gives way while it and others go together."""
        whole = self.scene.units[unit]
        for other in sorted(others):
            if (unit, other) in self.scene.gives:
                key, bent = _bent.with_key(self.cache, whole.bodies, self.scene.gives[unit, other])
                whole = dataclasses.replace(whole, solids=bent, made_by=key)
        return whole

    def blockers(
        self, moving: Ids, still: Iterable[str], way: Direction, most: int | None = None, to_piece: bool = False
    ) -> list[str]:
        """Those of `still` that stand in the way of `moving`: at most `most` of them, or none after the first piece with
        `to_piece`."""
        rest = set(still)
        ordered = list(dict.fromkeys([n for m in sorted(moving) for n in self._near[m] if n in rest]))
        ordered += sorted(rest - set(ordered))
        found = []
        for other in ordered:
            if any(not self.free(m, other, way) for m in sorted(moving)):
                found.append(other)
                if len(found) == most or (to_piece and self.scene.units[other].is_piece):
                    break
        return found

    def least_against(self, moving: Ids, still: Ids, ways: Iterable[Direction]) -> list[tuple[Direction, list[str]]]:
        """Each way with what stands in it, that with the least first: few before many, small things before large ones; a way
        down counts as two more, since it is to be had from below."""
        units = self.scene.units
        found = [(way, self.blockers(moving, still, way, MOST_TOLD)) for way in ways]
        return sorted(found, key=lambda f: (len(f[1]) + 2 * (f[0][2] < -0.5), sum(units[u].volume_mm3 for u in f[1])))

    def touching(self, ids: Ids, two: Ids) -> bool:
        """Whether any unit of one set touches one of the other."""
        return any(n in two for m in ids for n in self._near[m])


@stage("bent", weigh=lambda bodies: sum(b.triangles for b in bodies))
def _bent(bodies: Keyed[tuple[Solid, ...]], gives: Gives) -> tuple[Solid, ...]:
    """Bodies with what gives way bent."""
    return (*(body.minus(gives.straight) for body in bodies.value), *gives.bent)


@stage("slide")
def _slid(
    moving: Keyed[tuple[Solid, ...]],
    still: Keyed[tuple[Solid, ...]],
    way: Direction,
    exact: bool,
    shift: Points | None,
    cache: Cache,
) -> Slide:
    """How far bodies, shifted first, slide along a way past others."""
    return slide(form_of(cache, moving), form_of(cache, still), np.array(way), exact, shift)
