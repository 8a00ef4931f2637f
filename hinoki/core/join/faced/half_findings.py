"""What is wrong with half joints where they stand: off the face, into each other, through the body, too little left."""

from collections.abc import Sequence

import numpy as np

from hinoki.core.findings import Finding, Params
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import Place, Problem, Standing, Tool, Tools
from hinoki.core.join.faced.half_joint import HalfOf, meeting, off_the_face
from hinoki.core.join.walls import weak_tools

FACE = "the picked face"


def half_findings(joint: HalfOf, stands: Standing, places: Sequence[Place], tools: Tools, body: Solid) -> list[Finding]:
    """Everything noticed about the elements of a half joint on a body as it is before; walls are measured exactly."""
    name = joint.elements.capitalize()
    wrong = off_the_face(joint, stands, places), meeting(joint, stands, places)
    found = face_findings(name, stands.frame, places, wrong, tools.each, body, stands.least_wall_mm)
    for problem in _problems(joint, stands, places, tools):
        k = places.index(problem.at) if problem.at in places else 0
        params: Params = {"kind": joint.kind, "name": f"{name} {k + 1}", **problem.params}
        found.append(
            Finding(severity=problem.severity, code=problem.code, station="model", face=FACE, params=params, about=str(k))
        )
    return found


def face_findings(  # noqa: PLR0913 - a pattern, what is wrong with its outlines, and the body it is cut into
    name: str,
    frame: Frame,
    places: Sequence[Place],
    wrong: tuple[Sequence[int], Sequence[int]],
    tools: Sequence[Tool],
    body: Solid,
    least_wall_mm: float,
) -> list[Finding]:
    """What is wrong with a pattern of things called `name` on a face: those off it, those in another one (`wrong`), and those
    that break through the body or leave too little of it."""

    def told(code: str, k: int, more: Params | None = None) -> Finding:
        return _finding(code, {"name": name, "which": k + 1, **(more or {})}, frame, places[k])

    off, meet = wrong
    found = [told("on-face-off", k) for k in off] + [told("on-face-meet", k) for k in meet]
    for weak in weak_tools(tools, body, least_wall_mm, set(range(len(places))) - set(off), frame):
        if weak.through_mm is not None:
            found.append(told("on-face-through", weak.tool.index, {"through_mm": weak.through_mm}))
        else:
            figures: Params = {"wall_mm": weak.wall_mm or 0.0, "least_mm": least_wall_mm}
            found.append(told("on-face-thin", weak.tool.index, figures))
    return found


def _problems(joint: HalfOf, stands: Standing, places: Sequence[Place], tools: Tools) -> list[Problem]:
    """What the joint finds doubtful itself about this side; notes are about both pieces."""
    if stands.sections is None:
        return []
    own = {tool.side for tool in tools.each}
    every = joint.problems(stands, places, stands.sections)
    return [one for one in every if one.severity != "note" and (one.side is None or one.side in own)]


def _finding(code: str, params: Params, frame: Frame, place: Place) -> Finding:
    x, y, z = (round(float(c), 2) for c in frame.world(np.array([place]))[0])
    return Finding(severity="must-fix", code=code, station="model", params=params, about=str(params["which"]), at_mm=(x, y, z))
