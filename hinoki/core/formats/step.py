"""STEP: curved surfaces turned into triangles by the optional package cascadio, in a process of its own.

The package is a large C++ library; damaged files may end its process, never ours.
"""

import importlib.util
import subprocess
import sys
import tempfile
from pathlib import Path

import numpy as np

from hinoki.core.errors import UnreadableModel
from hinoki.core.formats.base import ModelFile, NamedMesh, refuse_empty
from hinoki.core.formats.gltf import UPRIGHT, read_glb
from hinoki.core.geometry.mesh import Mesh

TOLERANCE_MM = 0.02
"""how far a triangle may lie from the curved surface it stands for"""
TURN_RAD = 0.2
LONGEST_S = 300.0
_RUN = (
    "import sys; from hinoki.core.parent_process import end_with; end_with(sys.stdin.fileno());"
    "import cascadio; a = sys.argv; sys.exit(bool(cascadio.step_to_glb(a[1], a[2], float(a[3]), float(a[4]))))"
)
"""ends with the process that started it, whose end of its input is then closed"""


def read_step(data: bytes) -> ModelFile:
    """Read a STEP file, its surfaces as triangles within TOLERANCE_MM, in millimetres. Raises UnreadableModel."""
    refuse_empty(data)
    if b"ISO-10303-21" not in data[:1000]:
        text = "This is not a STEP file: it does not begin with 'ISO-10303-21'. Choose the model's own file."
        raise UnreadableModel(text, "line 1")
    if b"END-ISO-10303-21" not in data[-1000:]:
        raise UnreadableModel(
            "The STEP file is cut off: its last line is missing. Copy or export it again.", f"byte {len(data)}"
        )
    if importlib.util.find_spec("cascadio") is None:
        raise UnreadableModel(
            "STEP files need the package 'cascadio', which is not installed here. Run 'python3 run.py setup', or export the "
            "model as STL or 3MF.",
            "file name",
        )
    with tempfile.TemporaryDirectory() as folder:
        source, target = Path(folder) / "model.step", Path(folder) / "model.glb"
        source.write_bytes(data)
        command = [sys.executable, "-c", _RUN, str(source), str(target), str(TOLERANCE_MM), str(TURN_RAD)]
        process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        try:
            code = process.wait(LONGEST_S)
        except subprocess.TimeoutExpired:
            raise UnreadableModel("Turning the STEP file into triangles took too long and was stopped.", "STEP") from None
        finally:
            process.kill()
            process.wait()
            if process.stdin:
                process.stdin.close()
        if code != 0 or not target.exists() or target.stat().st_size == 0:
            text = "The STEP file holds no solid that can be turned into triangles, or it is damaged. Export it again."
            raise UnreadableModel(text, "STEP")
        found = read_glb(target.read_bytes())
    # the package leaves Z up, and writes metres in single precision
    objects = [NamedMesh(o.name, Mesh(np.round(o.mesh.vertices @ UPRIGHT * 1000, 5), o.mesh.faces)) for o in found.objects]
    return ModelFile(tuple(objects), "mm", found.left_out)
