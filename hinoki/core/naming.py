"""Names of pieces that came in as objects of their own: they keep those that they had in the file."""

from collections.abc import Sequence

import numpy as np

from hinoki.core.pieces import Part
from hinoki.core.shape import Body

SAME_MM = 1e-3
SAME_SHARE = 1e-6
"""a piece with the box and the volume of an object is that object"""


def names_from_file(bodies: Sequence[Body], parts: Sequence[Part]) -> dict[str, str]:
    """Names by piece key, for the pieces that are whole objects with a name of their own."""
    named = [b for b in bodies if b.name.strip()]
    once = {n for n in (b.name for b in named) if sum(b.name == n for b in named) == 1}
    if len(bodies) < 2 or not once:
        return {}
    found: dict[str, str] = {}
    for part in parts:
        low, high = part.solid.bounds
        for body in named:
            solid = body.solid if body.name in once else None
            if solid is None or not np.allclose(solid.bounds, (low, high), atol=SAME_MM):
                continue
            if abs(solid.volume_mm3 - part.solid.volume_mm3) <= SAME_SHARE * max(1.0, solid.volume_mm3):
                found[part.key] = body.name.strip()[:80]
                break
    return found
