"""The maker's own hardware: sizes that no table has, and what lies in the drawer."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from pydantic import BaseModel, Field

from hinoki.core.forms import Form
from hinoki.core.geometry.measures import Measure
from hinoki.core.workshop.hardware import BarShape, Hardware, MagnetShape, rod_name, spares_of, table
from hinoki.core.workshop.screw_tables import Size

Thin = Annotated[float, Field(ge=0.5, le=50, allow_inf_nan=False)]
Values = dict[str, float | str]


class OwnMagnet(BaseModel, frozen=True):
    """A magnet; a block has a width, a ring a hole."""

    form: ClassVar[Form] = Form(
        "magnet",
        "magnet",
        ("shape", "diameter_mm", "width_mm", "hole_mm", "thick_mm"),
        only_if={"width_mm": {"shape": ("block",)}, "hole_mm": {"shape": ("ring",)}},
    )

    kind: Literal["magnet"] = "magnet"
    shape: MagnetShape = Field("disc", title="Shape")
    diameter_mm: Measure = Field(8.0, title="Diameter", description="a block's length, mm")
    width_mm: Measure = Field(5.0, title="Width", description="of a block, mm")
    hole_mm: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = Field(0.0, title="Hole", description="of a ring, mm")
    thick_mm: Thin = Field(3.0, title="Thickness", description="mm")

    @property
    def values(self) -> Values:
        """What a joint gets with it."""
        more: Values = {"width_mm": self.width_mm} if self.shape == "block" else {}
        more |= {"hole_mm": self.hole_mm} if self.shape == "ring" else {}
        return {"shape": self.shape, "diameter_mm": self.diameter_mm, "thick_mm": self.thick_mm, **more}


class OwnRod(BaseModel, frozen=True):
    """A rod."""

    form: ClassVar[Form] = Form("rod", "rod", ("shape", "diameter_mm", "of"))

    kind: Literal["rod"] = "rod"
    shape: BarShape = Field("round", title="Shape")
    diameter_mm: Measure = Field(4.0, title="Diameter", description="across flats for a square one, mm")
    of: str = Field("steel", min_length=1, max_length=40, title="Made of")

    @property
    def values(self) -> Values:
        """What a way gets with it."""
        return {"shape": self.shape, "diameter_mm": self.diameter_mm, "of": self.of}


class OwnInsert(BaseModel, frozen=True):
    """A heat-set insert."""

    form: ClassVar[Form] = Form("insert", "insert", ("size", "insert_bore_mm", "insert_long_mm"))

    kind: Literal["insert"] = "insert"
    size: Size = Field("M3", title="Size")
    insert_bore_mm: Measure = Field(4.0, title="Bore", description="the hole it goes into, mm")
    insert_long_mm: Measure = Field(5.0, title="Length", description="mm")

    @property
    def values(self) -> Values:
        """What a screw gets with it."""
        return {
            "into": "insert", "size": self.size, "insert_bore_mm": self.insert_bore_mm, "insert_long_mm": self.insert_long_mm,
        }  # fmt: skip


class OwnPattern(BaseModel, frozen=True):
    """The screw holes of something bought: a circle of them, or rows, about its middle."""

    form: ClassVar[Form] = Form(
        "hole pattern",
        "holes of a bought thing",
        ("pattern", "count", "ring_mm", "step_mm", "rows", "row_step_mm"),
        words={"pattern": {"ring": "on a circle", "grid": "in rows"}},
        only_if={
            "ring_mm": {"pattern": ("ring",)},
            "step_mm": {"pattern": ("grid",)},
            "rows": {"pattern": ("grid",)},
            "row_step_mm": {"pattern": ("grid",)},
        },
    )

    kind: Literal["pattern"] = "pattern"
    pattern: Literal["ring", "grid"] = Field("ring", title="Holes")
    count: int = Field(4, ge=1, le=200, title="Count", description="on the circle, or in a row")
    ring_mm: Measure = Field(40.0, title="Circle", description="diameter through their middles, mm")
    step_mm: Measure = Field(32.0, title="Step", description="from one to the next, mm")
    rows: int = Field(2, ge=1, le=200, title="Rows")
    row_step_mm: Measure = Field(32.0, title="Between rows", description="mm")

    @property
    def values(self) -> Values:
        """What a step on a face gets with it: all about the middle."""
        if self.pattern == "ring":
            return {"pattern": "ring", "count": self.count, "ring_mm": self.ring_mm, "x_mm": 0.0, "y_mm": 0.0}
        x, y = -(self.count - 1) * self.step_mm / 2, -(self.rows - 1) * self.row_step_mm / 2
        return {
            "pattern": "grid", "count": self.count, "rows": self.rows, "step_mm": self.step_mm,
            "row_step_mm": self.row_step_mm, "x_mm": round(x, 4), "y_mm": round(y, 4),
        }  # fmt: skip


Own = Annotated[OwnMagnet | OwnRod | OwnInsert | OwnPattern, Field(discriminator="kind")]


class OwnSize(BaseModel, frozen=True):
    """A size of the maker's own, under a name of their own."""

    id: str = Field(pattern=r"^[a-z0-9-]{1,60}$")
    name: str = Field(min_length=1, max_length=60)
    size: Own


