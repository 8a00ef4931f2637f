"""Whether a proposal can be carried through: with joints all pieces fit, nothing must be fixed, and all goes together."""

import time
from dataclasses import dataclass

from hinoki.core.build import Build, SourceOf, build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.errors import BadPlan
from hinoki.core.findings import Finding
from hinoki.core.orient.pieces import OrientWish
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.propose.accept import taken
from hinoki.core.propose.explanations import remark
from hinoki.core.propose.lay_pieces import Rebuild, laid
from hinoki.core.propose.proposals import Proposal, Proposals, Wishes
from hinoki.core.propose.recommend_joints import SuitWish, joined
from hinoki.core.propose.unlock_joints import unlocked

CARRY_S = 25.0
"""after so long no further proposal is tried with joints"""
MENDED_BY_LAYING = ("piece-over", "piece-unsteady")
LOCKED = Finding(severity="must-fix", code="proposal-locked", station="divide")
OVER = Finding(severity="must-fix", code="proposal-over", station="divide")


@dataclass(frozen=True)
class Carried:
    """A plan with a proposal and joints, its build, how many pieces fit on no side, and what else is against it."""

    plan: Plan
    built: Build
    over: int
    against: tuple[Finding, ...]

    @property
    def why_not(self) -> Finding | None:
        """What is most against it; None where it can be carried through."""
        return self.against[0] if self.against else OVER if self.over else None


def carry(  # noqa: PLR0913 - what it works on, and how it tells and stops
    plan: Plan,
    wishes: Wishes,
    proposal: Proposal,
    joints: SuitWish | None,
    source_of: SourceOf,
    cache: Cache,
    tell: Tell = quiet,
    seconds: dict[str, float] | None = None,
) -> Carried:
    """A proposal taken, with joints as wished on its faces; where they would lock pieces, others."""

    def made(one: Plan, told: Tell) -> Build:
        return build(one, source_of, cache, told, seconds=seconds)

    tell(0.0, f"Trying “{proposal.title}” with joints")
    tried = taken(plan, wishes, proposal)
    built = made(tried, part_of(tell, 0.0, 0.2))
    if joints is not None and built.faces:
        tried, built = joined(built, tried, joints, made, part_of(tell, 0.2, 0.6), seconds)
    locked = False
    if joints is not None:
        again: Rebuild = lambda one: build(one, source_of, cache, seconds=seconds)  # noqa: E731
        tried, built, locked = unlocked(tried, built, again, cache, part_of(tell, 0.6, 1.0), plan.joints)
    lying = built if locked else _lying_well(tried, built, source_of, cache, joints)
    told = [f for f in check(lying, cache).findings if f.station != "model"]
    against = [f for f in told if f.severity == "must-fix"] + [LOCKED] * locked
    against += [f for f in told if f.severity == "look-at" and f.code == "piece-unsteady"]
    return Carried(tried, built, sum(not piece.fits for piece in lying.pieces), tuple(against))


def _lying_well(plan: Plan, built: Build, source_of: SourceOf, cache: Cache, joints: SuitWish | None) -> Build:
    """The build with those pieces on their best side that do not fit or would not stand as they are, where that is all there is
    against it."""
    badly = [p.key for p in built.pieces if not p.fits or not p.rest.stands]
    worse = any(
        f.severity == "must-fix" and f.station != "model" and f.code not in MENDED_BY_LAYING
        for f in check(built, cache).findings
    )
    if worse or not badly:
        return built
    own_choice = joints is not None and joints.kind == "auto"
    rebuild: Rebuild = lambda one: build(one, source_of, cache)  # noqa: E731
    return laid(plan, built, rebuild, OrientWish(), cache, dowels=own_choice, only=badly, most_moved=1).built


def tried_with_joints(  # noqa: PLR0913 - what it works on, and how it tells and stops
    plan: Plan,
    source_of: SourceOf,
    cache: Cache,
    wishes: Wishes,
    found: Proposals,
    tell: Tell = quiet,
    seconds: float = CARRY_S,
) -> Proposals:
    """The proposals tried one after another with the joints that suit, until one can be carried through: that one comes first,
    those that were tried before it last, each with what keeps it from it.

    The first is always tried, others while there is time, what is not proved yet never.
    """
    end = time.monotonic() + seconds
    tried: list[Proposal] = []
    for step, one in enumerate(found.proposals):
        done = any(p.tried and p.against is None for p in tried)
        if done or not one.proved or (step and time.monotonic() > end):
            tried.append(one)
            continue
        within = part_of(tell, step / len(found.proposals), (step + 1) / len(found.proposals))
        try:
            why_not = carry(plan, wishes, one, SuitWish(kind="auto"), source_of, cache, within).why_not
        except BadPlan as error:
            why_not = Finding(severity="must-fix", code="proposal-refused", station="divide", params={"why": error.message})
        tried.append(one.model_copy(update={"tried": True, "against": why_not}))
    ordered = sorted(tried, key=lambda p: 2 if p.against else 0 if p.tried else 1)
    remarks = [*found.remarks]
    if ordered[0].against:
        remarks.append(remark("proposals-all-to-mend"))
    elif ordered[0] is not tried[0]:
        remarks.append(remark("proposals-reordered", first=ordered[0].title, to_mend=tried[0].title))
    return found.model_copy(update={"proposals": ordered, "remarks": remarks})
