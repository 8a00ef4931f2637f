"""What is told of the print log: of a printed piece beside the plan's, and of what helps where failures repeat."""

from hinoki.core.printlog.learning import Remedy
from hinoki.core.printlog.shape_diff import Difference, Where
from hinoki.core.printlog.states import Reason
from hinoki.present.words.wording import say

HELPS: dict[Reason, str] = {
    "came loose": "A brim of 5 mm holds them to the bed.",
    "warped": "A brim of 5 mm holds the corners down; a side with less on the bed warps less.",
    "support scar": "Lay them on another side: one with less support, or with it on a hidden side.",
    "ran out": "Weigh the spool before a batch goes out; the log tells whether it is enough.",
    "too tight": "Say which joint was tight and how; the fits learn from it.",
    "broke": "Layers break apart most easily: lay them so that the thin part is printed lying.",
    "printer stopped": "The printer itself stopped: look at it before the next long batch.",
}
ON_LITTLE = "These stand on little: print one more of each in the same go."
DIFFERS: dict[Where, str] = {
    "inside": "only its inside differs",
    "joint": "it differs at {faces}",
    "outside": "its outside differs",
}
SAME = "It is the same shape, only described by other triangles: nothing need be printed again."
FITS = "It still goes together with its neighbours"
GAP = "; what moved leaves a gap"
MEETS = "It no longer goes together: it would meet {meets}"


def remedy_says(remedy: Remedy) -> str:
    """What may help against a cause that repeats."""
    if remedy.stands_on_little:
        return ON_LITTLE
    whom = say("{count:?piece|pieces} {numbers}", {"count": len(remedy.numbers), "numbers": remedy.numbers})
    return f"{remedy.failed} {remedy.reason} ({whom if remedy.numbers else remedy.name}). {HELPS[remedy.reason]}"


def difference_says(found: Difference) -> str:
    """What differs between a printed piece and the plan's, and what that means."""
    if found.where == ["nothing"]:
        return SAME
    told = " and ".join(say(DIFFERS[w], {"faces": found.faces}) for w in found.where if w in DIFFERS)
    fits = FITS + (GAP if found.leaves_gap else "")
    if not found.mates:
        fits = say(MEETS, {"meets": [f"piece {m.number} by {m.mm3:.1f} mm³" for m in found.meets]})
    return say("{told:^}, by up to {most_mm:.2f} mm. {fits}.", {"told": told, "most_mm": found.most_mm, "fits": fits})
