"""What all parts of a project come to together: pieces by their keys in the project, loose parts, and what is bought."""

from dataclasses import dataclass, replace

from hinoki.core.build import Build
from hinoki.core.join.supplies.loose_parts import LoosePart
from hinoki.core.orient.resting.piece import Piece
from hinoki.core.plan.parts import MIRRORED
from hinoki.core.workshop.hardware import Hardware, added_up


@dataclass(frozen=True)
class ProjectPiece:
    """A piece of a part, plain or mirrored, with how often the project needs it."""

    part: Build
    piece: Piece
    mirrored: bool
    count: int

    @property
    def key(self) -> str:
        """Its key in the project."""
        return self.part.project_key(self.piece.key) + (MIRRORED if self.mirrored else "")

    @property
    def name(self) -> str:
        """As people call it."""
        return self.piece.name + (MIRRORED if self.mirrored else "")

    @property
    def shape(self) -> str:
        """The hash of its shape; that of a mirror image says so."""
        return self.piece.shape + (MIRRORED if self.mirrored else "")


def project_pieces(built: Build) -> list[ProjectPiece]:
    """All pieces of all parts, part by part; those needed mirrored, too, stand twice. Raises ValueError where other parts were
    not built."""
    return [
        ProjectPiece(part, piece, mirrored, count)
        for part in built.all_parts
        for mirrored, count in ((False, part.plan.count_plain), (True, part.plan.count_mirrored))
        for piece in part.pieces
        if count
    ]


def project_shapes(built: Build) -> dict[str, str]:
    """The hash of every piece's shape, by its key in the project."""
    return {one.key: one.shape for one in project_pieces(built)}


def project_numbers(built: Build) -> dict[str, int]:
    """The number of every piece, by its key in the project."""
    return {part.project_key(key): number for part in built.all_parts for key, number in part.numbers.items()}


def project_loose(built: Build) -> tuple[LoosePart, ...]:
    """The kinds of loose part of all parts. Those of one name and shape are one kind; what only shares its name with another is
    named with its part."""
    found: dict[str, LoosePart] = {}
    for part in built.all_parts:
        for own in part.loose:
            known = found.get(own.name)
            if known is None:
                found[own.name] = own
            elif known.shape == own.shape:
                found[own.name] = replace(known, count=known.count + own.count, spares=known.spares + own.spares)
            else:
                name = f"{own.name}, {part.plan.label}"
                found[name] = replace(own, name=name)
    return tuple(found.values())


def project_hardware(built: Build) -> list[Hardware]:
    """What is bought for all parts, each as often as its part stands in the project."""
    return added_up([item for part in built.all_parts for item in part.hardware])
