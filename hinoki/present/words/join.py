"""What findings about joints, channels, tiles and magnets say; kinds of joint bring the words for their own problems."""

from hinoki.present.words.wording import Figures, Words, mm, say

MANY_ANGLES = 30
"""with more angles than this two pieces go together any way round"""
MOST_ANGLES = 4
GOES = {
    "turns": "is turned in",
    "straight": "goes straight in",
    "either": "goes straight in or slides along its line",
    "along": "only slides along its line",
}
"""how a joint's second piece goes on"""

PROBLEMS: dict[str, Words] = {
    "joint-collar": ("has no collar: there is no hollow beside the face that leaves a way through. Make it thinner, or 0."),
    "joint-cut-printed": (
        "cannot keep its cut as it was printed: male parts of this kind cannot be made thinner. Clear “Cut as printed”, and "
        "print the piece that is cut again."
    ),
    "joint-sharp-edge": "has sharp edges: corners that meet corners keep it open. Break them by 0.2 mm.",
}
"""problems that several kinds of joint have, after the element's name and its face"""


def _turned(f: Figures) -> str:
    angles = f["angles_deg"]
    how = "any way round" if len(angles) > MANY_ANGLES else "turned by " + ", ".join(f"{a:.0f}°" for a in angles[:MOST_ANGLES])
    todo = "Move a pin, or use more of them." if f["must_not"] else "Choose “Only one way” for pins, or mark the faces."
    return f"The pieces of {f['face']} can be put together {how}. {todo}"


def _no_sides(f: Figures) -> str:
    pieces = f["pieces"]
    which = f"Piece {pieces[0]}" if len(pieces) == 1 else "Pieces " + ", ".join(map(str, pieces))
    return (
        f"{which} of the modules: fewer than three flat, upright sides at least {f['least_mm']:.1f} mm wide were found. Use "
        "smaller magnets, or leave out what is no module."
    )


def _module_wall(f: Figures) -> str:
    how = "breaks through its surface" if f["wall_mm"] is None else f"leaves a wall of {mm(f['wall_mm'])}"
    return (
        f"A magnet in a side of piece {f['piece']} {how}; {mm(f['least_mm'])} is the least. Move it in height, nearer "
        "together, or use a smaller one."
    )


def _hits(f: Figures) -> str:
    by = say("{volume_mm3:.1f} mm³", f) if "volume_mm3" in f else "a hair"
    door = say("piece {door} on its {joint} of {face}", f)
    if f["angle_deg"] <= 0:
        return f"Closed, {door} already cuts into piece {f['other']} by {by}. Give it a gap all round, or move the hinge."
    touches = f"Opened by {f['angle_deg']:.0f}°, {door} touches piece {f['other']} by {by}"
    if "free_deg" not in f:
        return (
            f"{touches}: it does not clear its frame. Give the hatch a wider gap or a taper, or move the hinge to another edge."
        )
    return f"{touches}. Open it by {f['free_deg']:.0f}° at most, or move its axis further off the surface."


def _folds(f: Figures) -> str:
    leaf, meets = f"leaf {f['leaf']}", say("piece {other} by {volume_mm3:.1f} mm³", f)
    if f["angle_deg"] <= 0:
        return f"Shut, {leaf} of the folding door at {f['face']} already cuts into {meets}. Give it a gap all round."
    return (
        f"Folded by {f['angle_deg']:.0f}°, {leaf} of the folding door at {f['face']} meets {meets}. Give it a wider gap, let "
        "it open less, or move the hinge between its leaves to the other side."
    )


def _bends(f: Figures) -> str:
    of = [f["how"]] * bool(f["how"]) + [f"glue {f['glue_nm']:.1f} N m"] * bool(f["glue_nm"])
    return say(
        "What hangs from {face} reaches {arm_mm:.0f} mm; pushed at its end with {force_n:g} N it bends the seam by "
        "{load_nm:.1f} N m, and that bears about {bears_nm:.1f} N m ({of}). Part it where it is thicker, put a rod through, "
        "or hold it with care.",
        {**f, "of": of},
    )


def _strained(f: Figures) -> str:
    begins = (
        "The {joint} on {face} {elements:?is|are} strained by {strain_percent:.1f} % going in; as piece {piece} lies, layers "
        "run across that and bear {bears_percent:.1f} %. Lay it otherwise, or "
        if f["case"] == "layers"
        else "The {joint} on {face} would break going in: {elements:?it is|they are} strained by {strain_percent:.1f} %, and "
        "{bears_percent:.1f} % are permissible as piece {piece} lies. "
    )
    helps = "make {elements:?it|them} {long_mm:g} mm long." if f["long_mm"] else "make the bead lower, or the clearance wider."
    return say(begins + (helps if f["case"] == "layers" else helps[:1].upper() + helps[1:]), f)


