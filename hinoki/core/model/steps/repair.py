"""Repair: the chosen means in order, mildest first; every body on its own."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.errors import Cancelled, HinokiError
from hinoki.core.findings import Finding, Params
from hinoki.core.forms import Form
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.shape import Body, Shape, closed_solid
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.health.components import overlapping, split_lumps
from hinoki.core.model.health.diagnostics import quick_issues
from hinoki.core.model.health.edges import open_loops
from hinoki.core.model.health.self_intersections import through_faces
from hinoki.core.model.repair.holes import filled
from hinoki.core.model.repair.rebuild import fixed, rebuilt
from hinoki.core.model.repair.tidy import merged, oriented, without_duplicates, without_slivers, without_specks
from hinoki.core.model.repair.visible_surface import lost, seen_from_outside
from hinoki.core.model.steps.base import Outcome, StepBase, Tell
from hinoki.core.progress import quiet

MOST_PATCHED = 0.45
"""holes whose patches are larger beside the surface are no holes: it is a sheet"""


class RepairStep(StepBase, frozen=True):
    """Makes the surface right, by what is switched on."""

    form: ClassVar[Form] = Form(
        "Repair",
        "chosen means, mildest first",
        ("merge_mm", "duplicates", "slivers", "orient", "specks", "holes", "unite", "untangle", "rebuild_mm"),
        group="Shape",
        words={"holes": {"leave": "leave them", "flat": "fill flat", "smooth": "fill smooth"}},
    )

    kind: Literal["repair"] = "repair"
    needs_closed: ClassVar[bool] = False
    merge_mm: Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)] = Field(
        0.001, title="Merge corners within", description="0 leaves them"
    )
    duplicates: bool = Field(True, title="Drop faces that are there twice")
    slivers: bool = Field(False, title="Drop slivers")
    orient: bool = Field(True, title="Turn faces the right way")
    specks: bool = Field(False, title="Drop specks")
    holes: Literal["leave", "flat", "smooth"] = Field("flat", title="Holes", description="how they are filled")
    unite: bool = Field(False, title="Unite overlapping lumps")
    untangle: bool = Field(False, title="Untangle faces through one another")
    rebuild_mm: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] = Field(
        0.0, title="Rebuild at", description="a new surface of this fineness around everything; 0 for not"
    )

    def label(self) -> str:
        """Such as “Repair: merge, orient, fill flat”."""
        words = [
            w
            for w, on in (
                ("merge", self.merge_mm > 0),
                ("duplicates", self.duplicates),
                ("slivers", self.slivers),
                ("orient", self.orient),
                ("specks", self.specks),
                (f"fill {self.holes}", self.holes != "leave"),
                ("unite", self.unite),
                ("untangle", self.untangle),
                (f"rebuild at {self.rebuild_mm:g}", self.rebuild_mm > 0),
            )
            if on
        ]
        return f"Repair: {', '.join(words) or 'nothing chosen'}"

    def apply(self, shape: Shape, tell: Tell) -> Outcome:
        """Repair every body."""
        out = Outcome(Shape(()))
        bodies = []
        for body in shape.bodies:
            mesh, said = repaired(body.mesh, self, tell)
            out.said += [s for s in said if s not in out.said]
            bodies.append(Body(body.name, mesh))
        out.shape = Shape(tuple(bodies))
        out.findings += self._lost(shape, out.shape)
        if out.shape.solid is None:
            sheet = any(b.solid is None and is_sheet(b.mesh) for b in out.shape.bodies)
            params: Params = {"sheet": sheet}
            out.findings.append(Finding(severity="look-at", code="repair-not-closed", station="model", params=params))
        return out

    def _lost(self, before: Shape, after: Shape) -> list[Finding]:
        """What is said where the repair loses some of what is seen from outside."""
        across = float(np.max(before.bounds[1] - before.bounds[0]))
        gone = lost(seen_from_outside(before.mesh), after.mesh, across)
        if not gone.too_much:
            return []
        x, y, z = (round(v, 1) for v in gone.at_mm)
        params: Params = {"percent": 100 * gone.share, "at_mm": [x, y, z]}
        return [Finding(severity="look-at", code="repair-loses", station="model", step=self.id, params=params, at_mm=(x, y, z))]


def repaired(mesh: Mesh, how: RepairStep, tell: Tell) -> tuple[Mesh, list[str]]:
    """One surface repaired as `how` says, and what was done in words."""
    said: list[str] = []
    tell(0.05, "Merging corners")
    now = _tidied(mesh, how, said)
    tell(0.2, "Turning faces")
    if how.orient:
        now = _turned(now, said)
    now = _unspecked(now, how, said)
    tell(0.35, "Filling holes")
    if how.holes != "leave":
        now, count = filled(now, how.holes == "smooth")
        said += [f"{count:,} {'hole' if count == 1 else 'holes'} filled"] if count else []
    tell(0.5, "Uniting lumps")
    if how.unite:
        now, united = _united(now)
        said += [f"{united:,} lumps became one"] if united else []
    if how.untangle:
        tell(0.6, "Untangling faces")
        now = fixed(now)
        said.append("untangled")
    if how.rebuild_mm > 0:
        now = rebuilt(now, how.rebuild_mm, lambda f, p: tell(0.6 + 0.4 * f, p))
        said.append(f"rebuilt at {how.rebuild_mm:g} mm")
        now = _unspecked(now, how, said)  # thin places may leave crumbs
    return now, said


def _unspecked(mesh: Mesh, how: RepairStep, said: list[str]) -> Mesh:
    """Specks dropped, as wished."""
    if not how.specks:
        return mesh
    now, gone = without_specks(mesh)
    said += [f"{gone:,} {'speck' if gone == 1 else 'specks'} dropped"] if gone else []
    return now


def _tidied(mesh: Mesh, how: RepairStep, said: list[str]) -> Mesh:
    """Corners merged, duplicate faces and slivers dropped, as wished."""
    now = mesh
    if how.merge_mm > 0:
        now = merged(now, how.merge_mm)
        gone = len(mesh.vertices) - len(now.vertices)
        said += [f"{gone:,} corners merged"] if gone > 0 else []
    for on, change, words in ((how.duplicates, without_duplicates, "duplicate faces"), (how.slivers, _unslivered, "slivers")):
        before = len(now.faces)
        now = change(now) if on else now
        gone = before - len(now.faces)
        said += [f"{gone:,} {words} dropped"] if gone > 0 else []
    return now


def _turned(mesh: Mesh, said: list[str]) -> Mesh:
    """All faces looking outwards."""
    now = oriented(mesh)
    turned = int((now.faces[:, 0] != mesh.faces[:, 0]).sum()) if len(now.faces) == len(mesh.faces) else 0
    said += [f"{turned:,} faces turned round"] if turned else []
    return now


def _unslivered(mesh: Mesh) -> Mesh:
    return without_slivers(mesh, 1e-3)


def _united(mesh: Mesh) -> tuple[Mesh, int]:
    lumps = split_lumps(mesh)
    solids = [closed_solid(lump.mesh) for lump in lumps]
    if len(lumps) < 2 or any(s is None and lump.volume_mm3 > 0 for s, lump in zip(solids, lumps, strict=True)):
        return mesh, 0
    cavities = [Solid.from_mesh(Mesh(lump.mesh.vertices, lump.mesh.faces[:, ::-1])) for lump in lumps if lump.volume_mm3 < 0]
    full = Solid.united([s for s in solids if s is not None])
    after = full.minus(cavities) if cavities else full
    return after.mesh, len(lumps) - len(after.lumps())


def recommended(mesh: Mesh, step_id: str, tell: Tell = quiet) -> RepairStep | None:
    """The mildest repair that makes `mesh` right, found by trying; None where there is nothing to repair."""
    codes = {issue.code for issue in quick_issues(mesh)}
    overlaps = bool(overlapping(split_lumps(mesh)))
    wrong = codes & {"surface-open", "faces-flipped", "faces-duplicate", "surface-inside-out", "lumps-specks", "lumps-overlap"}
    if not wrong and closed_solid(mesh) is not None:
        return None
    across = float(np.max(mesh.bounds[1] - mesh.bounds[0]))
    fill: list[Literal["flat", "smooth"]] = ["flat", "smooth"] if _level_holes(mesh) else ["smooth", "flat"]
    mild = RepairStep(
        id=step_id, merge_mm=1e-6 * max(1.0, across), specks="lumps-specks" in codes, unite=overlaps, holes="leave"
    )
    if is_sheet(mesh):  # nothing closes it but a wall: see ThickenStep
        return mild
    rough = max(0.2, round(across / 220, 1))
    tries = [
        mild,
        *(mild.model_copy(update={"holes": kind}) for kind in fill),
        mild.model_copy(update={"holes": "flat", "merge_mm": 1e-4 * max(10.0, across)}),
        mild.model_copy(update={"holes": "flat", "untangle": True}),
        RepairStep(id=step_id, holes="leave", specks=True, rebuild_mm=rough),
        RepairStep(id=step_id, holes="leave", specks=True, rebuild_mm=max(0.1, round(rough / 2, 2))),
    ]
    seen = seen_from_outside(mesh)
    best: tuple[tuple[bool, bool, int], RepairStep] | None = None
    for number, how in enumerate(tries):
        try:
            after, _ = repaired(mesh, how, lambda f, p, n=number: tell((n + f) / len(tries), p))  # type: ignore[misc]
        except Cancelled:
            raise
        except HinokiError:
            continue
        if closed_solid(after) is None:
            continue
        if _patched(mesh, after) > MOST_PATCHED:  # a block where an open sheet was
            continue
        gone = lost(seen, after, across)
        tangled = bool(overlapping(split_lumps(after))) or len(through_faces(after)) > 0
        rank = gone.too_much, tangled, number
        if not gone.too_much and not tangled:
            return how
        if best is None or rank[:2] < best[0][:2]:
            best = rank, how
    return best[1] if best is not None else tries[-2]


def is_sheet(mesh: Mesh) -> bool:
    """Whether a surface is an open sheet, such as a mask drawn without thickness: what would close it is large beside it."""
    if not mesh.edges.open:
        return False
    whole = merged(mesh, 1e-6 * max(1.0, float(np.max(mesh.bounds[1] - mesh.bounds[0]))))
    return _patched(whole, filled(whole, False)[0]) > MOST_PATCHED


def _patched(before: Mesh, after: Mesh) -> float:
    """The area that was added, as a share of what was there."""
    one, two = (float(m.face_areas.sum()) for m in (before, after))
    return max(0.0, two - one) / max(one, 1e-12)


def _level_holes(mesh: Mesh) -> bool:
    """Whether every hole lies in a plane, within a fiftieth of its width: then a flat patch is what was there."""
    for ring in open_loops(mesh):
        off = ring - ring.mean(axis=0)
        spread = np.linalg.svd(off, compute_uv=False) if len(ring) >= 3 else np.zeros(3)
        if spread[-1] > 0.02 * max(spread[0], 1e-12):
            return False
    return True
