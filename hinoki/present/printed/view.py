"""What prints of a body: its figures and drawings."""

from hinoki.core.batch.estimate.estimate import estimate
from hinoki.core.cache import Cache
from hinoki.core.geometry.frames import shifted
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.printed.drawn_up import drawn_up
from hinoki.core.printed.layers import Printed, printed
from hinoki.core.printed.lines import lines_of
from hinoki.core.progress import Tell
from hinoki.core.stages import Keyed, key_of, stage
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import Printer
from hinoki.present.bodies import vec
from hinoki.present.schemas.printed import LinesView, PrintedView


@stage("what prints", weigh=lambda found: 4 * sum(len(one.drawn.wkb) // 16 for one in found.layers))
def _printed(lying: Keyed[Solid], layer_mm: float, line_mm: float, tell: Tell) -> Printed:
    """What of a body prints as it lies."""
    return printed(lying.value, layer_mm, line_mm, tell)


def printed_view(
    lying: Keyed[Solid], layer_mm: float, line_mm: float, cache: Cache, tell: Tell
) -> tuple[PrintedView, dict[str, Mesh]]:
    """What prints of a body as it lies on the bed, and the drawings of that and of what is lost."""
    found = _printed(cache, lying, layer_mm, line_mm, tell)
    worst = found.worst
    names = [key_of(f"{what} drawing", lying.fingerprint, layer_mm, line_mm) for what in ("printed", "lost")]
    lost = drawn_up([(one.low, one.high, one.lost) for one in found.layers])
    meshes = {names[0]: drawn_up([(one.low, one.high, one.prints) for one in found.layers])}
    if len(lost.faces):
        meshes[names[1]] = lost
    view = PrintedView(
        layer_mm=layer_mm,
        line_mm=line_mm,
        layers=len(found.layers),
        every=found.every,
        lost_mm3=round(found.lost_mm3, 2),
        lost_percent=round(100 * found.lost_share, 3),
        reach_mm=round(found.reach_mm, 2),
        at_mm=None if worst is None else vec(worst),
        prints_mesh=names[0],
        lost_mesh=names[1] if len(lost.faces) else None,
    )
    return view, meshes


def lines_view(lying: Solid, printer: Printer, material: Material, settings: PrintSettings, tell: Tell) -> LinesView:
    """All lines of a body as it lies, and what the estimate says of it, both without support and brim."""
    lines = lines_of(lying, printer, settings, tell)
    quick = estimate(lying, shifted(0, 0, 0), 0.0, printer, material, settings.model_copy(update={"brim_mm": 0.0}))
    return LinesView(
        minutes=round((lines.seconds + lines.layers * printer.layer_time_s) / 60, 2),
        mass_g=round(material.mass_g(lines.volume_mm3), 2),
        estimated_minutes=round(quick.minutes, 2),
        estimated_g=round(quick.mass_g, 2),
    )