class StockItem(BaseModel, frozen=True):
    """How many of a thing lie in the drawer; of what is cut to length how much in all."""

    name: str = Field(min_length=1, max_length=120)
    count: int = Field(0, ge=0, le=1_000_000)
    length_mm: Annotated[float, Field(ge=0, le=1e7, allow_inf_nan=False)] | None = None


@dataclass(frozen=True)
class ToBuy:
    """What of a thing is still to be bought: a count, or a length."""

    name: str
    count: int
    length_mm: float | None = None


def to_buy(needed: Iterable[Hardware], stock: Mapping[str, StockItem]) -> list[ToBuy]:
    """For every thing needed (all lengths of one thing together) what the drawer lacks, spares counted in."""
    counts: dict[str, int] = {}
    lengths: dict[str, float] = {}
    for item in needed:
        if item.length_mm is None:
            counts[item.name] = counts.get(item.name, 0) + item.count + spares_of(item)
        else:
            lengths[item.name] = lengths.get(item.name, 0.0) + item.count * item.length_mm
    nothing = StockItem(name="-")
    bought = [ToBuy(name, max(0, count - stock.get(name, nothing).count)) for name, count in counts.items()]
    cut = [
        ToBuy(name, 0, round(max(0.0, long - (stock.get(name, nothing).length_mm or 0.0)), 1)) for name, long in lengths.items()
    ]
    return sorted([*bought, *cut], key=lambda b: b.name)


def bearings_on_sale() -> list[tuple[str, Values]]:
    """Ball bearings by their series and measures."""
    return [
        (
            f"{row['name']}: {row['bore_mm']} × {row['outside_mm']} × {row['wide_mm']}",
            {key: float(row[key]) for key in ("bore_mm", "outside_mm", "wide_mm")},
        )
        for row in table("bearings")
    ]


def hole_patterns() -> list[tuple[str, Values]]:
    """The hole patterns of the table, by name, with what a step on a face gets with each."""
    found = []
    for row in table("hole_patterns"):
        given = {key: row[key] for key in ("pattern", "count", "rows", "step_mm", "row_step_mm", "ring_mm") if row[key]}
        found.append((row["name"], OwnPattern.model_validate(given).values))
    return found


def rods_on_sale() -> list[tuple[str, Values]]:
    """The rods of the table, by name, with what a way gets with each."""
    rows = [OwnRod(shape=r["shape"], diameter_mm=float(r["across_mm"]), of=r["of"]) for r in table("rods")]
    return [(rod_name(r.shape, r.diameter_mm, r.of), r.values) for r in rows]
