"""Stand: a block that a part rests in, cut to its form from below."""

from typing import ClassVar, Literal

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.forms import FIT_WORDS, Form
from hinoki.core.geometry.frames import AXES, plane_frame
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.make.base import Made, MakerBase, NotMade, Or0, Size
from hinoki.core.make.trying import ROUND, tried
from hinoki.core.model.steps.seat import seat_tools
from hinoki.core.progress import Tell
from hinoki.core.workshop.fits import Fit

SHRINKS_MM = 0.5


class StandMaker(MakerBase, frozen=True):
    """A base round the lowest part of a model, which is let down into it and rests on its floor."""

    form: ClassVar[Form] = Form(
        "Stand",
        "the part rests in it",
        ("sunk_mm", "floor_mm", "margin_mm", "flares_mm", "fit"),
        group="Below it",
        words={"fit": FIT_WORDS},
    )
    fitted: ClassVar[bool] = True

    kind: Literal["stand"] = "stand"
    sunk_mm: Size = Field(12.0, title="Sunk", description="how deep the part goes in")
    floor_mm: Size = Field(4.0, title="Floor", description="below the part's lowest point")
    margin_mm: Size = Field(8.0, title="Margin", description="round the part")
    flares_mm: Or0 = Field(6.0, title="Wider below", description="so that it stands firmly")
    fit: Fit = Field("loose", title="Fit")

    @property
    def fits_by(self) -> Fit:
        """As chosen."""
        return self.fit

    def make(self, host: Solid | None, clearance_mm: float, tell: Tell) -> Made:
        """The stand under the part. Raises NotMade."""
        part = self.wanted_host(host)
        low, high = part.bounds
        if self.sunk_mm >= high[2] - low[2]:
            raise NotMade(f"The part is only {high[2] - low[2]:.1f} mm high; it would vanish in the stand. Sink it less.")
        tell(0.2, "Making the stand")
        bottom, top = float(low[2]) - self.floor_mm, float(low[2]) + self.sunk_mm
        level = plane_frame(np.array([0.0, 0.0, top]), -AXES["z"])
        foot = part.ahead_of(level)
        over = shapely.convex_hull(foot.silhouette()).buffer(self.margin_mm, ROUND)
        wide = over.buffer(self.flares_mm, ROUND) if self.flares_mm > 0 else over
        block = _flared(as_multi(wide), as_multi(over), bottom, top)
        cuts = seat_tools(part, block, AXES["z"], clearance_mm, rests=True, lead_mm=0.0)
        stand = block.minus(cuts).without_crumbs(1.0)
        if stand.empty or len(stand.lumps()) > 1:
            raise NotMade("The part cuts the stand to bits. Give it a larger margin or floor.")
        tell(0.7, "Trying it")
        said = tried(stand, part, plane_frame(np.zeros(3), -AXES["z"]), clearance_mm)
        return Made(stand, (f"stands on {wide.area / 100:.0f} cm²", said.replace("it comes off", "the part comes out")))


def _flared(below: MultiPolygon, above: MultiPolygon, bottom: float, top: float) -> Solid:
    """A body that is as wide as `below` at its bottom and as `above` from halfway up, straight between."""
    rings = [np.asarray(Polygon(shape.geoms[0].exterior).exterior.coords)[:-1] for shape in (below, above)]
    middle = (bottom + top) / 2
    low, high = (np.column_stack([ring, np.full(len(ring), z)]) for ring, z in zip(rings, (bottom, middle), strict=True))
    flare = Solid.hull_of(np.concatenate([low, high]))
    return Solid.united([flare, Solid.drawn(above, middle - 0.01, top)])
