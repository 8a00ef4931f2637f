"""The life of a print and of every piece in it: the states, and which may follow which."""

from typing import Literal, get_args

from hinoki.core.errors import NotSo

PrintState = Literal["sending", "sent", "printing", "paused", "done", "stopped", "broke off", "refused"]
"""on its way to the printer; waiting there; printing; paused; all layers done; stopped by someone; ended in the middle by
itself; not taken by the printer"""
ENDED: tuple[PrintState, ...] = ("done", "stopped", "broke off", "refused")
ACTIVE: tuple[PrintState, ...] = ("sending", "sent", "printing", "paused")

PieceState = Literal[
    "in a batch", "printing", "printed", "cleaned", "fitted", "finished", "installed", "spare", "lost", "failed", "not printed"
]
PIECE_STATES: tuple[PieceState, ...] = get_args(PieceState)
MADE: tuple[PieceState, ...] = ("printed", "cleaned", "fitted", "finished", "installed", "spare")
"""there is one that can be used"""
LIVE: tuple[PieceState, ...] = ("in a batch", "printing", *MADE)
"""there is one, or will be"""

Result = Literal["good", "usable after clean-up", "failed"]
Reason = Literal["came loose", "warped", "support scar", "ran out", "too tight", "broke", "printer stopped", "other"]
REASONS: tuple[Reason, ...] = get_args(Reason)

_PRINT_NEXT: dict[PrintState, tuple[PrintState, ...]] = {
    "sending": ("sent", "printing", "paused", "done", "stopped", "broke off", "refused"),
    "sent": ("printing", "paused", "done", "stopped", "broke off"),
    "printing": ("paused", "done", "stopped", "broke off"),
    "paused": ("printing", "done", "stopped", "broke off"),
    "done": (),
    "stopped": (),
    "broke off": (),
    "refused": (),
}
_PIECE_NEXT: dict[PieceState, tuple[PieceState, ...]] = {
    "in a batch": ("printing", "printed", "failed", "not printed"),
    "printing": ("printed", "failed", "not printed"),
    **{state: (*(s for s in MADE if s != state), "lost", "failed") for state in MADE},
    "lost": MADE,
    "failed": MADE,
    "not printed": (),
}


def print_may(now: PrintState, then: PrintState) -> bool:
    """Whether a print in one state can come into another."""
    return now == then or then in _PRINT_NEXT[now]


def piece_may(now: PieceState, then: PieceState) -> bool:
    """Whether a printed piece in one state can come into another."""
    return now == then or then in _PIECE_NEXT[now]


def by_hand(now: PieceState) -> tuple[PieceState, ...]:
    """What a person may say of a piece next: not that it prints, nor, while it does, that it was never printed."""
    return tuple(s for s in _PIECE_NEXT[now] if s != "printing" and (now, s) != ("printing", "not printed"))


def refuse_piece_step(name: str, now: PieceState, then: PieceState) -> None:
    """Raises NotSo where a piece cannot come from one state into the other."""
    if piece_may(now, then):
        return
    may = _PIECE_NEXT[now]
    what = f"it can become {' or '.join(may)}" if may else "it was never printed: send it out again"
    raise NotSo(f"{name} is {now}, so it cannot become {then}; {what}.", "state")


def refuse_print_step(number: int, now: PrintState, then: PrintState) -> None:
    """Raises NotSo where a print cannot come from one state into the other."""
    if not print_may(now, then):
        raise NotSo(f"Print {number} is {now}, so it cannot become {then}. Load the log again to see how it stands.", "state")


def marked(
    now: PieceState, had: Result | None, state: PieceState | None, result: Result | None, reason: Reason | None
) -> tuple[PieceState, Result | None, Reason | None]:
    """How a piece is after a person said something of it: its state, its result, and why it failed.

    A piece that failed is in state failed, and the other way round; one that is said to have come out is printed.
    """
    then = state or now
    if result == "failed":
        then = "failed"
    elif result is not None and state is None and now in ("in a batch", "printing", "failed"):
        then = "printed"
    if then == "failed":
        return then, "failed", reason or "other"
    return then, result or (None if had == "failed" else had), None


def when_ended(then: PrintState, now: PieceState, fell: bool) -> PieceState:
    """The state of a piece once its print is in state `then`; `fell` where the printer noticed that it failed."""
    if now not in ("in a batch", "printing"):
        return now
    if then in ("printing", "paused"):
        return "printing"
    if then == "done":
        return "failed" if fell else "printed"
    if then in ("stopped", "broke off"):
        # what had begun is spoilt; what had not is none the worse
        return "failed" if now == "printing" else "not printed"
    return "not printed" if then == "refused" else now


def reason_of(then: PrintState) -> Reason:
    """Why a piece failed whose print ended in the middle."""
    return "printer stopped" if then == "broke off" else "other"
