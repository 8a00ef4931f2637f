"""Solid: a closed body. The only module that imports the geometry kernel (manifold3d)."""

import math
from collections.abc import Callable, Iterable, Sequence
from functools import cached_property

import manifold3d
import numpy as np
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.errors import OpenSurface
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.lumps import at_most_lumps, lumps_of
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.polygons import polygons_of, round_sides

MODEL_ID = manifold3d.Manifold.reserve_ids(1)
"""the kernel's mark on every triangle that comes from a model's own surface, through all later cuts"""
FEW = 8
"""so many lumps the kernel tells apart by itself"""

FLAKE_MM3 = 1e-6
"""what encloses less is no body but rounding"""

_WHY: dict[str, str] = {
    "NotManifold": "the surface is not closed or its faces disagree about inside and outside",
    "NonFiniteVertex": "a corner is not a number",
    "VertexOutOfBounds": "a face refers to a corner that is not there",
}


class Solid:
    """A closed body of the kernel. Never changed; every operation gives a new one."""

    def __init__(self, body: manifold3d.Manifold) -> None:
        self._body = body

    @classmethod
    def from_mesh(cls, mesh: Mesh, model: bool = False) -> "Solid":
        """The solid inside a closed mesh. Raises OpenSurface where the surface does not close.

        With `model` its triangles are known as the model's own ever after (see `source_faces`).
        """
        body = manifold3d.Manifold(
            manifold3d.Mesh64(
                np.ascontiguousarray(mesh.vertices),
                np.ascontiguousarray(mesh.faces, dtype=np.uint64),
                run_index=np.array([0, 3 * len(mesh.faces)], dtype=np.uint64) if model else None,
                run_original_id=np.array([MODEL_ID], dtype=np.uint32) if model else None,
            )
        )
        status = body.status().name
        if status != "NoError":
            raise OpenSurface(f"There is no inside to work with: {_WHY.get(status, status)}.")
        return cls(body)

    @classmethod
    def cylinder(cls, radius_mm: float, low: float, high: float, around: bool = False) -> "Solid":
        """A round bar along Z from `low` to `high`.

        Sides are chosen for a sagitta of SAGITTA_MM. A bore is drawn `around` the circle, a pin inside it.
        """
        n = round_sides(radius_mm)
        drawn = radius_mm / math.cos(math.pi / n) if around else radius_mm
        return cls(manifold3d.Manifold.cylinder(high - low, drawn, drawn, n).rotate([0, 0, 180 / n if around else 0])).moved(
            0, 0, low
        )

    @classmethod
    def prism(cls, radius_mm: float, low: float, high: float, sides: int) -> "Solid":
        """A bar along Z whose section has `sides` equal sides, its corners on the circle."""
        return cls(manifold3d.Manifold.cylinder(high - low, radius_mm, radius_mm, sides)).moved(0, 0, low)

    @classmethod
    def cone(cls, low_radius: float, high_radius: float, low: float, high: float) -> "Solid":
        """A round bar whose radius changes from `low_radius` to `high_radius`."""
        n = round_sides(max(low_radius, high_radius))
        return cls(manifold3d.Manifold.cylinder(high - low, low_radius, high_radius, n)).moved(0, 0, low)

    @classmethod
    def box(cls, low: Sequence[float], high: Sequence[float]) -> "Solid":
        """An upright box between two corners."""
        size = [b - a for a, b in zip(low, high, strict=True)]
        return cls(manifold3d.Manifold.cube(size).translate(list(low)))

    @classmethod
    def drawn(cls, shape: MultiPolygon, low: float, high: float) -> "Solid":
        """A flat shape drawn out straight along Z from `low` to `high`."""
        rings = [np.asarray(r.coords)[:-1] for part in shape.geoms for r in (part.exterior, *part.interiors)]
        flat = manifold3d.CrossSection(rings, manifold3d.FillRule.EvenOdd)
        return cls(flat.extrude(high - low)).moved(0, 0, low)

    @classmethod
    def drawn_ring(cls, ring: Points, low: float, high: float) -> "Solid":
        """A ring (n, 2) drawn out straight along Z."""
        return cls.drawn(MultiPolygon([Polygon(ring)]), low, high)

    @classmethod
    def frustum(cls, low_ring: Points, high_ring: Points, low: float, high: float) -> "Solid":
        """A bar along Z whose section changes straight from one ring (n, 2) to another of as many corners, both left-handed
        turns (counter-clockwise). Raises OpenSurface where a ring crosses itself."""
        n = len(low_ring)
        vertices = np.vstack([np.column_stack([r, np.full(n, z)]) for r, z in ((low_ring, low), (high_ring, high))])
        k = np.arange(n)
        after = (k + 1) % n
        sides = np.vstack([np.column_stack([k, after, n + after]), np.column_stack([k, n + after, n + k])])
        faces = np.vstack([triangulated(low_ring)[:, ::-1], triangulated(high_ring) + n, sides])
        return cls.from_mesh(Mesh(vertices, faces))

    @classmethod
    def nothing(cls) -> "Solid":
        """No body at all."""
        return cls(manifold3d.Manifold())

    @classmethod
    def hull_of(cls, points: Points) -> "Solid":
        """The convex hull of `points` (n, 3)."""
        return cls(manifold3d.Manifold.hull_points(np.ascontiguousarray(points)))

    @classmethod
    def together(cls, solids: Sequence["Solid"]) -> "Solid":
        """Solids that do not touch as one; nothing is worked out."""
        return cls(_stacked([s._body for s in solids]))

    @classmethod
    def united(cls, solids: Iterable["Solid"]) -> "Solid":
        """Everything that is in any of `solids`, in one kernel call."""
        return cls(manifold3d.Manifold.batch_boolean([s._body for s in solids], manifold3d.OpType.Add))

    @classmethod
    def rejoined(cls, solids: Sequence["Solid"]) -> "Solid":
        """Solids that touch along a cut as one again.

        Where cuts cross, the kernel leaves flakes of no volume along them; those are taken out.
        """
        return cls.united(solids).without_crumbs(FLAKE_MM3)

    def without_crumbs(self, mm3: float) -> "Solid":
        """This solid without the separate lumps, and cavities, of at most so much volume."""
        bodies = self._body.decompose()
        kept = [b for b in bodies if abs(b.volume()) > mm3]
        return self if len(kept) == len(bodies) else Solid(kept[0] if len(kept) == 1 else _stacked(kept))

    def minus(self, cutters: Sequence["Solid"]) -> "Solid":
        """This solid without `cutters`, in one kernel call."""
        if not cutters:
            return self
        bodies = [self._body, *(c._body for c in cutters)]
        return Solid(manifold3d.Manifold.batch_boolean(bodies, manifold3d.OpType.Subtract))

    def plus(self, others: Sequence["Solid"]) -> "Solid":
        """This solid and `others` as one, in one kernel call."""
        return Solid.united([self, *others]) if others else self

    def common(self, other: "Solid") -> "Solid":
        """What both solids share."""
        return Solid(self._body ^ other._body)

    def halves(self, frame: Frame) -> tuple["Solid", "Solid"]:
        """The parts above (along the normal) and below the plane of `frame`, as the kernel cuts: see cutting.split_at for
        planes that a face may lie in."""
        above, below = self._body.split_by_plane(frame.n.tolist(), frame.offset)
        return Solid(above), Solid(below)

    def ahead_of(self, frame: Frame) -> "Solid":
        """The part above the plane of `frame`."""
        return Solid(self._body.trim_by_plane(frame.n.tolist(), frame.offset))

    def reshaped(self, moved: Callable[[Points], Points]) -> "Solid":
        """The same surface with its corners moved: `moved` takes and gives (n, 3). Where each face came from stays known."""
        return Solid(self._body.warp_batch(lambda points: moved(np.asarray(points))))

    def cut_by(self, knife: "Solid") -> tuple["Solid", "Solid"]:
        """What lies within `knife` and what does not."""
        inside, outside = self._body.split(knife._body)
        return Solid(inside), Solid(outside)

    def simplified(self, within_mm: float) -> "Solid":
        """The same body with fewer triangles, nowhere further than about `within_mm` from it, and still closed."""
        return Solid(self._body.simplify(within_mm))

    def refined(self, longest_mm: float) -> "Solid":
        """The same body with every edge at most so long."""
        return Solid(self._body.refine_to_length(longest_mm))

    def silhouette(self) -> MultiPolygon:
        """The shadow of the body on a level plane."""
        shadow = manifold3d.CrossSection(self._body.project().to_polygons(), manifold3d.FillRule.Positive)
        return polygons_of([np.asarray(r, dtype=np.float64) for r in shadow.to_polygons()])

    def shadow(self, frame: Frame) -> MultiPolygon:
        """The shadow of the body on the plane of a frame, in plane coordinates."""
        return self.placed(frame.to_frame).silhouette()

    def lumps(self) -> list["Solid"]:
        """The separate lumps, low ones first (by centroid z, then y, then x). A cavity stays with what surrounds it."""
        return self._lumps or [self]

    @cached_property
    def _lumps(self) -> list["Solid"]:
        """The lumps where there are several; a solid that kept itself would outlive its last use."""
        # what the kernel tells apart may have nothing left once it is tidied up
        bodies = [body for body in _apart(self._body, self.mesh) if body.num_tri()]
        if len(bodies) <= 1 or not (full := [b for b in bodies if b.volume() > 0]):  # at most what rounding left of one
            return []
        hollow = [b for b in bodies if b.volume() <= 0]
        parts: list[list[manifold3d.Manifold]] = [[b] for b in full]
        for cavity in hollow:
            parts[_holder(cavity, full)].append(cavity)
        joined = [Solid(p[0] if len(p) == 1 else _stacked(p)) for p in parts]
        return sorted(joined, key=lambda s: tuple(np.round(s.centre_of_box[::-1], 3)))

    def placed(self, matrix: Points) -> "Solid":
        """The solid under a (3, 4) matrix."""
        return Solid(self._body.transform(matrix))

    def moved(self, x: float, y: float, z: float) -> "Solid":
        """The solid shifted."""
        return Solid(self._body.translate([x, y, z]))

    def slice(self, height: float) -> MultiPolygon:
        """The section at a level Z = `height`."""
        rings = self._body.slice(height).to_polygons()
        return polygons_of([np.asarray(r, dtype=np.float64) for r in rings])

    def ray(self, start: Points, end: Points) -> Points:
        """Where the straight line from `start` to `end` passes the surface, (n, 3), nearest first."""
        hits = self._body.ray_cast(start.tolist(), end.tolist())
        return np.array([h.position for h in hits], dtype=np.float64).reshape(-1, 3)

    def gap(self, other: "Solid", within_mm: float) -> float:
        """Smallest distance to `other`, at most `within_mm`; 0 where they overlap."""
        return float(self._body.min_gap(other._body, within_mm))

    @staticmethod
    def next_surface() -> int:
        """A number above that of every surface there is: cuts made from now on get this one or higher."""
        return int(manifold3d.Manifold.reserve_ids(1)) + 1

    @cached_property
    def mesh(self) -> Mesh:
        """The surface as arrays."""
        out = self._body.to_mesh64()
        return Mesh(np.array(out.vert_properties[:, :3], dtype=np.float64), out.tri_verts.astype(np.int64))

    @cached_property
    def _runs(self) -> "tuple[np.ndarray, np.ndarray]":
        """For every triangle of `mesh` the surface it came from, and its number on that surface."""
        out = self._body.to_mesh64()
        runs = (np.diff(np.asarray(out.run_index, dtype=np.int64)) // 3).astype(np.int64)
        return np.repeat(np.asarray(out.run_original_id, dtype=np.int64), runs), np.asarray(out.face_id, dtype=np.int64)

    @property
    def of_model(self) -> bool:
        """Whether it is a model's own surface, nothing cut yet."""
        return self._body.original_id() == MODEL_ID or bool((self.surfaces == MODEL_ID).all())

    @property
    def surfaces(self) -> "np.ndarray":
        """For every triangle of `mesh` a number that tells which surface it was cut from."""
        return self._runs[0]

    @property
    def source_faces(self) -> "np.ndarray":
        """For every triangle of `mesh` the face of the model it lies on, −1 where it was cut."""
        return np.where(self._runs[0] == MODEL_ID, self._runs[1], -1)

    @cached_property
    def volume_mm3(self) -> float:
        """Enclosed volume."""
        return float(self._body.volume())

    @cached_property
    def centre_of_mass(self) -> Points:
        """Of the body filled evenly, (3,): the mean of the middles of the tetrahedra that its faces make with a point near it,
        by their volumes."""
        mesh, near = self.mesh, self.centre_of_box
        corners = mesh.vertices - near
        volumes = np.einsum("ij,ij->i", corners[mesh.faces[:, 0]], mesh.face_vectors)
        weights = np.bincount(mesh.faces.ravel(), weights=np.repeat(volumes, 3), minlength=len(corners))
        return np.asarray(near + weights @ corners / (4 * volumes.sum()))

    @cached_property
    def bounds(self) -> tuple[Points, Points]:
        """Lowest and highest corner, each (3,); zeros for an empty solid."""
        if self.empty:
            return np.zeros(3), np.zeros(3)
        box = np.asarray(self._body.bounding_box(), dtype=np.float64)
        return box[:3], box[3:]

    def box_meets(self, other: "Solid") -> bool:
        """Whether the upright boxes around the two meet; where they do not, the solids do not either."""
        return bool((self.bounds[0] <= other.bounds[1]).all() and (other.bounds[0] <= self.bounds[1]).all())

    @property
    def size(self) -> Points:
        """Lengths along X, Y, Z."""
        low, high = self.bounds
        return np.asarray(high - low)

    @property
    def centre_of_box(self) -> Points:
        """Middle of the bounding box."""
        low, high = self.bounds
        return np.asarray((low + high) / 2)

    @cached_property
    def triangles(self) -> int:
        """Number of triangles."""
        return int(self._body.num_tri())

    @property
    def empty(self) -> bool:
        """Whether nothing is left."""
        return bool(self._body.is_empty())

    @cached_property
    def hull(self) -> "Solid":
        """The convex hull."""
        return Solid(self._body.hull())


def triangulated(ring: Points) -> "np.ndarray":
    """Triangles (m, 3) over the inside of a flat ring (n, 2), counter-clockwise; numbers refer to its points."""
    return np.asarray(manifold3d.triangulate([np.ascontiguousarray(ring, dtype=np.float64)]), dtype=np.int64).reshape(-1, 3)


def _stacked(bodies: Sequence[manifold3d.Manifold]) -> manifold3d.Manifold:
    """Bodies that do not touch as one, cavities included, every triangle still known by the surface it came from."""
    meshes = [b.to_mesh64() for b in bodies]
    before = np.cumsum([0, *(len(m.vert_properties) for m in meshes)])
    corners = np.cumsum([0, *(3 * len(m.tri_verts) for m in meshes)])
    starts = [np.asarray(m.run_index, dtype=np.uint64)[:-1] + np.uint64(c) for m, c in zip(meshes, corners, strict=False)]
    return manifold3d.Manifold(
        manifold3d.Mesh64(
            np.concatenate([m.vert_properties[:, :3] for m in meshes]),
            np.concatenate([m.tri_verts + np.uint64(b) for m, b in zip(meshes, before, strict=False)]).astype(np.uint64),
            run_index=np.append(np.concatenate(starts), corners[-1]).astype(np.uint64),
            run_original_id=np.concatenate([m.run_original_id for m in meshes]).astype(np.uint32),
            face_id=np.concatenate([m.face_id for m in meshes]).astype(np.uint64),
        )
    )


def _apart(body: manifold3d.Manifold, mesh: Mesh) -> list[manifold3d.Manifold]:
    """The lumps and cavities of a body, whose surface is `mesh`. The kernel looks through all of it for each of them, so many
    are told apart here."""
    most = at_most_lumps(mesh)
    if most <= FEW:
        return list(body.decompose()) if most > 1 else [body]
    count, lump = lumps_of(mesh)
    if count <= FEW:
        return list(body.decompose())
    out = body.to_mesh64()
    faces, corners = mesh.faces, np.asarray(out.vert_properties, dtype=np.float64)
    origin, number = np.asarray(out.run_original_id), np.asarray(out.face_id)
    run = np.repeat(np.arange(len(origin)), (np.diff(np.asarray(out.run_index, dtype=np.int64)) // 3).astype(np.int64))
    order = np.argsort(lump, kind="stable")
    found = []
    for own in np.split(order, np.flatnonzero(np.diff(lump[order])) + 1):
        used, renumbered = np.unique(faces[own], return_inverse=True)
        begins = np.concatenate([[0], np.flatnonzero(np.diff(run[own])) + 1])
        found.append(
            manifold3d.Manifold(
                manifold3d.Mesh64(
                    corners[used],
                    renumbered.reshape(-1, 3).astype(np.uint64),
                    run_index=3 * np.append(begins, len(own)).astype(np.uint64),
                    run_original_id=origin[run[own][begins]].astype(np.uint32),
                    face_id=number[own],
                )
            )
        )
    return found


def _holder(cavity: manifold3d.Manifold, full: Sequence[manifold3d.Manifold]) -> int:
    """Index of the smallest solid whose box holds the cavity and which a ray from the cavity meets an odd number of times."""
    box = np.asarray(cavity.bounding_box())
    start = cavity.to_mesh64().vert_properties[0, :3]
    inside: Callable[[manifold3d.Manifold], bool] = lambda body: (  # noqa: E731
        len(body.ray_cast(start.tolist(), [start[0] + 0.7e5, start[1] + 1.3e5, start[2] + 3.1e5])) % 2 == 1
    )
    found: list[tuple[float, int]] = []
    for index, body in enumerate(full):
        outer = np.asarray(body.bounding_box())
        if (outer[:3] <= box[:3]).all() and (outer[3:] >= box[3:]).all() and inside(body):
            found.append((float(body.volume()), index))
    return min(found)[1] if found else 0
