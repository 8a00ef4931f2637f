"""The play between two parts, as screens see it."""

from pydantic import BaseModel, Field

from hinoki.core.geometry.mesh import Points
from hinoki.core.parts.play import Play
from hinoki.present.bodies import vec
from hinoki.present.schemas.vectors import Vec3


class PlayView(BaseModel):
    """What lies between two bodies; nothing where they are farther apart than was looked. Places are the project's."""

    least_mm: float | None
    least_at_mm: Vec3 | None
    greatest_mm: float | None
    greatest_at_mm: Vec3 | None
    mean_mm: float | None
    facing_mm2: float
    overlap_mm3: float
    overlap_at_mm: Vec3 | None
    deepest_mm: float
    mesh: str = Field(description="drawing of the first body's faces near the second, with the gap at every corner")
    says: str


def play_view(found: Play, mesh: str) -> PlayView:
    """In figures, in a sentence, and with the name of its drawing."""
    return PlayView(
        least_mm=_rounded(found.least_mm),
        least_at_mm=_at(found.least_at_mm),
        greatest_mm=_rounded(found.greatest_mm),
        greatest_at_mm=_at(found.greatest_at_mm),
        mean_mm=_rounded(found.mean_mm),
        facing_mm2=round(found.facing_mm2, 1),
        overlap_mm3=round(found.overlap_mm3, 3),
        overlap_at_mm=_at(found.overlap_at_mm),
        deepest_mm=round(found.deepest_mm, 3),
        mesh=mesh,
        says=_says(found),
    )


def _rounded(value: float | None) -> float | None:
    return None if value is None else round(value, 3)


def _at(place: Points | None) -> Vec3 | None:
    return None if place is None else vec(place)


def _says(found: Play) -> str:
    if found.overlap_mm3 > 0:
        return (
            f"They run into each other: {found.overlap_mm3 / 1000:.2f} cm³ are in both, up to {found.deepest_mm:.2f} mm deep. "
            "Move one of them, or seat it."
        )
    if found.least_mm is None:
        return "They are farther apart than was looked."
    if found.greatest_mm is None:
        return f"They come as near as {found.least_mm:.2f} mm, but no faces look at each other there."
    if found.least_mm < 1e-3:
        return f"They touch; where they do not, there is up to {found.greatest_mm:.2f} mm between them."
    return f"There is {found.least_mm:.2f} to {found.greatest_mm:.2f} mm between them, {found.mean_mm or 0:.2f} mm in the mean."
