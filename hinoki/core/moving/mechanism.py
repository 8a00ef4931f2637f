"""A mechanism: all movements of a project, and where everything is for the values of those that drive it."""

from collections.abc import Mapping, Sequence

import numpy as np

from hinoki.core.errors import BadPlan
from hinoki.core.geometry.frames import composed, inverted
from hinoki.core.geometry.mesh import Points
from hinoki.core.moving.movements import Movement, MovementBase, RodMovement, Travel

STILL = np.eye(3, 4)


class OutOfReach(Exception):
    """A rod that does not reach from pin to pin: `movement` cannot follow it."""

    def __init__(self, movement: str) -> None:
        super().__init__(movement)
        self.movement = movement


class Mechanism:
    """Movements in an order in which each is known when it is needed. Raises BadPlan where one names another that is not there,
    goes along with itself, or is driven by what cannot drive it."""

    def __init__(self, movements: Sequence[Movement]) -> None:
        self.by_id = {one.id: one for one in movements}
        self._order: list[Movement] = []
        under_way: set[str] = set()
        for one in movements:
            self._put(one, under_way)

    def _put(self, one: Movement, under_way: set[str]) -> None:
        if one in self._order:
            return
        if one.id in under_way:
            raise BadPlan(f"{one.label} goes along with itself, round about. Let it ride on something else.", one.id)
        under_way.add(one.id)
        for needed in self._needed(one):
            self._put(needed, under_way)
        self._order.append(one)

    def _needed(self, one: Movement) -> list[Movement]:
        """What must be known before it; a rod needs not what it pulls."""
        if isinstance(one, RodMovement):
            return [self._named(i, one) for i in one.follows]
        if one.driven != "itself" and one.by is None:
            raise BadPlan(f"Say what drives {one.label}.", one.id)
        found = [self._named(one.on, one)] if one.on else []
        if one.driven == "other":
            driver = self._named(one.by or "", one)
            if isinstance(driver, RodMovement):
                raise BadPlan(f"{one.label} is to be driven by {driver.label} by a ratio, but that is a rod.", one.id)
            found.append(driver)
        elif one.driven == "rod":
            end = self._other_end(one)[1]
            found += [self._named(end, one)] if end else []
        return found

    def _named(self, movement_id: str, by: MovementBase) -> Movement:
        found = self.by_id.get(movement_id)
        if found is None:
            raise BadPlan(f"{by.label} needs the movement {movement_id}, which is not there. Choose another one.", by.id)
        return found

    def _other_end(self, one: Travel) -> tuple[RodMovement, str | None, Points, Points]:
        """The rod that pulls it, what the rod's other end goes along with, and its pins: on this one, and the other."""
        rod = self._named(one.by or "", one)
        if not isinstance(rod, RodMovement) or one.id not in rod.follows:
            raise BadPlan(f"{one.label} is to be pulled by {rod.label}, which has no pin on it.", one.id)
        if rod.begins_on == rod.ends_on:
            raise BadPlan(f"Both pins of {rod.label} are on {one.label}; it pulls nothing.", one.id)
        a, b = np.array(rod.a_mm), np.array(rod.b_mm)
        return (rod, rod.begins_on, b, a) if rod.ends_on == one.id else (rod, rod.ends_on, a, b)

    @property
    def drivers(self) -> list[Travel]:
        """What moves by itself."""
        return [one for one in self._order if isinstance(one, Travel) and one.driven == "itself"]

    def kept(self) -> dict[str, Points]:
        """Where all is while it is put together: every driver at what its `kept_at` says. Raises OutOfReach."""
        return self.state({one.id: one.kept_at for one in self.drivers})[1]

    def state(self, driven: Mapping[str, float]) -> tuple[dict[str, float], dict[str, Points]]:
        """The values, and for every movement the (3, 4) matrix from where its bodies are at rest. Raises OutOfReach."""
        values: dict[str, float] = {}
        places: dict[str, Points] = {}
        for one in self._order:
            if isinstance(one, RodMovement):
                places[one.id] = _spanned(one, places)
                continue
            base = place_of(one.on, places)
            if one.driven == "itself":
                value = driven.get(one.id, one.rest)
            elif one.driven == "other":
                value = one.ratio * values[one.by or ""]
            else:
                value = self._pulled(one, base, places)
            values[one.id] = value
            places[one.id] = composed(base, one.moved(value))
        return values, places

    def _pulled(self, one: Travel, base: Points, places: Mapping[str, Points]) -> float:
        rod, end, own, other = self._other_end(one)
        there = place_of(end, places)
        seen = _at(inverted(base), _at(there, other))
        try:
            value = one.pulled(own, seen, rod.long_mm, other)
        except NotImplementedError as error:
            raise BadPlan(f"{one.label} is a rail; a rod pulls what turns or slides.", one.id) from error
        if value is None:
            raise OutOfReach(one.id)
        return value

    def chain(self, movement: str | None) -> list[Movement]:
        """A movement and what it rides on, the innermost first. Of a rod itself alone."""
        found: list[Movement] = []
        while movement is not None:
            one = self.by_id[movement]
            found.append(one)
            movement = one.on if isinstance(one, Travel) else None
        return found

    def by_formula(self, movement: str | None) -> bool:
        """Whether how fast it goes is known by a formula: no rod has to do with it."""
        return all(
            isinstance(one, Travel) and (one.driven != "rod" and (one.driven == "itself" or self.by_formula(one.by)))
            for one in self.chain(movement)
        )

    def rate(self, movement: Travel, driver: str) -> float:
        """Its degrees or mm for each one of a driver, by ratios; 0 where that does not drive it."""
        if movement.driven == "itself":
            return 1.0 if movement.id == driver else 0.0
        other = self.by_id[movement.by or ""]
        return movement.ratio * self.rate(other, driver) if isinstance(other, Travel) else 0.0


def place_of(movement: str | None, places: Mapping[str, Points]) -> Points:
    """The (3, 4) matrix of what goes along with a movement; of what goes along with none, that of rest."""
    return places[movement] if movement else STILL


def _at(matrix: Points, point: Points) -> Points:
    return np.asarray(matrix[:, :3] @ point + matrix[:, 3])


def _spanned(rod: RodMovement, places: Mapping[str, Points]) -> Points:
    """From pin to pin, turned by the least."""
    a, b = np.array(rod.a_mm), np.array(rod.b_mm)
    first = _at(place_of(rod.begins_on, places), a)
    last = _at(place_of(rod.ends_on, places), b)
    turn = turn_onto((b - a) / rod.long_mm, last - first)
    return np.column_stack([turn, first - turn @ a])


def turn_onto(way: Points, wanted: Points) -> Points:
    """(3, 3): the least turn of a unit vector (3,) onto the direction of another (3,) (Rodrigues)."""
    wanted = wanted / np.linalg.norm(wanted)
    cross, cosine = np.cross(way, wanted), float(way @ wanted)
    if cosine < -1 + 1e-12:  # right about: about anything square to it
        side = np.cross(way, [1.0, 0, 0] if abs(way[0]) < 0.9 else [0, 1.0, 0])
        side = side / np.linalg.norm(side)
        return np.asarray(2 * np.outer(side, side) - np.eye(3))
    x, y, z = cross
    skew = np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])
    return np.asarray(np.eye(3) + skew + skew @ skew / (1 + cosine))
