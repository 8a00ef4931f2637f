"""Beam search over divisions of a thinned body until every piece fits.

Luo, Baran, Rusinkiewicz & Matusik 2012, ACM Trans. Graph. 31(6): the piece that fits worst is cut; states are judged by the
pieces they still need at least, their seams, the room for joints, slivers and support.
"""

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part, part_further
from hinoki.core.divide.partings import PartingBase, WedgesParting
from hinoki.core.divide.partings.base import Reach
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.mesh import Points
from hinoki.core.limbs.limbs import Limb
from hinoki.core.orient.resting.resting_faces import rests
from hinoki.core.propose.search.bed_fit import Room
from hinoki.core.propose.search.candidates import Cuttings, Judged, axis_of, room_of
from hinoki.core.propose.search.constraints import Heed
from hinoki.core.propose.search.in_line import crosses, in_line
from hinoki.core.propose.search.mirrored_cuts import images_of, uneven
from hinoki.core.symmetry.mirror_planes import MirrorPlane
from hinoki.core.workshop.printers import Printer

Prefer = Literal["fewest", "hidden", "sturdy", "support", "limbs"]
BEAM = 3
TRIED, PAIRS = 4, 1
"""candidates that are cut in each state, and lopsided ones besides that are cut together with their mirror image"""
SECONDS = 90.0
"""how long divisions are weighed against each other; then the best so far is carried on with the likeliest cuts alone"""
MOST_ROUNDS = 60
MOST_PIECES = 600
GOOD_ROOM_MM = 6.0
"""room (a circle's radius) with which a joint has enough wall around it"""
MARGIN = 2.0
HOPELESS = 3
"""a body whose boxes need so many beds fits none on its diagonal either"""
SLIVER_SHARE = 0.04
BALANCE = 0.15
"""what pieces of very different sizes count"""
LIKENESS = 5.0
"""what being like an earlier proposal counts"""
DIFFERENT = 0.6
"""divisions that share more of their planes than this are the same proposal"""


@dataclass(frozen=True)
class Weights:
    """What counts how much: one more piece, a girth of seam, a face without room, all surface hanging over, a sliver."""

    pieces: float
    seam: float
    room: float
    support: float
    sliver: float = 1.0
    symmetry: float = 1.2
    """all of a symmetric body divided otherwise than its mirror image"""


WEIGHTS: dict[Prefer, Weights] = {
    "fewest": Weights(1.0, 0.12, 0.25, 0.0),
    "hidden": Weights(0.4, 0.9, 0.2, 0.0),
    "sturdy": Weights(0.4, 0.1, 1.5, 0.0),
    "support": Weights(0.4, 0.1, 0.2, 3.0),
    "limbs": Weights(1.0, 0.12, 0.25, 0.0),
}


@dataclass(frozen=True)
class State:
    """A division under way: the pieces, the partings so far, which pieces fit, and what it cost."""

    parts: tuple[Part, ...]
    partings: tuple[PartingBase, ...] = ()
    seam: float = 0.0
    cramped: float = 0.0
    slivers: float = 0.0
    """pieces too small to be one, cuts that run within a wall, by the share of them that does, and limbs cut along"""

    @property
    def looks(self) -> tuple[tuple[object, ...], ...]:
        """What tells divisions apart: where they cut, not what their partings are called."""
        return tuple(sorted((_sign(p) for p in self.partings), key=repr))


