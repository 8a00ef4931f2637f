"""All models of the corpus."""

from bench.corpus import figures, rounds, scans, separate, shells, slender, vehicles, works
from bench.corpus.entry import Entry
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid

ENTRIES: tuple[Entry, ...] = (
    *shells.ENTRIES, *figures.ENTRIES, *slender.ENTRIES, *vehicles.ENTRIES, *rounds.ENTRIES, *works.ENTRIES,
    *separate.ENTRIES, *scans.ENTRIES,
)  # fmt: skip


def mesh_of(entry: Entry) -> Mesh:
    """The surface of a model, in its own place: where its wants are told."""
    made = entry.make()
    return made.mesh if isinstance(made, Solid) else made
