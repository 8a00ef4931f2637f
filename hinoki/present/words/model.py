"""What findings about the model and its surface say."""

from hinoki.present.words.wording import Figures, Words, say


def _open(f: Figures) -> str:
    if "count" not in f:
        return "The surface is not closed: its faces contradict each other. Repair it under “Make it right”."
    return say(
        "The surface has {count:#hole|holes} ({edges:,} open edges; the largest is {around_mm:.1f} mm around), so there is no "
        "inside to part or join. Fill them under “Make it right”.",
        f,
    )


def _crowded(f: Figures) -> str:
    more = "" if f["closed"] else " Repair sorts them out."
    return say("{count:#edge is|edges are} shared by more than two faces: surfaces touch there along a line.", f) + more


def _coarse(f: Figures) -> str:
    rest = f", and {f['count'] - 1:,} more" if f["count"] > 1 else ""
    worst = say("A bore of {diameter_mm:.4g} mm has {sides} sides: {loss_mm:.2f} mm too small across the flats", f)
    return f"{worst}{rest}. “Round bores again” makes them true."


def _inside_out(f: Figures) -> str:
    what = "The surface is" if f["count"] == f["lumps"] else say("{count:,} of {lumps:,} lumps are", f)
    return f"{what} inside out: the faces look inwards. Repair turns them round."


def _not_closed(f: Figures) -> str:
    sheet = "It is a sheet without thickness: give it a wall with “Thicken” under Prepare."
    return "After this repair the surface is still not closed. " + (
        sheet if f["sheet"] else "Try “Untangle”, or rebuild it at a fineness."
    )


MODEL: dict[str, Words] = {
    "surface-open": _open,
    "edges-crowded": _crowded,
    "faces-flipped": (
        "{count:#face is|faces are} turned over: {count:?it looks the other way than its neighbours. Repair turns it round.|"
        "they look the other way than their neighbours. Repair turns them round.}"
    ),
    "faces-duplicate": "{count:#face is|faces are} there twice. Repair drops what is there again.",
    "faces-sliver": (
        "{count:#face is a sliver|faces are slivers}, all but a line. That does no harm unless something is cut along it."
    ),
    "faces-through": (
        "{count:#face goes through another|faces go through one another}. What lies inside both is counted twice. Repair "
        "unites or rebuilds them."
    ),
    "bores-coarse": _coarse,
    "surface-inside-out": _inside_out,
    "lumps-specks": ("{count:#speck, a tiny loose lump,|specks, tiny loose lumps,} would print as crumbs. Repair drops them."),
    "lumps-overlap": (
        "{count:#pair of lumps overlaps|pairs of lumps overlap} ({shared_cm3:.2f} cm³ counted twice). Repair unites them."
    ),
    "surface-lumps": "The model is made of {count:,} separate lumps. They stay together until a parting divides them.",
    "surface-cavities": "The model has {count:#closed cavity|closed cavities} inside.",
    "size-unusual": "The model is {small:?very small|very large}: {across_mm:.2f} mm across. Is its unit right?",
    "details-lost": (
        "{area_mm2:.1f} mm² ({percent:.1f} % of the surface) belongs to details thinner than a line of {limit_mm:g} mm (down "
        "to {least_mm:.2f} mm): they will not survive printing. “Relief” or a larger scale helps."
    ),
    "walls-thin": (
        "{area_mm2:.0f} mm² ({percent:.1f} % of the surface) stands on walls under {limit_mm:g} mm, the least for this printer "
        "(down to {least_mm:.2f} mm). Thicken them where the model was drawn, or scale it up."
    ),
    "step-needs-closed": "{step} waits: it needs a closed surface. Put a repair before it.",
    "step-refused": "{why}",
    "not-made": "{why}",
    "spring-shut": (
        "Pressed by {pressed_mm:g} mm, its turns lie on each other: {most_mm:.1f} mm is the most. Make it longer, or take "
        "fewer turns."
    ),
    "spring-stress": (
        "Pressed so far, its wire is under {stress_mpa:.0f} N/mm² of shear; {material} bears {bears_mpa:.0f}. Take more turns, "
        "a wider spring, or press it less."
    ),
    "web-strain": (
        "Its web is strained by {strain_percent:.1f} % as it folds; {material} bears {bears_percent:.2g} % once and "
        "{often_percent:.2g} % often. A web of {needs_mm:.1f} mm, a thinner one, or a more pliant material lasts."
    ),
    "web-short": (
        "Folded by {folded_deg:.0f}°, its leaves meet: a web of {web_mm:g} mm is too short. Make it {least_mm:.1f} mm or more."
    ),
    "letters-lost": "Part of “{text}” is lost: the surface ends or turns away under it. Move it, or make it smaller.",
    "on-face-off": "{name} {which} does not stand wholly on the face. Move it inwards, or take a smaller one.",
    "on-face-meet": "{name} {which} runs into another one. Set them further apart, or take smaller ones.",
    "on-face-through": (
        "{name} {which} breaks through by {through_mm:.2f} mm. Move it, make it shorter, or make the part thicker there."
    ),
    "on-face-thin": (
        "{name} {which} leaves a wall of {wall_mm:.2f} mm; {least_mm:g} mm is the least. Move it, or make it smaller."
    ),
    "parts-overlap": (
        "{one} and {other} run into each other where they stand: {cm3:.2f} cm³ are in both. Move one of them, or cut a seat."
    ),
    "step-leaves-nothing": "{step} would leave nothing of the model.",
    "repair-not-closed": _not_closed,
    "repair-loses": (
        "This repair loses {percent:.0f} % of the surface that is seen from outside, most of all at {at_mm}. Take milder "
        "means, or rebuild it at a fineness."
    ),
    "relief-folds": "{step} folds the surface over itself at {faces:,} faces. Raise it less, or a smaller detail.",
    "wall-thinner": (
        "The wall is {wall_mm:.2f} mm at {at_mm}, where {wanted_mm:g} was asked for: the cavity is drawn no finer than that. "
        "Ask for a thicker wall, or hollow the pieces after dividing."
    ),
}
