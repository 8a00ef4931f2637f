"""What is wrong with a surface, in findings."""

from hinoki.core.findings import Finding
from hinoki.core.mesh import Mesh
from hinoki.core.solid import Solid

TINY_MM = 10.0
HUGE_MM = 5000.0


def surface_findings(mesh: Mesh, solid: Solid | None) -> list[Finding]:
    """Findings about a model's surface and size; a closed one of usual size has none."""
    found = []
    if solid is None:
        edges = mesh.edges
        parts = [
            f"{count:,} {what}"
            for count, what in (
                (edges.open, "open edges"),
                (edges.crowded, "edges shared by more than two faces"),
                (edges.turned, "edges where a face is turned over"),
            )
            if count
        ]
        why = ", ".join(parts) or "faces that contradict each other"
        found.append(
            Finding(
                severity="must-fix",
                code="surface-open",
                station="model",
                message=f"The surface is not closed: {why}. It can be looked at and measured, "
                "but not parted or joined until it is closed. Close it where it was drawn and bring it in again.",
            )
        )
    elif solid.volume_mm3 <= 0:
        found.append(
            Finding(
                severity="must-fix",
                code="surface-inside-out",
                station="model",
                message="The surface is inside out: its faces look inwards. Turn them round where the model was drawn.",
            )
        )
    elif len(solid.lumps()) > 1:
        found.append(
            Finding(
                severity="note",
                code="surface-lumps",
                station="model",
                message=f"The model is made of {len(solid.lumps())} separate lumps. They stay together until a parting "
                "divides them.",
            )
        )
    low, high = mesh.bounds
    size = float((high - low).max())
    if size < TINY_MM or size > HUGE_MM:
        what = "very small" if size < TINY_MM else "very large"
        found.append(
            Finding(
                severity="look-at",
                code="size-unusual",
                station="model",
                message=f"The model is {what}: {size:.2f} mm across. Is its unit right?",
            )
        )
    return found
