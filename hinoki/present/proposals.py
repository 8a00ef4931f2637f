"""Proposals for dividing a model as screens see them."""

from pydantic import Field

from hinoki.core.propose import Proposal, Proposals
from hinoki.present.words import sentence


class ProposalView(Proposal):
    """A proposal, and in words what keeps it from being carried through."""

    with_joints: str | None = Field(
        None, description="what keeps it from being carried through with joints; empty: nothing; none: not tried"
    )


class ProposalsView(Proposals):
    """The proposals with their words."""

    proposals: list[ProposalView]  # type: ignore[assignment]
    remarks: list[str]  # type: ignore[assignment]


def proposal_view(proposal: Proposal) -> ProposalView:
    """A proposal with its words."""
    words = sentence(proposal.against) if proposal.against else ""
    return ProposalView(**dict(proposal), with_joints=words if proposal.tried else None)


def proposals_view(found: Proposals) -> ProposalsView:
    """Proposals with their words."""
    return ProposalsView(
        proposals=[proposal_view(one) for one in found.proposals],
        remarks=[sentence(one) for one in found.remarks],
        lower_bound=found.lower_bound,
    )
