"""Orienting: the best ways to lay pieces on the bed."""

from hinoki.core.orient.pieces import OrientWish, best_rests
from hinoki.core.propose.lay_pieces import laid
from hinoki.operations.context import Context
from hinoki.operations.registry import operation
from hinoki.present.orient import OrientView, orient_view


@operation("orient", "orient", "Looking for the best ways to lay it", needs=("numbers", "known"))
def orient(asked: OrientWish, context: Context) -> OrientView:
    """Search the ways to lay one piece, or all that are not locked; their support columns become drawings."""
    plan, cache, tell = context.plan, context.cache, context.part(0.4, 0.95)
    built = context.built()
    if asked.piece is None:
        lies = laid(plan, built, lambda other: context.built(other, context.part(0.9, 0.9)), asked, cache, tell)
        view, meshes = orient_view(lies.plan, lies.built, lies.found, None, cache, context.known)
        view.sides = lies.sides(plan)
    else:
        found = best_rests(plan, built, asked, cache, tell)
        view, meshes = orient_view(plan, built, found, asked.piece, cache, context.known)
    context.draw(meshes)
    return view
