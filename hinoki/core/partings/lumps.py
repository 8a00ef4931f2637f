"""Lumps: what is separate in the model already becomes pieces of its own."""

from collections.abc import Sequence
from typing import Literal

from hinoki.core.mesh import Points
from hinoki.core.partings.base import Cut, Member, PartingBase
from hinoki.core.solid import Solid


class LumpsParting(PartingBase, frozen=True):
    """Separates the lumps of a piece; a cavity stays with the lump around it."""

    kind: Literal["lumps"] = "lumps"

    def members(self, low: Points, high: Points) -> list[Member]:  # noqa: ARG002
        """No planes: nothing is cut."""
        return []

    def cut(self, solid: Solid, members: Sequence[Member]) -> list[Cut]:  # noqa: ARG002
        """The lumps, low ones first."""
        lumps = solid.lumps()
        if len(lumps) < 2:
            return [Cut("", solid, ())]
        return [Cut(f":{k}", lump, ()) for k, lump in enumerate(lumps)]

    def label(self) -> str:
        """Always “Lumps”."""
        return "Lumps"