JOIN: dict[str, Words] = {
    "face-bare": "{face} has no joint yet: the pieces would only be glued face to face.",
    "joint-breaks-through": (
        "{name} on {face} breaks through the surface of piece {piece} by {through_mm:mm}. Move it inwards or use a smaller or "
        "shorter one."
    ),
    "joint-thin-wall": (
        "{name} on {face} leaves a wall of {wall_mm:mm} in piece {piece}; {least_mm:mm} is the least. Move it inwards or use a "
        "smaller or shorter one."
    ),
    "joint-beside-face": "{name} on {face} does not stand wholly on the mating face. Move it inwards.",
    "joint-severs": (
        "{joint} on {face} leaves piece {piece} in several bits. Make it smaller or of fewer elements, move it, or take "
        "another kind."
    ),
    "joints-meet": "{name} on {face} and {other} on {other_face} meet inside the piece. Move one of them.",
    "joint-no-room": lambda f: say(
        "{joint} wanted on {face}, but there is room for {many}. Use fewer, smaller or shorter ones.",
        {**f, "many": f["room_for"] or "none"},
    ),
    "motions-at-odds": lambda f: say(
        "On {face} the {joint} {goes}, but the {other} on {other_face} {other_goes}: the pieces cannot be put together. Take "
        "one of them out, or use butterfly keys, which go in afterwards.",
        {**f, "goes": GOES[f["goes"]], "other_goes": GOES[f["other_goes"]]},
    ),
    "turned-assembly": _turned,
    "joint-unplaced": (
        "{joint} waits: the mating face {a} | {b} is not there now. It comes back when the face does; or take it out."
    ),
    "joint-weak": (
        "The {joint} on {face} {elements:?holds|hold} about {holds_n:.0f} N ({how}); hanging from there the lighter piece "
        "weighs {weight_n:.1f} N printed full. Use more or larger ones, or glue."
    ),
    "seam-bends": _bends,
    "mating-mark-unreadable": "There is no room on {face} for a mark that could be read. Leave it out there.",
    "thread-leans": (
        "The {joint} on {face} leans by {lean_deg:.0f}° in piece {piece} as it lies on the bed: its ridges or lugs would need "
        "support, which ruins them. Lay the piece so that it stands."
    ),
    "joint-strain": _strained,
    "magnet-weak": (
        "The {joint} on {face} {elements:?pulls|pull} about {pull_n:.1f} N in all; piece {lighter} weighs {weight_n:.1f} N "
        "printed full. Use more or larger ones, or a thinner skin."
    ),
    "magnet-layers": (
        "The skin of {skin_mm:g} mm on {face} is {layers:.1f} layers of {layer_mm:g} mm. Make it {whole_mm:.2g} mm."
    ),
    "magnet-pause/up": (
        "Pause before layer {layer} ({at_mm:.2f} mm) of piece {piece} and lay in the magnets of {face}, at layers of "
        "{layer_mm:g} mm."
    ),
    "magnet-pause/on their side": (
        "Pause before layer {layer} ({at_mm:.2f} mm) of piece {piece} and lay in the magnets of {face}, at layers of "
        "{layer_mm:g} mm. The piece lies so that the pockets are on their side; lay it on the face, or on its back."
    ),
    "magnet-pause/open at the top": (
        "The pockets of {face} in piece {piece} stay open at the top: lay the magnets in after printing."
    ),
    "hinge-in-place": (
        "Pieces {pieces:and} print as one, their hinge in place, opened as far as it goes: closed they would stick together. "
        "Lay them so that the pin lies level, and leave out support in its gap."
    ),
    "hinge-hits": _hits,
    "hinge-free": (
        "A knuckle of the {joint} on {face} hangs free of piece {piece}: the surface falls away from it. Make the hinge "
        "shorter, lower its axis, or move it."
    ),
    "rail-stuck": (
        "Piece {door} on its {joint} of {face} does not slide: piece {other} stops it after {after_mm:.1f} mm. Let it open the "
        "other way, or give the seam a gap."
    ),
    "rail-hits": (
        "Piece {door} on its {joint} of {face} slides {after_mm:.1f} mm and meets piece {other}; it is to open by "
        "{travel_mm:g} mm. Let it open less, or take away what stands in its way."
    ),
    "fold-hits": _folds,
    "fold-short": (
        "The folding door at {face} folds by {deg:.0f}°: its pin goes {gone_mm:.1f} of {travel_mm:g} mm. It folds further "
        "where the pin is as far from the hinge between the leaves as the other hinge is."
    ),
    "way-misses": "The {way} goes through no piece. Move its ends inside.",
    "way-too-tight": (
        "The {way} bends by a radius of {radius_mm:.1f} mm only: its points lie too near each other. Move them apart."
    ),
    "way-slender": "The {way} is {times:.0f} times as long as it is thick and bends. Use a thicker one.",
    "way-meets-joint": "The {way} meets {name} on {face}. Move one of them.",
    "way-through-rim": "The {way} goes through the {joint} on {face} and takes {long_mm:.1f} mm of its rim.",
    "way-at-odds": (
        "The rod through {pieces} and the {other} there are at odds: no one way serves both. Lay it along that way."
    ),
    "way-comes-out": "The {way} comes out of the model by {by_mm:.1f} mm. Move it inwards or make it thinner.",
    "way-stand-meets": "The base of the {way} meets the model. Set its end lower.",
    "way-stand-shallow": (
        "The {way} goes {held_mm:.1f} mm into the model; {enough_mm:.0f} mm hold it. Move its end further in."
    ),
    "way-stand-falls": (
        "The {way} does not hold the model up: its centre of gravity lies {high_mm:.0f} mm above the table and {off_mm:.0f} mm "
        "beside the peg. Make the base {needed_mm:.0f} mm wide, or move it."
    ),
    "way-stand-tips": (
        "The {way} tips at {angle_deg:.0f}°: its centre of gravity lies {high_mm:.0f} mm above the table and {off_mm:.0f} mm "
        "beside the peg. With {needed_mm:.0f} mm across it tips at {safe_deg:.0f}°."
    ),
    "way-stand-holds": "The {way} tips at {angle_deg:.0f}°, the model taken as printed full.",
    "module-no-pieces": "The pieces of the modules are not there now. They come back when those do.",
    "module-no-sides": _no_sides,
    "module-differs": (
        "Piece {piece} has {sides} sides, the other modules have {usual}: one pattern does not serve both. Leave it out."
    ),
    "module-field": (
        "The {modules}: as they stand in the model, no way was found to turn their poles so that all neighbours hold. Take two "
        "magnets a side."
    ),
    "module-wall": _module_wall,
    "module-narrow": "Side {side} of piece {piece} is too narrow for what is on it. Use smaller ones, or set them nearer.",
    "module-own-meet": (
        "What stands out of a side of piece {piece} meets what another takes, or its own groove. Set them further apart, or "
        "use smaller ones."
    ),
    "module-hook/catch": (
        "The snap hooks of the modules catch only {catch_mm:.2f} mm: their nose less the clearance. {least_mm:g} mm are "
        "wanted. Make the nose larger."
    ),
    "module-hook/thin": (
        "The snap hooks of the modules are {thickness_mm:g} mm thick at their ends; the printer draws lines of {line_mm:g} mm "
        "and needs two. Make them thicker."
    ),
    "module-strain/any way": (
        "The snap hooks of piece {piece} would break going in: they are strained by {strain_percent:.1f} %, and "
        "{bears_percent:.1f} % are permissible as it lies. Make them {long_mm:g} mm long."
    ),
    "module-strain/layers": (
        "The snap hooks of piece {piece} are strained by {strain_percent:.1f} % going in; as it lies, layers run across some "
        "of them and bear {bears_percent:.1f} %. Lay it flat, or make them {long_mm:g} mm long."
    ),
    "module-corner": ("Magnets of two sides of piece {piece} meet at a corner. Use smaller ones, or set them nearer together."),
    "module-pair/into": (
        "Side {side} of piece {piece} and side {other_side} of piece {other} run into each other when they are put together. "
        "Make what stands out smaller, or its fit wider."
    ),
    "module-pair/in": (
        "Side {side} of piece {piece} cannot be put against side {other_side} of piece {other}: it is stopped on its way. "
        "Take a wider fit, or no end stop."
    ),
    "module-pair/apart": (
        "Side {side} of piece {piece} is not held at side {other_side} of piece {other}: the head or nose is too small for the "
        "clearance. Make it larger."
    ),
    "module-meets-joint": "{name} of piece {piece} meets a magnet of the modules. Move one of them.",
}
