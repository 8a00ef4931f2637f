"""How a project stands: every piece by its state, what is out of date, what must be printed again, how much is done."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from pydantic import BaseModel, Field

from hinoki.core.plan.batch_settings import LADDER, thing_of
from hinoki.core.printlog.records import Item
from hinoki.core.printlog.states import LIVE, MADE, PIECE_STATES, PieceState

BoardState = Literal["planned"] | PieceState
ORDER: tuple[BoardState, ...] = ("planned", *PIECE_STATES)
DONE: tuple[PieceState, ...] = ("finished", "installed")
_FAR = {state: k for k, state in enumerate(("in a batch", "printing", "printed", "cleaned", "fitted", "finished", "installed"))}


@dataclass(frozen=True)
class Needed:
    """Something the model needs: a piece, or a kind of loose part with how many of it."""

    key: str
    number: int | None
    name: str
    count: int
    shape: str


@dataclass(frozen=True)
class Held:
    """What there is of one needed thing."""

    needed: Needed
    items: list[Item] = field(default_factory=list)

    @property
    def usable(self) -> list[Item]:
        """Those of the shape the plan has now that are there or under way, the furthest first."""
        own = [i for i in self.items if i.state in LIVE and i.shape == self.needed.shape]
        return sorted(own, key=lambda i: (i.state != "spare", _FAR.get(i.state, -1)), reverse=True)

    @property
    def old(self) -> list[Item]:
        """Those there whose shape the plan has changed since."""
        return [i for i in self.items if i.state in LIVE and i.shape != self.needed.shape]

    @property
    def missing(self) -> int:
        """How many must still be printed."""
        return max(0, self.needed.count - len(self.usable))

    @property
    def state(self) -> BoardState:
        """Of the whole: as far as the last of them is, planned while one is missing."""
        if self.missing:
            return "planned"
        own = [i for i in self.usable if i.state != "spare"][: self.needed.count]
        states: list[PieceState] = [i.state for i in own] or ["printed"]
        if len(own) < self.needed.count:
            states.append("printed")  # a spare stands in
        return min(states, key=lambda s: _FAR[s])


def held(needed: Sequence[Needed], items: Iterable[Item]) -> list[Held]:
    """What there is of everything needed."""
    by_key: dict[str, list[Item]] = defaultdict(list)
    for item in items:
        by_key[item.key].append(item)
    return [Held(one, by_key.get(one.key, [])) for one in needed]


class BoardRow(BaseModel):
    """One needed thing on the board."""

    key: str
    number: int | None
    name: str
    needed: int
    state: BoardState
    missing: int
    spares: int
    old: list[Item] = Field(description="printed ones whose shape the plan has changed since")
    items: list[Item] = Field(description="all that were ever sent out")


class ReprintLine(BaseModel):
    """Something to print again: how many, and why."""

    key: str
    number: int | None
    name: str
    count: int
    why: list[str]


class Amount(BaseModel):
    """So much of so much."""

    done: float
    all: float


class Standing(BaseModel):
    """The board, the reprint list, and progress."""

    board: list[BoardRow]
    again: list[ReprintLine]
    never: list[ReprintLine] = Field(description="what has never been printed")
    gone: list[Item] = Field(description="printed pieces that the plan has no more")
    pieces: Amount
    installed: Amount
    grams: Amount | None
    hours: Amount | None


class BatchLeft(BaseModel):
    """How a batch of the plan stands: how much of it is printed or under way, and whether the material reaches for the rest."""

    batch: int
    made: int
    all: int
    enough: bool


@dataclass(frozen=True)
class BatchNeeds:
    """A batch of the plan: the material it takes and how much, and the keys and piece numbers of all things on it."""

    number: int
    material: str
    mass_g: float
    things: Sequence[tuple[str, Sequence[int]]]


def batches_left(batches: Sequence[BatchNeeds], standing: Standing, stock_g: Mapping[str, float]) -> list[BatchLeft]:
    """Every batch in order; what is printed already needs no material any more. `stock_g` is by the material's name."""
    ready = {row.key for row in standing.board if not row.missing}
    numbers = {row.number for row in standing.board if not row.missing and row.number is not None}
    left = dict(stock_g)
    found = []
    for one in batches:
        things = [n in numbers for _, pieces in one.things for n in pieces]
        things += [thing_of(key) in ready for key, pieces in one.things if not pieces]
        share = things.count(False) / max(1, len(things))
        left[one.material] = left.get(one.material, 0.0) - share * one.mass_g
        enough = share == 0 or left[one.material] >= 0
        found.append(BatchLeft(batch=one.number, made=things.count(True), all=len(things), enough=enough))
    return found


def standing_of(
    needed: Sequence[Needed], items: Sequence[Item], each: Mapping[str, tuple[float, float]] | None = None
) -> Standing:
    """How a project stands: what the model needs, and what was printed of it.

    `each` gives grams and minutes of one of each thing, where known.
    """
    rows = held(needed, items)
    known = {n.key for n in needed}
    printed = sum(sum(i.state in MADE for i in row.usable[: row.needed.count]) for row in rows)
    whole = sum(n.count for n in needed)
    installed = sum(sum(i.state in DONE for i in row.usable[: row.needed.count]) for row in rows)
    again = [one for row in rows if (one := _again(row))]
    told = {one.key for one in again}
    return Standing(
        board=[_row(row) for row in rows],
        again=again,
        never=[
            ReprintLine(key=r.needed.key, number=r.needed.number, name=r.needed.name, count=r.missing, why=["never printed"])
            for r in rows
            if r.missing and r.needed.key not in told
        ],
        gone=[i for i in items if i.key not in known and i.state in LIVE and not i.key.startswith(LADDER)],
        pieces=Amount(done=printed, all=whole),
        installed=Amount(done=installed, all=whole),
        grams=_amount(rows, each, 0, 1.0),
        hours=_amount(rows, each, 1, 60.0),
    )


def _row(row: Held) -> BoardRow:
    one = row.needed
    usable = row.usable
    return BoardRow(
        key=one.key,
        number=one.number,
        name=one.name,
        needed=one.count,
        state=row.state,
        missing=row.missing,
        spares=max(0, sum(i.state in MADE for i in usable) - one.count),
        old=row.old,
        items=row.items,
    )


def _again(row: Held) -> ReprintLine | None:
    """What of a thing was printed once and must be printed again."""
    if not row.missing:
        return None
    counts = {
        "failed": sum(i.state == "failed" for i in row.items),
        "lost": sum(i.state == "lost" for i in row.items),
        "out of date": len(row.old),
    }
    why = [what if n == 1 else f"{n} {what}" for what, n in counts.items() if n]
    if not why:
        return None
    if row.needed.count > 1 and row.missing < row.needed.count:
        why.append("spares used up")
    return ReprintLine(key=row.needed.key, number=row.needed.number, name=row.needed.name, count=row.missing, why=why)


def _amount(
    rows: Sequence[Held], each: Mapping[str, tuple[float, float]] | None, which: Literal[0, 1], per: float
) -> Amount | None:
    """Grams or hours of what is printed, of all."""
    if each is None:
        return None
    done = total = 0.0
    for row in rows:
        one = each.get(row.needed.key, (0.0, 0.0))[which] / per
        total += one * row.needed.count
        done += one * sum(i.state in MADE for i in row.usable[: row.needed.count])
    return Amount(done=round(done, 2), all=round(total, 2))
