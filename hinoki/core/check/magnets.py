"""Magnets: where printing pauses to lay them in, and whether they hold the weight."""

import math

from hinoki.core.build import Build
from hinoki.core.divide.mating_faces import face_label
from hinoki.core.findings import Finding, Fix, Params
from hinoki.core.join.joints import SIDES, MagnetJoint
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.orient.resting.piece import Piece
from hinoki.core.plan.plan import Plan

SAFE = 2.0
"""how many times its weight a pull is to be: magnets let go with a jerk (common practice)"""
UPRIGHT = 0.99


def magnet_findings(build: Build) -> list[Finding]:
    """Notes about pauses while printing, and a finding where the magnets of a face do not hold the lighter piece."""
    by_key, numbers, plan = {p.key: p for p in build.pieces}, build.numbers, build.plan
    found: list[Finding] = []
    for placed_joint in build.placed:
        joint = placed_joint.joint
        if not isinstance(joint, MagnetJoint) or not placed_joint.places:
            continue
        label = face_label(placed_joint.face, numbers)
        both = [by_key[placed_joint.part(side).key] for side in SIDES]
        layer = min(plan.printer_of(p.key).layers_mm[1] for p in both)
        found += _uneven(joint, label, layer)
        if joint.held == "laid in":
            found += [_pause(placed_joint, joint, piece, label, plan) for piece in both]
        lighter = min(both, key=lambda p: p.volume_mm3)
        weight = plan.material.weight_n(lighter.volume_mm3)
        pull = joint.pull_n() * len(placed_joint.places)
        if pull < SAFE * weight:
            found.append(
                Finding(
                    severity="look-at",
                    code="magnet-weak",
                    station="join",
                    face=label,
                    joint=joint.id,
                    params={
                        "joint": joint.label(),
                        "elements": joint.wanted,
                        "pull_n": pull,
                        "lighter": lighter.number,
                        "weight_n": weight,
                    },
                )
            )
    return found


def _uneven(joint: MagnetJoint, label: str, layer_mm: float) -> list[Finding]:
    """A skin that is no whole number of layers: the printer makes it thicker or thinner."""
    layers = joint.skin_mm / layer_mm
    if joint.skin_mm <= 0 or abs(layers - round(layers)) < 0.01:
        return []
    whole = max(2, round(layers)) * layer_mm
    better = joint.model_copy(update={"skin_mm": round(whole, 3)})
    params: Params = {"skin_mm": joint.skin_mm, "layers": layers, "layer_mm": layer_mm, "whole_mm": whole}
    fix = Fix(kind="joint", code="skin", params={"skin_mm": whole}, joint=better.model_dump(mode="json"))
    return [
        Finding(
            severity="look-at", code="magnet-layers", station="join", face=label, joint=joint.id, params=params, fixes=(fix,)
        )
    ]


def _pause(placed_joint: PlacedJoint, joint: MagnetJoint, piece: Piece, label: str, plan: Plan) -> Finding:
    """The layer before which printing pauses: the one that closes the pockets, with the piece as it lies."""
    side = next(s for s in SIDES if placed_joint.part(s).key == piece.key)
    matrix = piece.rest.matrix
    cuts = [t.cut.placed(matrix) for t in placed_joint.tools.of(side) if t.cut is not None]
    top = max(float(c.bounds[1][2]) for c in cuts)
    layer_mm = plan.printer_of(piece.key).layers_mm[1]
    layer = math.ceil(round(top / layer_mm, 6)) + 1
    up = abs(float(piece.rest.down @ placed_joint.face.frame.n))
    at = "up"
    if up < UPRIGHT:
        at = "on their side"
    elif (
        float(piece.rest.down @ (placed_joint.face.frame.n if side == "a" else -placed_joint.face.frame.n)) < 0
        and joint.skin_mm <= 0
    ):
        at = "open at the top"
    return Finding(
        severity="note" if up >= UPRIGHT else "look-at",
        code="magnet-pause",
        station="join",
        face=label,
        joint=joint.id,
        piece=piece.number,
        params={"case": at, "layer": layer, "at_mm": (layer - 1) * layer_mm, "layer_mm": layer_mm},
    )
