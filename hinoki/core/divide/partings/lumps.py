"""Lumps: what is separate in the model already becomes pieces of its own; specks are dropped or stay with a neighbour."""

from collections.abc import Mapping, Sequence
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field

from hinoki.core.divide.partings.base import Cut, CutUp, Member, PartingBase, Reach, Remark, uncut
from hinoki.core.findings import Params
from hinoki.core.forms import Form
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid


class LumpsParting(PartingBase, frozen=True):
    """Separates the lumps of a piece; a cavity stays with the lump around it. Specks are lumps smaller than a volume."""

    words: ClassVar[Mapping[str, str]] = {
        "lumps-all-specks": (
            "{parting}: every lump is smaller than {speck_mm3:g} mm³, so none was taken for a speck. Choose a smaller volume."
        ),
        "specks/dropped": "{parting}: {count:#speck|specks} of {volume_mm3:.1f} mm³ in all {count:?was|were} dropped.",
        "specks/neighbour": (
            "{parting}: {count:#speck|specks} of {volume_mm3:.1f} mm³ in all {count:?was left with the lump nearest to "
            "it|were left with their neighbours}."
        ),
        "lumps-one": "{parting}: what it is set to separate is one lump already, so nothing changes.",
    }

    form: ClassVar[Form] = Form(
        "Lumps",
        "lumps",
        ("speck_mm3", "specks"),
        words={"specks": {"neighbour": "stay with their neighbour", "drop": "are dropped"}},
    )

    kind: Literal["lumps"] = "lumps"
    speck_mm3: Annotated[float, Field(ge=0, le=1e9, allow_inf_nan=False)] = Field(
        0.0, title="Specks under", description="volume of a lump that counts as a speck; 0 for none"
    )
    specks: Literal["neighbour", "drop"] = Field("neighbour", title="Specks", description="what becomes of them")

    @property
    def takes_away(self) -> bool:
        """Dropped specks are lost to the model."""
        return self.speck_mm3 > 0 and self.specks == "drop"

    def members(self, reach: Reach) -> list[Member]:  # noqa: ARG002
        """No planes: nothing is cut."""
        return []

    def cut(self, solid: Solid, members: Sequence[Member]) -> CutUp:  # noqa: ARG002
        """The lumps, low ones first."""
        lumps = solid.lumps()
        large = [lump for lump in lumps if lump.volume_mm3 >= self.speck_mm3]
        small = [lump for lump in lumps if lump.volume_mm3 < self.speck_mm3]
        if not large:
            return uncut(solid, Remark("look-at", "lumps-all-specks", {"speck_mm3": self.speck_mm3}))
        remarks = []
        if small:
            volume = sum(s.volume_mm3 for s in small)
            params: Params = {
                "count": len(small),
                "volume_mm3": volume,
                "case": "dropped" if self.specks == "drop" else "neighbour",
            }
            remarks.append(Remark("note", "specks", params))
        groups = [[lump] for lump in large]
        if small and self.specks == "neighbour":
            for speck, at in zip(small, _nearest(small, large), strict=True):
                groups[at].append(speck)
        if len(groups) == 1 and not (small and self.takes_away):
            return uncut(solid, *(remarks or [Remark("look-at", "lumps-one")]))
        cuts = [
            Cut(f":{k}", group[0] if len(group) == 1 else Solid.together(group), (), whole=True)
            for k, group in enumerate(groups)
        ]
        return CutUp(tuple(cuts), tuple(remarks))

    def label(self) -> str:
        """Such as “Lumps, specks under 5 mm³ dropped”."""
        how = "dropped" if self.specks == "drop" else "kept by their neighbours"
        return f"Lumps, specks under {self.speck_mm3:g} mm³ {how}" if self.speck_mm3 else "Lumps"

    def mirrored(self, axis: int, about_mm: float) -> Self:  # noqa: ARG002
        """The same: it has no place."""
        return self


def _nearest(small: Sequence[Solid], large: Sequence[Solid]) -> list[int]:
    """For each small solid the large one whose corners come nearest to its middle."""
    from scipy.spatial import cKDTree

    corners: list[Points] = [lump.mesh.vertices for lump in large]
    owner = np.repeat(np.arange(len(large)), [len(c) for c in corners])
    tree = cKDTree(np.concatenate(corners))
    return [int(owner[tree.query(speck.centre_of_box)[1]]) for speck in small]
