"""Findings about pieces: those that do not fit, those without a joint, settings for pieces that are gone."""

from hinoki.core.findings import Finding, Fix
from hinoki.core.join.joints import ButtJoint
from hinoki.core.orient.resting.resting_faces import LEAST_CONTACT_MM2
from hinoki.core.plan.batch_settings import LADDER, loose_key, thing_of
from hinoki.core.plan.plan import PieceNote, Plan
from hinoki.present.schemas.build import BuildView, FaceView, PieceView

BALANCE = 1e-6


def lies(what: str) -> str:
    """How a piece lies, as a sentence goes on: “lying on its mating face”."""
    words = {"as it stands": "as it stands", "mating face": "lying on its mating face", "flat face": "lying on a flat face"}
    return words.get(what, f"lying with {what}" if what[:1] in "XYZ" else "leaning" if what == "leaning" else "as it was laid")


def _glued(face: FaceView) -> Fix:
    joint = ButtJoint(id="j1", face=face.ref)
    return Fix(kind="add-joint", label="Glue it", joint=joint.model_dump(mode="json"))


def _gone(plan: Plan, view: BuildView) -> list[str]:
    """Keys of pieces that something was set for, and that are not there now."""
    loose = {loose_key(item.name) for item in view.loose}
    pinned = [key for key, laid in plan.batching.laid.items() if laid.pinned and not key.startswith(LADDER)]
    by_hand = {thing_of(key) for key in (*pinned, *plan.batching.copies)}
    noted = {k for k, n in plan.pieces.items() if n.name or n.down or n.printer_id or n.material_id}
    return sorted((noted | by_hand) - set(view.numbers) - loose)


def _unsteady(piece: PieceView) -> Finding:
    """A piece that would fall over while it prints, with another side it stands on where there is one."""
    other = next((r for r in piece.rests if r.fits and r.stands), None)
    down = None if other is None else (other.down[0], other.down[1], other.down[2])
    fixes = () if down is None else (Fix(kind="rest", label="Lay it where it stands", pieces=(piece.key,), down=down),)
    todo = "Lay it on another side, print it with a brim, or part it so that a piece gets a foot."
    name, rest = f"{piece.name} ({piece.number})", piece.rest
    point = rest.contact_mm2 < LEAST_CONTACT_MM2
    text = (
        f"{name} lies on a point or an edge, {rest.contact_mm2:.1f} mm² of it on the bed: it would come loose."
        if point
        else f"{name} tips over at {rest.tip_deg:.1f}° as it lies, with {rest.contact_mm2:.0f} mm² on the bed: only its "
        "support and the bed's hold keep it up."
    )
    return Finding(
        severity="must-fix" if point else "look-at",
        code="piece-unsteady",
        station="orient",
        piece=piece.number,
        message=f"{text} {todo}",
        fixes=fixes,
    )


def piece_findings(plan: Plan, view: BuildView) -> list[Finding]:
    """Everything noticed about the pieces of a build."""
    found: list[Finding] = []
    for piece in view.pieces:
        if not piece.fits:
            over = ", ".join(f"{axis} by {v:.1f} mm" for axis, v in zip("XYZ", piece.over_mm, strict=True) if v > 0)
            room = " × ".join(f"{v:g}" for v in plan.printer_of(piece.key).room_mm)
            found.append(
                Finding(
                    severity="must-fix",
                    code="piece-over",
                    station="divide",
                    piece=piece.number,
                    message=f"{piece.name} ({piece.number}) does not fit {piece.printer} ({room} mm): "
                    f"{lies(piece.rest.what)} it is over along {over or 'the diagonal'}. Part it, or lay it otherwise.",
                )
            )
        elif view.state == "whole" and not piece.rest.stands and plan.printer_of(piece.key).process == "filament":
            found.append(_unsteady(piece))
    jointed = {j.face for j in view.joints}
    bare = [f for f in view.faces if f.id not in jointed and f.lap is None and not f.modules and not f.apart_mm]
    for face in bare:
        found.append(
            Finding(
                severity="note",
                code="face-bare",
                station="join",
                face=face.label,
                message=f"{face.label} has no joint yet: the pieces would only be glued face to face.",
                fixes=(_glued(face),),
            )
        )
    if view.state == "whole":
        for key in _gone(plan, view):
            note = plan.pieces.get(key, PieceNote())
            found.append(
                Finding(
                    severity="note",
                    code="piece-gone",
                    station="divide",
                    message=f"The settings of {note.name or key} wait: that piece is not there now. "
                    "They come back when it does.",
                )
            )
    elif plan.partings:
        found.append(
            Finding(
                severity="must-fix",
                code="open-cannot-part",
                station="divide",
                message=f"{len(plan.partings)} {'parting waits' if len(plan.partings) == 1 else 'partings wait'}: an open "
                "surface cannot be cut into pieces. Close it where it was drawn and bring it in again.",
            )
        )
    if view.balance and view.balance.relative_error > BALANCE:
        found.append(
            Finding(
                severity="must-fix",
                code="volume-lost",
                station="check",
                message=f"The pieces do not add up to the model: {view.balance.relative_error:.1e} of it is missing or "
                "doubled. Move the last parting a little and report this.",
            )
        )
    return found