@dataclass
class Search:
    """What the searches of one body share: what was worked out for a piece under one preference serves the others."""

    room: Room
    heed: Heed
    printer: Printer
    girth_mm: float
    cache: Cache
    tell: Callable[[float, str], None]
    first_number: int = 1
    mirrors: Sequence[MirrorPlane] = ()
    """planes that the body is mirrored by"""
    limbs: Sequence[Limb] = ()
    """of the body, that come off at their roots"""
    all_pieces: bool = True
    """whether a parting that cuts every piece of the search cuts every piece there is"""
    clock: Callable[[], float] = time.monotonic
    seconds: float = SECONDS
    cut_short: bool = False
    """whether time ran out before all was weighed"""
    blocked: set[str] = field(default_factory=set)
    _begun: float | None = None
    _fits: dict[str, bool] = field(default_factory=dict)
    _needs: dict[str, int] = field(default_factory=dict)
    _judged: dict[str, list[Judged]] = field(default_factory=dict)
    _hanging: dict[str, float] = field(default_factory=dict)
    _rooms: dict[tuple[str, object], float] = field(default_factory=dict)
    _middles: dict[str, Points] = field(default_factory=dict)

    def run(self, start: Sequence[State], weights: Weights, avoid: Sequence[State] = ()) -> State | None:
        """The best division from one of the starts; none where no way leads on. Being like one of `avoid` counts against it.

        Raises BadPlan when even the best takes more than MOST_PIECES pieces.
        """
        beam = list(start)
        done: list[State] = []
        for number in range(MOST_ROUNDS):
            after: list[State] = []
            for state in beam[:1] if self._late() else beam:
                self._told(state, number)
                worst = self._worst(state)
                if worst is None:
                    done.append(state)
                    continue
                after += self._onward(state, worst, weights)
            costs = {id(s): self.cost(s, weights, avoid) for s in (*after, *done)}
            margin = MARGIN * weights.pieces  # an open division may need fewer pieces than its boxes say
            if done and self._late():
                break
            if not after or (done and min(costs[id(s)] for s in done) + margin <= min(costs[id(s)] for s in after)):
                break
            unique = {s.looks: s for s in sorted(after, key=lambda s: -costs[id(s)])}
            beam = sorted(unique.values(), key=lambda s: costs[id(s)])[:BEAM]
            if len(beam[0].parts) > MOST_PIECES:
                raise BadPlan(
                    f"More than {MOST_PIECES} pieces would be needed. Use a larger printer or a smaller scale.", "bed"
                )
        return min(done, key=lambda s: self.cost(s, weights, avoid)) if done else None

    def _late(self) -> bool:
        """Whether time is over; from then on only the likeliest cuts are tried."""
        now = self.clock()
        if self._begun is None:
            self._begun = now
        self.cut_short = self.cut_short or now - self._begun > self.seconds
        return self.cut_short

    def _told(self, state: State, number: int) -> None:
        """Tell how far it is: by the pieces that fit, and at least by the time that is gone."""
        gone = 0.0 if self._begun is None else (self.clock() - self._begun) / max(self.seconds, 1e-9)
        share = min(0.95, max(self._share(state), min(0.9, gone)))
        self.tell(share, f"Trying ways to divide, {len(state.parts)} pieces so far, round {number + 1}")

    def cost(self, state: State, weights: Weights, avoid: Sequence[State] = ()) -> float:
        """How a division is judged; small is good."""
        pieces = sum(1 if self.fits(p) else max(2, self.needs(p)) for p in state.parts)
        seam = state.seam * (pieces - 1) / max(1, len(state.parts) - 1)  # what is still to be cut will have seams like these
        out = weights.pieces * pieces + weights.seam * seam / self.girth_mm
        out += weights.room * state.cramped + weights.sliver * state.slivers
        if weights.support:
            out += weights.support * sum(self.hanging(p) for p in state.parts if self.fits(p))
        volumes = [p.solid.volume_mm3 for p in state.parts]
        out += BALANCE * (1 - min(volumes) / max(volumes))
        middles = np.array([self._middle(p) for p in state.parts])
        if not (len(state.partings) == 1 and isinstance(state.partings[0], WedgesParting)):  # all of them alike
            out += weights.symmetry * uneven(np.array(volumes), middles, self.mirrors, self.girth_mm)
        return out + LIKENESS * max((self.likeness(state, other) for other in avoid), default=0.0)

    def likeness(self, state: State, other: State) -> float:
        """Share of the planes of two divisions that lie in nearly the same places, 0 to 1."""
        a, b = _planes(state, self.girth_mm), _planes(other, self.girth_mm)
        return len(a & b) / max(1, len(a | b))

    def _middle(self, part: Part) -> Points:
        if part.made_by not in self._middles:
            self._middles[part.made_by] = part.solid.centre_of_mass
        return self._middles[part.made_by]

    def fits(self, part: Part) -> bool:
        """Whether a piece fits one of the printers."""
        if part.made_by not in self._fits:
            self._fits[part.made_by] = self.needs(part) < HOPELESS and self.room.printer_for(part) is not None
        return self._fits[part.made_by]

    def needs(self, part: Part) -> int:
        """Pieces that a part still needs at least."""
        if part.made_by not in self._needs:
            self._needs[part.made_by] = self.room.needed_by(part.solid.mesh.vertices)
        return self._needs[part.made_by]

    def hanging(self, part: Part) -> float:
        """Surface of a piece that hangs over as it lies best, as a share of a square as wide as its girth."""
        if part.made_by not in self._hanging:
            normals = [-e.side * e.frame.n for e in part.ends]
            rest = rests(part.solid, normals, self.printer, only_best=True)[0]
            self._hanging[part.made_by] = rest.overhang_mm2 / (self.girth_mm / 4) ** 2
        return self._hanging[part.made_by]

    def _share(self, state: State) -> float:
        done = sum(self.fits(p) for p in state.parts)
        return done / max(1, sum(1 if self.fits(p) else self.needs(p) for p in state.parts))

    def _worst(self, state: State) -> Part | None:
        over = [p for p in state.parts if not self.fits(p)]
        return max(over, key=lambda p: (self.needs(p), p.solid.volume_mm3), default=None)

    def _onward(self, state: State, worst: Part, weights: Weights) -> list[State]:
        if worst.made_by not in self._judged:
            cuttings = Cuttings(worst, self.room, self.heed, self.mirrors, self.limbs)
            self._judged[worst.made_by] = cuttings.all()
            self.blocked |= cuttings.blocked
        judged = self._judged[worst.made_by]
        rough = sorted(judged, key=lambda j: self._rough(j, weights))
        rough = rough[: 3 * TRIED if weights.room > 1 else 2 * TRIED]
        fine = sorted(rough, key=lambda j: self._rough(j, weights) + weights.room * self._cramped(worst, j))[:TRIED]
        # two cuts that are mirror images are as good as one that is its own
        pairs = [j for j in judged if j.lopsided and len(j.sections) == 1 and j not in fine] if self.mirrors else []
        fine += sorted(pairs, key=lambda j: self._rough(j, weights) + j.needs * weights.pieces)[:PAIRS]
        found = []
        for one in fine:
            after = self._cut(state, worst, one)
            if after is not None:
                found.append(after)
                if self._late():
                    break
                twice = self._also_mirrored(after, one)
                found += [twice] if twice is not None else []
        return found

    def _also_mirrored(self, after: State, judged: Judged) -> State | None:
        """The state in which the first mirror image of the plane that cuts what is over cuts it, too."""
        for image in images_of(judged.parting, self.mirrors):
            over = [p for p in after.parts if not self.fits(p) and crosses(image.frame, p)]
            if over and not any(self.heed.crossed(image.frame, *p.solid.bounds) for p in over):
                largest = max(over, key=lambda p: p.solid.volume_mm3)
                return self._cut(after, largest, replace(judged, parting=image), [p.key for p in over])
        return None

    def _rough(self, judged: Judged, weights: Weights) -> float:
        sliver = weights.sliver * ((judged.smallest < SLIVER_SHARE) + judged.plate_share + judged.halved)
        cuts = len(judged.sections)
        # what is still to be cut will have seams like these
        seam = judged.seam * max(1.0, (judged.needs - 1) / cuts)
        lopsided = weights.symmetry * judged.lopsided
        return weights.pieces * judged.needs + weights.seam * seam / self.girth_mm + sliver + lopsided

    def _cramped(self, worst: Part, judged: Judged) -> float:
        key = (worst.made_by, _sign(judged.parting))
        if key not in self._rooms:
            self._rooms[key] = room_of(judged)
        return max(0.0, 1 - self._rooms[key] / GOOD_ROOM_MM)

    def _cut(self, state: State, worst: Part, judged: Judged, these: Sequence[str] | None = None) -> State | None:
        """The state after a parting, which cuts `these` pieces, by key; else also other pieces that are over and span the same
        length."""
        judged = replace(judged, parting=in_line(state.parts, worst, judged.parting, self.heed))
        axis = axis_of(judged.parting)
        low, high = (float(f(worst.solid.mesh.vertices @ axis)) for f in (np.min, np.max))
        members = judged.parting.members(Reach([worst.solid]))

        def free(part: Part) -> bool:
            return not any(self.heed.crossed(m.frame, *part.solid.bounds) for m in members)

        alike = [p.key for p in state.parts if p is worst or (not self.fits(p) and _spans(p, axis, low, high) and free(p))]
        targets = alike if these is None else list(these)
        whole = self.all_pieces and len(targets) == len(state.parts)
        named = {"id": f"p{self.first_number + len(state.partings)}", "only": None if whole else tuple(targets)}
        parting = judged.parting.model_copy(update=named)
        parts = part_further(state.parts, parting, self.cache)
        if len(parts) <= len(state.parts):
            return None
        before = {p.key for p in state.parts}
        new = [p for p in parts if p.key not in before]
        least = SLIVER_SHARE * 0.25 * worst.solid.volume_mm3
        slivers = sum(p.solid.volume_mm3 < least for p in new) + judged.plate_share + judged.halved
        seam = judged.seam * len(targets) if len(targets) > 1 else judged.seam
        cramped = self._cramped(worst, judged) * len(targets)
        return State(
            tuple(parts), (*state.partings, parting), state.seam + seam, state.cramped + cramped, state.slivers + slivers
        )


def _planes(state: State, girth_mm: float) -> set[tuple[float, ...]]:
    """The planes where pieces end, to a few degrees and a part of the girth, whichever way they look."""
    step = girth_mm / 24
    out = set()
    for part in state.parts:
        for end in part.ends:
            n = np.round(end.frame.n * 12)
            sign = -1.0 if tuple(n) < (0.0, 0.0, 0.0) else 1.0
            out.add((*(n * sign + 0.0).tolist(), round(sign * end.frame.offset / step) + 0.0))
    return out


def _spans(part: Part, axis: np.ndarray, low: float, high: float) -> bool:
    heights = part.solid.mesh.vertices @ axis
    return abs(float(heights.min()) - low) < 1.0 and abs(float(heights.max()) - high) < 1.0


def _sign(parting: PartingBase) -> tuple[object, ...]:
    """Where a parting cuts, rounded so that a hair does not make a difference."""
    shape = parting.fingerprint
    return tuple((k, _rounded(v)) for k, v in sorted(shape.items()))


def _rounded(value: object) -> object:
    if isinstance(value, float):
        return round(value, 0) + 0.0
    return tuple(_rounded(v) for v in value) if isinstance(value, list | tuple) else value
