"""What findings about pieces and partings say; kinds of parting bring the words for their own remarks."""

from hinoki.present.words.wording import Figures, Words, say

MOST_NAMED = 3
"""pieces that are named in a sentence"""


def _gone(f: Figures) -> str:
    named = ", ".join(f["gone"][:MOST_NAMED]) + (", …" if len(f["gone"]) > MOST_NAMED else "")
    return (
        f"{len(f['gone'])} of {f['pieces']} pieces to keep together are not there now ({named}). They join again when they "
        "come back."
    )


def _sliver(f: Figures) -> str:
    todo = "Move the parting." if f["to"] is None else f"Give it to piece {f['to']}, or move the parting."
    return say("Piece {piece} is a sliver of {volume_mm3:.2f} mm³. ", f) + todo


def lies(rests_on: str) -> str:
    """How a piece lies, as a sentence goes on: “lying on its mating face”."""
    words = {
        "as it stands": "as it stands",
        "mating face": "lying on its mating face",
        "flat face": "lying on a flat face",
        "leaning": "leaning",
    }
    return words.get(rests_on, f"lying with {rests_on}" if rests_on[:1] in "XYZ" else "as it was laid")


def _over(f: Figures) -> str:
    over = ", ".join(f"{axis} by {v:.1f} mm" for axis, v in zip("XYZ", f["over_mm"], strict=True) if round(v, 1) > 0)
    room = " × ".join(f"{v:g}" for v in f["room_mm"])
    return (
        f"{f['name']} ({f['piece']}) does not fit {f['printer']} ({room} mm): {lies(f['rests_on'])} it is over along "
        f"{over or 'the diagonal'}. Part it, or lay it otherwise."
    )


def _unsteady(f: Figures) -> str:
    how = (
        "{name} ({piece}) tips over at {tip_deg:.1f}° as it lies, with {contact_mm2:.0f} mm² on the bed: only its support and "
        "the bed's hold keep it up."
        if "tip_deg" in f
        else "{name} ({piece}) lies on a point or an edge, {contact_mm2:.1f} mm² of it on the bed: it would come loose."
    )
    return say(how + " Lay it on another side, print it with a brim, or part it so that a piece gets a foot.", f)


def _film(f: Figures) -> str:
    if "line_mm" in f:
        return say(
            "Piece {piece} hangs together by a line in places, {line_mm:.1f} mm in all: there it may come apart.",
            f,
        )
    return say(
        "Piece {piece} has a wall of no thickness, {area_mm2:.0f} mm² in all, such as at {at_mm:.1f}. It cannot be printed: "
        "move the cut or the joint that ends there by a little.",
        f,
    )


DIVIDE: dict[str, Words] = {
    "together-gone": _gone,
    "together-apart": lambda f: (
        f"{' and '.join(f['pieces'][:MOST_NAMED])} are to stay together but do not touch. Take the one that stands apart out "
        "of the group."
    ),
    "piece-sliver": _sliver,
    "mark-crossed": (
        "{parting} cuts through “{mark}”, which is to stay whole. Move the parting, let it cut other pieces only, or change "
        "the mark."
    ),
    "mark-lost/box": "“{mark}” covers nothing now: its box holds no face of the model. Set it again, or take it out.",
    "mark-lost/painted": (
        "“{mark}” covers nothing now: the model changed too much to find it again. Set it again, or take it out."
    ),
    "parting-piece-gone": (
        "{parting} is set to cut a piece that is not there now ({gone}). It comes back when that piece does; or choose other "
        "pieces."
    ),
    "parting-misses/model": "{parting} ({label}) misses the model. Move it, or take it out.",
    "parting-misses/pieces": "{parting} ({label}) misses the pieces it is set to cut. Move it, or take it out.",
    "parting-twice": (
        "{parting} ({label}) lies in the same place as {other} ({other_label}). Move one of them, or take it out."
    ),
    "parting-settled": "The plane was moved by {by_mm:.4f} mm into a face of the model that it all but lay in.",
    "piece-over": _over,
    "piece-unsteady": _unsteady,
    "piece-on-pins": (
        "{name} ({piece}) stands on its {elements} while it prints: {contact_mm2:.0f} mm² touch the bed, of a mating face of "
        "{area_mm2:,.0f} mm². Put the {elements} on the other piece, use dowels, or lay it otherwise."
    ),
    "piece-gone": "The settings of {name} wait: that piece is not there now. They come back when it does.",
    "open-cannot-part": (
        "{count:#parting waits|partings wait}: an open surface cannot be cut into pieces. Close it where it was drawn and "
        "bring it in again."
    ),
    "proposal-locked": "Its pieces lock each other.",
    "proposal-over": "Not all fits.",
    "proposal-refused": "{why}",
    "proposals-all-to-mend": "With joints, each of these leaves something to mend; the cards say what.",
    "proposals-as-it-is": "It fits as it is; there is nothing to divide.",
    "proposals-few": "Only {count:#division|divisions} that really differ were found.",
    "proposals-kept-whole": "Kept whole, as marked: {marks}.",
    "proposals-feet": (
        "As it was, a piece would have stood on no side while it prints; it is parted once more, so that every part stands on "
        "its cut."
    ),
    "proposals-reordered": "“{first}” comes first: “{to_mend}” leaves something to mend, its card says what.",
    "proposals-time": "Time ran out after {seconds:.0f} s: these are the best so far, not the best of all.",
    "proposals-too-many": (
        "No division into {wish:#piece|pieces} was found: the least is {least} (never fewer than {bound} for this size). Use a "
        "larger printer or a smaller scale."
    ),
    "volume-lost": (
        "The pieces do not add up to the model: {share:.1e} of it is missing or doubled. Move the last parting a little and "
        "report this."
    ),
    "film": _film,
}
