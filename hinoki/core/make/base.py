"""What every part that Hinoki makes says about itself: its figures, the part it is made for, and its body."""

from abc import abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, ClassVar, Self

from pydantic import BaseModel, Field

from hinoki.core.errors import HinokiError
from hinoki.core.findings import Finding
from hinoki.core.forms import Form
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.steps.seat import SeatStep
from hinoki.core.progress import Tell
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.materials import Material

Size = Annotated[float, Field(gt=0, ge=0.4, le=2000, allow_inf_nan=False)]
Or0 = Annotated[float, Field(ge=0, le=2000, allow_inf_nan=False)]


class NotMade(HinokiError):
    """A part that cannot be made of its figures, or for the part it is wanted for."""

    code = "not-made"


@dataclass(frozen=True)
class Made:
    """The body that was made, and what is worth telling about it."""

    solid: Solid
    said: tuple[str, ...] = ()


class MakerBase(BaseModel, frozen=True):
    """A part made of typed figures, mm. Its body stands in coordinates of its own, underside at Z 0, about Z; one that goes
    into, onto or over another part (`for_part`) stands in the coordinates of that one, where it belongs."""

    form: ClassVar[Form]
    """its name, and how its form is drawn"""
    fitted: ClassVar[bool] = False
    """whether its shape follows that of the part it is made for"""
    own_figures: ClassVar[tuple[str, ...]] = ("for_part", "comes_with")
    """what it does not share with those that were made along with it"""
    kind: str
    for_part: str | None = Field(None, pattern=r"^q[1-9][0-9]{0,3}$", description="the part it is made for")
    comes_with: str | None = Field(None, pattern=r"^q[1-9][0-9]{0,3}$", description="the made part whose figures it shares")

    @property
    def fingerprint(self) -> object:
        """All that decides what it is."""
        return self.model_dump(mode="json", exclude={"for_part", "comes_with"})

    @property
    def fits_by(self) -> Fit:
        """The class of fit its clearance is of."""
        return "sliding"

    def goes_with(self) -> Sequence[tuple[str, "MakerBase", int]]:
        """What is made along with it, by name: each a part of its own, beside it, so many for each time that it stands."""
        return ()

    def like(self, other: "MakerBase") -> Self:
        """Itself with the figures of another of its kind that it was made along with."""
        return self.model_copy(update={n: getattr(other, n) for n in type(self).model_fields if n not in self.own_figures})

    def seat_in_host(self, part_id: str) -> SeatStep | None:  # noqa: ARG002 - most need none
        """The step that cuts its place into the part it is made for, where it needs one; `part_id` is its own."""
        return None

    def behaves(self, material: Material) -> tuple[str, ...]:  # noqa: ARG002 - most are stiff
        """How it gives way in a material, in words."""
        return ()

    def problems(self, material: Material) -> Sequence[Finding]:  # noqa: ARG002 - most are stiff
        """What it cannot bear in a material."""
        return ()

    @abstractmethod
    def make(self, host: Solid | None, clearance_mm: float, tell: Tell) -> Made:
        """The body; `host` is the part it is made for, with clearance on each side. Raises NotMade."""

    def wanted_host(self, host: Solid | None) -> Solid:
        """The part it is made for. Raises NotMade where there is none."""
        if host is None:
            raise NotMade(f"A {self.form.name.lower()} needs a part that it is made for. Choose one with a closed surface.")
        return host


def length(value: float) -> str:
    """A length in a sentence: at most two decimals."""
    return f"{value:.2f}".rstrip("0").rstrip(".")
