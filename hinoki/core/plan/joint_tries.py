"""Versions of a joint: tries with a name, kept with a note and how they were, to compare and to go back to."""

from pydantic import BaseModel, Field

from hinoki.core.join.joints import Joint
from hinoki.core.workshop.fit_ladder_answers import Answer


class JointTry(BaseModel, frozen=True):
    """A joint as it was when it was kept. It belongs to the joint of that id on that face."""

    id: str = Field(pattern=r"^t[1-9][0-9]{0,4}$", title="Name")
    name: str = Field("", max_length=60, title="Name", description="such as V2, 0.1 smaller")
    note: str = Field("", max_length=400, title="Note")
    joint: Joint
    clearance_mm: float = Field(0.0, ge=-5, le=20, description="each side, as its fit had it then")
    answer: Answer | None = Field(None, title="How it was")

    @property
    def label(self) -> str:
        """Its name, else its number."""
        return self.name or f"V{self.id[1:]}"

    def same_as(self, joint: Joint, clearance_mm: float) -> bool:
        """Whether a joint has these figures and this clearance."""
        return self.joint == joint and abs(self.clearance_mm - clearance_mm) < 1e-6

    def belongs_to(self, joint: Joint) -> bool:
        """Whether it is a version of that joint."""
        return (self.joint.id, self.joint.face) == (joint.id, joint.face)
