"""Writing a file whole or not at all."""

import os
import tempfile
from pathlib import Path

from hinoki.store.cache_files import PART


def save(path: Path, content: bytes) -> None:
    """Write a file whole or not at all."""
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(dir=path.parent, prefix=PART)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(content)
        Path(name).replace(path)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise
