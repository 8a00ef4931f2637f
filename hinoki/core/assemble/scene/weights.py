"""What units weigh and where their centres of mass lie: printed ones by walls and infill, bought ones by what they are of."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from hinoki.core.assemble.scene.parts import Scene, Unit
from hinoki.core.build import Build
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.plan import Plan

STEEL, MAGNET = 7.85, 7.5
"""g/cm³, handbook values; magnets are of neodymium, iron and boron"""
OF: Mapping[str, float] = {
    "steel": STEEL, "brass": 8.5, "aluminium": 2.7, "carbon": 1.6, "wood": 0.65, "beech": 0.72, "glass": 2.5, "plastic": 1.2,
}  # fmt: skip
"""densities of rods, g/cm³, handbook values; for wood between those of pine and beech"""
WIRE = 3.0
"""g/cm³ of a wire with its sheath (common practice)"""


@dataclass(frozen=True)
class Weight:
    """Grams, and the centre of mass (3,)."""

    grams: float
    centre: Points


def printed(solid: Solid, density: float, shell_mm: float, infill: float) -> Weight:
    """A printed body: its surface times the walls' thickness full, at most the body; the rest at `infill` (0 to 1).

    The walls weigh about the middle of the surface, the infill about that of the volume.
    """
    volume = solid.volume_mm3
    areas = solid.mesh.face_areas
    total = float(areas.sum())
    shell = min(volume, total * shell_mm)
    inner = (volume - shell) * infill
    middle = solid.centre_of_mass
    if volume - shell < 1e-6:
        return Weight(volume / 1000 * density, middle)
    skin = (solid.mesh.vertices[solid.mesh.faces].mean(axis=1) * areas[:, None]).sum(axis=0) / total
    return Weight((shell + inner) / 1000 * density, (skin * shell + middle * inner) / (shell + inner))


def combined(weights: Sequence[Weight]) -> Weight:
    """Several as one."""
    grams = sum(w.grams for w in weights)
    if grams <= 0:
        return Weight(0.0, np.zeros(3))
    return Weight(grams, np.asarray(sum((w.centre * w.grams for w in weights), np.zeros(3)) / grams))


def unit_weight(unit: Unit, plan: Plan) -> Weight:
    """What a unit weighs, in its material, or what it is bought of."""
    bodies = []
    for k, solid in enumerate(unit.solids):
        key = unit.keys[k] if k < len(unit.keys) else ""
        if unit.kind in ("piece", "loose", "stand"):
            material, printer = plan.material_of(key), plan.printer_of(key)
            how = plan.printing_of(key)
            shell, infill = how.walls * printer.line_mm, how.infill_percent / 100
            bodies.append(printed(solid, material.density_g_cm3, shell, 1.0 if material.process == "resin" else infill))
            continue
        bodies.append(Weight(solid.volume_mm3 / 1000 * _density(unit, plan), solid.centre_of_mass))
    return combined(bodies)


def _density(unit: Unit, plan: Plan) -> float:
    if unit.kind == "cable":
        return WIRE
    of = next((getattr(w, "of", "") for w in plan.ways if w.id == unit.id), "steel")
    return next((density for word, density in OF.items() if word in of.lower()), STEEL)


def magnet_weights(built: Build, scene: Scene, plan: Plan) -> dict[str, list[Weight]]:
    """The magnets in every unit of pieces, which are part of it."""
    found: dict[str, list[Weight]] = {}
    bodies = [
        (placed_joint.part(b.side).key, b)
        for placed_joint in built.placed
        for b in placed_joint.joint.bought(placed_joint.standing, placed_joint.places)
    ]
    bodies += [(piece, b) for group in built.modules for piece, b in group.bought(plan.least_wall_mm)]
    for key, body in bodies:
        unit = scene.of_piece(key)
        if body.tone == "steel" or unit is None:
            continue
        centre = body.matrix[:, :3] @ body.solid.centre_of_mass + body.matrix[:, 3]
        found.setdefault(unit.id, []).append(Weight(body.solid.volume_mm3 / 1000 * MAGNET, centre))
    return found


def weights_of(built: Build, scene: Scene, plan: Plan) -> dict[str, Weight]:
    """The weight of every unit with the magnets in it."""
    magnets = magnet_weights(built, scene, plan)
    return {i: combined([unit_weight(u, plan), *magnets.get(i, [])]) for i, u in scene.units.items()}
