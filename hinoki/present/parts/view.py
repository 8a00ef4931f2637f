"""The parts of a project as screens see them: where each stands, its pieces, and what the whole project needs."""

from collections.abc import Mapping

import numpy as np

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.geometry.mesh import Mesh, placed_box
from hinoki.core.geometry.solid import Solid
from hinoki.core.orient.resting.piece import Piece
from hinoki.core.plan.batch_settings import loose_key
from hinoki.core.project import project_loose, project_pieces
from hinoki.core.stages import Keyed, key_of, stage
from hinoki.present.bodies import vec
from hinoki.present.schemas.build import NeededView, PartPieceView, PartView

MOST_DRAWN = 1_000_000
"""triangles of all instances together that a view draws quickly"""
FEW = 2_000
"""bodies of fewer triangles are drawn as they are"""


def parts_view(built: Build, cache: Cache) -> list[PartView]:
    """All parts, in the order in which they came. Raises ValueError where other parts were not built."""
    share = _share(built)
    return [_view(part, part is built, share, cache) for part in built.all_parts]


def parts_drawn(built: Build, cache: Cache) -> Mapping[str, Solid | Mesh]:
    """The bodies of the instances that are drawn round the open part, by the names of their drawings."""
    share = _share(built)
    return {
        name: _coarse(cache, Keyed(piece.mesh, piece.made_by), share) if name != piece.made_by else piece.body
        for part in built.all_parts
        if part is not built or len(part.plan.instances) > 1
        for piece in part.pieces
        for name in [_drawing(piece, share)]
    }


def _share(built: Build) -> float:
    """How much of their triangles bodies may keep where they are drawn often, so that the view stays quick."""
    every = sum(_triangles(p) * len(part.plan.instances) for part in built.all_parts for p in part.pieces)
    return min(1.0, round(MOST_DRAWN / every, 3)) if every else 1.0


def _triangles(piece: Piece) -> int:
    """How many a piece has, without its mesh being made."""
    return piece.body.triangles if isinstance(piece.body, Solid) else len(piece.body.faces)


def _drawing(piece: Piece, share: float) -> str:
    """The name of the drawing of a piece where its instances stand about."""
    few = share == 1.0 or _triangles(piece) <= FEW
    return piece.made_by if few else _coarse.key(Keyed(piece.mesh, piece.made_by), share)


@stage("coarse drawing", weigh=lambda mesh: len(mesh.faces))
def _coarse(mesh: Keyed[Mesh], share: float) -> Mesh:
    """A mesh with so large a share of its triangles, for looking at only (Garland and Heckbert 1997)."""
    import fast_simplification

    count = max(FEW, int(share * len(mesh.value.faces)))
    vertices, faces = fast_simplification.simplify(
        mesh.value.vertices.astype(np.float32), mesh.value.faces.astype(np.uint32), target_count=count
    )
    return Mesh(vertices.astype(np.float64), faces.astype(np.int64))


def needed_view(built: Build) -> list[NeededView]:
    """Pieces part by part, then loose parts. Raises ValueError where other parts were not built."""
    found = [
        NeededView(key=one.key, number=one.piece.number, name=one.name, count=one.count, shape=one.shape)
        for one in project_pieces(built)
    ]
    return found + [
        NeededView(key=loose_key(own.name), number=None, name=own.name, count=own.count, shape=own.shape)
        for own in project_loose(built)
    ]


def _view(part: Build, is_open: bool, share: float, cache: Cache) -> PartView:
    plan, ready = part.plan, part.prepared
    low, high = (np.zeros(3), np.zeros(3)) if ready is None else ready.shape.bounds
    matrices = [instance.matrix for instance in plan.instances]
    boxes = [placed_box(low, high, m) for m in matrices]
    known = Keyed(part, key_of(plan.alone(), part.numbers, "" if ready is None else ready.key))
    must_fix, look_at = (0, 0) if is_open else _found(cache, known, cache)
    return PartView(
        id=plan.part_id,
        name=plan.label,
        open=is_open,
        count=len(matrices),
        matrices=[m.ravel().tolist() for m in matrices],
        size_mm=vec(high - low),
        low_mm=vec(np.min([lowest for lowest, _ in boxes], axis=0)),
        high_mm=vec(np.max([highest for _, highest in boxes], axis=0)),
        volume_mm3=0.0 if ready is None else round(ready.shape.volume_mm3, 2),
        pieces=[
            PartPieceView(
                key=part.project_key(piece.key),
                number=piece.number,
                name=piece.name,
                mesh=_drawing(piece, share),
            )
            for piece in part.pieces
        ],
        must_fix=must_fix,
        look_at=look_at,
    )


@stage("findings of a part")
def _found(part: Keyed[Build], cache: Cache) -> tuple[int, int]:
    """How many findings of a part must be fixed, and how many be looked at, without those that were accepted."""
    told = [f for f in check(part.value, cache).findings if f.id not in part.value.plan.accepted]
    return sum(f.severity == "must-fix" for f in told), sum(f.severity == "look-at" for f in told)
