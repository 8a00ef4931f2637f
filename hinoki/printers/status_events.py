"""What follows for the log from what a printer says, or from its silence: no clock, no network, no database."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from hinoki.core.printlog.records import Print, Progress
from hinoki.core.printlog.states import REASONS, PrintState, Reason, print_may
from hinoki.printers.base import Garbled, Heard, JobState, MachineProblem, Refused, Unknown

_STATE: dict[JobState, PrintState] = {
    "waiting": "sent",
    "printing": "printing",
    "paused": "paused",
    "done": "done",
    "failed": "broke off",
    "cancelled": "stopped",
}


@dataclass(frozen=True)
class Step:
    """How a print stands after something was heard."""

    state: PrintState
    progress: Progress
    minutes: float | None = None
    grams: float | None = None
    why: str = ""
    fell: Mapping[str, Reason] = field(default_factory=dict)
    gone_since: str | None = None


def after_hearing(one: Print, heard: Heard) -> Step:
    """After the printer told how the job goes. What cannot follow (a done job that waits again) changes no state."""
    state = _STATE[heard.state]
    if not print_may(one.state, state):
        state = one.state
    fell: dict[str, Reason] = {f.name: _reason(f.what) for f in heard.fell}
    return Step(state, heard.progress, heard.minutes, heard.grams, heard.why, fell)


def after_problem(one: Print, problem: MachineProblem, at: str) -> Step:
    """After the printer failed to answer as agreed, at a time.

    One that forgot a job it had is started anew: the job broke off. One that is silent, or answers nonsense, may come back: the
    print stays as it was, gone since it was first silent.
    """
    if isinstance(problem, Unknown) and one.state != "sending":
        return Step("broke off", one.progress, one.minutes, one.grams, f"{problem.says} It was started anew, it seems.")
    if isinstance(problem, Refused) and one.state == "sending":
        return Step("refused", one.progress, why=problem.says)
    said = problem.says if isinstance(problem, Garbled) else one.progress.said
    return Step(
        one.state, one.progress.model_copy(update={"said": said}), one.minutes, one.grams, gone_since=one.gone_since or at
    )


def _reason(what: str) -> Reason:
    return next((r for r in REASONS if r == what), "other")
