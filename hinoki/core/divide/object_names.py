"""Names of pieces that came in as objects of their own: they keep those that they had in the file."""

from collections import Counter
from collections.abc import Sequence

import numpy as np

from hinoki.core.divide.cut import Part
from hinoki.core.geometry.shape import Body

SAME_MM = 1e-3
SAME_SHARE = 1e-6
"""a piece with the box and the volume of an object is that object"""


def names_from_file(bodies: Sequence[Body], parts: Sequence[Part]) -> dict[str, str]:
    """Names by piece key, for the pieces that are whole objects with a name of their own."""
    names = Counter(b.name.strip() for b in bodies)
    known = [(b.name.strip(), b.solid) for b in bodies if names[b.name.strip()] == 1 and b.name.strip()]
    objects = [(name, solid) for name, solid in known if solid is not None]
    if len(bodies) < 2 or not objects:
        return {}
    boxes = np.array([np.concatenate(solid.bounds) for _, solid in objects])
    found: dict[str, str] = {}
    for part in parts:
        alike = np.flatnonzero(np.abs(boxes - np.concatenate(part.solid.bounds)).max(axis=1) < SAME_MM)
        for name, solid in (objects[k] for k in alike):
            if abs(solid.volume_mm3 - part.solid.volume_mm3) <= SAME_SHARE * max(1.0, solid.volume_mm3):
                found[part.key] = name[:80]
                break
    return found
