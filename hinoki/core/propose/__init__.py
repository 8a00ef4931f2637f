"""Proposals: divisions of a model or a piece, found by search and proved on the model."""

from hinoki.core.propose.accept import taken
from hinoki.core.propose.divide import divided
from hinoki.core.propose.feasibility import tried_with_joints
from hinoki.core.propose.figures import Figures, figures_of
from hinoki.core.propose.proposals import Proposal, Proposals, Wishes, figures_for, propose, prove

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
