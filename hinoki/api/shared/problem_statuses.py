"""What the API's document says of refusals: the statuses an operation may answer with, as problem details."""

from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi

from hinoki.api.shared.plan_body import NAMED as REFERRED
from hinoki.api.shared.problems import Problem

PROBLEM = "application/problem+json"
REFERENCE = {"$ref": "#/components/schemas/Problem"}
EVERYWHERE = {
    "401": "The access phrase is needed.",
    "421": "This Hinoki does not answer to this name.",
    "422": "What was asked cannot be done, or is not as it should be.",
    "429": "Too many wrong access phrases.",
    "500": "Something in Hinoki went wrong; nothing was changed.",
    "503": "Hinoki is being closed.",
}
NAMED = {"404": "What the address names is not there."}
WRITES = {
    "400": "The body cannot be read.",
    "403": "The request came from another site's page.",
    "404": "Something the request names is not there.",
    "409": "It was changed elsewhere meanwhile, or is in use.",
    "413": "It is larger than what can be taken.",
    "507": "The disk is full.",
}
WAITS = {"504": "It took too long and was stopped."}


def document(app: FastAPI) -> dict[str, Any]:
    """The OpenAPI document of the application, made once."""
    if app.openapi_schema:
        return app.openapi_schema
    found = get_openapi(title=app.title, version=app.version, routes=app.routes)
    schema = Problem.model_json_schema(ref_template="#/components/schemas/{model}")
    found.setdefault("components", {}).setdefault("schemas", {})["Problem"] = schema
    for unused in ("HTTPValidationError", "ValidationError"):
        found["components"]["schemas"].pop(unused, None)
    for schema in found["components"]["schemas"].values():
        for name, field in schema.get("properties", {}).items():
            if REFERRED in field:
                schema["properties"][name] = {"$ref": f"#/components/schemas/{field[REFERRED]}"}
    for path, operations in found["paths"].items():
        for method, operation in operations.items():
            _declare(operation, _statuses(path, method))
    app.openapi_schema = found
    return found


def _statuses(path: str, method: str) -> dict[str, str]:
    told = dict(EVERYWHERE)
    if method != "get":
        told |= WRITES | WAITS
    if "{" in path:
        told |= NAMED
    return told


def _declare(operation: dict[str, Any], told: dict[str, str]) -> None:
    responses = operation.setdefault("responses", {})
    for status in [s for s in responses if int(s) >= 400]:
        del responses[status]
    for status, text in sorted(told.items()):
        responses[status] = {"description": text, "content": {PROBLEM: {"schema": REFERENCE}}}
