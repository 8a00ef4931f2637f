"""Findings of the assembly: no order, steps that do not work, what falls, tips, or cannot come off again."""

from hinoki.core.assemble.assembled import Assembled
from hinoki.core.assemble.balance import SAFE_TIP_DEG
from hinoki.core.assemble.ballasts import ballast_options
from hinoki.core.assemble.motion.opening_forces import Opens
from hinoki.core.assemble.planning import Step
from hinoki.core.assemble.retention import Falls
from hinoki.core.assemble.scene.parts import Ids, Scene
from hinoki.core.findings import Finding, Params, Severity, told_apart
from hinoki.core.plan.assembly_settings import Attitude
from hinoki.core.plan.plan import Plan

MOST_GONE = 3
"""units of a pinned order that are named"""


def assembly_findings(plan: Plan, out: Assembled) -> list[Finding]:
    """Everything noticed about an assembly."""
    found = [*_of_order(out), *_of_steps(out), *_of_pinned(out), *_of_what_comes_off(plan, out), *_of_stance(plan, out)]
    return told_apart(one.model_copy(update={"whole": out.scene.by_name}) for one in found)


def locked_params(out: Assembled, units: Ids) -> Params:
    """What is said of a set for which no order was found: they overlap, time ran out, or they lock each other."""
    what = out.scene.named(sorted(units))
    overlap = next(((a, b, v) for a, b, v in out.overlaps if {a, b} <= units), None)
    if overlap is not None:
        return {"case": "overlap", "what": what, "pair": out.scene.named(overlap[:2]), "volume_mm3": overlap[2]}
    return {"case": "time" if out.natural.cut_short else "lock", "what": what}


def fall_params(falls: Falls, scene: Scene, attitude: Attitude) -> Params:
    """What is said of something that falls, or hangs on magnets."""
    several = len(falls.units) > 1 or any(len(scene.units[u].numbers) > 1 for u in falls.units)
    return {
        "case": "bare" if falls.pull_n <= 0 else "pulled" if falls.falls else "held",
        "attitude": attitude,
        "what": scene.named(sorted(falls.units)),
        "weight_n": falls.weight_n,
        "things": 2 if several else 1,
        "pull_n": falls.pull_n,
    }


def opens_params(opens: Opens, scene: Scene) -> Params:
    """What is said of a door, a lid, or what must come off again."""
    params: Params = {"what": scene.named([opens.unit]), "how": opens.how, "opens_deg": opens.opens_deg, **opens.params}
    if opens.at_deg is not None:
        met = next((u for u in scene.units.values() if opens.touches in u.keys), None)
        params |= {"at_deg": opens.at_deg, "touches": scene.named([met.id]) if met else "something"}
    if opens.shut > 0:
        params |= {"shut": opens.shut, "weight": opens.weight, "torque": opens.torque, "stays_shut": bool(opens.stays_shut)}
    return params


def _of_order(out: Assembled) -> list[Finding]:
    """Pieces that overlap, and those that lock each other."""
    scene = out.scene
    found: list[Finding] = []
    for a, b, volume in out.overlaps:
        joined = any({h.a, h.b} == {a, b} for h in scene.held)
        params: Params = {"case": "joined" if joined else "apart", "what": scene.named([a, b]), "volume_mm3": volume}
        found.append(_about([a, b], "pieces-overlap", "must-fix", params, _piece(out, a)))
    for units, frees in out.freed:
        params = locked_params(out, units)
        if frees:
            params |= {"frees": frees[0].way, **frees[0].params}
        if out.natural.cut_short:
            found.append(_about(units, "order-not-found", "look-at", params))
            continue
        params |= {"nothing_frees": not frees and not out.overlaps}
        numbers = sorted(n for u in units for n in scene.units[u].numbers)
        found.append(_about(units, "no-order", "must-fix", params, numbers[0] if numbers else None))
    return found


