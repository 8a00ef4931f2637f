"""Proposals: divisions of a model or a piece, found by search and proved on the model."""

from hinoki.core.propose.carrying import tried_with_joints
from hinoki.core.propose.dividing import divided
from hinoki.core.propose.figures import Figures, figures_of
from hinoki.core.propose.proposals import Proposal, Proposals, Wishes, figures_for, propose, prove
from hinoki.core.propose.taking import taken

__all__ = [
    "Figures",
    "Proposal",
    "Proposals",
    "Wishes",
    "divided",
    "figures_for",
    "figures_of",
    "propose",
    "prove",
    "taken",
    "tried_with_joints",
]
