"""All pieces laid at once, with what hangs on that: pins move to the piece that lies better for them, and back."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.join.contract.male_side import SidedJoint
from hinoki.core.join.joints import Joint, SideName
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.sizing.dowel_alternative import dowels_for
from hinoki.core.orient.pieces import OrientWish, best_rests, with_rests
from hinoki.core.orient.resting.piece import Piece
from hinoki.core.orient.resting.resting_faces import rest_on
from hinoki.core.orient.search import Candidate
from hinoki.core.orient.standing_on_pins import SAME_WAY, standing_out, stands_on_pins
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet

Rebuild = Callable[[Plan], Build]
LAID_AGAIN = 3
"""pins stand on the piece that lies better for it, so how a piece lies can change its size"""
MOST_MOVED = 6
"""faces whose pins are tried on the other piece"""


@dataclass(frozen=True)
class Laid:
    """The plan with every piece laid, its build, and the candidates of the pieces that were looked at, by key."""

    plan: Plan
    built: Build
    cache: Cache
    found: dict[str, list[Candidate]] = field(default_factory=dict)

    @property
    def against(self) -> tuple[int, int]:
        """How much must be fixed (pieces that do not fit or lie on a point among it), and how badly pieces stand."""
        return len(check(self.built, self.cache).must_fix), sum(_poor(p, self) for p in self.built.pieces)

    def sides(self, before: Plan) -> dict[str, SideName]:
        """The joints whose male parts stand on another side than before, by name, and on which."""
        were = {j.id: j for j in before.joints}
        return {
            j.id: side
            for j in self.plan.joints
            if (side := j.stands_on) is not None and (was := were.get(j.id)) is not None and was != j and was.kind == j.kind
        }


def laid(  # noqa: PLR0913 - what it works on, and what it may change
    plan: Plan,
    built: Build,
    rebuild: Rebuild,
    wish: OrientWish,
    cache: Cache,
    tell: Tell = quiet,
    also_chosen: bool = True,
    dowels: bool = False,
    only: Sequence[str] = (),
    most_moved: int = MOST_MOVED,
) -> Laid:
    """Every piece (or `only` some, by key) that is not locked (with `also_chosen` off, whose side was not chosen either) on its
    best side.

    Where a piece does not fit, would fall over or stands on pins, and male parts stand out of a mating face of it, they are put
    on the other piece, or with `dowels` pins are made dowels, if less is wrong then; on `most_moved` faces at most.
    """
    looking = part_of(tell, 0.0, 0.7)
    found = _looked(plan, built, only, wish, cache) if only else best_rests(plan, built, wish, cache, looking, also_chosen)
    free = set(found)
    here = _again(Laid(with_rests(plan, found), built, cache, found), rebuild, wish, cache, free)
    tried = 0
    for key in _worst_first(here, free):
        for joints in standing_out(here.built.placed, key, rims=True):
            piece = next(p for p in here.built.pieces if p.key == key)
            if tried >= most_moved or (piece.fits and not _poor(piece, here)):
                break
            if not _may_help(joints, piece, here):
                continue
            tried += 1
            tell(0.7 + 0.3 * tried / most_moved, f"Trying the pins of piece {piece.number} on the other piece")
            for others in (_on_the_other(joints, key), _dowels(joints, here.plan) if dowels else {}):
                if not others:
                    continue
                other = _again(_changed(here, joints, others, rebuild, wish, cache, free), rebuild, wish, cache, free)
                if other.against < here.against:
                    here = other
                    break
    return here


def still_fitting(plan: Plan, before: Build, rebuild: Rebuild, cache: Cache) -> tuple[Plan, tuple[str, ...]]:
    """A plan with new joints, and the keys of the pieces that were laid otherwise in it: those that fit in the build `before`
    and would not any more, whose side Hinoki may choose. The new joints' male parts go to the other piece where that helps.

    As it is where nothing helps, or where joints that were there before would have to change.
    """
    fitted = {p.key for p in before.pieces if p.fits and not p.chosen}
    notes = plan.pieces
    built = rebuild(plan)
    over = [p.key for p in built.pieces if not p.fits and p.key in fitted and not (p.key in notes and notes[p.key].locked)]
    if not over:
        return plan, ()
    after = laid(plan, built, rebuild, OrientWish(), cache, only=over)
    had = {placed.joint.id: placed.joint.stands_on for placed in before.placed}
    stays = all(had.get(placed.joint.id, placed.joint.stands_on) == placed.joint.stands_on for placed in after.built.placed)
    if not stays or len(check(after.built, cache).must_fix) >= len(check(built, cache).must_fix):
        return plan, ()
    lay = {p.key: p.rest.down for p in built.pieces}
    return after.plan, tuple(p.key for p in after.built.pieces if float(p.rest.down @ lay[p.key]) < SAME_WAY)


def _worst_first(here: Laid, free: set[str]) -> list[str]:
    """The pieces that are free, by key: those that do not fit before those that stand on pins, and these before the others."""
    placed = here.built.placed
    bad = sorted((p for p in here.built.pieces if p.key in free), key=lambda p: (p.fits, not stands_on_pins(p, placed)))
    return [p.key for p in bad]


def _may_help(joints: Sequence[PlacedJoint], piece: Piece, here: Laid) -> bool:
    """Whether a piece may lie better without the male parts of joints in a plane: it does not fit, or on that plane it would
    stand, bare of all joints."""
    if not piece.fits:
        return True
    face = joints[0].face
    down = face.frame.n if face.a.key == piece.key else -face.frame.n
    bare = next(p for p in here.built.before if p.key == piece.key)
    rest = rest_on(bare.solid, down, here.plan.printer_of(piece.key))
    return rest.fits and rest.stands


def _again(one: Laid, rebuild: Rebuild, wish: OrientWish, cache: Cache, free: set[str]) -> Laid:
    """Build as it is laid now. What does not fit any more, since pins came to it as it was turned, gives them back; else it is
    laid anew."""
    built = rebuild(one.plan)
    plan, found = one.plan, dict(one.found)
    for _ in range(LAID_AGAIN):
        over = [p.key for p in built.pieces if not p.fits and p.key in free]
        if not over:
            break
        kept = _given_back(plan, one.built, built, over)
        if kept is not None:
            plan, built = kept, rebuild(kept)
            continue
        found |= _looked(plan, built, over, wish, cache)
        plan = with_rests(plan, {key: found[key] for key in over})
        built = rebuild(plan)
    return Laid(plan, built, cache, found)


def _given_back(plan: Plan, before: Build, now: Build, over: Sequence[str]) -> Plan | None:
    """The plan with male parts on the side they stood on before, where that was left to Hinoki and they came to a piece that is
    over now; None where there are none."""
    stood = {one.joint.id: one.joint.stands_on for one in before.placed}
    came = {
        one.joint.id: stood[one.joint.id]
        for one in now.placed
        if (side := one.joint.stands_on) is not None
        and one.part(side).key in over
        and stood.get(one.joint.id) not in (None, side)
    }
    left = {j.id for j in plan.joints if isinstance(j, SidedJoint) and j.on == "auto"} & set(came)
    if not left:
        return None
    joints = tuple(j.model_copy(update={"on": came[j.id]}) if j.id in left else j for j in plan.joints)
    return plan.model_copy(update={"joints": joints})


def _on_the_other(joints: Sequence[PlacedJoint], key: str) -> dict[str, Joint]:
    """Joints with their male parts on the pieces other than `key`, by name."""
    return {joint.joint.id: joint.joint.model_copy(update={"on": "b" if joint.face.a.key == key else "a"}) for joint in joints}


def _dowels(joints: Sequence[PlacedJoint], plan: Plan) -> dict[str, Joint]:
    """Dowels instead of pins, by name; nothing where any of them has no room for some."""
    made = {one.joint.id: dowels_for(one, plan) for one in joints}
    found = {name: joint for name, joint in made.items() if joint is not None}
    return found if len(found) == len(made) else {}


def _changed(  # noqa: PLR0913 - what it works on, and what it may change
    here: Laid,
    joints: Sequence[PlacedJoint],
    others: dict[str, Joint],
    rebuild: Rebuild,
    wish: OrientWish,
    cache: Cache,
    free: set[str],
) -> Laid:
    """Other joints instead of some, and all pieces that this changes laid anew."""
    plan = here.plan.model_copy(update={"joints": tuple(others.get(j.id, j) for j in here.plan.joints)})
    changed = {k for joint in joints for k in (joint.face.a.key, joint.face.b.key)} & free
    found = _looked(plan, rebuild(plan), sorted(changed), wish, cache)
    return Laid(with_rests(plan, found), here.built, cache, here.found | found)


def _looked(plan: Plan, built: Build, keys: Sequence[str], wish: OrientWish, cache: Cache) -> dict[str, list[Candidate]]:
    found: dict[str, list[Candidate]] = {}
    for key in keys:
        found |= best_rests(plan, built, wish.model_copy(update={"piece": key}), cache)
    return {key: found[key] for key in keys}


def _poor(piece: Piece, one: Laid) -> int:
    """How much is wrong with how a piece lies: that it would fall over, that it stands on its own pins, or both."""
    if one.plan.printer_of(piece.key).process != "filament":
        return 0
    return (not piece.rest.stands) + bool(stands_on_pins(piece, one.built.placed))
