"""What answers from the first moment: the pages at once, all else as soon as the application behind it is made.

Reading all of Hinoki takes seconds. A browser that opens meanwhile gets its page, its styles and scripts, and what these ask
for waits in the order it came.
"""

import asyncio
import gc
import threading
from collections.abc import Callable

from fastapi import FastAPI
from starlette.types import ASGIApp, Receive, Scope, Send

from hinoki.api.screens import hand_out_screens
from hinoki.api.shared import access, problems


class FrontDoor:
    """An ASGI application in front of the one that `make` makes in a thread of its own.

    `pages` answers for the screens' files meanwhile; None where nothing may be seen yet. `over` is told once `make` has failed;
    `failed` is what of.
    """

    def __init__(self, make: Callable[[], FastAPI], pages: ASGIApp | None, over: Callable[[], object]) -> None:
        self._make, self._pages, self._over = make, pages, over
        self._app: FastAPI | None = None
        self._ready = asyncio.Event()
        self.failed: Exception | None = None

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "lifespan":
            return await self._live(receive, send)
        if self._app is None and self._pages is not None and not scope["path"].startswith("/api"):
            return await self._pages(scope, receive, send)
        await self._ready.wait()
        closed = problems.problem(503, "Hinoki could not be started; the terminal says why.", "closing")
        await (self._app or closed)(scope, receive, send)

    async def _live(self, receive: Receive, send: Send) -> None:
        loop = asyncio.get_running_loop()
        making = threading.Thread(target=self._made, args=(loop,), name="the application is made")
        await receive()
        making.start()
        await send({"type": "lifespan.startup.complete"})
        await receive()
        await self._ready.wait()
        if self._app is not None:
            async with self._app.router.lifespan_context(self._app):
                pass  # what it has to do at the end is done
        await send({"type": "lifespan.shutdown.complete"})

    def _made(self, loop: asyncio.AbstractEventLoop) -> None:
        gc.disable()  # nothing of what is read now is ever let go of
        try:
            self._app = self._make()
        except Exception as error:  # noqa: BLE001 - raised again by who started the server
            self.failed = error
            self._over()
        finally:
            gc.enable()
            loop.call_soon_threadsafe(self._ready.set)


def pages(hosts: tuple[str, ...]) -> FastAPI:
    """The screens alone, guarded as the whole application is."""
    app = FastAPI(openapi_url=None, docs_url=None, redoc_url=None)
    problems.install(app)
    access.install(app, hosts, None)
    hand_out_screens(app)
    return app
