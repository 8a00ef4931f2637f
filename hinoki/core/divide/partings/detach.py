"""Detach: one feature comes off at a loop around it, whatever else the plane of the loop crosses."""

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, ClassVar, Literal, Self

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import Point, Polygon

from hinoki.core.divide.partings.base import (
    Cut,
    CutUp,
    Direction,
    Member,
    PartingBase,
    Reach,
    Remark,
    Spot,
    in_mirror,
    sides_of,
    spot,
    uncut,
)
from hinoki.core.forms import Form
from hinoki.core.geometry.filmless_cut import split_at
from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import flat_faces_at
from hinoki.core.geometry.solid import Solid

if TYPE_CHECKING:
    import networkx as nx


CRUMB_MM3 = 1e-3
"""a lump of less is rounding"""
FILM_MM2 = 0.5
"""surface left beyond what there should be is that of a film"""


class DetachParting(PartingBase, frozen=True):
    """The feature ahead of a loop: the plane through `through_mm` cuts only the outline that holds that point or is nearest."""

    words: ClassVar[Mapping[str, str]] = {
        "detach-still-held": (
            "{parting} ({label}): what lies ahead of the loop is joined to the rest elsewhere too, so nothing comes off. "
            "Detach it there as well, or use a flat parting."
        ),
    }

    form: ClassVar[Form] = Form("Detach", "detach", ("through_mm", "normal"))

    kind: Literal["detach"] = "detach"
    through_mm: Spot = Field((0.0, 0.0, 0.0), title="Loop at", description="a point within the loop")
    normal: Direction = Field((0.0, 0.0, 1.0), title="Towards the feature")

    @property
    def frame(self) -> Frame:
        """The plane of the loop; it looks at the feature."""
        return plane_frame(np.array(self.through_mm), np.array(self.normal))

    def members(self, reach: Reach) -> list[Member]:  # noqa: ARG002
        """The one plane."""
        return self.members_for()

    def members_for(self) -> list[Member]:
        """The one plane, whatever is cut."""
        return [Member(0, self.frame)]

    def cut(self, solid: Solid, members: Sequence[Member]) -> CutUp:
        """The rest (`-`) and the feature (`+`)."""
        import networkx as nx

        frame = members[0].frame
        low, high = sides_of(solid, frame)
        if low >= 0 or high <= 0:
            return uncut(solid)
        above, below = (half.lumps() if not half.empty else [] for half in split_at(solid, frame))
        if not above or not below:
            return uncut(solid)
        graph, loop = _joined(above, below, frame)
        if loop is None:
            return uncut(solid)
        first, last = loop[0], loop[1]
        graph.remove_edge(first, last, key=loop[2])
        if nx.has_path(graph, first, last):
            return uncut(solid, Remark("must-fix", "detach-still-held"))
        lumps = {("a", k): lump for k, lump in enumerate(above)} | {("b", k): lump for k, lump in enumerate(below)}
        ahead = nx.node_connected_component(graph, first)
        feature, rest = ([lump for name, lump in lumps.items() if (name in ahead) is wanted] for wanted in (True, False))
        off = _one(feature)
        # what the plane crosses elsewhere is not to be cut and joined again: each time it would be seamed once more
        left = rest[0] if len(rest) == 1 else _without(solid, off, rest, frame) or _one(rest)
        cuts = (Cut("-", left, ((0, -1),)), Cut("+", off, ((0, 1),), off=spot(frame.n)))
        return CutUp(cuts)

    def label(self) -> str:
        """Such as “Detach · at 12, 0, 118”."""
        return "Detach · at " + ", ".join(f"{v:.0f}" for v in self.through_mm)

    def mirrored(self, axis: int, about_mm: float) -> Self:
        """The loop on the other side."""
        normal = in_mirror(np.array(self.normal), axis, 0, direction=True)
        return self.model_copy(
            update={"through_mm": spot(in_mirror(np.array(self.through_mm), axis, about_mm)), "normal": spot(normal)}
        )

    def moved(self, shift: Points) -> Self:
        """The loop shifted."""
        return self.model_copy(update={"through_mm": spot(np.array(self.through_mm) + shift)})

    def across(self) -> Points:
        """Along the feature."""
        return self.frame.n


Node = tuple[str, int]


def _joined(
    above: list[Solid], below: list[Solid], frame: Frame
) -> tuple["nx.MultiGraph[Node]", tuple[Node, Node, int] | None]:
    """Which lumps meet at the plane, an edge for every outline they share; and the edge (above, below, key) of the loop."""
    import networkx as nx

    graph: nx.MultiGraph[Node] = nx.MultiGraph()
    graph.add_nodes_from([("a", k) for k in range(len(above))] + [("b", k) for k in range(len(below))])
    ceilings = [flat_faces_at(lump.mesh, frame, upward=True) for lump in below]
    floors = [flat_faces_at(lump.mesh, frame, upward=False) for lump in above]
    best: tuple[float, float, tuple[Node, Node, int]] | None = None
    here = Point(0.0, 0.0)
    for i, floor in enumerate(floors):
        for j, ceiling in enumerate(ceilings):
            if floor.is_empty or ceiling.is_empty:
                continue
            for part in as_multi(shapely.intersection(floor, ceiling), 1e-3).geoms:
                key = graph.add_edge(("a", i), ("b", j))
                away = Polygon(part.exterior).distance(here)
                if best is None or (away, part.area) < best[:2]:
                    best = away, part.area, (("a", i), ("b", j), key)
    return graph, best[2] if best else None


def _without(solid: Solid, feature: Solid, rest: Sequence[Solid], frame: Frame) -> Solid | None:
    """A solid without a feature that was cut from it, where that leaves as much as lies beside the feature; None where a film
    would stay: the cut moved what lay in its plane, or the two surfaces are the same but for rounding."""
    left = [lump for lump in solid.minus([feature]).lumps() if lump.volume_mm3 > CRUMB_MM3]
    wanted = sum(lump.volume_mm3 for lump in rest)
    if len(left) != 1 or abs(left[0].volume_mm3 - wanted) > CRUMB_MM3:
        return None
    whole, off, now = (float(one.mesh.face_areas.sum()) for one in (solid, feature, left[0]))
    cut = flat_faces_at(feature.mesh, frame, upward=False).area
    return left[0] if abs(now - (whole - off + 2 * cut)) < FILM_MM2 else None


def _one(lumps: list[Solid]) -> Solid:
    return lumps[0] if len(lumps) == 1 else Solid.rejoined(lumps)
