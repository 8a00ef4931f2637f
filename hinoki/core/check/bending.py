"""Whether seams bear what bends them: estimates, with a factor of safety.

The model is held on one side of a seam, what is beyond it hangs from it and is pushed at its far end. A seam is looked at where
taking it apart takes the model apart in two (a bridge of the graph of pieces); where pieces meet in a ring several seams share
what bends them, and nothing is told.
"""

from collections import defaultdict
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from hinoki.core.build import Build
from hinoki.core.divide.mating_faces import MatingFace, face_label
from hinoki.core.findings import Finding, Fix
from hinoki.core.geometry.mesh import Points
from hinoki.core.join.contract.strength import GLUE_MPA, Bears, Stuff, section_modulus_mm3
from hinoki.core.join.placed_joint import PlacedJoint, by_face
from hinoki.core.join.rods_across import rods_across

if TYPE_CHECKING:
    import networkx as nx

SAFE_BENDING = 2.0
"""a seam is to bear so many times what bends it"""


@dataclass(frozen=True)
class Load:
    """What a seam must bear: the faces of it, the moment in N mm, how far away the far end is, and what hangs from it in N."""

    faces: tuple[MatingFace, ...]
    nmm: float
    arm_mm: float
    weight_n: float


def loads(build: Build) -> list[Load]:
    """The loads of all seams that part the model in two: the weight of the lighter side at its centre of mass, level, and the
    plan's force at its far end (statics of a beam held at one end)."""
    import networkx as nx

    seams: dict[frozenset[str], list[MatingFace]] = defaultdict(list)
    for face in build.faces:
        seams[frozenset((face.a.key, face.b.key))].append(face)
    graph = nx.Graph([tuple(sorted(pair)) for pair in seams])
    graph.add_nodes_from(part.key for part in build.parts)
    return [_load(build, graph, a, b, seams[frozenset((a, b))]) for a, b in nx.bridges(graph)]


def _load(build: Build, graph: "nx.Graph[str]", a: str, b: str, faces: list[MatingFace]) -> Load:
    """The load of a bridge: what is on its lighter side."""
    import networkx as nx

    cut = nx.restricted_view(graph, [], [(a, b)])
    sides = [nx.node_connected_component(cut, key) for key in (a, b)]
    solids = {part.key: part.solid for part in build.parts}
    light = min(sides, key=lambda keys: (sum(solids[k].volume_mm3 for k in keys), len(keys)))
    at = _middle(faces)
    volume = sum(solids[k].volume_mm3 for k in light)
    centre = sum((solids[k].volume_mm3 * solids[k].centre_of_mass for k in light), np.zeros(3)) / volume
    arm = max(float(np.linalg.norm(solids[k].mesh.vertices - at, axis=1).max()) for k in light)
    weight = build.plan.material.weight_n(volume)
    return Load(tuple(faces), weight * float(np.linalg.norm(centre - at)) + build.plan.handling_n * arm, arm, weight)


def _middle(faces: list[MatingFace]) -> Points:
    """The middle (3,) of some faces."""
    areas = np.array([f.shape.area for f in faces])
    middles = np.array([f.frame.world(np.array(f.shape.centroid.coords))[0] for f in faces])
    return np.asarray((areas[:, None] * middles).sum(axis=0) / areas.sum())


@dataclass(frozen=True)
class Bent:
    """What bends a seam, and what its joints (and rods) and its glue bear, in N mm; which joint bears most (none where a rod
    does), and how."""

    load: Load
    joints_nmm: float
    glue_nmm: float
    by: PlacedJoint | None
    how: str
    opens: bool
    """whether it is there to be opened by hand"""

    @property
    def times(self) -> float:
        """How many times the load is borne."""
        return (self.joints_nmm + self.glue_nmm) / max(self.load.nmm, 1e-9)


def bent_seams(build: Build) -> list[Bent]:
    """All seams that part the model in two, with what they bear. Glue is reckoned with where a face's joints are of a kind that
    is glued by custom, and none of its pieces is to come off again."""
    placed = by_face(build.placed)
    comes_off = set(build.plan.assembling.comes_off)
    stuff = Stuff.of(build.plan.material)
    found = []
    for load in loads(build):
        bears: list[tuple[Bears, PlacedJoint | None]] = []
        glue = 0.0
        for face in load.faces:
            own = placed[face.ref.id]
            by_joints = ((one.joint.bears(one.standing, one.places, stuff), one) for one in own)
            bears += [(held, one) for held, one in by_joints if held is not None]
            bears += [(held, None) for held in rods_across(face, build.ways, stuff)]
            if own and all(one.joint.takes_glue for one in own) and not comes_off & {face.a.key, face.b.key}:
                glue += GLUE_MPA * section_modulus_mm3(face.shape)
        opens = any(one.joint.opens for face in load.faces for one in placed[face.ref.id])
        most, by = max(bears, key=lambda b: b[0].nmm, default=(None, None))
        found.append(Bent(load, sum(held.nmm for held, _ in bears), glue, by, most.how if most else "", opens))
    return found


def bending_findings(build: Build) -> list[Finding]:
    """A finding for every joined seam that bears less than twice what bends it."""
    found = []
    for bent in bent_seams(build):
        face = bent.load.faces[0]
        jointed = bent.how or bent.glue_nmm
        if not jointed or bent.opens or bent.times >= SAFE_BENDING or build.plan.handling_n == 0:
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
                fixes=(Fix(kind="rod", code="rod", face=face.ref.id),),
            )
        )
    return found
