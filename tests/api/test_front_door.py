"""The front door: pages at once, the rest once the application is made, and a plain end where it cannot be."""

import asyncio
import tempfile
import threading
import unittest
from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager
from pathlib import Path
from unittest.mock import patch

import httpx
from fastapi import FastAPI

from hinoki.api import screens
from hinoki.api.front_door import FrontDoor, pages
from hinoki.api.server import LOCAL_NAMES, serve
from hinoki.api.shared.state import State
from hinoki.core.errors import HinokiError
from tests.apart import apart, awaited
from tests.api.serving import free_port


class Made:
    """An application that is made when a test lets it, and what is told of its end."""

    def __init__(self) -> None:
        self.may_be_made, self.ended = threading.Event(), False

    def __call__(self) -> FastAPI:
        self.may_be_made.wait()

        @asynccontextmanager
        async def living(_app: FastAPI) -> AsyncIterator[None]:
            yield
            self.ended = True

        app = FastAPI(lifespan=living)
        app.get("/api/there")(lambda: "yes")
        app.get("/")(lambda: "whole")
        return app


class Door(unittest.TestCase):
    def setUp(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        (folder / "assets").mkdir()
        (folder / "index.html").write_text("<p>early</p>")
        self.enterContext(patch.object(screens, "WEB", folder))

    @asynccontextmanager
    async def opened(
        self, make: Callable[[], FastAPI], over: Callable[[], object] = lambda: None, early: bool = True
    ) -> AsyncIterator[httpx.AsyncClient]:
        """A client before a door that has been opened, and is closed when this is left."""
        self.door = FrontDoor(make, pages(LOCAL_NAMES) if early else None, over)
        heard: asyncio.Queue[dict[str, str]] = asyncio.Queue()
        said: asyncio.Queue[object] = asyncio.Queue()
        living = asyncio.create_task(self.door({"type": "lifespan"}, heard.get, said.put))
        await heard.put({"type": "lifespan.startup"})
        self.assertEqual(await said.get(), {"type": "lifespan.startup.complete"})
        async with httpx.AsyncClient(transport=httpx.ASGITransport(self.door), base_url="http://localhost") as client:
            yield client
        await heard.put({"type": "lifespan.shutdown"})
        self.assertEqual(await said.get(), {"type": "lifespan.shutdown.complete"})
        await living

    def test_pages_come_before_the_application_is_made_and_the_rest_waits_for_it(self) -> None:
        awaited(self._pages_come_before_the_application_is_made_and_the_rest_waits_for_it())

    async def _pages_come_before_the_application_is_made_and_the_rest_waits_for_it(self) -> None:
        made = Made()
        async with self.opened(made) as client:
            early = await client.get("/")
            self.assertEqual((early.status_code, early.text), (200, "<p>early</p>"))
            self.assertIn("default-src", early.headers["Content-Security-Policy"])
            elsewhere = await client.get("/", headers={"Host": "elsewhere.example"})
            self.assertEqual(elsewhere.status_code, 421)
            waiting = asyncio.create_task(client.get("/api/there"))
            await asyncio.sleep(0.05)
            self.assertFalse(waiting.done())
            made.may_be_made.set()
            self.assertEqual((await waiting).json(), "yes")
            self.assertEqual((await client.get("/")).json(), "whole")
        self.assertTrue(made.ended)

    def test_nothing_is_seen_early_where_a_phrase_is_asked_for(self) -> None:
        awaited(self._nothing_is_seen_early_where_a_phrase_is_asked_for())

    async def _nothing_is_seen_early_where_a_phrase_is_asked_for(self) -> None:
        made = Made()
        async with self.opened(made, early=False) as client:
            waiting = asyncio.create_task(client.get("/"))
            await asyncio.sleep(0.05)
            self.assertFalse(waiting.done())
            made.may_be_made.set()
            self.assertEqual((await waiting).json(), "whole")

    def test_where_it_cannot_be_made_the_door_says_so_and_tells_who_opened_it(self) -> None:
        awaited(self._where_it_cannot_be_made_the_door_says_so_and_tells_who_opened_it())

    async def _where_it_cannot_be_made_the_door_says_so_and_tells_who_opened_it(self) -> None:
        told = threading.Event()

        def make() -> FastAPI:
            raise HinokiError("No room.", "--data")

        async with self.opened(make, told.set) as client:
            answer = await client.get("/api/there")
            self.assertEqual((answer.status_code, answer.json()["code"]), (503, "closing"))
        self.assertTrue(told.is_set())
        self.assertEqual(str(self.door.failed), "No room.")


class Serving(unittest.TestCase):
    def test_a_folder_that_is_in_use_ends_the_server_with_the_reason(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            state = State(Path(folder))
            self.addCleanup(state.close)
            with self.assertRaisesRegex(HinokiError, "is used by another Hinoki"):
                apart(lambda: serve(Path(folder), "127.0.0.1", free_port(), None, demo=False))
