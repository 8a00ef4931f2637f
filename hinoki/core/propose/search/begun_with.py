"""A division under way that begins with some partings: what its seams and their room count."""

from collections.abc import Sequence

from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import mating_faces
from hinoki.core.divide.partings import PartingBase
from hinoki.core.geometry.sections import largest_circle
from hinoki.core.propose.search.beam_search import GOOD_ROOM_MM, Search, State


def begun_with(
    parts: Sequence[Part], partings: Sequence[PartingBase], search: Search, slivers: float = 0.0, least_room_mm: float = 0.0
) -> State | None:
    """The state in which `partings` have left `parts`; None where one of their faces has less room, by a circle's radius, than
    the least."""
    names = {parting.id for parting in partings}
    faces = [face for face in mating_faces(parts, search.cache) if face.ref.parting in names]
    rooms = [largest_circle(face.shape)[0] for face in faces]
    if min(rooms, default=0.0) < least_room_mm:
        return None
    cramped = sum(max(0.0, 1 - room / GOOD_ROOM_MM) for room in rooms)
    seam = sum(search.heed.seam_cost(face.shape, face.frame) for face in faces)
    return State(tuple(parts), tuple(partings), seam, cramped, slivers)
