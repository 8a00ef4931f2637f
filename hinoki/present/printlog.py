"""What the print log asks of a build and of its batches, from what screens see of them."""

from hinoki.core.plan.batch_settings import loose_key
from hinoki.core.printlog.project_status import BatchNeeds, Needed
from hinoki.present.batches import BatchesView
from hinoki.present.schemas.build import BuildView


def needed_of(view: BuildView) -> list[Needed]:
    """All that the model is put together from: pieces by number, then loose parts."""
    pieces = [Needed(p.key, p.number, p.name, 1, p.shape) for p in view.pieces]
    return pieces + [Needed(loose_key(p.name), None, p.name, p.count, p.shape) for p in view.loose]


def batch_needs(view: BatchesView) -> list[BatchNeeds]:
    """The batches in order."""
    return [
        BatchNeeds(batch.number, batch.material, batch.took.mass_g, [(t.key, t.pieces) for t in batch.things])
        for batch in view.batches
    ]
