"""What an export held, remembered: the shape of each piece by its hash, so that it is known later what has changed since."""

from pydantic import BaseModel

from hinoki.core.batch.batches import Batches, prints_on
from hinoki.core.build import Built
from hinoki.present.schemas.build import BuildView


class PieceOut(BaseModel):
    """A piece as it went out: the hash of its shape (before 0.8 that of what made it), the side it lay on, and its batch."""

    key: str
    number: int
    name: str
    shape: str
    down: tuple[float, float, float]
    batch: int | None


class WentOut(BaseModel):
    """All pieces of an export."""

    pieces: list[PieceOut]
    batches: int

    @classmethod
    def of(cls, built: Built, batches: Batches) -> "WentOut":
        """Of a build and its batches."""
        where = prints_on(batches)
        return cls(
            batches=len(batches.each),
            pieces=[
                PieceOut(key=p.key, number=p.number, name=p.name, shape=p.shape, down=p.rest.down, batch=where.get(p.number))
                for p in built.view.pieces
            ],
        )

    def changed_since(self, view: BuildView) -> tuple[list[int], list[int]]:
        """Numbers of pieces whose shape is another now (or that were not there), and of those that are there no more."""
        before = {p.key: p for p in self.pieces}
        now = {p.key: p for p in view.pieces}
        changed = [p.number for key, p in now.items() if key not in before or before[key].shape not in (p.shape, p.mesh)]
        return sorted(changed), sorted(p.number for key, p in before.items() if key not in now)
