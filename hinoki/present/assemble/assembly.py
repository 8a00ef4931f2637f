"""The assembly of a build with its sheets, as exports and sheets want it."""

from collections.abc import Mapping
from dataclasses import dataclass

from hinoki.core.assemble.assembled import assembled
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.present.assemble.view import assembly_view
from hinoki.present.schemas.assemble import AssemblyView
from hinoki.present.sheets.sheet import Sheet, sheet_of


@dataclass(frozen=True)
class Assembly:
    """What is known of an assembly, and its sheet where one is wanted and there is anything to put together."""

    view: AssemblyView
    sheet: Sheet | None = None


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
    """Plan the assembly, and draw its sheet."""
    out = assembled(plan, built, cache, part_of(tell, 0.0, 0.5))
    view, _ = assembly_view(plan, built, out, cache)
    if not with_sheet or not view.steps:
        return Assembly(view)
    return Assembly(view, sheet_of(plan, built, out, view, title, cache, revision, photos, part_of(tell, 0.5, 1.0)))
