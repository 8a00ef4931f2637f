"""Demo projects come onto the shelf while the application answers, one by one, and stop where it is closed."""

import tempfile
import time
import unittest
from pathlib import Path

from fastapi.testclient import TestClient

from hinoki.api.app import make_app
from hinoki.api.demo_shelf import DemoShelf
from hinoki.api.shared.state import State
from hinoki.demo.projects import DEMOS, FEN

PATIENCE_S = 120.0


class Coming(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory(ignore_cleanup_errors=True)
        self.addCleanup(folder.cleanup)
        self.state = State(Path(folder.name))
        self.client = self.enterContext(TestClient(make_app(self.state), base_url="http://localhost"))

    def names(self) -> list[str]:
        found: list[str] = self.client.get("/api/shelf/making").json()["names"]
        return found

    def shelf(self) -> list[str]:
        return [p["name"] for p in self.client.get("/api/projects").json()]

    def test_one_is_made_beside_and_told_until_it_is_there(self) -> None:
        DemoShelf(self.state, [FEN]).begin()
        self.assertEqual((self.names(), self.shelf()), ([FEN.name], []))  # it answers at once
        until = time.monotonic() + PATIENCE_S
        while self.names() and time.monotonic() < until:
            time.sleep(0.05)
        self.assertEqual((self.names(), self.shelf()), ([], [FEN.name]))
        again = DemoShelf(self.state, [FEN])
        again.begin()
        self.assertEqual(self.names(), [])  # what is there is not made again
        again.close()

    def test_what_is_being_made_is_left_when_it_is_closed(self) -> None:
        shelf = DemoShelf(self.state, DEMOS)
        shelf.begin()
        shelf.close()
        self.assertEqual(self.shelf(), [])
        self.assertEqual(list(self.state.incoming.iterdir()), [])
