"""What is written on the fixes of findings."""

from hinoki.present.words.wording import Words

FIXES: dict[str, Words] = {
    "glue": "Glue it",
    "stands": "Lay it where it stands",
    "upright": "Lay it upright",
    "inwards": "Move it inwards by {by_mm:.1f} mm",
    "spread": "Spread anew",
    "smaller": "Make it {joint}",
    "fit": "Make the fit {fit}, {clearance_mm:.2f} each side",
    "leave-at": "Leave it at {count}",
    "collar": "Stand it in a collar of {thick_mm:g} mm",
    "shift": "Shift {parting} by {by_mm:.1f} mm",
    "give-to": "Give it to piece {piece}",
    "skin": "Skin of {skin_mm:.2g} mm",
    "open-by": "Open by {deg:.0f}°",
    "slide-by": "Open by {mm:.0f} mm",
    "other-piece": "Put them on piece {piece}",
    "dowels": "Make them dowels",
    "one-way": "Only one way",
    "eased": "Make it {joint}",
    "rod": "Look for a rod",
    "carve": "Carve {by_mm:g} mm round it out of {other}",
}
