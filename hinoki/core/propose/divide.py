"""Dividing a model without asking: the first proposal that can be carried through is taken."""

from dataclasses import dataclass

from hinoki.core.build import Build, SourceOf, build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.errors import BadPlan
from hinoki.core.findings import Finding
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.propose.feasibility import MENDED_BY_LAYING, carry
from hinoki.core.propose.proposals import Proposals, Wishes, propose
from hinoki.core.propose.recommend_joints import SuitWish

KEPT_FOR_PINS_MM = (0.0, 8.0, 16.0)
"""room kept in turn, where pins stand out of a face and a piece that just fits would not fit with them"""


@dataclass(frozen=True)
class Divided:
    """A plan with a proposal carried through, its build, the proposals, and why proposals before the one taken were not."""

    plan: Plan
    built: Build
    proposals: Proposals | None = None
    passed_over: tuple["PassedOver", ...] = ()


@dataclass(frozen=True)
class PassedOver:
    """A proposal that was not taken: its number, its title, and what was most against it."""

    number: int
    title: str
    against: Finding


def divided(  # noqa: PLR0913 - what it works on, and whom it tells
    plan: Plan,
    source_of: SourceOf,
    cache: Cache,
    joints: SuitWish | None,
    wishes: Wishes,
    progress: Tell = quiet,
    seconds: dict[str, float] | None = None,
) -> Divided:
    """The plan with the first proposal that can be carried through: with joints on it every piece fits and nothing must be
    fixed. Where there is none, the one with the least against it.

    An open model is built as it is. Raises BadPlan where no division is found.
    """
    whole = build(plan, source_of, cache, seconds=seconds)
    if whole.prepared is None or whole.prepared.solid is None:
        return Divided(plan, whole)
    best: tuple[tuple[int, int, int, int], Divided, tuple[Finding, ...]] | None = None
    for turn, more in enumerate(KEPT_FOR_PINS_MM):
        kept = wishes.kept_mm + more
        wish = wishes.model_copy(update={"kept_mm": kept})
        tell = part_of(progress, 1 - 0.5**turn, 1 - 0.5 ** (turn + 1))  # the first time is mostly the last
        found = propose(plan, source_of, cache, wish, part_of(tell, 0.0, 0.6))
        passed: list[PassedOver] = []
        for number, proposal in enumerate(found.proposals, start=1):
            trying = part_of(tell, 0.6 + 0.4 * (number - 1) / len(found.proposals), 0.6 + 0.4 * number / len(found.proposals))
            tried = carry(plan, wish, proposal, joints, source_of, cache, trying, seconds)
            one = Divided(tried.plan, tried.built, found, tuple(passed))
            if tried.why_not is None:
                return one
            at_once = len(check(tried.built, cache).must_fix)  # before any piece is laid otherwise
            bad = tried.over, sum(f.severity == "must-fix" for f in tried.against), at_once, len(tried.against)
            if best is None or bad < best[0]:
                best = bad, one, tried.against
            passed.append(PassedOver(number, proposal.title, tried.why_not))
        helps = best is not None and any(f.severity == "must-fix" and f.code in MENDED_BY_LAYING for f in best[2])
        if best is not None and not (best[0][0] or helps):
            break  # all fits, and none ends on a point: more room would not help
    if best is None:
        raise BadPlan("No division was proposed.", "proposal")
    return best[1]
