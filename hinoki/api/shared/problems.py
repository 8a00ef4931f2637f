"""All refusals leave as RFC 9457 problem details: one clear sentence, the place, the right status."""

import errno
import logging
import sqlite3

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from pydantic import BaseModel, ValidationError
from starlette.exceptions import HTTPException
from starlette.responses import JSONResponse

from hinoki.api.shared.response_headers import HEADERS
from hinoki.core.errors import HinokiError, explain

log = logging.getLogger("hinoki.api")


class Problem(BaseModel):
    """The body of a refusal."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    where: str | None = None
    code: str


def problem(status: int, detail: str, code: str, where: str | None = None) -> JSONResponse:
    """The response for a refusal."""
    body = Problem(title="Refused" if status < 500 else "Failed", status=status, detail=detail, where=where, code=code)
    return JSONResponse(body.model_dump(), status_code=status, media_type="application/problem+json", headers=HEADERS)


def install(app: FastAPI) -> None:
    """Map every kind of error in one place."""

    @app.exception_handler(HinokiError)
    def _ours(_request: Request, error: HinokiError) -> JSONResponse:
        return problem(error.status, error.message, error.code, error.where)

    @app.exception_handler(RequestValidationError)
    def _request(_request: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"][1:]) or str(first["loc"][0])
        return problem(422, f"{place}: {first['msg'].removeprefix('Value error, ')}.", "bad-request", place)

    @app.exception_handler(ValidationError)
    def _model(_request: Request, error: ValidationError) -> JSONResponse:
        sentence, place = explain(error)
        return problem(422, sentence, "bad-request", place)

    @app.exception_handler(HTTPException)
    def _http(_request: Request, error: HTTPException) -> JSONResponse:
        return problem(error.status_code, str(error.detail), "http")

    @app.exception_handler(sqlite3.OperationalError)
    def _database(_request: Request, error: sqlite3.OperationalError) -> JSONResponse:
        if "full" in str(error):
            return problem(507, "The disk is full, so this could not be saved. Make room, and do it again.", "disk-full")
        return problem(500, f"The database could not do this ({error}). Nothing was changed.", "database")

    @app.exception_handler(OSError)
    def _disk(_request: Request, error: OSError) -> JSONResponse:
        if error.errno == errno.ENOSPC:
            return problem(507, "The disk is full, so this could not be saved. Make room, and do it again.", "disk-full")
        return problem(500, f"A file could not be read or written ({error.strerror}). Nothing was changed.", "file")

    @app.exception_handler(Exception)
    def _other(request: Request, error: Exception) -> JSONResponse:
        log.error("method=%s path=%s failed", request.method, request.url.path, exc_info=error)
        return problem(500, f"Something in Hinoki went wrong ({type(error).__name__}). Nothing was changed.", "internal")
