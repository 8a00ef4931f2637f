"""What the sides of modules meet by: magnets in pockets, tails in grooves, loose keys, pegs, snap hooks; each a class."""

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.findings import Params
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.snap_fits import Flex
from hinoki.core.join.contract.strength import Stuff
from hinoki.core.join.contract.terms import Place, Standing, Tool
from hinoki.core.join.faced.half_joint import within_face
from hinoki.core.join.joints import DovetailJoint, HookJoint, MagnetJoint, PinJoint
from hinoki.core.join.tiles.polarity import Pole, Side
from hinoki.core.join.tiles.polarity import pattern as pole_pattern
from hinoki.core.plan.tile_set import NO_FACE, ModuleSet
from hinoki.core.workshop.hardware import GLUE_POINT, Hardware

NEAR_MM, FAR_MM = 1.0, 1e3
"""how far a hook is from the edge that it is told to look at, and how far that runs"""


@dataclass(frozen=True)
class SideJoint(ABC):
    """How the sides of a set's modules meet."""

    wanted: ModuleSet

    @property
    @abstractmethod
    def half_mm(self) -> float:
        """Half the width that one element takes of a side."""

    @abstractmethod
    def label(self) -> str:
        """What each side has, such as “2 magnets 6 × 3”."""

    def pattern(self, count: int, apart_mm: float, high_mm: float) -> list[Side]:
        """What is on each of so many sides, in turn: on all of them a pair, half of it standing out, half taking that, about
        the middle; else what stands out on the first side and what takes it on the opposite, or the next."""
        if self.wanted.layout == "all":
            return [((apart_mm / 2, high_mm, "n"), (-apart_mm / 2, high_mm, "s")) for _ in range(count)]
        takes = count // 2 if self.wanted.layout == "row" else 1
        only: dict[int, Side] = {0: ((0.0, high_mm, "n"),), takes: ((0.0, high_mm, "s"),)}
        return [only.get(k, ()) for k in range(count)]

    @abstractmethod
    def tool(self, index: int, standing: Standing, place: Place, pole: Pole) -> Tool | None:
        """What one element does to its module."""

    def hardware(self, count: int) -> list[Hardware]:  # noqa: ARG002 - most need none
        """What is bought for so many elements."""
        return []

    def key(self, standing: Standing) -> Solid | None:  # noqa: ARG002 - most have none
        """The loose body that goes into two sides, as it prints."""
        return None

    @property
    def lifts(self) -> bool:
        """Whether a module is let down into its place; else it is pushed against its neighbour."""
        return True

    @property
    def holds(self) -> bool:
        """Whether what stands out of a side is to hold the other one against pull."""
        return False

    @property
    def out_mm(self) -> float:
        """How far an element stands out of its side."""
        return self.wanted.out_mm

    def flexes(self, clearance_mm: float) -> Flex | None:  # noqa: ARG002 - most are stiff
        """How far an element is strained as it goes in; None where nothing bends."""
        return None

    def faults(self, clearance_mm: float, line_mm: float) -> list[tuple[str, Params]]:  # noqa: ARG002 - most have none
        """What is wrong with an element by its figures: a word for it, and what its sentence needs."""
        return []

    def forces(self, clearance_mm: float, stuff: Stuff) -> tuple[float, float] | None:  # noqa: ARG002 - most go in freely
        """What presses one element in and what pulls it off again, N (without end where it never lets go)."""
        return None


class Magnets(SideJoint):
    """Magnets in pockets, N and S."""

    @property
    def joint(self) -> MagnetJoint:
        """One side's magnets as a joint."""
        return self.wanted.magnets

    @property
    def half_mm(self) -> float:
        """Of the circle around its section."""
        return self.joint.radius_mm

    def label(self) -> str:
        """Such as “2 magnets 6 × 3”."""
        return self.joint.label()

    def pattern(self, count: int, apart_mm: float, high_mm: float) -> list[Side]:
        """Two a side, or one, N and S in turn."""
        return pole_pattern(count, self.wanted.a_side, apart_mm, high_mm)

    def tool(self, index: int, standing: Standing, place: Place, pole: Pole) -> Tool | None:  # noqa: ARG002 - a pocket is a pocket
        """Its pocket."""
        return self.joint.pocket("a", index, standing, place)[0]

    def hardware(self, count: int) -> list[Hardware]:
        """One magnet for each pocket, and glue."""
        glue = [Hardware(GLUE_POINT, count)] if self.wanted.held == "glue" else []
        return [Hardware(self.joint.magnet.name, count), *glue]


class Tails(SideJoint):
    """Upright tails and grooves. Where all sides are alike, both run right through; in a row and at its corners they stop."""

    def _joint(self, male: bool) -> DovetailJoint:
        one, stops = self.wanted, self.wanted.layout != "all" and self.wanted.end_mm > 0
        return DovetailJoint(
            id="j1", face=NO_FACE, neck_mm=one.neck_mm, head_mm=one.head_mm, height_mm=one.out_mm,
            along_deg=90.0 if male else -90.0, ends="closed" if stops else "through", stop_mm=max(one.end_mm, 0.2), lock_mm=0.0,
            lead_mm=0.0, on="a" if male else "b",
        )  # fmt: skip

    @property
    def half_mm(self) -> float:
        """Half the head."""
        return self.wanted.head_mm / 2

    def label(self) -> str:
        """Such as “tail and groove 5/9 × 4”."""
        return f"tail and groove {self.wanted.neck_mm:g}/{self.wanted.head_mm:g} × {self.wanted.out_mm:g}"

    def tool(self, index: int, standing: Standing, place: Place, pole: Pole) -> Tool | None:
        """The tail that stands out, or the groove that takes it."""
        return _own(self._joint(pole == "n").tools(standing, [place]).of("a"), index, standing)

    @property
    def holds(self) -> bool:
        """By their heads."""
        return True


