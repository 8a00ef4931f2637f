"""What the search for resting faces answers to screens: the candidates as data, and what is drawn of each."""

from collections.abc import Mapping, Sequence

import numpy as np
import shapely
from pydantic import BaseModel, Field

from hinoki.core.batch.estimate.estimate import Estimate, estimate
from hinoki.core.batch.estimate.factor import PLAIN
from hinoki.core.batch.packing.item import rings
from hinoki.core.batch.print_items import NOTHING_KNOWN, Known, group_of
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.geometry.frames import composed, inverted
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import SideName
from hinoki.core.orient.fast_scores import hanging_from
from hinoki.core.orient.layer_areas import areas
from hinoki.core.orient.pieces import Group, groups_of, lies_now, mates
from hinoki.core.orient.ray_grid import walls_of
from hinoki.core.orient.resting.resting_faces import TOUCH_MM
from hinoki.core.orient.search import Candidate
from hinoki.core.orient.support import Support
from hinoki.core.orient.surface import JOINT, MATING, SHOW
from hinoki.core.plan.plan import Plan
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.stages import Keyed, key_of, stage
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import Printer
from hinoki.present.bodies import rest_view
from hinoki.present.schemas.build import RestView
from hinoki.present.schemas.vectors import Vec3

SHOWN = 4
"""candidates on cards"""
SLENDER = 6.0
"""times as tall as wide from which a piece sways while it prints (common practice)"""
THIN_MM = 2.0
SLIM_COLUMN = 0.96


class VentView(BaseModel):
    """A space that is shut in as the piece prints: its volume, and where it begins, on the bed and in the model."""

    volume_mm3: float
    on_bed: Vec3
    in_model: Vec3


class CandidateView(BaseModel):
    """One way to lay a piece, with what differs between them."""

    rest: RestView
    support_mm3: float
    support_area_mm2: float
    scars_show_mm2: float
    scars_mating_mm2: float
    scars_joint_mm2: float
    tip_deg: float
    loose: float = Field(description="height as a multiple of the width of its contact; above 5 it may come loose")
    strength: float = Field(description="of the weakest pin, as a share of one that lies in the layers")
    steps_mm2: float
    minutes: float
    suction_mm3: float = Field(0.0, description="resin: the most that is shut in at once")
    suction_at_mm: float = 0.0
    closed_mm3: float = Field(0.0, description="resin: hollows that never open")
    vents: list[VentView] = []
    broken: list[str]
    said: list[str]
    penalty: float
    support_mesh: str = Field("", description="name of the display mesh of its support columns, as they stand on the bed")
    overhang_mesh: str = Field("", description="the same of what hangs over")
    contact: list[list[tuple[float, float]]] = Field([], description="outlines of what touches the bed, on the bed")


class MateView(BaseModel):
    """Another piece of the same shape: a direction at this piece, turned so (3 × 3, row by row), is the same at that one."""

    key: str
    number: int
    mirrored: bool
    turn: list[float]


class OrientedPiece(BaseModel):
    """A piece and the best ways to lay it, best first; asked for alone also how it lies now, its layers and its likes."""

    key: str
    number: int
    candidates: list[CandidateView]
    now: CandidateView | None = None
    layers: list[tuple[float, float]] = Field([], description="height and area of layers as it lies now, mm and mm²")
    mates: list[MateView] = []


class OrientView(BaseModel):
    """The answer of a search, and what to know about it."""

    pieces: list[OrientedPiece]
    said: list[str] = []
    sides: dict[str, SideName] = Field({}, description="joints whose male parts go on this side, so that pieces stand")