def _of_steps(out: Assembled) -> list[Finding]:
    """Steps that do not work, and those that were only tried."""
    found: list[Finding] = []
    for number, step in enumerate(out.order.steps, start=1):
        refusal, lead = out.refusals.get(number - 1), out.scene.units[step.lead]
        piece = lead.numbers[0] if lead.numbers else None
        if step.locked:
            continue
        if refusal is not None:
            params: Params = {"step": number, "case": refusal.code, **refusal.params}
            found.append(_about([step.lead], "step-blocked", "must-fix", params, piece, refusal.at))
        elif step.motion is not None and step.motion.proof == "tried by sampling":
            found.append(_about([step.lead], "step-sampled", "note", _sampled(number, step, out.scene), piece))
    return found


def _sampled(number: int, step: Step, scene: Scene) -> Params:
    several = sorted(step.units, key=lambda u: min(scene.units[u].numbers, default=10**6)) if step.is_group else []
    what = scene.named(several) if several else scene.units[step.lead].name
    return {"step": number, "what": what, "group": bool(several), "motion": step.motion.kind if step.motion else "set down"}


def _of_pinned(out: Assembled) -> list[Finding]:
    """What a pinned order does not know, or names in vain."""
    found: list[Finding] = []
    if out.added and out.pinned:
        found.append(_about([], "order-added", "look-at", {"what": out.scene.named(out.added)}))
    if out.gone:
        found.append(_about([], "order-gone", "note", {"gone": list(out.gone[:MOST_GONE])}))
    return found


def _of_stance(plan: Plan, out: Assembled) -> list[Finding]:
    """What falls off, tips over or opens by itself."""
    attitude = plan.assembling.attitude
    found = [
        _about(fall.units, "falls-off", "look-at", fall_params(fall, out.scene, attitude)) for fall in out.falls if fall.falls
    ]
    if out.stands is not None and out.whole is not None and attitude == "standing":
        tip = out.stands.least[1]
        if tip < SAFE_TIP_DEG:
            params: Params = {"tip_deg": tip, "safe_deg": SAFE_TIP_DEG, "least_base_mm": out.stands.least_base_mm()}
            better = next((b for b in ballast_options(out) if b.tip_deg >= SAFE_TIP_DEG), None)
            if better is not None:
                params |= {"filling": better.filling.name, "up_to_mm": better.up_to_mm, "mass_g": better.weight.grams}
            found.append(_about([], "tips-over", "look-at", params))
    for opens in out.opens:
        if opens.stays_shut is False and opens.torque:
            params = opens_params(opens, out.scene)
            found.append(_about([opens.unit], "door-falls-open", "look-at", params, _piece(out, opens.unit)))
    return found


def _of_what_comes_off(plan: Plan, out: Assembled) -> list[Finding]:
    """What must come off again and does not."""
    scene = out.scene
    found: list[Finding] = []
    for unit in plan.assembling.comes_off:
        if unit not in scene.units:
            found.append(_about([unit], "comes-off-gone", "note", {"what": unit}))
            continue
        how = next((r for r in out.replacing if r.unit == unit), None)
        if how is None:
            continue
        params: Params = {"what": scene.named([unit])}
        if how.breaks:
            params |= {"others": scene.named(sorted({x for pair in how.breaks for x in pair} - {unit}))}
            found.append(_about([unit], "comes-off-glued", "must-fix", params, _piece(out, unit)))
        elif not how.possible:
            found.append(_about([unit], "comes-off-locked", "must-fix", params, _piece(out, unit)))
    return found


def _about(
    units: Ids | list[str],
    code: str,
    severity: Severity,
    params: Params,
    piece: int | None = None,
    at: tuple[float, float, float] | None = None,
) -> Finding:
    about = " + ".join(sorted(units)) or None
    return Finding(severity=severity, code=code, station="assemble", params=params, piece=piece, about=about, at_mm=at)


def _piece(out: Assembled, unit: str) -> int | None:
    numbers = out.scene.units[unit].numbers
    return numbers[0] if numbers else None
