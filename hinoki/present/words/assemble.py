"""What findings about the assembly say."""

from hinoki.present.words.wording import Figures, Words, say

ATTITUDES = {"standing": "Standing", "hung": "Hung up", "upside down": "Upside down"}
SAMPLED = {
    "screw": "it turns in steps of 30°",
    "turn": "it turns in steps of 3°",
    "swing": "it swings in steps of 5°",
    "pull": "rays look for its ends",
}
"""how a motion was tried"""


REFUSALS: dict[str, Words] = {
    "twice": "{what:^} was put together with the rest before: the order says so twice.",
    "wire-closed": "The wire cannot be pulled in here: an end of it is closed in. Put it in before what closes it.",
    "no-way": "No way brings {what} in: the joints there allow different ways only. Change one of them.",
    "held": ("{what:^} no longer {things:?goes|go} in here: by the joints between them, {met} would have to be out first."),
    "meets": (
        "{what:^} no longer {things:?goes|go} in here: on the freest way {things:?it meets|they meet} {met}. Bring "
        "{things:?it|them} in before {met}."
    ),
    "two-threads": "{what:^} would have to be screwed onto two threads at once. Group it otherwise.",
    "twists-wire": "{what:^} is screwed on, and the wire in it would be twisted. Pull it in after this step.",
    "kept-from-turning": "{what:^} is screwed on, but another joint between the two does not let it turn. Take that one out.",
    "meets-turning": "{what:^} is screwed on and meets {met} while it turns. Bring it in before {met}.",
    "overlap": "{what:^} overlap by {volume_mm3:g} mm³ where they stand: no way brings them there.",
}
"""why a step does not work, by the code of its refusal"""
LOOSER = {"butterfly": "butterfly keys", "butt": "a plain butt"}
FREES: dict[str, Words] = {
    "loosen": lambda f: say(
        "Make the {joint} between {between} {into}, which go in afterwards.", {**f, "into": LOOSER[f["into"]]}
    ),
    "leave out": "Take the {joint} between {between} out, and glue that face.",
    "turn": lambda f: say(
        "Turn the {joint} between {between} {by}.", {**f, "by": "by 90°" if f["turn_deg"] == 90 else "the other way round"}
    ),
    "split": "Split {part} across {axis}, at {axis} {at_mm:.1f} mm.",
}
"""changes that free a locked set"""
OPENING: dict[str, Words] = {
    "door": "swings open by {opens_deg:g}° on the {hinge}",
    "rail": "slides open by {gone_mm:g} mm on its rail",
    "fold": "folds open by {opens_deg:.0f}°",
    "lift": "lifts straight off",
    "slide": "slides off",
    "screw": "screws off, {turns:g} turns",
    "turn": "turned back by {turn_deg:.0f}°, then straight off",
    "swing": "swings open and comes off its hinge",
    "two slides": "comes off in two moves",
    "pull": "is pulled out",
}
"""how something opens or comes off"""


def _blocked(f: Figures) -> str:
    return f"Step {f['step']}: {say(REFUSALS[f['case']], f)}"


def _locked(f: Figures) -> str:
    return say(
        {
            "overlap": "{pair:^} overlap by {volume_mm3:g} mm³ where they stand, so no order can be told for {what}.",
            "time": "Time ran out before an order was found for {what}; it is not known whether there is one.",
            "lock": "{what:^} lock each other: none of them comes off the others, singly or in groups, by the moves tried.",
        }[f["case"]],
        f,
    )


LOCKED: Words = _locked
"""a set for which no order was found"""


def _no_order(f: Figures) -> str:
    frees = f" {say(FREES[f['frees']], f)}" if f.get("frees") else ""
    nothing = " No single change to a joint frees them; look at the way they were divided." if f.get("nothing_frees") else ""
    return _locked(f) + frees + nothing


def _falls(f: Figures) -> str:
    where = ATTITUDES[f["attitude"]]
    return say(
        {
            "bare": (
                "{where}, {what} ({weight_n:.1f} N) {things:?falls|fall} off: nothing holds it. Glue it, or use magnets or a "
                "thread."
            ),
            "pulled": (
                "{where}, {what} ({weight_n:.1f} N) {things:?falls|fall} off: the magnets pull {pull_n:.1f} N only. Use larger "
                "ones."
            ),
            "held": "{where}, {what} ({weight_n:.1f} N) {things:?is|are} held by magnets that pull {pull_n:.1f} N.",
        }[f["case"]],
        {**f, "where": where},
    )


