"""What a project's prints have come to, print by print."""

from pydantic import BaseModel


class Done(BaseModel):
    """How many pieces were printed by the end of a print, how many failed, and how many grams and hours that took, in all."""

    at: str
    pieces: int
    failed: int
    grams: float
    hours: float
