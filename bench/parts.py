"""Figures of parts: what stands often is built once, and seats; each against a plain floor in the same run."""

import hashlib
import time

import numpy as np

from bench.model import Line, as_table
from hinoki.core.build import build_all
from hinoki.core.cache import Cache
from hinoki.core.check.check import check_project
from hinoki.core.divide.partings import FlatParting
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.shape import Body
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import DowelJoint, FaceRef
from hinoki.core.parts.arrange import RingOf, arranged
from hinoki.core.parts.equal_bodies import kinds_of
from hinoki.core.plan.contents import ModelUse
from hinoki.core.plan.parts import Instance, KeptPart
from hinoki.core.plan.plan import Plan
from hinoki.present.build import present
from tests.shapes import box, stl_of, torus

ROUNDS = 3
OFTEN = 60
RING = torus(60, 20, 500, 200, 1.0)
"""200 000 triangles"""


def _plan(files: dict[str, bytes], count: int) -> Plan:
    """A block, and a divided and joined ring that stands so often."""
    uses = []
    for name, data in (("block.stl", stl_of(box(50, 50, 50))), ("ring.stl", write_stl(RING))):
        digest = hashlib.sha256(data).hexdigest()
        files[digest] = data
        uses.append(ModelUse(source=digest, file_name=name))
    seam = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
    ring = KeptPart(
        id="q2",
        model=uses[1],
        instances=arranged((Instance(at_mm=(2000, 0, 0)),), 0, RingOf(count=count)),
        partings=(FlatParting(id="p1", axis="z", at_mm=20),),
        joints=(DowelJoint(id="j1", face=seam, count=4, diameter_mm=5, length_mm=12),),
    )
    return Plan(model=uses[0], parts=(ring,))


def _built(count: int) -> float:
    """From files to what the screen gets, the best of ROUNDS."""
    files: dict[str, bytes] = {}
    plan, best = _plan(files, count), float("inf")
    for _ in range(ROUNDS):
        cache = Cache()
        begun = time.perf_counter()
        built = build_all(plan, files.__getitem__, cache)
        present(built, check_project(built, cache), cache)
        best = min(best, time.perf_counter() - begun)
    return best


def _copies() -> Line:
    """Copies recognised among 60 bodies turned any way; the floor is a search tree of the corners of each."""
    from scipy.spatial import cKDTree
    from scipy.spatial.transform import Rotation

    one = Solid.from_mesh(torus(30, 10, 160, 60, 1.0))
    turns = Rotation.random(OFTEN, random_state=1).as_matrix()
    bodies = [Body(str(k), solid=one.placed(np.column_stack([turn, [100.0 * k, 0, 0]]))) for k, turn in enumerate(turns)]
    for body in bodies:
        body.mesh  # noqa: B018 - worked out before
    best = floor = float("inf")
    for _ in range(ROUNDS):
        begun = time.perf_counter()
        kinds = kinds_of(bodies)
        best = min(best, time.perf_counter() - begun)
        begun = time.perf_counter()
        for body in bodies:
            cKDTree(body.mesh.vertices)
        floor = min(floor, time.perf_counter() - begun)
    assert len(kinds) == 1
    return Line(f"copies among {OFTEN} bodies of {one.triangles:,} triangles, turned any way", best, floor, "")


def table() -> str:
    """The figures as a table."""
    one, many = _built(1), _built(OFTEN)
    often = f"{OFTEN} instances of 200 k triangles, divided and joined; the floor is one"
    return as_table([Line(often, many, one, "at most 1.2"), _copies()])


if __name__ == "__main__":
    print(table())
