"""What holds, how it stands, how it comes apart: as data."""

import numpy as np

from hinoki.core.assemble.assembled import Assembled
from hinoki.core.assemble.balance import hang_points, hung
from hinoki.core.assemble.ballasts import BallastOption, ballast_options
from hinoki.core.assemble.findings import fall_params, locked_params, opens_params
from hinoki.core.assemble.motion.moves import Motion
from hinoki.core.assemble.removal import Replacing
from hinoki.core.assemble.retention import WAYS
from hinoki.core.assemble.scene.parts import Ids, Scene, upper
from hinoki.core.build import Build
from hinoki.core.geometry.mesh import Points
from hinoki.core.plan.assembly_settings import Attitude
from hinoki.core.plan.plan import Plan
from hinoki.present.bodies import vec
from hinoki.present.schemas.assemble import (
    BalanceView,
    BallastView,
    FallView,
    FreeView,
    HangView,
    HoldsView,
    HoldView,
    LockedView,
    OffView,
    OpensView,
    ReplaceView,
    TipView,
)
from hinoki.present.sheets.instructions import off_words
from hinoki.present.words.assemble import FALLS, FREES, LOCKED, OPENS
from hinoki.present.words.wording import say


def locked_views(out: Assembled) -> list[LockedView]:
    """Sets for which no order was found, and what frees them."""
    found = []
    for units, frees in out.freed:
        found.append(
            LockedView(
                units=sorted(units),
                numbers=sorted(n for u in units for n in out.scene.units[u].numbers),
                says=say(LOCKED, locked_params(out, units)),
                frees=[
                    FreeView(
                        way=f.way, words=say(FREES[f.way], f.params), joint=f.joint, unit=f.unit,
                        direction=vec(np.array(f.direction), 6) if f.direction else None,
                    )
                    for f in frees
                ],
            )
        )  # fmt: skip
    return found


def off_view(units: Ids, motion: Motion, scene: Scene) -> OffView:
    """Something that comes off."""
    return OffView(
        units=sorted(units), words=off_words(units, motion, scene), kind=motion.kind,
        direction=vec(np.array(motion.way), 6), proof=motion.proof,
    )  # fmt: skip


def replace_view(replacing: Replacing, scene: Scene) -> ReplaceView:
    """What must come off so that a unit does, in words too."""
    what = scene.named([replacing.unit])
    steps = [off_view(units, motion, scene) for units, motion in replacing.first]
    if not replacing.possible:
        says = f"{upper(what)} cannot be taken out again: no order was found that frees it."
    elif replacing.breaks:
        others = sorted({x for pair in replacing.breaks for x in pair} - {replacing.unit})
        says = f"{upper(what)} cannot be had without breaking the glue to {scene.named(others)}."
    elif not steps:
        says = f"{upper(what)} comes off as it is; nothing else has to."
    else:
        names = sorted({u for units, _ in replacing.first for u in units})
        says = f"To replace {what}, {scene.named(names)} must come off first."
    return ReplaceView(
        unit=replacing.unit,
        possible=replacing.possible,
        says=says,
        first=steps,
        itself=off_view(frozenset((replacing.unit,)), replacing.motion, scene) if replacing.motion else None,
        breaks=list(replacing.breaks),
    )


def holds_view(out: Assembled, attitude: Attitude) -> list[HoldsView]:
    """What holds every piece in each of six directions."""
    holding = out.holding
    if holding is None:
        return []
    found = []
    for unit in out.scene.units.values():
        if not unit.is_piece:
            continue
        ways = []
        for name, way in WAYS:
            hold = holding.of(unit.id, way, attitude)
            ways.append(HoldView(way=name, kind=hold.kind, by=list(hold.by), newtons=hold.newtons))
        found.append(HoldsView(unit=unit.id, ways=ways))
    return found


def falls_view(out: Assembled, attitude: Attitude) -> list[FallView]:
    """What falls in the attitude, and what hangs on magnets."""
    return [
        FallView(units=sorted(f.units), says=say(FALLS, fall_params(f, out.scene, attitude)), falls=f.falls) for f in out.falls
    ]


def balance_view(plan: Plan, built: Build, out: Assembled) -> BalanceView | None:
    """How the model stands and hangs."""
    stands, whole, wish = out.stands, out.whole, plan.assembling
    if stands is None or whole is None:
        return None
    kinds = out.scene.units
    printed = sum(w.grams for i, w in out.weights.items() if kinds[i].kind in ("piece", "loose", "stand"))
    towards, least = stands.least
    model = built.prepared.solid if built.prepared else None
    hangs: list[tuple[str, list[Points], bool]] = []
    if wish.hangs_at:
        hangs.append(("as chosen", [np.array(p) for p in wish.hangs_at], True))
    if model is not None:
        hangs += [(what, points, False) for what, points in hang_points(model, whole.centre)]
    return BalanceView(
        mass_g=round(whole.grams, 1),
        printed_g=round(printed, 1),
        bought_g=round(sum(w.grams for w in out.weights.values()) - printed, 1),
        ballast_g=round(out.ballast.grams, 1) if out.ballast else 0.0,
        centre_mm=vec(whole.centre, 2),
        floor_mm=round(stands.floor_mm, 3),
        foot=[(round(float(x), 2), round(float(y), 2)) for x, y in stands.foot],
        tip_deg=round(least, 2),
        tip_towards_deg=round(towards, 1),
        tips=[TipView(towards_deg=a, tip_deg=round(t, 2)) for a, t in stands.tips],
        least_base_mm=round(stands.least_base_mm(), 1),
        hollow_cm3=round(out.hollow.volume_mm3 / 1000, 1) if out.hollow else 0.0,
        open_below=bool(out.hollow and out.hollow.open_below),
        ballasts=[_ballast_view(option) for option in ballast_options(out)],
        hangs=[h for what, points, chosen in hangs if (h := _hang(what, points, chosen, whole.centre, whole.grams))],
    )


def _ballast_view(option: BallastOption) -> BallastView:
    """A filling, up to a height."""
    stuff, grams = option.filling, option.weight.grams
    return BallastView(
        filling=stuff.id,
        name=stuff.name,
        bulk_g_cm3=round(stuff.bulk_g_cm3, 2),
        up_to_mm=round(option.up_to_mm, 1),
        volume_cm3=round(grams / stuff.bulk_g_cm3, 1),
        mass_g=round(grams, 0),
        tip_deg=round(option.tip_deg, 1),
        centre_mm=vec(option.centre, 1),
    )


def _hang(what: str, points: list[Points], chosen: bool, centre: Points, grams: float) -> HangView | None:
    how = hung(centre, points)
    if how is None:
        return None
    return HangView(
        what=what,
        points=[vec(p, 2) for p in points[:2]],
        leans_deg=round(how.leans_deg, 1),
        shares_g=[round(s * grams, 0) for s in how.shares],
        chosen=chosen,
    )


def opens_view(out: Assembled) -> list[OpensView]:
    """Doors, lids and what must come off again."""
    return [OpensView(unit=o.unit, says=say(OPENS, opens_params(o, out.scene)), stays_shut=o.stays_shut) for o in out.opens]
