"""The assembly of a build with its sheets, as exports and sheets want it."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from hinoki.core.assemble.assembled import assembled
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.parts.put_together import parts_put_together
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.present.assemble.view import assembly_view
from hinoki.present.schemas.assemble import AssemblyView
from hinoki.present.sheets.moves import move_panels
from hinoki.present.sheets.sheet import Sheet, sheet_of


@dataclass(frozen=True)
class Assembly:
    """What is known of an assembly, and its sheets where they are wanted and there is anything to put together."""

    view: AssemblyView
    sheets: tuple[Sheet, ...] = ()
    parts: Mapping[str, AssemblyView] = field(default_factory=dict)
    """of an assembly of several parts: how each of them is put together, by its id"""


def assembly_of(  # noqa: PLR0913 - what it works on, and whom it tells
    plan: Plan,
    built: Build,
    cache: Cache,
    title: str,
    revision: int | None = None,
    with_sheet: bool = True,
    photos: Mapping[str, bytes] | None = None,
    tell: Tell = quiet,
) -> Assembly:
    """Plan the assembly of the part that is worked on, and draw its sheet."""
    out = assembled(plan, built, cache, part_of(tell, 0.0, 0.5))
    view, _ = assembly_view(plan, built, out, cache)
    if not with_sheet or not view.steps:
        return Assembly(view)
    often = f" (make {len(plan.instances)})" if len(plan.instances) > 1 else ""
    sheet = sheet_of(plan, built, out, view, f"{title}{often}", cache, revision, photos, part_of(tell, 0.5, 1.0))
    sheet.panels += move_panels(plan, built, len(sheet.panels) + 1)
    return Assembly(view, (sheet,))


def assembly_of_all(  # noqa: PLR0913 - as above
    plan: Plan,
    built: Build,
    cache: Cache,
    title: str,
    revision: int | None = None,
    with_sheet: bool = True,
    photos: Mapping[str, bytes] | None = None,
    tell: Tell = quiet,
) -> Assembly:
    """Plan how all parts go together and how each part of several pieces does, and draw the sheets: the whole first, then one
    for each such part. A project of one part that stands once is just that part. Raises BadPlan where there are too many."""
    if len(plan.part_ids) == 1 and len(plan.instances) == 1:
        return assembly_of(plan, built, cache, title, revision, with_sheet, photos, tell)
    out, empty, told = parts_put_together(plan, built, cache, part_of(tell, 0.0, 0.3))
    view, _ = assembly_view(told, empty, out, cache)
    sheets = []
    if with_sheet and view.steps:
        whole = sheet_of(told, empty, out, view, title, cache, revision, photos, part_of(tell, 0.3, 0.5))
        whole.panels += move_panels(plan, built, len(whole.panels) + 1)
        sheets.append(whole)
    each = {}
    several = [part for part in built.all_parts if len(part.pieces) > 1]
    for k, part in enumerate(several):
        share = part_of(tell, 0.5 + 0.5 * k / len(several), 0.5 + 0.5 * (k + 1) / len(several))
        label = part.plan.label
        own = assembly_of(part.plan, part, cache, f"{title}: {label}", revision, with_sheet, photos, share)
        each[part.plan.part_id] = own.view
        sheets += own.sheets
    return Assembly(view, tuple(sheets), each)
