"""What of the hollow would be filled with what, and how the model would stand then."""

from dataclasses import dataclass

import numpy as np

from hinoki.core.assemble.assembled import Assembled
from hinoki.core.assemble.balance import Standing, Stuff, fillings, standing, whole_weight
from hinoki.core.assemble.scene.weights import Weight
from hinoki.core.geometry.mesh import Points
from hinoki.core.plan.assembly_settings import Ballast

LEAST_HOLLOW_MM3 = 20_000.0
"""a smaller hollow holds no ballast worth the name"""
SHARES = (0.25, 0.5, 1.0)
"""how much of the hollow's height is filled"""


@dataclass(frozen=True)
class BallastOption:
    """A filling up to a height above the foot, its weight, and how the model then stands around its centre of mass (3,)."""

    filling: Stuff
    up_to_mm: float
    weight: Weight
    stands: Standing
    centre: Points

    @property
    def tip_deg(self) -> float:
        """How far the model is tipped before it falls."""
        return self.stands.least[1]


def ballast_options(out: Assembled) -> list[BallastOption]:
    """What each filling gives, up to the quarter, the half and all of the hollow's height."""
    hollow, stands = out.hollow, out.stands
    if hollow is None or stands is None or hollow.volume_mm3 < LEAST_HOLLOW_MM3:
        return []
    solids = [s for u in out.scene.units.values() if u.kind in ("piece", "stand") for s in u.solids]
    filled = np.flatnonzero(hollow.areas > 0)
    low = float(hollow.heights[filled[0]] - hollow.thick_mm / 2 - stands.floor_mm)
    high = float(hollow.heights[filled[-1]] + hollow.thick_mm / 2 - stands.floor_mm)
    found = []
    for stuff in fillings().values():
        for share in SHARES:
            up_to = low + share * (high - low)
            ballast = hollow.filled(Ballast(filling=stuff.id, up_to_mm=up_to), stands.floor_mm)
            centre = whole_weight(list(out.weights.values()), ballast).centre
            found.append(BallastOption(stuff, up_to, ballast, standing(solids, centre), centre))
    return found
