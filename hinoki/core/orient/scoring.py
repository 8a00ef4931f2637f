"""What counts more: measures of candidates weighed against each other. Hard rules stand apart and come first."""

from collections.abc import Mapping, Sequence
from typing import Annotated, Literal

from pydantic import BaseModel, Field

Weight = Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)]
Preset = Literal["least support", "best surface", "strongest joints", "fastest"]


class Weights(BaseModel, frozen=True):
    """How much each measure counts, 0 to 10."""

    support: Weight = Field(5.0, title="Support", description="volume of what must be held up")
    scars: Weight = Field(5.0, title="Scars", description="support on faces to be seen, mating faces and joints")
    steps: Weight = Field(2.0, title="Layer lines", description="steps on shallow surfaces to be seen")
    hold: Weight = Field(4.0, title="Hold on the bed", description="small contact, tall and slender")
    strength: Weight = Field(2.0, title="Joints' strength", description="pins along the layers")
    time: Weight = Field(2.0, title="Time", description="height and material")


PRESETS: Mapping[Preset, Weights] = {
    "least support": Weights(),
    "best surface": Weights(support=2, scars=8, steps=8, hold=3, strength=1, time=1),
    "strongest joints": Weights(support=3, scars=4, steps=1, hold=4, strength=9, time=1),
    "fastest": Weights(support=4, scars=2, steps=1, hold=4, strength=1, time=9),
}
NAMES: tuple[str, ...] = tuple(Weights.model_fields)


def weighed(
    measures: Sequence[Mapping[str, float]], weights: Weights, allowed: Sequence[Mapping[str, float]] | None = None
) -> list[float]:
    """A penalty for each candidate, less is better: every measure as its share of the span that the `allowed` candidates have
    (all of them where none are told), so that only what differs counts; a measure all but alike for all counts nothing."""
    out = [0.0] * len(measures)
    for name in NAMES:
        values, among = [m[name] for m in measures], [m[name] for m in allowed or measures]
        low, high = min(among, default=0.0), max(among, default=0.0)
        if high - low <= 1e-9 * max(1.0, abs(high)):
            continue
        for k, value in enumerate(values):
            out[k] += float(getattr(weights, name)) * (value - low) / (high - low)
    return out
