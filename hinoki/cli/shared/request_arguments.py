"""Options of the command line for a typed request: one for each of its fields, by the schema."""

import argparse
import json
from typing import Any

from pydantic import BaseModel

ASKED = "asked_"
"""before the names under which the parser keeps them, so that they never meet its own"""


def add_request(parser: argparse.ArgumentParser, request: type[BaseModel]) -> None:
    """Add an option for every field: its value as such where it is a word, a number or a yes, else as JSON."""
    schema = request.model_json_schema(by_alias=False)
    for name, field in schema.get("properties", {}).items():
        said = str(field.get("description", "")).replace("%", "%%") or None
        more: dict[str, Any] = {"dest": ASKED + name, "default": None, "help": said, **_form(field)}
        more["required"] = name in schema.get("required", ())
        option = name.replace("_", "-")
        try:
            parser.add_argument(f"--{option}", **more)
        except argparse.ArgumentError:  # the parser has one of that name already
            parser.add_argument(f"--asked-{option}", **more)


def request_of(options: argparse.Namespace, request: type[BaseModel]) -> BaseModel:
    """The request as given; fields that were not named have their usual values. Raises ValidationError."""
    given = {name: vars(options)[ASKED + name] for name in request.model_fields}
    return request.model_validate({name: value for name, value in given.items() if value is not None})


def _form(field: dict[str, Any]) -> dict[str, Any]:
    """How one field is given: what the parser is told of it."""
    kinds = [kind for kind in field.get("anyOf", [field]) if kind.get("type") != "null"]
    (only,) = kinds if len(kinds) == 1 else ({},)
    if "enum" in only:
        return {"choices": only["enum"]}
    if only.get("type") == "boolean":
        return {"action": argparse.BooleanOptionalAction}
    if only.get("type") in ("integer", "number"):
        return {"metavar": "N", "type": int if only["type"] == "integer" else float}
    if only.get("type") == "string":
        return {"metavar": "TEXT"}
    return {"metavar": "JSON", "type": _json}


def _json(text: str) -> Any:
    try:
        return json.loads(text)
    except ValueError as error:
        raise argparse.ArgumentTypeError(f"{text[:40]!r} is not JSON ({error})") from None
