"""Pieces that cuts separated and that are to stay one."""

from pydantic import BaseModel, Field


class Together(BaseModel, frozen=True):
    """Pieces by their keys that stay one. The piece that comes of them has the key of the first."""

    pieces: tuple[str, ...] = Field(min_length=2, max_length=500)
