"""Uploads: a request's body written to a file as it comes, up to a limit."""

from pathlib import Path

from fastapi import Request

from hinoki.core.errors import TooLarge


async def receive(request: Request, path: Path, limit: int, too_large: TooLarge) -> None:
    """Write the body to `path`. Raises `too_large` once it is over `limit` bytes, or says so beforehand."""
    if int(request.headers.get("content-length") or 0) > limit:
        raise too_large
    with path.open("wb") as file:
        got = 0
        async for chunk in request.stream():
            got += len(chunk)
            if got > limit:
                raise too_large
            file.write(chunk)
