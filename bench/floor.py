"""The floor: numpy reads and writes the bytes, the bare kernel makes the same cuts and trades the same pins.

This is a measuring stick, not the product, so it speaks to the kernel directly.
"""

import time
from collections.abc import Sequence

import manifold3d
import numpy as np

RECORD = np.dtype([("normal", "<f4", (3,)), ("corners", "<f4", (3, 3)), ("attribute", "<u2")])
Tool = tuple[int, bool, np.ndarray, np.ndarray]
"""piece index, whether it is added, vertices and faces"""


def floor_seconds(data: bytes, planes: Sequence[tuple[list[float], float]], tools: Sequence[Tool]) -> float:
    """Seconds for reading, merging, building, cutting at `planes`, trading `tools` and writing with the bare kernel."""
    made = [
        (piece, add, manifold3d.Manifold(manifold3d.Mesh64(np.ascontiguousarray(v), np.ascontiguousarray(f, dtype=np.uint64))))
        for piece, add, v, f in tools
    ]
    begun = time.perf_counter()
    corners = np.frombuffer(data, dtype=RECORD, offset=84)["corners"].reshape(-1, 3)
    rows = np.ascontiguousarray(corners).view(np.dtype((np.void, 12))).ravel()
    _, first, inverse = np.unique(rows, return_index=True, return_inverse=True)
    vertices = corners[first].astype(np.float64)
    faces = inverse.reshape(-1, 3).astype(np.uint64)
    pieces = [manifold3d.Manifold(manifold3d.Mesh64(np.ascontiguousarray(vertices), np.ascontiguousarray(faces)))]
    for normal, offset in planes:
        pieces = [half for piece in pieces for half in piece.split_by_plane(normal, offset)]
    for index, piece in enumerate(pieces):
        adds = [m for at, add, m in made if at == index and add]
        cuts = [m for at, add, m in made if at == index and not add]
        joined = manifold3d.Manifold.batch_boolean([piece, *adds], manifold3d.OpType.Add)
        joined = manifold3d.Manifold.batch_boolean([joined, *cuts], manifold3d.OpType.Subtract)
        out = joined.to_mesh()
        records = np.zeros(len(out.tri_verts), dtype=RECORD)
        records["corners"] = out.vert_properties[:, :3][out.tri_verts]
        (bytes(80) + len(records).to_bytes(4, "little") + records.tobytes())
    return time.perf_counter() - begun
