"""What the seams must bear: the model held on one side of a seam, what is beyond it hangs from it and is pushed at its far end.

A seam is looked at where taking it apart takes the model apart in two (a bridge of the graph of pieces); where pieces meet in a
ring several seams share what bends them, and nothing is told.
"""

from collections import defaultdict
from dataclasses import dataclass

import networkx as nx
import numpy as np

from hinoki.core.build import Build
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.geometry.mesh import Points


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
    seams: dict[frozenset[str], list[MatingFace]] = defaultdict(list)
    for face in build.faces:
        seams[frozenset((face.a.key, face.b.key))].append(face)
    graph = nx.Graph([tuple(sorted(pair)) for pair in seams])
    graph.add_nodes_from(part.key for part in build.parts)
    return [_load(build, graph, a, b, seams[frozenset((a, b))]) for a, b in nx.bridges(graph)]


def _load(build: Build, graph: "nx.Graph[str]", a: str, b: str, faces: list[MatingFace]) -> Load:
    """The load of a bridge: what is on its lighter side."""
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
