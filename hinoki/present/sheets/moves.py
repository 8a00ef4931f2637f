"""What moves, on the sheets: once all is together each driver is tried, shown at both ends of its travel."""

import io
from collections.abc import Mapping, Sequence

import numpy as np
from PIL import Image

from hinoki.core.build import Build
from hinoki.core.errors import BadPlan
from hinoki.core.export.thumbnail import pigment
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.slide_collision import Form
from hinoki.core.moving.bodies import Body, bodies_of
from hinoki.core.moving.mechanism import Mechanism, OutOfReach, place_of
from hinoki.core.moving.movements import Travel
from hinoki.core.moving.trial import moved_by
from hinoki.core.plan.plan import Plan
from hinoki.present.sheets.line_drawing import Drawn, View, draw, view_of
from hinoki.present.sheets.sheet import STEP_SIZE, Illustration, Panel
from hinoki.present.sheets.viewpoint import FRONT

MOST = 12
"""drivers that are shown"""
NEAR_MM = 30.0
"""so much is shown round what moves"""


def move_panels(plan: Plan, built: Build, number: int) -> list[Panel]:
    """A panel for each driver, numbered on from `number`; none where the movements of the plan are not about this build."""
    if not plan.movements:
        return []
    try:
        bodies, mechanism = bodies_of(built, plan.movements), Mechanism(plan.movements)
    except BadPlan:  # told where they are tried
        return []
    panels: list[Panel] = []
    for driver in mechanism.drivers[:MOST]:
        picture = _both_ends(mechanism, bodies, driver)
        if picture is not None:
            panels.append(_panel(driver, number + len(panels), picture))
    return panels


def _panel(driver: Travel, number: int, picture: Illustration) -> Panel:
    how = f"It goes from {driver.begin:g}{driver.unit} (left) to {driver.end:g}{driver.unit} (right)."
    return Panel(number, f"Try {driver.label}", how, [], [], [], None, picture, [])


def _both_ends(mechanism: Mechanism, bodies: Sequence[Body], driver: Travel) -> Illustration | None:
    """Begin and end beside each other, from the same side; None where nothing moves or a rod does not reach."""
    try:
        ends = [mechanism.state({driver.id: value})[1] for value in (driver.begin, driver.end)]
    except OutOfReach:
        return None
    moved = moved_by(mechanism, driver)
    own = [body for body in bodies if body.movement in moved]
    if not own:
        return None
    drawn = [_drawn(bodies, places, moved) for places in ends]
    corners = np.concatenate([_corners(body, places, NEAR_MM) for places in ends for body in own])
    size = STEP_SIZE[0] // 2, STEP_SIZE[1]
    strong = [one for side in drawn for one in side if not one.pale]
    view: View = view_of(strong, FRONT, *size, also=corners)
    sheet = Image.new("RGB", STEP_SIZE, "white")
    for k, side in enumerate(drawn):
        sheet.paste(Image.open(io.BytesIO(draw(side, view).png)).convert("RGB"), (k * size[0], 0))
    out = io.BytesIO()
    sheet.save(out, "PNG")
    return Illustration(out.getvalue(), STEP_SIZE)


def _drawn(bodies: Sequence[Body], places: Mapping[str, Points], moved: frozenset[str]) -> list[Drawn]:
    nothing = np.zeros(3)
    return [
        Drawn(
            body.id,
            Form(_placed(body, places)),
            nothing,
            pigment(body.number),
            body.movement not in moved,
        )
        for body in bodies
    ]


def _placed(body: Body, places: Mapping[str, Points]) -> Mesh:
    matrix = place_of(body.movement, places)
    return Mesh(body.mesh.vertices @ matrix[:, :3].T + matrix[:, 3], body.mesh.faces)


def _corners(body: Body, places: Mapping[str, Points], more_mm: float) -> Points:
    """Of the box round a body and so much more, (2, 3)."""
    at = _placed(body, places).vertices
    return np.array([at.min(axis=0) - more_mm, at.max(axis=0) + more_mm])
