"""Fillet block: a three-sided block that is glued into an inner corner, and stiffens it."""

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.frames import crossed
from hinoki.core.geometry.mesh import Faces, Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.make.base import Made, MakerBase, NotMade, Size
from hinoki.core.model.steps.base import Spot
from hinoki.core.progress import Tell

LEAST_TURN = 0.17
"""edges that turn inwards by less than this (10°) are no corners"""
GLUE_MM = 0.1
"""room for glue on either face"""


class FilletBlockMaker(MakerBase, frozen=True):
    """A block along an inner edge of a part, cut to its angle."""

    form: ClassVar[Form] = Form(
        "Fillet block", "glued into an inner corner", ("leg_mm", "long_mm"), group="In a corner", picks=("at_mm",)
    )
    fitted: ClassVar[bool] = True

    kind: Literal["fillet"] = "fillet"
    at_mm: Spot | None = Field(None, title="Corner", description="a point near the inner edge; none: the longest one")
    leg_mm: Size = Field(12.0, title="Legs", description="along either face")
    long_mm: Size = Field(40.0, title="Long")

    def make(self, host: Solid | None, clearance_mm: float, tell: Tell) -> Made:  # noqa: ARG002
        """The block where it is glued. Raises NotMade."""
        part = self.wanted_host(host)
        tell(0.2, "Looking for the corner")
        start, end, one, two = _corner(part, None if self.at_mm is None else np.array(self.at_mm))
        way = (end - start) / np.linalg.norm(end - start)
        reach = float(np.linalg.norm(end - start))
        long = min(self.long_mm, reach - 2 * GLUE_MM)
        if long < 1.0:
            raise NotMade("The corner is too short for a block. Choose a longer one.")
        wanted = reach / 2 if self.at_mm is None else float((np.array(self.at_mm) - start) @ way)
        at = start + way * float(np.clip(wanted, long / 2 + GLUE_MM, reach - long / 2 - GLUE_MM))
        legs = [_within(way, own, other) for own, other in ((one, two), (two, one))]
        off = GLUE_MM * (one + two) / (1 + float(one @ two))  # off both faces alike
        corners = [at + off, at + off + self.leg_mm * legs[0], at + off + self.leg_mm * legs[1]]
        block = Solid.hull_of(np.array([c + s * long / 2 * way for c in corners for s in (-1, 1)]))
        if block.common(part).volume_mm3 > 1e-2:
            raise NotMade("The block runs into the part: there is no room for legs so long. Make them shorter.")
        angle = float(np.degrees(np.arccos(np.clip(legs[0] @ legs[1], -1, 1))))
        return Made(block, (f"corner of {angle:.0f}°, {reach:.0f} mm long", f"{GLUE_MM} mm for glue on either face"))


def _within(way: Points, own: Points, other: Points) -> Points:
    """The unit vector in the face of normal `own`, square to the edge, that leads away from it on the open side."""
    leg = crossed(way, own)
    return leg if leg @ other > 0 else -leg


def _corner(part: Solid, at: Points | None) -> tuple[Points, Points, Points, Points]:
    """The inner edge nearest to a point, or the longest: its ends and the normals of its two faces, (3,) each."""
    mesh = part.mesh
    faces, normals = mesh.faces, mesh.face_normals
    sides = np.concatenate([faces[:, [k, (k + 1) % 3]] for k in range(3)])
    owner = np.tile(np.arange(len(faces)), 3)
    order = np.lexsort(np.sort(sides, axis=1).T)
    sides, owner = sides[order], owner[order]
    one, two = owner[0::2], owner[1::2]
    ends = mesh.vertices[sides[0::2]]
    turn = np.linalg.norm(np.cross(normals[one], normals[two]), axis=1)
    far = mesh.vertices[faces[two]].mean(axis=1) - ends.mean(axis=1)
    inner = (turn > LEAST_TURN) & (np.einsum("ij,ij->i", far, normals[one]) > 1e-6)
    if not inner.any():
        raise NotMade("This part has no inner corner for a block.")
    lines = [_whole(ends[k], ends[inner], normals[one][k], normals[two][k], normals[one][inner], normals[two][inner])
             for k in _candidates(np.flatnonzero(inner), ends, at)]  # fmt: skip
    if at is None:
        return max(lines, key=lambda line: float(np.linalg.norm(line[1] - line[0])))
    return lines[0]


def _candidates(inner: Faces, ends: Points, at: Points | None) -> list[int]:
    along = ends[inner, 1] - ends[inner, 0]
    long = np.linalg.norm(along, axis=1)
    if at is None:
        return [int(k) for k in inner[np.argsort(-long, kind="stable")[:20]]]
    share = np.clip(np.einsum("ij,ij->i", at - ends[inner, 0], along) / np.maximum(long, 1e-12) ** 2, 0, 1)
    away = np.linalg.norm(ends[inner, 0] + share[:, None] * along - at, axis=1)
    return [int(inner[np.argmin(away)])]


def _whole(
    edge: Points, every: Points, one: Points, two: Points, ones: Points, twos: Points
) -> tuple[Points, Points, Points, Points]:
    """An edge with all that go on in its line between the same two planes."""
    way = (edge[1] - edge[0]) / np.linalg.norm(edge[1] - edge[0])
    off = every - edge[0]
    apart = np.linalg.norm(off - (off @ way)[..., None] * way, axis=2).max(axis=1)
    same = (ones @ one > 0.999) & (twos @ two > 0.999) | (ones @ two > 0.999) & (twos @ one > 0.999)
    reach = (off[(apart < 0.02) & same] @ way).ravel()
    return edge[0] + reach.min() * way, edge[0] + reach.max() * way, one, two
