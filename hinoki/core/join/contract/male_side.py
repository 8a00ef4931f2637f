"""What joints share whose male part grows from one of the two pieces, chosen by the maker or by Hinoki."""

from typing import Literal, Self

from pydantic import Field

from hinoki.core.join.contract.base import JointBase
from hinoki.core.join.contract.terms import SideName


class SidedJoint(JointBase, frozen=True):
    """Its male part grows from side `on`."""

    on: Literal["a", "b", "auto"] = Field("auto", title="Stands on", description="auto: where it points up most")

    @property
    def male(self) -> SideName:
        """The side the male part grows from."""
        return "b" if self.on == "b" else "a"

    @property
    def female(self) -> SideName:
        """The side it goes into."""
        return "a" if self.male == "b" else "b"

    @property
    def stands_on(self) -> SideName | None:
        """The side chosen; none before Hinoki has chosen one."""
        return None if self.on == "auto" else self.on

    def placed_on(self, side: SideName) -> Self:
        """The same joint on `side`, where it was to stand where Hinoki chooses."""
        return self.model_copy(update={"on": side}) if self.on == "auto" else self