def orient_view(
    plan: Plan,
    built: Build,
    found: Mapping[str, Sequence[Candidate]],
    alone: str | None,
    cache: Cache,
    known: Known = NOTHING_KNOWN,
) -> tuple[OrientView, dict[str, Mesh]]:
    """The answer, and the meshes to draw by name; those, and how it lies now, only for a piece asked for alone."""
    meshes: dict[str, Mesh] = {}
    numbers = built.numbers
    every = groups_of(plan, built, cache)
    pieces = []
    for key, candidates in found.items():
        group = next(g for g in every if key in g.keys)
        shown = [candidate_view(c) for c in candidates[:SHOWN]]
        piece = OrientedPiece(key=key, number=numbers[key], candidates=shown)
        if key == alone:
            for one, view in zip(candidates, shown, strict=False):
                _add_meshes(group, key, one, view, meshes)
                view.minutes = round(takes(plan, group, key, one, cache, known).minutes, 1)
            now = lies_now(built, group, cache)
            own = group.for_piece(key, now)
            piece.now = candidate_view(own)
            piece.now.minutes = round(takes(plan, group, key, own, cache, known).minutes, 1)
            _add_meshes(group, key, own, piece.now, meshes)
            plot = areas(walls_of(group.surface, now.rest.matrix))
            piece.layers = [(round(float(z), 2), round(float(a), 1)) for z, a in plot]
            piece.mates = [
                MateView(key=m.key, number=numbers[m.key], mirrored=m.mirrored, turn=m.turn.round(9).ravel().tolist())
                for m in mates(built, group, every, cache)
            ]
        pieces.append(piece)
    late = sorted(numbers[key] for key, candidates in found.items() if any(c.cut_short for c in candidates))
    said = [f"Time ran out for piece {n} before all candidates were measured; these are the best so far." for n in late]
    return OrientView(pieces=sorted(pieces, key=lambda p: p.number), said=said), meshes


def takes(plan: Plan, group: Group, key: str, candidate: Candidate, cache: Cache, known: Known = NOTHING_KNOWN) -> Estimate:
    """What a group takes as a candidate has one of its pieces lie: by the same layers, and corrected by the same log, as in the
    batches."""
    printer, material = plan.printer_of(key), plan.material_of(key)
    matrix = material.enlarged * _of_group(group, key, candidate)
    body, support = Keyed(group.solid, group.made_by), candidate.support.volume_mm3
    raw = _takes(cache, body, matrix, support, printer, material, plan.printing_of(key))
    return raw.corrected(known.factors.get(group_of(printer, material), PLAIN))


@stage("takes")
def _takes(
    body: Keyed[Solid], matrix: Points, support_mm3: float, printer: Printer, material: Material, printing: PrintSettings
) -> Estimate:
    """What a body takes as it lies by a matrix (3, 4)."""
    return estimate(body.value, matrix, support_mm3, printer, material, printing, 0.0)


def _of_group(group: Group, key: str, candidate: Candidate) -> Points:
    """(3, 4) from the group as it prints to the bed, for a candidate of one of its pieces."""
    return composed(candidate.rest.matrix, inverted(group.turned[key])) if key in group.turned else candidate.rest.matrix


def candidate_view(candidate: Candidate) -> CandidateView:
    """A candidate as data."""
    touch, shut, matrix = candidate.support.touch_mm2, candidate.suction, candidate.rest.matrix
    return CandidateView(
        rest=rest_view(candidate.rest),
        support_mm3=round(candidate.support.volume_mm3, 1),
        support_area_mm2=round(candidate.support.area_mm2, 1),
        scars_show_mm2=round(float(touch[SHOW]), 1),
        scars_mating_mm2=round(float(touch[MATING]), 1),
        scars_joint_mm2=round(float(touch[JOINT]), 1),
        tip_deg=round(candidate.tip_deg, 1),
        loose=round(candidate.loose, 2),
        strength=round(candidate.strength, 3),
        steps_mm2=round(candidate.steps_mm2, 1),
        minutes=round(candidate.minutes, 1),
        suction_mm3=round(shut.volume_mm3, 0),
        suction_at_mm=round(shut.at_mm, 1),
        closed_mm3=round(shut.closed_mm3, 0),
        vents=[
            VentView(
                volume_mm3=volume,
                on_bed=(x, y, z),
                in_model=tuple(round(float(v), 2) for v in matrix[:, :3].T @ (np.array([x, y, z]) - matrix[:, 3])),
            )
            for volume, x, y, z in shut.vents
        ],
        broken=list(candidate.broken),
        said=notes_of(candidate),
        penalty=round(candidate.penalty, 3),
    )