FALLS: Words = _falls
"""something that falls, or hangs on magnets"""


def _opens(f: Figures) -> str:
    out = say("{what:^} {how}", {**f, "how": say(OPENING[f["how"]], f)})
    if f["opens_deg"] is not None:
        out += (
            say(", but touches {touches} at {at_deg:.0f}°", f) if "at_deg" in f else ", free of everything (tried by sampling)"
        )
    if "shut" in f:
        unit, side = ("N·mm" if f["torque"] else "N"), ("more" if f["stays_shut"] else "less")
        out += f"; it is held shut with {f['shut']:.0f} {unit}, {side} than its weight's {f['weight']:.1f} {unit} at worst"
    return out + "."


OPENS: Words = _opens
"""a door, a lid, or what must come off again"""


def _sampled(f: Figures) -> str:
    title = say("Group of {what}" if f["group"] else "{what:^}", f)
    how = SAMPLED.get(f["motion"], "in positions")
    return f"Step {f['step']} ({title}) was tried by sampling, not proved: {how}."


def _tips(f: Figures) -> str:
    how = (
        "The model falls over by itself: its centre of mass lies beside its foot. "
        if f["tip_deg"] <= 0
        else say("The model falls when it is tipped by {tip_deg:.1f}°; {safe_deg:.0f}° is safe. ", f)
    )
    better = say(", or {filling} up to {up_to_mm:.0f} mm ({mass_g:.0f} g)", f) if "filling" in f else ""
    return how + say("A round base of {least_base_mm:.0f} mm under its middle does", f) + better + "."


ASSEMBLE: dict[str, Words] = {
    "pieces-overlap/joined": (
        "{what:^} overlap by {volume_mm3:g} mm³ where they stand in the model. Give the joint between them more clearance, or "
        "move one of them."
    ),
    "pieces-overlap/apart": (
        "{what:^} overlap by {volume_mm3:g} mm³ where they stand in the model. They are parts of the model that reach into "
        "each other: unite them (Model, Make it right), or move one."
    ),
    "order-not-found": _no_order,
    "no-order": _no_order,
    **{f"step-blocked/{case}": _blocked for case in REFUSALS},
    "step-sampled": _sampled,
    "order-added": (
        "{what:^} came after the order was pinned and stand at its end. Drag them where they go, or take Hinoki's order."
    ),
    "order-gone": "The pinned order names {gone}, not there now. Their steps wait and come back when they do.",
    "falls-off": _falls,
    "tips-over": _tips,
    "door-falls-open": lambda f: f"{_opens(f)} It falls open when it hangs over. Use larger magnets, further from the hinge.",
    "moves-unclear": "{why}",
    "moves-touch/touches": (
        "{movement} at {value:.1f}{unit}: {one} touches {other}. Carve what is in the way, or let it move less far."
    ),
    "moves-touch/rests": (
        "{movement} at {value:.1f}{unit}: {one} runs into {other}, which it touches at rest. Carve what is in the way, or give "
        "the two some clearance."
    ),
    "moves-play": (
        "{movement} at {value:.1f}{unit}: {one} and {other} come as near as {least_mm:.2f} mm, and play in the bearings may be "
        "{play_mm:.2f} mm there. Make more room, or guide it over a greater length."
    ),
    "moves-rattles": (
        "{movement} rattles: {one} has {play_mm:.2f} mm of play in {other}, all round. From 0.1 to {most_mm:g} mm it runs "
        "freely."
    ),
    "moves-breaks": "{movement} at {value:.1f}{unit}: {what} cannot follow, its rod does not reach. Let it move less far.",
    "moves-together": (
        "{first} at {first_value:.1f}{first_unit} and {second} at {second_value:.1f}{second_unit}: {one} and {other} touch. "
        "Let one of the two move less far, or drive it by the other."
    ),
    "comes-off-gone": "{what} is to come off again, but is not there now. It comes back when it does.",
    "comes-off-glued": ("{what:^} must come off again, but is glued to {others}. Use screws, magnets or a thread there."),
    "comes-off-locked": (
        "{what:^} must come off again, but nothing frees it once the model is together. Change what locks it in."
    ),
}
