"""Writes the API's own OpenAPI document, from which the TypeScript types are made."""

import json
import sys
import tempfile
from pathlib import Path

from hinoki.api.app import make_app
from hinoki.api.shared.state import State


def document() -> str:
    """The OpenAPI document as JSON text."""
    with tempfile.TemporaryDirectory() as folder:
        state = State(Path(folder))
        try:
            return json.dumps(make_app(state).openapi(), indent=1, sort_keys=True) + "\n"
        finally:
            state.close()


if __name__ == "__main__":
    (Path(sys.argv[1]) / "openapi.json").write_text(document())
