"""How far estimates are off: mass and drawing time of the corpus's models against the lines of every layer.

`python3 run.py bench estimates` prints the table that docs/print.md tells of. Each model is made so large that it measures 80
mm across at most, so that its lines are drawn in seconds; it lies as it came.
"""

import statistics
import time

import numpy as np

from bench.corpus.models import ENTRIES, mesh_of
from hinoki.core.batch.estimate.estimate import estimate
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.printed.lines import lines_of
from hinoki.core.workshop.materials import materials
from hinoki.core.workshop.printers import presets

ACROSS_MM = 80.0
HERE = np.column_stack([np.eye(3), np.zeros(3)])


def main() -> int:
    """Every model, then the median and the worst."""
    printer, material, settings = presets()[1], materials()[0], PrintSettings()
    print(f"{'model':34}{'mass':>8}{'time':>8}{'layers s':>10}{'quick s':>9}")
    off_mass, off_time = [], []
    for entry in ENTRIES:
        mesh = mesh_of(entry)
        low, high = mesh.bounds
        scale = min(1.0, ACROSS_MM / float((high - low).max()))
        try:
            body = Solid.from_mesh(Mesh((mesh.vertices - [0, 0, low[2]]) * scale, mesh.faces))
        except Exception as error:  # noqa: BLE001 - scans that are not closed are no bodies
            print(f"{entry.name:34} left out: {error}")
            continue
        if body.empty:
            continue
        begun = time.perf_counter()
        lines = lines_of(body, printer, settings)
        between = time.perf_counter()
        quick = estimate(body, HERE, 0.0, printer, material, settings)
        ended = time.perf_counter()
        if lines.seconds == 0:
            continue
        drawing = quick.minutes * 60 - lines.layers * printer.layer_time_s
        mass, took = quick.mass_g / material.mass_g(lines.volume_mm3) - 1, drawing / lines.seconds - 1
        off_mass.append(mass)
        off_time.append(took)
        print(f"{entry.name:34}{mass:+8.1%}{took:+8.1%}{between - begun:10.1f}{ended - between:9.2f}", flush=True)
    for name, off in (("mass", off_mass), ("drawing time", off_time)):
        size = sorted(abs(v) for v in off)
        print(
            f"{name}: median {statistics.median(off):+.1%}, half within {size[len(size) // 2]:.1%}, nine of ten within "
            f"{size[int(0.9 * len(size))]:.1%}, worst {size[-1]:.1%} of {len(size)} models"
        )
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
