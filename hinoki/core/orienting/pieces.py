"""Orientation of the pieces of a build: what their faces are for, what their joints ask, and the candidates of each."""

from collections.abc import Mapping, Sequence

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.cache import Cache, key_of
from hinoki.core.engine import Built
from hinoki.core.joints import SIDES, PinJoint
from hinoki.core.marking import marked
from hinoki.core.mesh import Faces, Mesh, Points
from hinoki.core.orienting.search import Attitude, Candidate, ranked, search
from hinoki.core.orienting.support import Support
from hinoki.core.orienting.surface import JOINT, MATING, SHOW, surface_of
from hinoki.core.orienting.weigh import PRESETS, Preset, Weights
from hinoki.core.pieces import Part
from hinoki.core.plan import Plan
from hinoki.core.progress import Tell, quiet
from hinoki.core.showing import rest_view
from hinoki.core.view import RestView

SHOWN = 4
"""candidates on cards"""
SLENDER = 6.0
"""times as tall as wide from which a piece sways while it prints (common practice)"""
THIN_MM = 2.0
SLIM_COLUMN = 0.96


class OrientWish(BaseModel):
    """Which piece (its key; none: all of them), and what counts: a preset, or weights typed."""

    piece: str | None = Field(None, max_length=8000)
    preset: Preset | None = "least support"
    weights: Weights | None = None

    @property
    def weighing(self) -> Weights:
        """The weights typed, else the preset's."""
        return self.weights or PRESETS[self.preset or "least support"]


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
    broken: list[str]
    said: list[str]
    penalty: float
    support_mesh: str = Field("", description="name of the display mesh of its support columns, as they stand on the bed")


class OrientedPiece(BaseModel):
    """A piece and the best ways to lay it, best first."""

    key: str
    number: int
    candidates: list[CandidateView]


class OrientView(BaseModel):
    """The answer of a search."""

    pieces: list[OrientedPiece]


def attitude_of(built: Built, part: Part) -> Attitude:
    """What the joints of a piece ask of it."""
    upright: list[Points] = []
    pins: list[Points] = []
    for one in built.placed:
        if not one.places or part.key not in (one.face.a.key, one.face.b.key):
            continue
        if one.joint.upright:
            upright.append(one.face.frame.n)
        side = next(s for s in SIDES if one.part(s).key == part.key)
        if isinstance(one.joint, PinJoint) and one.joint.stands_on == side:
            pins.append(one.face.frame.n)
    return Attitude(tuple(upright), tuple(pins))


def shown_faces(plan: Plan, built: Built, cache: Cache) -> Faces:
    """Numbers of the model's faces that are marked to be seen."""
    ready = built.prepared
    if ready is None or not any(m.kind == "show" for m in plan.marks):
        return np.zeros(0, dtype=np.int64)
    return marked(plan.marks, ready.mesh, ready.key, cache).of("show")


def oriented(plan: Plan, built: Built, part: Part, weights: Weights, cache: Cache, tell: Tell = quiet) -> list[Candidate]:
    """The candidates of one piece, best first."""
    planes = [f.frame for f in built.faces if part.key in (f.a.key, f.b.key)]
    mating = [f.frame.n if f.a.key == part.key else -f.frame.n for f in built.faces if part.key in (f.a.key, f.b.key)]
    shown, attitude, printer = shown_faces(plan, built, cache), attitude_of(built, part), plan.printer_of(part.key)
    axes = [[a.tolist() for a in group] for group in (attitude.upright, attitude.pins)]
    key = key_of("oriented", part.made_by, printer, [n.tolist() for n in mating], axes, shown.tolist(), weights)

    def look() -> list[Candidate]:
        return search(part.solid, surface_of(part.solid, planes, shown), printer, mating, attitude, weights, tell)

    return ranked(cache.get(key, look, lambda found: sum(c.support.columns.size for c in found) + 100), weights)


def best_rests(plan: Plan, built: Built, wish: OrientWish, cache: Cache, tell: Tell = quiet) -> dict[str, list[Candidate]]:
    """The candidates of the pieces asked for, by key. A piece whose side was chosen, and is locked, is left out of “all”."""
    wanted = [p for p in built.parts if (p.key == wish.piece if wish.piece else not _locked(plan, p.key))]
    found: dict[str, list[Candidate]] = {}
    alike: dict[tuple[str, str], list[Candidate]] = {}
    for k, part in enumerate(wanted):
        tell(k / max(1, len(wanted)), f"Orienting piece {k + 1} of {len(wanted)}")
        same = part.made_by, plan.printer_of(part.key).id
        if same not in alike:
            within: Tell = lambda f, p, k=k: tell((k + f) / len(wanted), p)  # type: ignore[misc]  # noqa: E731
            alike[same] = oriented(plan, built, part, wish.weighing, cache, within)
        found[part.key] = alike[same]
    return found


def _locked(plan: Plan, key: str) -> bool:
    note = plan.pieces.get(key)
    return bool(note and note.locked)


def orient_view(found: Mapping[str, Sequence[Candidate]], numbers: Mapping[str, int]) -> tuple[OrientView, dict[str, Mesh]]:
    """The answer for screens, and the meshes of the support columns by name."""
    meshes: dict[str, Mesh] = {}
    pieces = []
    for key, candidates in found.items():
        shown = []
        for one in candidates[:SHOWN]:
            view = candidate_view(one)
            if len(one.support.columns):
                view.support_mesh = key_of("columns", one.support.columns.tobytes().hex()[:4000], one.rest.matrix.tolist())
                meshes[view.support_mesh] = columns_mesh(one.support)
            shown.append(view)
        pieces.append(OrientedPiece(key=key, number=numbers[key], candidates=shown))
    return OrientView(pieces=sorted(pieces, key=lambda p: p.number)), meshes


def candidate_view(one: Candidate) -> CandidateView:
    """A candidate as data."""
    touch = one.support.touch_mm2
    return CandidateView(
        rest=rest_view(one.rest),
        support_mm3=round(one.support.volume_mm3, 1),
        support_area_mm2=round(one.support.area_mm2, 1),
        scars_show_mm2=round(float(touch[SHOW]), 1),
        scars_mating_mm2=round(float(touch[MATING]), 1),
        scars_joint_mm2=round(float(touch[JOINT]), 1),
        tip_deg=round(one.tip_deg, 1),
        loose=round(one.loose, 2),
        strength=round(one.strength, 3),
        steps_mm2=round(one.steps_mm2, 1),
        minutes=round(one.minutes, 1),
        broken=list(one.broken),
        said=notes_of(one),
        penalty=round(one.penalty, 3),
    )


def notes_of(one: Candidate) -> list[str]:
    """What to know about a piece that lies so: a brim, swaying."""
    said = []
    x, y, z = (float(v) for v in one.rest.size_mm)
    narrow = min(x, y)
    if narrow < THIN_MM and z > narrow:
        said.append(f"only {narrow:.1f} mm wide: print it with a brim")
    if z > SLENDER * narrow:
        said.append(f"{z / max(narrow, 1e-6):.0f} times as tall as wide: it sways, print it slowly or with others")
    return said


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
