"""GLB and self-contained glTF (metres, Y up by the specification): reading through trimesh, writing GLB."""

import io
import json
import struct
from collections.abc import Sequence
from typing import Any

import numpy as np

from hinoki.core.errors import HinokiError, UnreadableModel
from hinoki.core.formats.base import ModelFile, NamedMesh, checked, refuse_empty, refuse_many, refuse_wild, whole_file
from hinoki.core.geometry.mesh import Mesh, merge_corners

DEEPEST = 64
UPRIGHT = np.array([[1.0, 0, 0], [0, 0, -1], [0, 1, 0]])
"""glTF's Y up to Hinoki's Z up"""


def read_glb(data: bytes) -> ModelFile:
    """Read a GLB file. Raises UnreadableModel naming the place."""
    refuse_empty(data)
    if data[:4] != b"glTF":
        raise UnreadableModel("This is not a GLB file: it does not begin with 'glTF'. Choose the model's own file.", "byte 0")
    if len(data) < 20:
        raise UnreadableModel(f"The GLB file has only {len(data)} bytes. Copy or export it again.", f"byte {len(data)}")
    version, total, size, kind = struct.unpack_from("<IIII", data, 4)
    if version != 2:
        raise UnreadableModel(f"This is version {version} of glTF; Hinoki reads version 2. Export it again.", "byte 4")
    if total != len(data) or 20 + size > len(data) or kind != 0x4E4F534A:
        raise UnreadableModel(
            f"The GLB file says {total:,} bytes but has {len(data):,}, or its parts do not add up. Copy or export it again.",
            "byte 8",
        )
    return _read(data, _json(data[20 : 20 + size]), "glb")


def read_gltf(data: bytes) -> ModelFile:
    """Read a glTF file whose data is inside it. Raises UnreadableModel naming the place."""
    refuse_empty(data)
    return _read(data, _json(data), "gltf")


def write_glb(objects: Sequence[NamedMesh]) -> bytes:
    """GLB of `objects` given in millimetres, Z up; byte-identical for equal input."""
    import trimesh

    scene = trimesh.Scene()
    names: dict[str, int] = {}
    for placed in objects:
        names[placed.name] = names.get(placed.name, 0) + 1
        name = placed.name if names[placed.name] == 1 else f"{placed.name} {names[placed.name]}"
        vertices = (placed.mesh.vertices @ UPRIGHT) / 1000
        mesh = trimesh.Trimesh(vertices, placed.mesh.faces, process=False)
        scene.add_geometry(mesh, node_name=name, geom_name=name)
    content: bytes = scene.export(file_type="glb")  # type: ignore[no-untyped-call]
    return content


def _json(content: bytes) -> dict[str, Any]:
    try:
        document = json.loads(content)
    except (ValueError, RecursionError) as error:
        raise UnreadableModel(f"The description in the glTF file is not in order: {error}. Export it again.", "JSON") from None
    if not isinstance(document, dict):
        raise UnreadableModel("The description in the glTF file is not an object. Export it again.", "JSON")
    return document


def _read(data: bytes, document: dict[str, Any], kind: str) -> ModelFile:
    import trimesh

    left = _refuse_odd(document, len(data))
    try:
        scene = trimesh.load_scene(io.BytesIO(data), file_type=kind, process=False)
        found: list[NamedMesh] = []
        order = {str(n.get("name")): k for k, n in enumerate(_dicts(document, "nodes"))}
        placed = sorted(scene.graph.nodes_geometry, key=lambda n: (order.get(str(n), len(order)), str(n)))
        refuse_many(len(placed), 0)
        meshes: dict[str, Mesh] = {}
        triangles = 0
        for node in placed:
            matrix, found_name = scene.graph[node]
            name = str(found_name)
            shape = scene.geometry[name]
            if not isinstance(shape, trimesh.Trimesh):
                left.append(f"“{name}” was left out: it has no triangles")
                continue
            triangles += len(shape.faces)
            refuse_many(len(found), triangles)
            if name not in meshes:
                given = checked(
                    str(node)[:80], np.asarray(shape.vertices, dtype=np.float64), np.asarray(shape.faces, dtype=np.int64)
                ).mesh
                # corners are there once for every normal they have; here they are one
                meshes[name] = merge_corners(given.vertices[given.faces].astype(np.float32))
            one = meshes[name]
            faces = one.faces
            if np.linalg.det(matrix[:3, :3]) < 0:
                faces = faces[:, ::-1]
            vertices = (one.vertices @ matrix[:3, :3].T + matrix[:3, 3]) @ UPRIGHT.T
            refuse_wild(vertices, "corner")
            found.append(NamedMesh(str(node)[:80], Mesh(vertices, faces)))
    except HinokiError:
        raise
    except Exception as error:  # noqa: BLE001 - the library fails at damaged files in every way there is
        said = str(error).splitlines()[0][:120] if str(error) else type(error).__name__
        raise UnreadableModel(f"The glTF file is damaged: {said}. Copy or export it again.", "glTF") from None
    return whole_file(found, "m", left, "glTF")


def _refuse_odd(document: dict[str, Any], size: int) -> list[str]:
    """Refuse what reaches outside the file, goes in circles or promises more than the file can hold."""
    for name in ("buffers", "images"):
        for entry in _dicts(document, name):
            uri = entry.get("uri")
            if isinstance(uri, str) and not uri.startswith("data:"):
                if name == "images":
                    continue
                raise UnreadableModel(
                    f"The glTF file keeps its shape in another file (“{uri[:60]}”). Export it as one GLB file.", f"{name}.uri"
                )
    needed = [
        str(n) for n in document.get("extensionsRequired", []) if n not in ("KHR_materials_unlit", "KHR_texture_transform")
    ]
    if needed:
        text = f"The glTF file needs extensions that Hinoki does not read ({', '.join(needed)[:80]}). Export it uncompressed."
        raise UnreadableModel(text, "extensionsRequired")
    for at, entry in enumerate(_dicts(document, "accessors")):
        count = entry.get("count")
        if not isinstance(count, int) or count < 0 or count > size:
            raise UnreadableModel(
                f"Part {at} of the glTF file says {count!r} entries, more than the file can hold. Export it again.",
                f"accessors.{at}",
            )
    _refuse_circles(document)
    return [f"{len(document[k])} {k} were left out" for k in ("animations", "skins", "cameras") if document.get(k)]


def _dicts(document: dict[str, Any], name: str) -> list[dict[str, Any]]:
    entries = document.get(name, [])
    if not isinstance(entries, list) or not all(isinstance(e, dict) for e in entries):
        raise UnreadableModel(f"The list “{name}” in the glTF file is not in order. Export it again.", name)
    return entries


def _refuse_circles(document: dict[str, Any]) -> None:
    nodes = _dicts(document, "nodes")
    depth = [0] * len(nodes)
    tops = [scene.get("nodes", []) for scene in _dicts(document, "scenes")]
    roots = [(i, 0) for top in tops for i in (top if isinstance(top, list) else [None])]
    steps = 0
    while roots:
        at, level = roots.pop()
        steps += 1
        if not isinstance(at, int) or not 0 <= at < len(nodes) or level > DEEPEST or steps > 20_000:
            raise UnreadableModel("The objects of the glTF file refer to each other in a circle or to nothing.", "nodes")
        depth[at] = level
        children = nodes[at].get("children", [])
        roots += [(c, level + 1) for c in (children if isinstance(children, list) else [None])]
