"""A batch made ready to be sent: its file, and what the log must know of it."""

from collections.abc import Mapping

from hinoki.core.batch.batches import Batch, Batches
from hinoki.core.build import Build
from hinoki.core.errors import NotFound
from hinoki.core.export.batches import batch_content, body_name
from hinoki.core.plan.batch_settings import loose_key
from hinoki.core.plan.plan import Plan
from hinoki.core.printlog.records import PreparedBatch, PreparedItem
from hinoki.core.project import project_loose, project_shapes


def prepared_batch(  # noqa: PLR0913 - what a batch is told with
    batches: Batches, number: int, plan: Plan, built: Build, title: str, revision: int, file: str
) -> tuple[PreparedBatch, bytes]:
    """A batch by its number with its 3MF, which will lie in `file`. Raises NotFound where there is no such batch."""
    batch = next((b for b in batches.each if b.number == number), None)
    if batch is None:
        raise NotFound(
            f"There is no batch {number} any more; the plan has {len(batches.each)}. Lay the batches out again.", "batch"
        )
    raw = batch.raw or batch.took
    shapes = project_shapes(built) | {loose_key(p.name): p.shape for p in project_loose(built)}
    reprint = batches.known.only is not None
    return (
        PreparedBatch(
            title=f"{title}, {'reprint' if reprint else 'batch'} {number}"[:400],
            batch=number,
            batches=len(batches.each),
            reprint=reprint,
            file=file,
            printer_id=batch.printer.id,
            printer=batch.printer.name,
            material_id=batch.material.id,
            material=batch.material.name,
            settings=batch.settings(plan.printing),
            layer_mm=batch.settings(plan.printing).layer_mm(batch.printer),
            layers=raw.layers,
            minutes=round(raw.minutes, 2),
            grams=round(raw.mass_g, 2),
            cost=round(batch.took.cost, 2),
            height_mm=round(batch.height_mm, 2),
            rests_on=batch.factor.rests_on,
            expected_minutes=round(batch.took.minutes, 2),
            expected_grams=round(batch.took.mass_g, 2),
            items=tuple(_items(batch, shapes)),
        ),
        batch_content(batch, len(batches.each), title, revision),
    )


def _items(batch: Batch, shapes: Mapping[str, str]) -> list[PreparedItem]:
    """Every body on the bed. Things that print as one share what they take by their volume."""
    found = []
    for thing, _ in batch.things:
        whole = sum(b.solid.volume_mm3 for b in thing.thing.bodies)
        numbers = thing.thing.numbers or (None,) * len(thing.thing.bodies)
        for body, number in zip(thing.thing.bodies, numbers, strict=True):
            key = body.key if number is not None else thing.thing.key
            share = body.solid.volume_mm3 / whole if whole > 0 else 1.0
            found.append(
                PreparedItem(
                    key=key,
                    number=number,
                    name=body_name(thing, body)[:300],
                    copy_number=thing.copy,
                    shape=shapes.get(key, ""),
                    grams=round(share * thing.raw.mass_g, 2),
                    minutes=round(share * thing.raw.minutes, 2),
                    height_mm=round(thing.item.height_mm, 2),
                    foot_mm2=round(thing.thing.foot_mm2, 1),
                )
            )
    return found
