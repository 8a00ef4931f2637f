"""Photographs as they come in: read up to a limit, made small off the event loop."""

from fastapi import Request
from starlette.concurrency import run_in_threadpool

from hinoki.core.errors import TooLarge
from hinoki.core.printlog.photographs import MOST_BYTES, as_kept


async def read_photo(request: Request) -> bytes:
    """The request's body, a photograph, as the JPEG that is kept. Raises TooLarge, and HinokiError for what is none."""
    content = bytearray()
    async for chunk in request.stream():
        content += chunk
        if len(content) > MOST_BYTES:
            raise TooLarge(f"The photograph is larger than {MOST_BYTES // 1_000_000} MB. Take a smaller one.", "photograph")
    return await run_in_threadpool(as_kept, bytes(content))
