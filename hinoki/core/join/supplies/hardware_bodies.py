"""What is bought, as bodies in the pieces: for the screens."""

from collections.abc import Iterable, Mapping, Sequence

from hinoki.core.cache import key_of
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.apply import PlacedJoint
from hinoki.core.join.contract.base import Bought
from hinoki.core.join.tiles.tiles import Modules
from hinoki.core.plan.plan import Plan
from hinoki.present.schemas.build import BoughtView, LooseAt


def bought_views(
    plan: Plan, placed: Sequence[PlacedJoint], modules: Sequence[Modules], numbers: Mapping[str, int]
) -> tuple[list[BoughtView], dict[str, Solid]]:
    """The kinds of body with their places, and the meshes by name."""
    views: dict[tuple[str, str], BoughtView] = {}
    meshes: dict[str, Solid] = {}
    for piece, joint, one in _all(plan, placed, modules):
        mesh = key_of("bought", one.name)
        meshes.setdefault(mesh, one.solid)
        view = views.setdefault((one.name, one.tone), BoughtView(name=one.name, tone=one.tone, mesh=mesh, places=[]))
        number = numbers[piece]
        view.places.append(LooseAt(joint=joint, pieces=(number, number), matrix=one.matrix.ravel().tolist()))
    return list(views.values()), meshes


def _all(plan: Plan, placed: Sequence[PlacedJoint], modules: Sequence[Modules]) -> Iterable[tuple[str, str, Bought]]:
    for joint in placed:
        for one in joint.joint.bought(joint.standing, joint.places):
            yield joint.part(one.side).key, joint.joint.id, one
    for group in modules:
        for piece, one in group.bought(plan.least_wall_mm):
            yield piece, group.wanted.id, one
