"""Surfaces as scanners and careless programs leave them: small files from a registry package, enlarged, and bodies with faults
put in by code. They are made right by the recommended repair before they are divided."""

from importlib.metadata import files
from pathlib import Path

import numpy as np

from bench.corpus.entry import Entry
from hinoki.core.formats.registry import read_file
from hinoki.core.geometry.mesh import Mesh
from tests.shapes import ellipsoid

PACKAGE = "pyvista"
"""its data files only; see reference.txt"""


def from_package(name: str, longest_mm: float) -> Mesh:
    """A model file of the package, so large. Raises FileNotFoundError where the package is not installed."""
    path = next((f for f in files(PACKAGE) or () if f.name == name), None)
    if path is None:
        raise FileNotFoundError(f"{PACKAGE} has no {name}: python3 run.py setup installs it")
    mesh = read_file(Path(str(path.locate())).read_bytes(), name).mesh
    low, high = mesh.bounds
    return Mesh((mesh.vertices - low) * (longest_mm / float((high - low).max())), mesh.faces)


def holed(seed: int, holes: int, rough: float) -> Mesh:
    """A ball as a scanner sees it: rough, with holes, some faces turned round."""
    rng = np.random.default_rng(seed)
    mesh = ellipsoid(120, 100, 150).refined(9.0).mesh
    vertices = mesh.vertices * (1 + rough * rng.normal(size=(len(mesh.vertices), 1)) / 100)
    middles = vertices[mesh.faces].mean(axis=1)
    keep = np.ones(len(mesh.faces), dtype=bool)
    for at in rng.choice(len(middles), holes, replace=False):
        keep &= np.linalg.norm(middles - middles[at], axis=1) > 9.0
    faces = mesh.faces[keep]
    turned = rng.choice(len(faces), len(faces) // 50, replace=False)
    faces[turned] = faces[turned][:, ::-1]
    return Mesh(vertices, faces)


ENTRIES = (
    Entry("scans", "aeroplane of a registry", lambda: from_package("airplane.ply", 480)),
    Entry("scans", "ant of a registry", lambda: from_package("ant.ply", 420)),
    Entry("scans", "nut of a registry", lambda: from_package("nut.ply", 300)),
    Entry("scans", "ball with holes", lambda: holed(4, 3, 0.4)),
)
