"""What the layers a piece is printed in do to its joints: threads that lean, snap fits that are strained too far."""

import math
from collections.abc import Iterator

import numpy as np

from hinoki.core.build import Build
from hinoki.core.divide.mating_faces import face_label
from hinoki.core.findings import Finding, Fix
from hinoki.core.geometry.mesh import Points
from hinoki.core.join.contract.snap_fits import Flex
from hinoki.core.join.contract.strength import ACROSS_LAYERS
from hinoki.core.join.contract.terms import direction_of
from hinoki.core.join.joints import SIDES, HookJoint
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.tiles.tiles import Modules
from hinoki.core.orient.resting.piece import Piece

UPRIGHT_DEG = 5.0
"""a thread that leans more than this prints with support in its ridges (common practice: threads are printed upright)"""
LYING, STANDING = 0.5, math.cos(math.radians(30))
"""a hook that is no steeper than 30° bends along its layers, and so does a rim that leans by no more"""


def layer_findings(build: Build) -> list[Finding]:
    """Findings about joints that are weak or ruined as their pieces lie on the bed."""
    found: list[Finding] = []
    for placed in build.placed:
        if placed.joint.turns and placed.places:
            found += _leaning(placed, build)
        flex = placed.joint.flexes(placed.standing)
        if flex is not None and (placed.places or placed.joint.wanted == 0):
            found += _strained(placed, flex, build)
    for modules in build.modules:
        flex = modules.joint.flexes(modules.clearance_mm)
        if flex is not None and modules.many:
            found += _module_strained(modules, flex, build)
    return found


def _leaning(placed: PlacedJoint, build: Build) -> Iterator[Finding]:
    """A finding for every piece that lies so that a thread of it leans, with the way to lay it as a fix."""
    by_key, axis = {p.key: p for p in build.pieces}, placed.face.frame.n
    for side in SIDES:
        piece = by_key[placed.part(side).key]
        lean = float(np.degrees(np.arccos(min(1.0, abs(float(axis @ piece.rest.down))))))
        if lean <= UPRIGHT_DEG:
            continue
        # a plug points up; a socket lies on its mouth, which is flat
        outward = axis if side == "a" else -axis
        down = direction_of(-outward if side == placed.joint.stands_on else outward)
        yield Finding(
            severity="look-at",
            code="thread-leans",
            station="join",
            face=face_label(placed.face, build.numbers),
            joint=placed.joint.id,
            piece=piece.number,
            params={"joint": placed.joint.kind, "lean_deg": lean},
            fixes=(Fix(kind="rest", code="upright", pieces=(piece.key,), down=down),),
        )


def _permissible(build: Build, piece: Piece, flex: Flex, normal: Points) -> tuple[float, float]:
    """What of a piece may be strained as it lies, and however it lies; `normal` (3,) is that of the face it stands on."""
    once = flex.share * build.plan.material_of(piece.key).strain_percent / 100
    upright = abs(float(normal @ piece.rest.down))
    across = upright > LYING if flex.fibres == "along the normal" else upright < STANDING
    return once * (ACROSS_LAYERS if across else 1.0), once


def _longer(long_mm: float, flex: Flex, bears: float) -> float:
    """How long a hook must be, in steps of half a mm, to be strained no further: ε falls with the square of its length."""
    return math.ceil(2 * long_mm * math.sqrt(flex.strain / bears)) / 2


def _module_strained(modules: Modules, flex: Flex, build: Build) -> Iterator[Finding]:
    """The first module whose hooks are strained further than its material bears."""
    by_key = {p.key: p for p in build.pieces}
    for module in modules.each:
        piece = by_key[module.part.key]
        allowed = [_permissible(build, piece, flex, side.frame.n) for side in module.sides]
        bears, once = min(allowed)
        if flex.strain <= bears:
            continue
        yield Finding(
            severity="must-fix" if flex.strain > once else "look-at",
            code="module-strain",
            station="join",
            piece=piece.number,
            about=modules.wanted.id,
            params={
                "case": "layers" if flex.strain <= once else "any way",
                "strain_percent": 100 * flex.strain,
                "bears_percent": 100 * bears,
                "long_mm": _longer(modules.wanted.long_mm, flex, bears),
            },
        )
        return


def _strained(placed: PlacedJoint, flex: Flex, build: Build) -> Iterator[Finding]:
    """What is strained further than its material may be, along its layers or, as its piece lies, across them."""
    joint = placed.joint
    piece = next(p for p in build.pieces if p.key == placed.part(joint.stands_on or "a").key)
    bears, once = _permissible(build, piece, flex, placed.face.frame.n)
    if flex.strain <= bears:
        return
    less = joint.eased(placed.standing, bears / flex.strain)
    fix = less and Fix(kind="joint", code="eased", params={"joint": less.label()}, joint=less.model_dump(mode="json"))
    longer = _longer(joint.length_mm, flex, bears) if isinstance(joint, HookJoint) else None
    yield Finding(
        severity="must-fix" if flex.strain > once else "look-at",
        code="joint-strain",
        station="join",
        face=face_label(placed.face, build.numbers),
        joint=joint.id,
        piece=piece.number,
        params={
            "case": "layers" if flex.strain <= once else "any way",
            "joint": joint.label(),
            "elements": joint.wanted or 1,
            "strain_percent": 100 * flex.strain,
            "bears_percent": 100 * bears,
            "long_mm": longer,
        },
        fixes=(fix,) if fix else (),
    )
