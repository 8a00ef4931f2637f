"""Whether seams bear what bends them: estimates, with a factor of safety."""

from collections import defaultdict
from dataclasses import dataclass

from hinoki.core.build import Build
from hinoki.core.check.loads import Load, loads
from hinoki.core.divide.mating_faces import face_label
from hinoki.core.findings import Finding
from hinoki.core.join.contract.strength import GLUE_MPA, Stuff, section_modulus_mm3
from hinoki.core.join.placed_joint import PlacedJoint

SAFE_BENDING = 2.0
"""a seam is to bear so many times what bends it"""


@dataclass(frozen=True)
class Bent:
    """What bends a seam, and what its joints and its glue bear, in N mm; which joint bears most, and how."""

    load: Load
    joints_nmm: float
    glue_nmm: float
    by: PlacedJoint | None
    how: str

    @property
    def times(self) -> float:
        """How many times the load is borne."""
        return (self.joints_nmm + self.glue_nmm) / max(self.load.nmm, 1e-9)


def bent_seams(build: Build) -> list[Bent]:
    """All seams that part the model in two, with what they bear. Glue is reckoned with where a face's joints are of a kind that
    is glued by custom, and none of its pieces is to come off again."""
    placed: dict[str, list[PlacedJoint]] = defaultdict(list)
    for one in build.placed:
        placed[one.face.ref.id].append(one)
    comes_off = set(build.plan.assembling.comes_off)
    found = []
    for load in loads(build):
        joints, glue = 0.0, 0.0
        best: tuple[float, PlacedJoint, str] | None = None
        for face in load.faces:
            own = placed[face.ref.id]
            for one in own:
                bears = one.joint.bears(one.standing, one.places, Stuff(build.plan.material.tension_mpa))
                if bears is not None:
                    joints += bears.nmm
                    best = max(best or (0.0, one, bears.how), (bears.nmm, one, bears.how), key=lambda b: b[0])
            if own and all(one.joint.takes_glue for one in own) and not comes_off & {face.a.key, face.b.key}:
                glue += GLUE_MPA * section_modulus_mm3(face.shape)
        found.append(Bent(load, joints, glue, best[1] if best else None, best[2] if best else ""))
    return found


def bending_findings(build: Build) -> list[Finding]:
    """A finding for every joined seam that bears less than twice what bends it."""
    found = []
    for bent in bent_seams(build):
        face = bent.load.faces[0]
        jointed = bent.by is not None or bent.glue_nmm
        if not jointed or bent.times >= SAFE_BENDING or build.plan.handling_n == 0:
            continue
        found.append(
            Finding(
                severity="look-at",
                code="seam-bends",
                station="join",
                face=face_label(face, build.numbers),
                joint=bent.by.joint.id if bent.by else None,
                params={
                    "bears_nm": (bent.joints_nmm + bent.glue_nmm) / 1000,
                    "glue_nm": bent.glue_nmm / 1000,
                    "how": bent.how,
                    "load_nm": bent.load.nmm / 1000,
                    "arm_mm": bent.load.arm_mm,
                    "force_n": build.plan.handling_n,
                },
            )
        )
    return found
