"""Everything noticed about a build."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.bending import bending_findings
from hinoki.core.check.between.overlaps import part_findings
from hinoki.core.check.films import film_findings
from hinoki.core.check.joints import joint_findings, motion_findings, turn_findings, unplaced_findings
from hinoki.core.check.layers import layer_findings
from hinoki.core.check.magnets import magnet_findings
from hinoki.core.check.model import model_findings
from hinoki.core.check.openings import opening_findings
from hinoki.core.check.pieces import piece_findings
from hinoki.core.check.standing_on_pins import on_pins_findings
from hinoki.core.check.stands import stand_findings
from hinoki.core.check.strength import strength_findings
from hinoki.core.check.tiles import tile_findings
from hinoki.core.divide.merge import sliver_findings
from hinoki.core.divide.region_tracking import crossing_findings
from hinoki.core.findings import Finding, told_apart
from hinoki.core.join.channel_cuts import rod_findings, rod_motions, way_findings
from hinoki.core.join.tiles.put_together import Tried, tried
from hinoki.core.progress import Tell, quiet


@dataclass(frozen=True)
class Checked:
    """The findings of a build, of those the ones about each joint alone, by its id, and how modules go together."""

    findings: tuple[Finding, ...]
    of_joints: Mapping[str, tuple[Finding, ...]] = field(default_factory=dict)
    of_modules: Mapping[str, Tried] = field(default_factory=dict)
    """what putting the modules of each set together showed, by its id"""

    @property
    def must_fix(self) -> list[Finding]:
        """Those without which it cannot be printed or put together."""
        return [f for f in self.findings if f.severity == "must-fix"]


def check(build: Build, cache: Cache, tell: Tell = quiet) -> Checked:
    """Look at a build from all sides. No two findings have the same id."""
    own = {
        placed_joint.joint.id: tuple(joint_findings(placed_joint, build.placed, build.numbers, build.plan))
        for placed_joint in build.placed
    }
    modules = {m.wanted.id: tried(m, cache) for m in build.modules}
    found = [*model_findings(build, cache)]
    if build.state == "whole":
        found += [*_of_pieces(build, cache, tell), *_of_joints(build, own, modules, cache)]
    found += piece_findings(build, cache)
    found += on_pins_findings(build)
    return Checked(tuple(told_apart(found)), own, modules)


def check_project(build: Build, cache: Cache, tell: Tell = quiet) -> Checked:
    """The findings of the open part, with those between the parts of the project where the others were built, too."""
    own = check(build, cache, tell)
    return replace(own, findings=tuple(told_apart([*part_findings(build, cache), *own.findings])))


def check_all(built: Build, cache: Cache) -> dict[str, Checked]:
    """The findings of every part of a project, by its id; those between parts with the open one. Raises ValueError where other
    parts were not built."""
    return {p.plan.part_id: check_project(p, cache) if p is built else check(p, cache) for p in built.all_parts}


def _of_pieces(build: Build, cache: Cache, tell: Tell) -> list[Finding]:
    """What the division leaves: regions crossed, slivers, films."""
    if build.parted is None:
        return []
    found = [*build.unreadable, *build.regions.findings, *crossing_findings(build.plan.marks, build.crossed)]
    found += build.parted.findings
    found += sliver_findings(build.parted.parts, build.faces, build.numbers, build.plan.sliver_mm3)
    return found + film_findings(build.parts, build.numbers, cache, tell)


def _of_joints(
    build: Build, own: Mapping[str, tuple[Finding, ...]], modules: Mapping[str, Tried], cache: Cache
) -> list[Finding]:
    """What is noticed about joints, channels and tiles."""
    placed, numbers, whole = build.placed, build.numbers, build.whole
    found = [*tile_findings(build, modules), *(f for several in own.values() for f in several)]
    if whole is not None:
        found += rod_findings(rod_motions(build.ways, build.faces), placed, numbers)
        found += way_findings(build.ways, placed, whole, numbers) + stand_findings(build.ways, whole)
    found += magnet_findings(build) + strength_findings(build) + bending_findings(build)
    found += opening_findings(placed, build.parts, build.before, numbers, cache)
    found += layer_findings(build)
    found += motion_findings(placed, numbers) + turn_findings(placed, numbers, cache)
    return found + unplaced_findings(build.unplaced)
