"""`hinoki serve --open`: the browser is asked once the server answers, and not where it never does."""

import threading
import time
import unittest
from http.server import BaseHTTPRequestHandler, HTTPServer
from unittest.mock import patch

from hinoki.cli import serve
from tests.api.serving import free_port


class Answers(BaseHTTPRequestHandler):
    """A server that answers."""

    def do_GET(self) -> None:
        self.send_response(200)
        self.end_headers()

    def log_message(self, *_: object) -> None:
        """Nothing is said."""


class Opened(unittest.TestCase):
    def test_it_is_opened_once_when_it_answers(self) -> None:
        port, asked = free_port(), threading.Event()
        address = f"http://localhost:{port}/"
        with patch("webbrowser.open", side_effect=lambda _: asked.set()) as browser, serve.opened(address):
            time.sleep(2 * serve.LOOKS_EVERY_S)
            self.assertFalse(asked.is_set())  # nobody answers yet
            server = HTTPServer(("127.0.0.1", port), Answers)
            self.addCleanup(server.server_close)
            threading.Thread(target=server.serve_forever, daemon=True).start()
            self.addCleanup(server.shutdown)
            self.assertTrue(asked.wait(30))
        browser.assert_called_once_with(address)

    def test_where_it_never_answers_nothing_is_opened_and_nobody_waits(self) -> None:
        with patch("webbrowser.open") as browser, serve.opened(f"http://localhost:{free_port()}/"):
            pass
        browser.assert_not_called()
