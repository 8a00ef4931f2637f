"""Proposals: divisions of a model or a piece, found by search and proved on the model."""

from hinoki.core.divide.propose.accept import taken
from hinoki.core.divide.propose.divide import divided
from hinoki.core.divide.propose.feasibility import tried_with_joints
from hinoki.core.divide.propose.figures import Figures, figures_of
from hinoki.core.divide.propose.proposals import Proposal, Proposals, Wishes, figures_for, propose, prove

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
