"""What moves, as screens see it: positions to play, and in words what was tried."""

from collections.abc import Sequence

import numpy as np

from hinoki.core.build import Build
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.moving.bodies import movable
from hinoki.core.moving.mechanism import Mechanism
from hinoki.core.moving.movements import Travel
from hinoki.core.moving.nearness import FAR_MM
from hinoki.core.moving.project import Moving
from hinoki.core.moving.together import Both
from hinoki.core.moving.trial import Pair, Tried
from hinoki.core.plan.plan import Plan
from hinoki.core.stages import key_of
from hinoki.present.bodies import vec
from hinoki.present.findings import finding_views
from hinoki.present.schemas.moving import (
    MovableView,
    MovementView,
    MovingBodyView,
    MovingView,
    PlacesView,
    TouchView,
    TravelView,
)

MOST_SAID = 4
SAME_MM = 0.01
"""what is known to less is as it was measured"""


def moving_view(plan: Plan, built: Build, found: Moving) -> tuple[MovingView, dict[str, Mesh]]:
    """The view, and its drawings by name."""
    meshes = {key_of("moving drawing", body.made_by): body.mesh for body in found.bodies}
    view = MovingView(
        movable=[MovableView(id=name, name=words) for name, words in movable(built)],
        bodies=[
            MovingBodyView(
                id=body.id,
                name=body.label,
                number=body.number,
                mesh=key_of("moving drawing", body.made_by),
                movement=body.movement,
            )
            for body in found.bodies
        ],
        movements=[
            MovementView(
                id=one.id,
                label=one.label,
                unit=one.unit if isinstance(one, Travel) else "",
                travels=isinstance(one, Travel) and one.driven == "itself",
            )
            for one in plan.movements
        ],
        travels=[_travel(one, found.mechanism) for one in found.tried] if found.mechanism else [],
        says=_at_once(found.both, found.mechanism) if found.mechanism else [],
        findings=finding_views(found.findings, plan),
    )
    return view, meshes


def _travel(one: Tried, mechanism: Mechanism) -> TravelView:
    unit = _unit(mechanism, one.movement)
    return TravelView(
        movement=one.movement,
        values=[round(v, 4) for v in one.values],
        places=[
            PlacesView(movement=m, matrices=[_flat(p) for p in places], values=[round(v, 4) for v in one.followers.get(m, ())])
            for m, places in one.places.items()
        ],
        says=_said(one, unit),
        proved=one.proved,
        marks=[
            TouchView(
                value=p.value if p.touch is None else p.touch,
                at_mm=None if p.at is None else vec(p.at),
                touches=p.touch is not None,
            )
            for p in one.pairs[:MOST_SAID]
            if p.touch is not None or not p.rests
        ],
    )


def _said(one: Tried, unit: str) -> list[str]:
    """What goes along, what came nearest, and what was tried."""
    if not one.moved:
        return ["It moves nothing yet. Choose what it moves."]
    said = [f"Moves {', '.join(one.moved)}."]
    if one.breaks is not None:
        return said
    clear = one.clear
    bearing = one.bearing
    if bearing is not None:
        said.append(f"{bearing.one} keeps {bearing.least_mm:.2f} mm from {bearing.other} all along: taken for its play.")
    said += [_pair(pair, unit) for pair in clear[:MOST_SAID] if pair is not bearing]
    if not clear and not one.touches:
        said.append(f"Nothing comes within {FAR_MM - 1:.0f} mm of it.")
    rests = [p for p in one.pairs if p.rests and p.touch is None]
    for pair in rests[:MOST_SAID]:
        said.append(f"{pair.one} slides on {pair.other}: at {pair.positions} positions they share nothing.")
    return said


def _pair(pair: Pair, unit: str) -> str:
    sure = _sure(pair.least_mm, pair.nowhere_less_mm, pair.proved, pair.positions)
    return f"{pair.one} and {pair.other}: {pair.least_mm:.2f} mm at the least, at {pair.value:.1f}{unit}; {sure}."


def _sure(least_mm: float, nowhere_less_mm: float, proved: bool, positions: int) -> str:
    """What is known of positions between those tried."""
    if not proved or nowhere_less_mm <= 0:
        return f"tried at {positions} positions"
    return "proved" if least_mm - nowhere_less_mm < SAME_MM else f"proved that nowhere less than {nowhere_less_mm:.2f} mm"


def _at_once(every: Sequence[Both], mechanism: Mechanism) -> list[str]:
    """Of every two at once those that come near each other."""
    near = [_both(one, mechanism) for one in every if one.least_mm is not None and not one.touch]
    if near or not every or any(one.touch for one in every):
        return near
    return ["Every two of them were tried at once: nothing of one comes near the other."]


def _both(both: Both, mechanism: Mechanism) -> str:
    first, second = (mechanism.by_id[one].label for one in both.drivers)
    begins = f"{first} and {second} at once: "
    least = both.least_mm or 0.0
    one, two = (_unit(mechanism, driver) for driver in both.drivers)
    sure = _sure(least, both.nowhere_less_mm, both.proved, both.positions)
    return (
        f"{begins}{both.one} and {both.other} come as near as {least:.2f} mm, at {both.values[0]:.1f}{one} and "
        f"{both.values[1]:.1f}{two}; {sure}."
    )


def _unit(mechanism: Mechanism, movement: str) -> str:
    one = mechanism.by_id[movement]
    return one.unit if isinstance(one, Travel) else ""


def _flat(matrix: Points) -> Sequence[float]:
    return [float(v) for v in np.round(matrix, 6).ravel()]
