"""Findings of the assembly: no order, steps that do not work, what falls, tips, or cannot come off again."""

from hinoki.core.assemble.assembled import Assembled
from hinoki.core.assemble.balance import SAFE_TIP_DEG
from hinoki.core.assemble.scene.parts import upper
from hinoki.core.findings import Finding, Severity
from hinoki.core.plan.plan import Plan
from hinoki.present.schemas.assemble import AssemblyView


def findings_of(plan: Plan, out: Assembled, view: AssemblyView) -> list[Finding]:
    """Everything noticed about an assembly."""
    found = [*_of_order(out, view), *_of_steps(view), *_of_pinned(out)]
    _comes_off(plan, out, found)
    return [*found, *_of_stance(plan, out, view)]


def _of_order(out: Assembled, view: AssemblyView) -> list[Finding]:
    """Pieces that overlap, and those that lock each other."""
    scene = out.scene
    found: list[Finding] = []
    for a, b, volume in out.overlaps:
        joined = any({h.a, h.b} == {a, b} for h in scene.held)
        todo = (
            "Give the joint between them more clearance, or move one of them."
            if joined
            else "They are parts of the model that reach into each other: unite them (Model, Make it right), or move one."
        )
        text = f"{upper(scene.named([a, b]))} overlap by {volume:g} mm³ where they stand in the model. {todo}"
        found.append(_said("pieces-overlap", "must-fix", text, piece=_piece(out, a)))
    for locked in view.locked:
        text = locked.says + (f" {locked.frees[0].words}" if locked.frees else "")
        if not locked.frees and not out.natural.cut_short and not out.overlaps:
            text += " No single change to a joint frees them; look at the way they were divided."
        if out.natural.cut_short:
            found.append(_said("order-not-found", "look-at", text))
        else:
            found.append(_said("no-order", "must-fix", text, piece=locked.numbers[0] if locked.numbers else None))
    return found


def _of_steps(view: AssemblyView) -> list[Finding]:
    """Steps that do not work, and those that were only tried."""
    found: list[Finding] = []
    for step in view.steps:
        if step.proof == "does not work" and step.why:
            at = step.meets.at if step.meets else None
            found.append(_said("step-blocked", "must-fix", f"Step {step.step}: {step.why}", step.piece, at))
        if step.proof == "tried by sampling":
            what = {"screw": "it turns in steps of 30°", "swing": "it swings in steps of 5°", "pull": "rays look for its ends"}
            how = what.get(step.motion.kind, "in positions")
            text = f"Step {step.step} ({step.title}) was tried by sampling, not proved: {how}."
            found.append(_said("step-sampled", "note", text, step.piece))
    return found


def _of_pinned(out: Assembled) -> list[Finding]:
    """What a pinned order does not know, or names in vain."""
    scene = out.scene
    found: list[Finding] = []
    if out.added and out.pinned:
        text = (
            f"{upper(scene.named(out.added))} came after the order was pinned and stand at its end. Drag them where they go, "
            "or take Hinoki's order."
        )
        found.append(_said("order-added", "look-at", text))
    if out.gone:
        text = f"The pinned order names {', '.join(out.gone[:3])}, not there now. Their steps wait and come back when they do."
        found.append(_said("order-gone", "note", text))
    return found


def _of_stance(plan: Plan, out: Assembled, view: AssemblyView) -> list[Finding]:
    """What falls off, tips over or opens by itself."""
    found: list[Finding] = []
    for fall in view.falls:
        if fall.falls:
            found.append(_said("falls-off", "look-at", fall.says))
    balance = view.balance
    if balance is not None and plan.assembling.attitude == "standing" and balance.tip_deg < SAFE_TIP_DEG:
        if balance.tip_deg <= 0:
            text = "The model falls over by itself: its centre of mass lies beside its foot. "
        else:
            text = f"The model falls when it is tipped by {balance.tip_deg:.1f}°; {SAFE_TIP_DEG:.0f}° is safe. "
        better = next((b for b in balance.ballasts if b.tip_deg >= SAFE_TIP_DEG), None)
        text += f"A round base of {balance.least_base_mm:.0f} mm under its middle does"
        text += f", or {better.name} up to {better.up_to_mm:.0f} mm ({better.mass_g:.0f} g)." if better else "."
        found.append(_said("tips-over", "look-at", text))
    for opens, shown in zip(out.opens, view.opens, strict=True):
        if shown.stays_shut is False and opens.torque:
            text = f"{shown.says} It falls open when it hangs over. Use larger magnets, further from the hinge."
            found.append(_said("door-falls-open", "look-at", text, _piece(out, opens.unit)))
    return found


def _comes_off(plan: Plan, out: Assembled, found: list[Finding]) -> None:
    wish, scene = plan.assembling, out.scene
    for unit in wish.comes_off:
        if unit not in scene.units:
            text = f"{unit} is to come off again, but is not there now. It comes back when it does."
            found.append(_said("comes-off-gone", "note", text))
            continue
        how = next((r for r in out.replacing if r.unit == unit), None)
        if how is None:
            continue
        what, number = upper(scene.named([unit])), _piece(out, unit)
        if how.breaks:
            others = sorted({x for pair in how.breaks for x in pair} - {unit})
            text = f"{what} must come off again, but is glued to {scene.named(others)}. Use screws, magnets or a thread there."
            found.append(_said("comes-off-glued", "must-fix", text, number))
        elif not how.possible:
            text = f"{what} must come off again, but nothing frees it once the model is together. Change what locks it in."
            found.append(_said("comes-off-locked", "must-fix", text, number))


def _said(
    code: str, severity: Severity, message: str, piece: int | None = None, at: tuple[float, float, float] | None = None
) -> Finding:
    return Finding(severity=severity, code=code, station="assemble", message=message, piece=piece, at_mm=at)


def _piece(out: Assembled, unit: str) -> int | None:
    numbers = out.scene.units[unit].numbers
    return numbers[0] if numbers else None
