"""A parting once more: a copy beside it, or its mirror image."""

from typing import Literal

from pydantic import BaseModel, Field

from hinoki.core.divide.partings import Parting

BESIDE_MM = 10.0


class Again(BaseModel):
    """What is wanted of a parting: a copy, or its image in a mirror across an axis."""

    parting: Parting
    id: str = Field(pattern=r"^p[1-9][0-9]{0,3}$", description="name of the new one")
    how: Literal["copy", "mirror"]
    axis: Literal["x", "y", "z"] = "x"
    about_mm: float = Field(0.0, ge=-1e5, le=1e5, allow_inf_nan=False)


def once_more(wish: Again) -> Parting:
    """The new parting. A copy lies BESIDE_MM further along; one without a place of its own, which would cut nothing new, is
    switched off until it is changed; so is a mirror image that lies where the parting itself lies."""
    one = wish.parting
    if wish.how == "mirror":
        other = one.mirrored("xyz".index(wish.axis), wish.about_mm)
        name = f"{one.name} mirrored" if one.name else ""
    else:
        across = one.across()
        other = one.moved(across * BESIDE_MM) if across is not None else one
        name = f"{one.name} copy" if one.name else ""
    same = other.fingerprint == one.fingerprint
    return other.model_copy(update={"id": wish.id, "name": name[:80], "on": one.on and not same, "hidden": False})
