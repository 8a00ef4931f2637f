"""What is told of a job, station by station, by the code of a line."""

from hinoki.core.forms import named_kind
from hinoki.core.join.joints import Joint
from hinoki.present.words.wording import Figures, Words, say

NAMED = 6
"""of many names so many are told"""


def _time(minutes: float) -> str:
    hours, rest = divmod(round(minutes), 60)
    return f"{hours} h {rest:02d} min" if hours else f"{rest} min"


def _size(f: Figures) -> str:
    size = " × ".join(f"{v:.0f}" for v in f["size_mm"])
    return f"The model is {size} mm, {f['triangles']:,} triangles."


def _some(names: list[str]) -> str:
    """The first of many names, and how many there are besides."""
    rest = f" and {len(names) - NAMED} more" if len(names) > NAMED else ""
    return ", ".join(names[:NAMED]) + rest


def _bare(f: Figures) -> str:
    return say(
        "More than half is glue alone on {count:#seam|seams}: {named}.", {"count": len(f["faces"]), "named": _some(f["faces"])}
    )


def _joints(f: Figures) -> str:
    if not f["kinds"]:
        return say("None of {faces:#mating face|mating faces} has a joint.", f)
    named = [f"{named_kind(Joint, k).form.name.lower()} on {n}" for k, n in zip(f["kinds"], f["counts"], strict=True)]
    return say("On {faces:#mating face|mating faces}: {named}.", {**f, "named": named})


def _beds(f: Figures) -> str:
    took = f"about {_time(f['minutes'])} in all"
    if f["count"] > 1:
        took += f", the longest {_time(f['longest'])}"
    return say("{count:#bed|beds}, {took}, {grams:.0f} g.", {**f, "took": took})


def _order(f: Figures) -> str:
    proofs = {"proved": "proved", "sampled": "tried in positions", "unchecked": "not checked"}
    told = [f"{f[k]} {words}" for k, words in proofs.items() if f[k]]
    groups = ", {groups:#time|times} a group built before" if f["groups"] else ""
    return say("{steps:#step|steps} ({told}), beginning with {first}" + groups + ".", {**f, "told": told})


OVERVIEW: dict[str, Words] = {
    "no-model": "There is no model yet.",
    "model-size": _size,
    "model-steps": "Prepared: {steps}.",
    "model-open": "Its surface is open: it cannot be divided before it is made right.",
    "undivided": "It fits the bed as it is; nothing is cut.",
    "pieces": "{count:#piece|pieces} ({how}); a full box of its size would be cut into {bound}.",
    "pieces-over": "Larger than the bed: {pieces:and}.",
    "balance": "Piece {smallest} is the smallest, {percent:.0f} % of piece {largest}.",
    "joints": _joints,
    "seams": "Joints hold {percent:.0f} % of {length_m:.1f} m of seams.",
    "seams-bare": _bare,
    "weakest": "Weakest is {face}: it bears about {bears_nm:.1f} N m of bending, {times:.1f} times what bends it.",
    "support": "Support under {pieces}: {grams:.0f} g, {percent:.0f} % of the model.",
    "no-support": "Nothing needs support.",
    "sides-chosen": "{count} of {of} pieces lie as they were chosen to.",
    "beds": _beds,
    "on-no-bed": "{what:^} lies on no bed: {why}.",
    "order": _order,
    "locked": "No order was found for {what}.",
}
PASSED_OVER = "“{title}” was passed over: {why}"
TAKEN = "“{title}” was taken of {count:#proposal|proposals}."
REPAIRED = "Made right first: {how}."
