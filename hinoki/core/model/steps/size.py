"""Size: by factor, to a wanted length, to a scale ratio, or by what the distance of two points must be."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import AXIS_WORDS, Form
from hinoki.core.geometry.shape import Shape
from hinoki.core.model.steps.base import AXES, Axis, Outcome, Spot, StepBase, StepRefused, Tell, number

Factor = Annotated[float, Field(gt=0, ge=1e-4, le=1e4, allow_inf_nan=False)]
Length = Annotated[float, Field(gt=0, le=1e5, allow_inf_nan=False)]


class _Sized(StepBase, frozen=True):
    needs_closed: ClassVar[bool] = False
    resettles: ClassVar[bool] = True

    def factors(self, shape: Shape) -> "np.ndarray":
        """Factor along each axis, (3,). Raises StepRefused."""
        raise NotImplementedError

    def apply(self, shape: Shape, tell: Tell) -> Outcome:  # noqa: ARG002
        """Scale the shape."""
        factors = self.factors(shape)
        low, high = shape.bounds
        size = (high - low) * factors
        if size.max() > 1e5 or size.max() < 1e-3:
            raise StepRefused(f"{self.label()} would make the model {size.max():.3g} mm across. Choose another size.", self.id)
        said = (
            f"factor {number4(factors[0])}" if np.ptp(factors) < 1e-9 else f"factors {', '.join(number4(f) for f in factors)}"
        )
        return Outcome(shape.moved(np.column_stack([np.diag(factors), np.zeros(3)])), [said])


class ScaleStep(_Sized, frozen=True):
    """Scales by a factor along each axis."""

    form: ClassVar[Form] = Form("By a factor", "also per axis", ("factor",), group="Size")

    kind: Literal["scale"] = "scale"
    factor: tuple[Factor, Factor, Factor] = Field((1.0, 1.0, 1.0), title="Factor", description="along X, Y and Z")

    def label(self) -> str:
        """Such as “Scale 0.5” or “Scale 1 × 1 × 1.2”."""
        same = len(set(self.factor)) == 1
        return f"Scale {number4(self.factor[0])}" if same else f"Scale {' × '.join(number4(f) for f in self.factor)}"

    def factors(self, shape: Shape) -> "np.ndarray":  # noqa: ARG002
        """As typed."""
        return np.array(self.factor)


class LengthStep(_Sized, frozen=True):
    """Scales evenly so that the model has a wanted length along one axis."""

    form: ClassVar[Form] = Form(
        "To a length", "along one axis", ("axis", "length_mm"), group="Size", words={"axis": AXIS_WORDS}
    )

    kind: Literal["length"] = "length"
    axis: Axis = Field("z", title="Along")
    length_mm: Length = Field(100.0, title="Length")

    def label(self) -> str:
        """Such as “Z to 640 mm”."""
        return f"{self.axis.upper()} to {number(self.length_mm)} mm"

    def factors(self, shape: Shape) -> "np.ndarray":
        """Wanted length over what there is."""
        low, high = shape.bounds
        return np.full(3, self.length_mm / float((high - low)[AXES[self.axis]]))


class RatioStep(_Sized, frozen=True):
    """Scales evenly to 1 : ratio of a real length along one axis."""

    form: ClassVar[Form] = Form(
        "To a scale", "1 : 48 of a real length", ("axis", "real_mm", "ratio"), group="Size", words={"axis": AXIS_WORDS}
    )  # fmt: skip

    kind: Literal["ratio"] = "ratio"
    axis: Axis = Field("z", title="Along")
    real_mm: Annotated[float, Field(gt=0, le=1e8, allow_inf_nan=False)] = Field(10_000.0, title="Real length")
    ratio: Annotated[float, Field(gt=0, ge=0.001, le=1e5, allow_inf_nan=False)] = Field(48.0, title="Scale 1 :")

    def label(self) -> str:
        """Such as “1 : 48 of 12 000 mm along Z”."""
        return f"1 : {number4(self.ratio)} of {number(self.real_mm)} mm along {self.axis.upper()}"

    def factors(self, shape: Shape) -> "np.ndarray":
        """Real length / ratio over what there is."""
        low, high = shape.bounds
        return np.full(3, self.real_mm / self.ratio / float((high - low)[AXES[self.axis]]))


class MatchStep(_Sized, frozen=True):
    """Scales evenly so that two picked points are a wanted distance apart."""

    form: ClassVar[Form] = Form(
        "By two points",
        "and what their distance must be",
        ("from_mm", "to_mm", "distance_mm"),
        group="Size",
        picks=("from_mm", "to_mm"),
    )

    kind: Literal["match"] = "match"
    from_mm: Spot = Field((0.0, 0.0, 0.0), title="From")
    to_mm: Spot = Field((0.0, 0.0, 100.0), title="To")
    distance_mm: Length = Field(100.0, title="Must be")

    def label(self) -> str:
        """Such as “Two points 35 mm apart”."""
        return f"Two points {number(self.distance_mm)} mm apart"

    def factors(self, shape: Shape) -> "np.ndarray":  # noqa: ARG002
        """Wanted over measured distance."""
        there = float(np.linalg.norm(np.array(self.to_mm) - np.array(self.from_mm)))
        if there < 1e-6:
            raise StepRefused("The two points lie in one place. Pick them further apart.", self.id)
        return np.full(3, self.distance_mm / there)


def number4(value: float) -> str:
    """A factor: four figures."""
    return f"{value:.4g}"
