"""What is made for another part tried with it: it lies in nothing of it, comes off, and has its clearance."""

from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.slide_collision import Form as Surface
from hinoki.core.geometry.slide_collision import slide
from hinoki.core.geometry.solid import Solid
from hinoki.core.make.base import NotMade

ROUND = 32
"""sides of a quarter of a rounded outline"""
TOUCHES_MM3 = 1e-2


def tried(body: Solid, host: Solid, frame: Frame, clearance_mm: float) -> str:
    """That a body does not run into its host and comes out along the rim's normal, told with the least gap once it is lifted
    a little. Raises NotMade."""
    shared = body.common(host).volume_mm3
    if shared > TOUCHES_MM3 * max(1.0, body.volume_mm3 / 1e4):
        raise NotMade(f"It would run into the part it is made for: {shared:.1f} mm³ are in both. Make it smaller or shorter.")
    away = 0.05 * frame.n
    lifted = body.moved(*away.tolist())
    stopped = slide(Surface(lifted.mesh), Surface(host.mesh), frame.n)
    if not stopped.free:
        raise NotMade(f"It cannot be put in: {stopped.after_mm:.1f} mm off its place it meets the part. Use a wider fit.")
    gap = lifted.moved(*(max(clearance_mm, 0.05) * frame.n).tolist()).gap(host, 2 * clearance_mm + 1)
    return f"it comes off straight; {gap:.2f} mm clear on each side"