def notes_of(candidate: Candidate) -> list[str]:
    """What to know about a piece that lies so: a brim, swaying, and in resin what it traps."""
    said = []
    x, y, z = (float(v) for v in candidate.rest.size_mm)
    narrow = min(x, y)
    if narrow < THIN_MM and z > narrow:
        said.append(f"only {narrow:.1f} mm wide: print it with a brim")
    if z > SLENDER * narrow:
        said.append(f"{z / max(narrow, 1e-6):.0f} times as tall as wide: it sways, print it slowly or with others")
    if candidate.suction.volume_mm3:
        said.append(
            f"shuts in {candidate.suction.volume_mm3 / 1000:.1f} cm³ at {candidate.suction.at_mm:.0f} mm: give it a drain hole"
        )
    if candidate.suction.closed_mm3:
        said.append(f"keeps {candidate.suction.closed_mm3 / 1000:.1f} cm³ of resin inside: give it two drain holes")
    return said


def _add_meshes(group: Group, key: str, candidate: Candidate, view: CandidateView, meshes: dict[str, Mesh]) -> None:
    """The meshes of a candidate's columns and of what hangs over, and what touches the bed, all where they are on the bed."""
    matrix = _of_group(group, key, candidate)
    mesh = group.surface.mesh
    points = mesh.vertices @ matrix[:, :3].T + matrix[:, 3]
    ups = -(mesh.face_normals @ matrix[2, :3])
    low = points[mesh.faces][:, :, 2].max(axis=1) < TOUCH_MM
    parts = {
        "support_mesh": columns_mesh(candidate.support) if len(candidate.support.columns) else None,
        "overhang_mesh": _faces(mesh, points, (ups > hanging_from(group.printer.overhang_deg)) & ~low),
    }
    view.contact = _outlines(points[mesh.faces[low]])
    for field, part in parts.items():
        if part is not None and len(part.faces):
            name = key_of(field, group.made_by, group.printer, matrix.round(6).tolist())
            meshes[name] = part
            setattr(view, field, name)


def _outlines(corners: np.ndarray) -> list[list[tuple[float, float]]]:
    """Outlines and holes of triangles (n, 3, 3) seen from above."""
    shape = as_multi(shapely.union_all(shapely.polygons(corners[:, :, :2])).simplify(0.05), 0.01)
    return [ring for part in rings(shape) for ring in part]


def _faces(mesh: Mesh, points: np.ndarray, wanted: np.ndarray) -> Mesh | None:
    if not wanted.any():
        return None
    used, faces = np.unique(mesh.faces[wanted], return_inverse=True)
    return Mesh(points[used], faces.reshape(-1, 3).astype(np.int64))


def columns_mesh(support: Support) -> Mesh:
    """The columns as slim boxes, a little apart, as they stand on the bed."""
    x, y, low, high = support.columns.T
    half = SLIM_COLUMN * support.step_mm / 2
    signs = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]])
    base = np.stack([x[:, None] + half * signs[:, 0], y[:, None] + half * signs[:, 1]], axis=-1)
    vertices = np.concatenate(
        [np.concatenate([base, np.broadcast_to(z[:, None, None], (*base.shape[:2], 1))], axis=-1) for z in (low, high)], axis=1
    ).reshape(-1, 3)
    box = np.array(
        [
            [0, 2, 1],
            [0, 3, 2],
            [4, 5, 6],
            [4, 6, 7],
            [0, 1, 5],
            [0, 5, 4],
            [1, 2, 6],
            [1, 6, 5],
            [2, 3, 7],
            [2, 7, 6],
            [3, 0, 4],
            [3, 4, 7],
        ]
    )
    faces = (box[None] + 8 * np.arange(len(x))[:, None, None]).reshape(-1, 3)
    return Mesh(vertices, faces.astype(np.int64))
