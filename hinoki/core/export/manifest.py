"""What an export held, remembered: the shape of each piece by its hash, so that it is known later what has changed since."""

from collections.abc import Sequence
from typing import NamedTuple

from pydantic import BaseModel

from hinoki.core.batch.batches import Batches, prints_on
from hinoki.core.build import Build
from hinoki.core.join.contract.terms import direction_of
from hinoki.core.project import project_pieces


class PieceOut(BaseModel):
    """A piece as it went out: the hash of its shape (before 0.8 that of what made it), the side it lay on, and its batch."""

    key: str
    number: int
    name: str
    shape: str
    down: tuple[float, float, float]
    batch: int | None


class PieceNow(NamedTuple):
    """A piece as it is now: its number, the hash of its shape, and of what made it."""

    key: str
    number: int
    shape: str
    made_by: str


class WentOut(BaseModel):
    """All pieces of an export."""

    pieces: list[PieceOut]
    batches: int

    @classmethod
    def of(cls, built: Build, batches: Batches) -> "WentOut":
        """Of a build and its batches."""
        where = prints_on(batches)
        return cls(
            batches=len(batches.each),
            pieces=[
                PieceOut(
                    key=p.key,
                    number=p.piece.number,
                    name=p.name,
                    shape=p.shape,
                    down=direction_of(p.piece.rest.down),
                    batch=where.get(p.key),
                )
                for p in project_pieces(built)
            ],
        )

    def changed_since(self, now: Sequence[PieceNow]) -> tuple[list[int], list[int]]:
        """Numbers of pieces whose shape is another now (or that were not there), and of those that are there no more."""
        before = {p.key: p for p in self.pieces}
        changed = [p.number for p in now if p.key not in before or before[p.key].shape not in (p.shape, p.made_by)]
        there = {p.key for p in now}
        return sorted(changed), sorted(p.number for key, p in before.items() if key not in there)
