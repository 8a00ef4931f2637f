"""Routes that heed all they are asked: a field of the body, or a word of the query, that nobody knows is refused by name."""

from collections.abc import Callable, Coroutine
from typing import Any

from fastapi import Request, Response
from fastapi.routing import APIRoute
from pydantic import TypeAdapter, ValidationError

from hinoki.api.shared.problems import problem
from hinoki.core.unknown_fields import named, unknown_fields
from hinoki.store.storable_values import unstorable, unstorable_words

OF_WHICH = "of"
"""in a question for a picture: which state of it is meant, so that a browser keeps each under a name of its own"""
Handler = Callable[[Request], Coroutine[Any, Any, Response]]


def file_of(*kinds: str) -> dict[int | str, dict[str, Any]]:
    """What a route that gives a file says of it in the API's document: the kinds it may be of."""
    return {200: {"description": "The file", "content": {kind: {} for kind in kinds}}}


class Heeding(APIRoute):
    """A route that refuses what it would otherwise pass over."""

    def get_route_handler(self) -> Handler:
        """The handler of the route, behind the check."""
        handler = super().get_route_handler()
        asked = _queries(self.dependant)
        body: Any = self.body_field.field_info.annotation if self.body_field is not None else None
        adapter: TypeAdapter[Any] | None = TypeAdapter(body) if body is not None else None

        async def heeding(request: Request) -> Response:
            odd = unstorable_words([*request.query_params.multi_items(), *request.path_params.items()])
            strange = [
                f"?{name}"
                for name in request.query_params
                if name not in asked and not (name == OF_WHICH and request.method == "GET")
            ]
            if odd is None and not strange and adapter is not None:
                odd, strange = await _said(request, adapter)
            if odd is not None:
                return problem(422, f"{odd[0]} {odd[1]}.", "bad-request", odd[0])
            if strange:
                return problem(422, named(strange), "unknown-field", strange[0])
            return await handler(request)

        return heeding


def _queries(dependant: Any) -> set[str]:
    """The words of the query that a route and what it depends on know."""
    own = {p.alias for p in dependant.query_params}
    return own.union(*(_queries(d) for d in dependant.dependencies))


async def _said(request: Request, adapter: TypeAdapter[Any]) -> tuple[tuple[str, str] | None, list[str]]:
    """What of a body in JSON cannot be kept, and its fields that its model does not know.

    Neither where the body is not valid, which is told as always.
    """
    try:
        said = await request.json()
    except RecursionError:
        return ("body", "is nested too deep"), []
    except ValueError:
        return None, []
    odd = unstorable(said)
    if odd is not None:
        return odd, []
    try:
        heard = adapter.dump_python(adapter.validate_python(said), mode="json", by_alias=True)
    except (ValueError, ValidationError, RecursionError):
        return None, []
    return None, list(unknown_fields(said, heard))
