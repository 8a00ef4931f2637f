"""Further parts on the command line: `--part FILE[:COUNT]` and `--parts LIST`, a JSON list of them with places."""

import argparse
import hashlib
import json
import re
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from hinoki.cli.shared.arguments import read_model, unit_of
from hinoki.core.errors import BadPlan, explain
from hinoki.core.formats.base import ModelFile
from hinoki.core.formats.registry import read_file
from hinoki.core.geometry.mesh import MM_PER_UNIT, Unit
from hinoki.core.parts.arrange import Row, arranged
from hinoki.core.parts.take_apart import with_part
from hinoki.core.plan.contents import ModelUse
from hinoki.core.plan.parts import BESIDE_MM, FIRST, MOST_INSTANCES, Instance, Instances, KeptPart
from hinoki.core.plan.plan import Plan


class PartGiven(BaseModel):
    """An entry of a parts list: a model file beside the list, and how often and where it stands."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    file: str = Field(min_length=1, max_length=1000)
    name: str = Field("", max_length=80)
    unit: Unit | None = None
    count: Annotated[int, Field(ge=1, le=MOST_INSTANCES)] = 1
    instances: Instances | None = Field(None, description="in the place of a count")


@dataclass(frozen=True)
class Given:
    """A part's file as read, and its entry."""

    entry: PartGiven
    path: Path
    data: bytes

    @property
    def source(self) -> str:
        """The hash of the file."""
        return hashlib.sha256(self.data).hexdigest()


def add_parts(parser: argparse.ArgumentParser) -> None:
    """Add the two ways of giving parts."""
    parser.add_argument(
        "--part", action="append", default=[], metavar="FILE[:COUNT]", help="a further part, made once or so often"
    )
    parser.add_argument("--parts", type=Path, metavar="LIST", help="a JSON list of further parts with their places")


def parts_given(options: argparse.Namespace) -> list[Given]:
    """The parts that were given, their files read. Raises BadPlan, UnreadableModel, and OSError where a file is not there."""
    entries = [(PartGiven(file=file, count=count), Path(file)) for file, count in map(_counted, options.part)]
    if options.parts is not None:
        entries += [(entry, options.parts.parent / entry.file) for entry in _listed(options.parts)]
    return [Given(entry, path, read_model(path)) for entry, path in entries]


def with_parts(plan: Plan, given: list[Given]) -> Plan:
    """The plan with the parts that it does not have yet, each to the right of those before it. Raises BadPlan."""
    known = {use.source for use in plan.all_files}
    right = 0.0
    for one in given:
        if one.source in known:
            continue
        file = read_file(one.data, one.path.name)
        unit = unit_of(file, one.entry.unit)[0]
        wide = _width(file) * MM_PER_UNIT[unit]
        use = ModelUse(source=one.source, file_name=one.path.name[-200:], unit=unit)
        first = Instance(at_mm=(right + BESIDE_MM + wide / 2 + _half(plan), 0.0, 0.0))
        row = arranged((first,), 0, Row(count=one.entry.count, step_mm=(wide + BESIDE_MM, 0.0, 0.0)))
        plan = with_part(plan, KeptPart(id=FIRST, name=one.entry.name, model=use, instances=one.entry.instances or row))
        right += one.entry.count * (wide + BESIDE_MM)
    there = {one.source for one in given}
    missing = [use.file_name for use in plan.all_files if use.source not in there]
    if missing:
        raise BadPlan(f"The plan has a part of {missing[0]}, which was not given. Give its file with --part.", "--part")
    return plan


def _half(plan: Plan) -> float:
    """Room for the first part: half of its printer's bed, which it stands on the middle of."""
    return plan.printer.bed_mm[0] / 2


def _width(file: ModelFile) -> float:
    low, high = file.mesh.bounds
    return float(high[0] - low[0])


def _counted(text: str) -> tuple[str, int]:
    """A file and a count from “pod.stl:6”. Raises BadPlan."""
    found = re.fullmatch(r"(.+):(\d+)", text)
    file, count = (found[1], int(found[2])) if found else (text, 1)
    if not 1 <= count <= MOST_INSTANCES:
        raise BadPlan(f"--part {text}: a part is made 1 to {MOST_INSTANCES} times.", "--part")
    return file, count


def _listed(path: Path) -> list[PartGiven]:
    try:
        return TypeAdapter(list[PartGiven]).validate_python(json.loads(path.read_text(encoding="utf-8")))
    except ValidationError as error:
        sentence, where = explain(error)
        raise BadPlan(f"{path.name}: {sentence}", where) from error
    except ValueError as error:
        raise BadPlan(f"{path.name} is not a JSON list of parts: {error}.", "--parts") from error
