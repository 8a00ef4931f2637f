"""OFF: reading."""

import numpy as np

from hinoki.core.errors import UnreadableModel
from hinoki.core.formats.base import ModelFile, checked, fans, refuse_empty, whole_file


def read_off(data: bytes) -> ModelFile:
    """Read an OFF file (text; colours behind a face are left out). Raises UnreadableModel naming the place."""
    refuse_empty(data)
    lines = [line.split(b"#", 1)[0].strip() for line in data.split(b"\n")]
    rows = [(number, line.split()) for number, line in enumerate(lines, start=1) if line]
    if not rows or rows[0][1][0].upper() not in (b"OFF", b"COFF", b"NOFF"):
        raise UnreadableModel("This is not an OFF file: it does not begin with 'OFF'. Choose the model's own file.", "line 1")
    head = rows[0][1][1:]
    rest = rows[1:]
    if not head:
        if not rest:
            raise UnreadableModel("The OFF file ends after its first line. Copy or export it again.", "line 1")
        head, rest = rest[0][1], rest[1:]
    try:
        vertex_count, face_count = int(head[0]), int(head[1])
    except (ValueError, IndexError):
        text = "The OFF file does not say how many corners and faces it holds. Export it again."
        raise UnreadableModel(text, "line 2") from None
    if vertex_count < 0 or face_count < 0 or vertex_count + face_count > len(rest):
        raise UnreadableModel(
            f"The OFF file says {vertex_count:,} corners and {face_count:,} faces, but has {len(rest):,} lines of them. "
            "It is cut off or damaged; copy or export it again.",
            "line 2",
        )
    at = 0
    try:
        corners = np.empty((vertex_count, 3))
        for at in range(vertex_count):
            corners[at] = [float(w) for w in rest[at][1][:3]]
        sizes, flat = np.empty(face_count, dtype=np.int64), []
        coloured = 0
        for k in range(face_count):
            at = vertex_count + k
            words = rest[at][1]
            sizes[k] = int(words[0])
            own = [int(w) for w in words[1 : 1 + int(sizes[k])]]
            if len(own) != sizes[k] or sizes[k] < 1:
                raise ValueError("too few corners")
            coloured += len(words) > 1 + sizes[k]
            flat += own
        every = np.array(flat, dtype=np.int64)
    except (ValueError, OverflowError) as error:
        number, words = rest[at]
        shown = b" ".join(words)[:40].decode("utf-8", "replace")
        raise UnreadableModel(
            f"Line {number} of the OFF file cannot be read ({error}): “{shown}”. Export the model again.", f"line {number}"
        ) from None
    notes = [f"the colours of {coloured:,} faces were left out"] if coloured else []
    if (sizes < 3).any():
        notes.append(f"{int((sizes < 3).sum()):,} points and lines were left out")
    faces = fans(sizes, every) if face_count else np.zeros((0, 3), np.int64)
    return whole_file([checked("", corners, faces)], None, notes, "OFF")
