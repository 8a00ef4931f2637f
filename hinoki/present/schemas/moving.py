"""What moves, as screens see it."""

from pydantic import BaseModel, Field

from hinoki.present.schemas.findings import FindingView
from hinoki.present.schemas.vectors import Vec3


class MovableView(BaseModel):
    """Something a movement can move: as plans name it, and in words."""

    id: str
    name: str


class MovingBodyView(BaseModel):
    """Something that moves or stands as one, drawn where it is at rest."""

    id: str
    name: str
    number: int
    mesh: str
    movement: str | None = Field(None, description="what it goes along with; none: it stands")


class PlacesView(BaseModel):
    """Where a movement's bodies are: at each position a rigid matrix, row by row, 12 figures."""

    movement: str
    matrices: list[list[float]]
    values: list[float] = Field([], description="its own degrees or mm; none for a rod")


class TouchView(BaseModel):
    """Where on a travel bodies touch, or come nearest."""

    value: float
    at_mm: Vec3 | None = None
    touches: bool


class TravelView(BaseModel):
    """A driver through its travel: the values at which it was drawn, where all goes that it moves, and what was found."""

    movement: str
    values: list[float]
    places: list[PlacesView]
    says: list[str]
    marks: list[TouchView]
    proved: bool = Field(description="whether nothing touches between the positions tried either")


class MovementView(BaseModel):
    """A movement in words."""

    id: str
    label: str
    unit: str
    travels: bool = Field(description="whether it is a driver, and is tried by itself")


class MovingView(BaseModel):
    """What moves in a project: what can be moved, what there is, and each driver tried."""

    movable: list[MovableView]
    bodies: list[MovingBodyView]
    movements: list[MovementView]
    travels: list[TravelView]
    says: list[str] = Field([], description="of every two drivers at once")
    findings: list[FindingView]
