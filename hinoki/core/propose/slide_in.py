"""The last part of a ring slid in beside the others, where nothing that goes straight onto both of its faces lets it in."""

import math
from collections.abc import Sequence, Set

import numpy as np

from hinoki.core.assemble.assembled import ordered
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.join.contract.sliding_profile import RunningJoint
from hinoki.core.join.joints import Joint
from hinoki.core.join.sizing.recommended_sizes import SuitKind
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.propose.lay_pieces import Rebuild
from hinoki.core.propose.recommend_joints import SuitWish, suited

SLIDING: tuple[SuitKind, ...] = ("dovetail", "tongue")
"""kinds that slide in along a face, those first that hold it shut"""
SLIDES = "Looking for a way to slide a piece in"
ALONG, APART, SQUARE = 0.99, 0.2, 1e-3
"""cosine of the same direction; sine between faces that are not parallel; cosine of what is square to each other"""


def slid_in(  # noqa: PLR0913 - what it works on, and whom it tells
    plan: Plan,
    built: Build,
    pieces: Sequence[str],
    staying: Set[str],
    rebuild: Rebuild,
    cache: Cache,
    tell: Tell = quiet,
) -> tuple[Plan, Build] | None:
    """Dovetails or tongues, open at both ends, on all joined faces of one of the pieces, along the one direction that lies in
    all of them; from above where that goes. None where that unlocks nothing or leaves something to fix, and where a joint that
    is `staying` is on one of the faces."""
    joined = {j.face.id for j in plan.joints}
    for number, piece in enumerate(pieces):
        within = part_of(tell, number / len(pieces), (number + 1) / len(pieces))
        within(0.0, SLIDES)
        faces = [f for f in built.faces if piece in (f.ref.a, f.ref.b) and f.ref.id in joined]
        names = [f.ref.id for f in faces]
        way = _common_way([f.frame.n for f in faces])
        if way is None or staying & {j.id for j in plan.joints if j.face.id in names}:
            continue
        rest = plan.model_copy(update={"joints": tuple(j for j in plan.joints if j.face.id not in names)})
        bare = rebuild(rest)
        for step, kind in enumerate(SLIDING):
            trying = part_of(within, step / len(SLIDING), (step + 1) / len(SLIDING))
            suiting = suited(bare, rest, SuitWish(kind=kind, faces=names), part_of(trying, 0.0, 0.4), cache).joints
            for start, sense in ((0.4, 1.0), (0.7, -1.0)):
                running = _running(suiting, faces, piece, sense * way)
                tried = rest.model_copy(update={"joints": (*rest.joints, *running)})
                found = rebuild(tried) if len(running) == len(faces) else None
                ordering = part_of(trying, start, start + 0.3)
                if found is not None and _goes_together(tried, found, {j.id for j in running}, cache, ordering):
                    return tried, found
    return None


def _running(suiting: Sequence[Joint], faces: Sequence[MatingFace], piece: str, way: Points) -> list[RunningJoint]:
    """The joints of the faces, so that the piece comes in along `way`: its other piece slides the other way."""
    found: list[RunningJoint] = []
    for face in faces:
        for joint in suiting:
            if isinstance(joint, RunningJoint) and joint.face.id == face.ref.id:
                found += run_along(joint, face.frame, way if face.ref.b == piece else -way, ends="through")[:1]
    return found


def _goes_together(plan: Plan, built: Build, joints: Set[str], cache: Cache, tell: Tell) -> bool:
    return nothing_to_fix(built, joints, cache) and not ordered(plan, built, cache, tell).order.locked


def run_along(joint: RunningJoint, frame: Frame, way: Points, **more: object) -> list[RunningJoint]:
    """The joint running along a direction (3,) of its face, at places found anew."""
    ways = math.degrees(math.atan2(float(way @ frame.v), float(way @ frame.u))) + np.array([0.0, 180.0])
    turned = [{"along_deg": round((float(angle) + 180) % 360 - 180, 3), "places": None, **more} for angle in ways]
    found = [joint.model_copy(update=update) for update in turned]
    return [one for one in found if float(one.way(frame) @ way) >= ALONG]


def nothing_to_fix(built: Build, joints: Set[str], cache: Cache) -> bool:
    """Whether nothing must be fixed about these joints."""
    return not any(f.severity == "must-fix" and f.joint in joints for f in check(built, cache).findings)


def _common_way(normals: Sequence[Points]) -> Points | None:
    """The unit vector that is square to all of them, looking down; None where they are all parallel, or none is."""
    if len(normals) < 2:
        return None
    way = max((np.cross(normals[0], n) for n in normals[1:]), key=lambda c: float(np.linalg.norm(c)))
    length = float(np.linalg.norm(way))
    if length < APART or max(abs(float(way @ n)) for n in normals) > SQUARE * length:
        return None
    return np.asarray(way / length * (-1.0 if way[2] > 0 else 1.0))
