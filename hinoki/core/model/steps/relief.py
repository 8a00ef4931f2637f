"""Relief: small detail raised so that it survives printing: the difference to a smoothed surface, scaled."""

from typing import TYPE_CHECKING, Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.findings import Finding
from hinoki.core.forms import Form
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.shape import Body, Shape
from hinoki.core.model.offsets.narrow import bolder
from hinoki.core.model.steps.base import Outcome, StepBase, StepRefused, Tell, number
from hinoki.core.progress import along

if TYPE_CHECKING:
    from scipy.sparse import csr_matrix


LEVEL_MM = 0.2
"""levels at which it is seen what is thin: a usual layer"""


class ReliefStep(StepBase, frozen=True):
    """Scales detail smaller than a size, along the smoothed surface's normals."""

    form: ClassVar[Form] = Form("Relief", "raise small detail", ("detail_mm", "factor", "at_least_mm"), group="Shape")

    kind: Literal["relief"] = "relief"
    needs_closed: ClassVar[bool] = False
    detail_mm: Annotated[float, Field(ge=0.1, le=200, allow_inf_nan=False)] = Field(
        4.0, title="Detail up to", description="size of the detail that is raised; larger forms keep their shape"
    )
    factor: Annotated[float, Field(ge=0, le=6, allow_inf_nan=False)] = Field(
        1.8, title="Raise", description="1 leaves it, 2 doubles it, 0 smooths it away"
    )

    at_least_mm: Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)] = Field(
        0.0, title="At least wide", description="thinner things are made so wide, level by level as the model stands; 0: not"
    )

    def label(self) -> str:
        """Such as “Relief up to 4 mm, × 1.8”."""
        wide = f", at least {number(self.at_least_mm)} mm wide" if self.at_least_mm else ""
        return f"Relief up to {number(self.detail_mm)} mm, × {number(self.factor)}{wide}"

    def apply(self, shape: Shape, tell: Tell) -> Outcome:
        """Move every vertex by (factor − 1) times its height over the smoothed surface."""
        bodies, most, folds, where = [], 0.0, 0, None
        for body in along(shape.bodies, tell, "Smoothing"):
            raised, moved = relieved(body.mesh, self.detail_mm, self.factor)
            most = max(most, float(moved.max(initial=0.0)))
            turned = np.flatnonzero(
                (np.einsum("ij,ij->i", raised.face_vectors, body.mesh.face_vectors) < 0) & (body.mesh.face_areas > 5e-7)
            )
            if len(turned) and where is None:
                where = raised.vertices[raised.faces[turned[0]]].mean(axis=0)
            folds += len(turned)
            bodies.append(Body(body.name, raised))
        out = Outcome(Shape(tuple(bodies)), [f"moves the surface by up to {most:.2f} mm"])
        if self.at_least_mm:
            out.shape, added = self._bolder(out.shape, tell)
            out.said.append(f"{added:.1f} mm³ more, so that all is at least {number(self.at_least_mm)} mm wide")
        if folds and where is not None:
            x, y, z = (round(float(c), 2) for c in where)
            out.findings.append(
                Finding(
                    severity="look-at",
                    code="relief-folds",
                    station="model",
                    params={"step": self.label(), "faces": folds},
                    at_mm=(x, y, z),
                )
            )
        return out

    def _bolder(self, shape: Shape, tell: Tell) -> tuple[Shape, float]:
        bodies, added = [], 0.0
        for body in shape.bodies:
            if body.solid is None:
                raise StepRefused("The surface is not closed, so nothing can be made wider. Put a repair before it.", self.id)
            after, more = bolder(body.solid, self.at_least_mm, LEVEL_MM, tell)
            bodies.append(body.changed(after))
            added += more
        return Shape(tuple(bodies)), added


def relieved(mesh: Mesh, detail_mm: float, factor: float) -> tuple[Mesh, Points]:
    """The mesh with its detail scaled, and how far each vertex moved (n,)."""
    smooth = smoothed(mesh, detail_mm)
    normals = vertex_normals(Mesh(smooth, mesh.faces))
    height = np.einsum("ij,ij->i", mesh.vertices - smooth, normals)
    shift = (factor - 1) * height
    return Mesh(mesh.vertices + normals * shift[:, None], mesh.faces), np.abs(shift)


def smoothed(mesh: Mesh, detail_mm: float) -> Points:
    """Vertices (n, 3) after one implicit step of diffusion that wipes out waves shorter than `detail_mm`.

    Solves (M + t·L) x = M x₀ with the cotangent Laplacian L and vertex areas M (Desbrun et al. 1999, from memory); a wave of
    length λ keeps 1 / (1 + t·(2π/λ)²), so t = (λ/2π)² halves the wave of the wanted size.
    """
    from scipy.sparse import diags
    from scipy.sparse.linalg import cg

    count = len(mesh.vertices)
    stiff, mass = laplacian(mesh)
    t = (detail_mm / (2 * np.pi)) ** 2
    system = (diags(mass) + t * stiff).tocsr()
    pre = diags(1 / system.diagonal())
    out = np.empty((count, 3))
    for k in range(3):
        out[:, k], _ = cg(system, mass * mesh.vertices[:, k], x0=mesh.vertices[:, k], rtol=1e-7, maxiter=600, M=pre)
    return out


def laplacian(mesh: Mesh) -> "tuple[csr_matrix, Points]":
    """Cotangent stiffness matrix (n, n) and a third of the area around each vertex (n,)."""
    from scipy.sparse import coo_matrix

    count = len(mesh.vertices)
    corners = mesh.vertices[mesh.faces]
    rows, columns, values = [], [], []
    for k in range(3):
        i, j = mesh.faces[:, (k + 1) % 3], mesh.faces[:, (k + 2) % 3]
        a, b = corners[:, (k + 1) % 3] - corners[:, k], corners[:, (k + 2) % 3] - corners[:, k]
        cross = np.linalg.norm(np.cross(a, b), axis=1)
        # limits keep slivers from ruling the system
        weight = np.clip(np.einsum("ij,ij->i", a, b) / np.maximum(cross, 1e-12), 0.02, 20) / 2
        rows += [i, j, i, j]
        columns += [j, i, i, j]
        values += [-weight, -weight, weight, weight]
    matrix = coo_matrix((np.concatenate(values), (np.concatenate(rows), np.concatenate(columns))), shape=(count, count))
    areas = mesh.face_areas / 3
    mass = np.bincount(mesh.faces.ravel(), weights=np.repeat(areas, 3), minlength=count)
    return matrix.tocsr(), np.maximum(mass, 1e-9)


def vertex_normals(mesh: Mesh) -> Points:
    """Unit normals (n, 3), faces weighed by area."""
    total = np.zeros_like(mesh.vertices)
    for corner in range(3):
        for axis in range(3):
            total[:, axis] += np.bincount(mesh.faces[:, corner], mesh.face_vectors[:, axis], minlength=len(total))
    length = np.linalg.norm(total, axis=1, keepdims=True)
    return np.asarray(np.divide(total, length, out=np.zeros_like(total), where=length > 0))
