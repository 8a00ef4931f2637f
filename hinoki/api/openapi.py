"""Writes the API's own OpenAPI document, from which the TypeScript types are made, and of it what forms are drawn from."""

import json
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from hinoki.api.app import make_app
from hinoki.api.shared.state import State

FORMS_OF = ("Plan", "Workshop", "ExportWish", "AnyLadder", "OrientWish")
"""models whose parts the screens draw forms of"""
LIMITS = ("minimum", "maximum", "exclusiveMinimum", "maxLength", "pattern")
FIELD = ("type", "title", "description", "enum", "const", "default", *LIMITS)
"""what a form needs to know of a field"""


def document() -> str:
    """The OpenAPI document as JSON text."""
    with tempfile.TemporaryDirectory() as folder:
        state = State(Path(folder))
        try:
            return json.dumps(make_app(state).openapi(), indent=1, sort_keys=True) + "\n"
        finally:
            state.close()


def forms(text: str) -> str:
    """Of an OpenAPI document the fields of all that forms are drawn of, as JSON text: by model and field."""
    every: dict[str, Any] = json.loads(text)["components"]["schemas"]
    reached, edge = set(FORMS_OF), list(FORMS_OF)
    while edge:
        for name in _named(every[edge.pop()]):
            if name not in reached:
                reached.add(name)
                edge.append(name)
    found = {
        name: {field: _field(about) for field, about in every[name]["properties"].items()}
        for name in sorted(reached)
        if "properties" in every[name]
    }
    return json.dumps(found, indent=1, sort_keys=True) + "\n"


def _named(value: Any) -> Iterator[str]:
    """The models that a schema refers to."""
    if isinstance(value, dict):
        for key, inner in value.items():
            if key == "$ref":
                yield inner.rsplit("/", 1)[1]
            else:
                yield from _named(inner)
    elif isinstance(value, list):
        for inner in value:
            yield from _named(inner)


def _field(about: dict[str, Any]) -> dict[str, Any]:
    kept = {key: about[key] for key in FIELD if key in about}
    for several in ("anyOf", "prefixItems"):
        if several in about:
            kept[several] = [_field(one) for one in about[several]]
    return kept


if __name__ == "__main__":
    folder = Path(sys.argv[1])
    content = document()
    (folder / "openapi.json").write_text(content)
    (folder / "src" / "api" / "forms.json").write_text(forms(content))