class Keys(SideJoint):
    """A groove in the middle of every side, and loose keys of twice its section, let in from above."""

    @property
    def half_mm(self) -> float:
        """Half the head."""
        return self.wanted.head_mm / 2

    def label(self) -> str:
        """Such as “a groove 5/9 × 4 for loose keys”."""
        return f"a groove {self.wanted.neck_mm:g}/{self.wanted.head_mm:g} × {self.wanted.out_mm:g} for loose keys"

    def pattern(self, count: int, apart_mm: float, high_mm: float) -> list[Side]:  # noqa: ARG002 - always in the middle
        """One in the middle of each side that has one."""
        chosen = {"all": range(count), "row": (0, count // 2), "corner": (0, 1)}[self.wanted.layout]
        return [((0.0, high_mm, "key"),) if k in chosen else () for k in range(count)]

    @property
    def _joint(self) -> DovetailJoint:
        one = self.wanted
        return DovetailJoint(
            id="j1", face=NO_FACE, neck_mm=one.neck_mm, head_mm=one.head_mm, height_mm=one.out_mm, along_deg=-90.0, on="b",
            ends="closed" if one.end_mm > 0 else "through", stop_mm=max(one.end_mm, 0.2), lock_mm=0.0, lead_mm=0.0,
        )  # fmt: skip

    def tool(self, index: int, standing: Standing, place: Place, pole: Pole) -> Tool | None:  # noqa: ARG002 - a groove is a groove
        """Its groove."""
        return _own(self._joint.tools(standing, [place]).of("a"), index, standing)

    def key(self, standing: Standing) -> Solid:
        """Two tails back to back, lying on one of its narrow sides as it prints."""
        _, low, _, high = standing.shape.bounds
        ring = self._joint.male_ring()
        half = np.array([(x, max(y, 0.0)) for x, y in ring])
        both = Solid.drawn_ring(half, 0.0, high - low - self.wanted.end_mm)
        other = both.placed(np.array([[1.0, 0, 0, 0], [0, -1.0, 0, 0], [0, 0, 1.0, 0]]))
        return Solid.united([both, other])


class Pegs(SideJoint):
    """Round pegs and their bores, pushed together sideways."""

    def _joint(self, male: bool) -> PinJoint:
        one = self.wanted
        return PinJoint(
            id="j1", face=NO_FACE, diameter_mm=one.diameter_mm, length_mm=one.out_mm, on="a" if male else "b", count=1
        )

    @property
    def half_mm(self) -> float:
        """Half its diameter."""
        return self.wanted.diameter_mm / 2

    def label(self) -> str:
        """Such as “peg and bore ø6 × 4”."""
        return f"peg and bore ø{self.wanted.diameter_mm:g} × {self.wanted.out_mm:g}"

    def tool(self, index: int, standing: Standing, place: Place, pole: Pole) -> Tool | None:
        """The peg, or its bore."""
        return _own(self._joint(pole == "n").tools(standing, [place]).of("a"), index, standing)

    @property
    def lifts(self) -> bool:
        """They go in sideways."""
        return False


class Hooks(SideJoint):
    """Snap hooks and their pockets, pushed together sideways. All noses look up: those of two sides that meet come free
    of each other neither lifted nor let down nor pushed along the side."""

    @property
    def joint(self) -> HookJoint:
        """One hook."""
        return self.wanted.hook

    @property
    def half_mm(self) -> float:
        """Half its width."""
        return self.wanted.width_mm / 2

    def label(self) -> str:
        """Such as “snap hook 12 × 5 × 1.8”."""
        one = self.wanted
        return f"snap hook {one.long_mm:g} × {one.width_mm:g} × {one.spring_mm:g}"

    def tool(self, index: int, standing: Standing, place: Place, pole: Pole) -> Tool | None:
        """The hook, or its pocket."""
        joint = self.joint.model_copy(update={"on": "a" if pole == "n" else "b"})
        x, y = place
        above = shapely.box(x - FAR_MM, y - FAR_MM, x + FAR_MM, y + NEAR_MM)
        looking = replace(standing, shape=MultiPolygon([above]))
        return _own(joint.tools(looking, [place]).of("a"), index, standing)

    @property
    def lifts(self) -> bool:
        """They go in sideways."""
        return False

    @property
    def holds(self) -> bool:
        """By their noses."""
        return True

    @property
    def out_mm(self) -> float:
        """To its tip."""
        return self.joint.high_mm

    def flexes(self, clearance_mm: float) -> Flex:
        """Its root, along its length."""
        return self.joint.strained(clearance_mm)

    def faults(self, clearance_mm: float, line_mm: float) -> list[tuple[str, Params]]:
        """A nose that hardly catches, an end too thin to print."""
        words = {"joint-hook-catch": "catch", "joint-under-line": "thin"}
        return [(words[one.code], one.params) for one in self.joint.faults(clearance_mm, line_mm)]

    def forces(self, clearance_mm: float, stuff: Stuff) -> tuple[float, float]:
        """By the slopes of its nose; see the joint."""
        return self.joint.forces_n(clearance_mm, stuff)


def side_joint(wanted: ModuleSet) -> SideJoint:
    """How the sides of a set meet."""
    kinds: dict[str, type[SideJoint]] = {"magnets": Magnets, "dovetails": Tails, "keys": Keys, "pegs": Pegs, "hooks": Hooks}
    return kinds[wanted.by](wanted)


def _own(tools: Sequence[Tool], index: int, standing: Standing) -> Tool | None:
    """The one tool, under its number; what runs along the side ends where that does."""
    if not tools:
        return None
    (tool,) = tools
    return replace(tool, index=index, add=within_face(tool, standing))
