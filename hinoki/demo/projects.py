"""All demo projects: a name, the model file, and the plan for it.

Working the plans out takes the better part of a minute, so they are shipped as Hinoki worked them out (`plans/`, made by
`python3 run.py demos`); a test works them out anew and compares.
"""

import hashlib
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import orjson

from hinoki.core.build import build, build_all
from hinoki.core.cache import Cache
from hinoki.core.check.check import check, check_project
from hinoki.core.export.thumbnail import SHELF_PX, picture, pigment
from hinoki.core.findings import Accepted
from hinoki.core.geometry.shape import mesh_of
from hinoki.core.plan.contents import ModelUse
from hinoki.core.plan.plan import Plan, read_plan
from hinoki.demo import fen_project, harbour_project, lantern_project, mask_project, signal_box_project
from hinoki.demo import lighthouse_project as project
from hinoki.demo.resting_sides import laid
from hinoki.present.words import sentence

PLANS = Path(__file__).parent / "plans"


@dataclass(frozen=True)
class Demo:
    """One demo project."""

    name: str
    source: Callable[[], bytes]
    """makes the model file"""
    divided: Callable[[bytes, Cache], Plan]
    """works out the plan for it: partings, joints and all else but how pieces lie"""

    @property
    def path(self) -> Path:
        """Where its plan is shipped."""
        return PLANS / f"{self.name.split(' ')[0].lower()}.json"

    @property
    def picture_path(self) -> Path:
        """Where a small picture of it is shipped: what the shelf shows before it was ever built."""
        return self.path.with_suffix(".png")

    def plan(self, data: bytes) -> Plan:
        """The plan as it is shipped, for the model file `data`."""
        shipped = read_plan(self.path.read_bytes())
        source = hashlib.sha256(data).hexdigest()

        def of(use: ModelUse | None) -> ModelUse | None:
            return None if use is None else use.model_copy(update={"source": source})

        parts = tuple(part.model_copy(update={"model": of(part.model)}) for part in shipped.parts)
        return shipped.model_copy(update={"model": of(shipped.model), "parts": parts})

    def worked_out(self, data: bytes, cache: Cache) -> Plan:
        """The plan worked out anew. Pieces that only their support keeps up are known, and may."""
        plan = laid(self.divided(data, cache), self.name)
        found = check(build(plan, lambda _: data, cache), cache).findings
        held = {
            f.id: Accepted(reason="its support holds it", message=sentence(f), params=f.params)
            for f in found
            if (f.code, f.severity) == ("piece-unsteady", "look-at")
        }
        return plan.model_copy(update={"accepted": plan.accepted | held})


LIGHTHOUSE = Demo(project.PROJECT_NAME, project.demo_source, project.demo_plan)
MASK = Demo(mask_project.PROJECT_NAME, mask_project.mask_source, mask_project.mask_plan)
HARBOUR = Demo(harbour_project.PROJECT_NAME, harbour_project.harbour_source, harbour_project.harbour_plan)
FEN = Demo(fen_project.PROJECT_NAME, fen_project.fen_source, lambda data, _: fen_project.fen_plan(data))
LANTERN = Demo(lantern_project.PROJECT_NAME, lantern_project.lantern_source, lantern_project.lantern_plan)
SIGNAL_BOX = Demo(signal_box_project.PROJECT_NAME, signal_box_project.signal_box_source, signal_box_project.signal_box_plan)
DEMOS = (LIGHTHOUSE, MASK, HARBOUR, FEN, LANTERN, SIGNAL_BOX)
"""in the order in which they are made and stand on the shelf"""


def write_plans() -> None:
    """Work all plans out and write them where they are shipped."""
    PLANS.mkdir(exist_ok=True)
    for demo in DEMOS:
        data, cache = demo.source(), Cache()
        plan = demo.worked_out(data, cache)
        demo.path.write_bytes(orjson.dumps(orjson.loads(plan.json_text()), option=orjson.OPT_INDENT_2) + b"\n")
        demo.picture_path.write_bytes(project_picture(plan, data, cache))
        print(f"{demo.name}: {demo.path.name}")


def project_picture(plan: Plan, data: bytes, cache: Cache) -> bytes:
    """A small picture (PNG) of all that a plan comes to, put together."""
    from hinoki.present.build import present  # only who ships the demos reads it

    made = build_all(plan, lambda _: data, cache)
    shown = present(made, check_project(made, cache), cache)
    bodies = [
        (mesh_of(shown.meshes[piece.mesh]).placed(np.array(matrix).reshape(3, 4)), pigment(piece.number))
        for part in shown.view.parts
        for piece in part.pieces
        for matrix in part.matrices
    ]
    return picture(bodies, SHELF_PX)


if __name__ == "__main__":
    write_plans()
