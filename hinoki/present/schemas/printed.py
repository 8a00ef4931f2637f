"""What prints of a body, as screens see it."""

from pydantic import BaseModel, Field

from hinoki.present.schemas.vectors import Vec3


class LinesView(BaseModel):
    """All lines of all layers really drawn, beside the estimate: without support and brim."""

    minutes: float
    mass_g: float
    estimated_minutes: float
    estimated_g: float


class PrintedView(BaseModel):
    """What prints of a body in layers and lines, where it lies: drawings of that and of what is lost."""

    layer_mm: float
    line_mm: float
    layers: int
    every: bool = Field(True, description="whether every layer was looked at; of very tall bodies only some are")
    lost_mm3: float
    lost_percent: float = Field(description="of the volume")
    reach_mm: float = Field(description="how far the farthest lost point is from what prints of its layer")
    at_mm: Vec3 | None = Field(None, description="in the largest thing that is lost in one layer, where the body lies")
    prints_mesh: str
    lost_mesh: str | None = None
    lines: LinesView | None = None


class ReliefPrintedView(BaseModel):
    """What prints of the model before a step and after it."""

    before: PrintedView
    after: PrintedView
