"""One Hinoki and one headless browser for all tests of the screens.

The server and its demo projects are made once a run, by whichever process needs them first (run.py test has several); tests
work on copies of the demo projects. What changes things that all projects share has a server of its own, which begins with a
copy of the same database.
"""

import contextlib
import fcntl
import functools
import json
import os
import shutil
import subprocess
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from playwright.sync_api import BrowserContext, Playwright, sync_playwright

from hinoki.store.backups import backup
from tests.api.serving import started
from tests.running.ending import ENDING
from tests.running.lanes import MEETING, meeting_place

FLAGS = [
    "--no-sandbox",
    "--use-angle=swiftshader-webgl",
    "--enable-unsafe-swiftshader",
    "--ignore-gpu-blocklist",
    "--disable-background-networking",
]
"""only the model is drawn by SwiftShader, the page itself plainly: a quarter of the processor time"""
BROWSERS = ("/usr/bin/chromium-headless-shell", "/usr/bin/chromium")
"""Debian's: the one without windows draws less"""
_SHARED: list["subprocess.Popen[bytes]"] = []
"""the server that this process started for all; it is stopped with the run, not with this process"""


@functools.cache
def browser() -> BrowserContext:
    """The browser of this process, with a profile of its own: the screens' code is read and compiled once, not for every test.
    Whoever uses it forgets first what others left in it (see BrowserCase)."""
    folder = ENDING.enter_context(tempfile.TemporaryDirectory(ignore_cleanup_errors=True))
    found = _playwright().chromium.launch_persistent_context(
        folder,
        executable_path=browser_path(),
        args=FLAGS,
        viewport={"width": 1280, "height": 800},
        accept_downloads=True,
        reduced_motion="reduce",
    )
    ENDING.callback(found.close)
    return found


@functools.cache
def phone() -> BrowserContext:
    """A browser as on a phone: small, and touched."""
    found = _playwright().chromium.launch(executable_path=browser_path(), args=FLAGS)
    ENDING.callback(found.close)
    return found.new_context(
        viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True, accept_downloads=True, reduced_motion="reduce"
    )


@functools.cache
def _playwright() -> Playwright:
    return ENDING.enter_context(sync_playwright())


def browser_path() -> str:
    """Where the browser is. Raises FileNotFoundError."""
    for path in BROWSERS:
        if Path(path).exists():
            return path
    raise FileNotFoundError("no browser: apt-get install chromium-headless-shell")


def shared_address() -> str:
    """The address of the server that tests have in common."""
    return str(noted("server", _share)["address"])


def _share() -> dict[str, Any]:
    process, address = started("demo", _folder() / "data", "--print-speed", "0")
    _SHARED.append(process)
    backup(_folder() / "data" / "hinoki.sqlite", _folder() / "fresh.sqlite")
    return {"pid": process.pid, "address": address}


def noted(name: str, make: Callable[[], Any]) -> Any:
    """What is made once a run, by whichever process needs it first, and noted (as JSON) for the others."""
    known = _folder() / f"{name}.json"
    with (_folder() / f"{name}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not known.exists():
            known.write_text(json.dumps(make()))
    return json.loads(known.read_text())


@contextlib.contextmanager
def own_server(print_speed: float) -> Iterator[str]:
    """A server for one class of tests, with the demo projects and nothing else."""
    shared_address()
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as folder:
        data = Path(folder) / "data"
        data.mkdir()
        shutil.copyfile(_folder() / "fresh.sqlite", data / "hinoki.sqlite")
        process, address = started("demo", data, "--print-speed", str(print_speed))
        try:
            yield address
        finally:
            process.terminate()
            process.wait()


@functools.cache
def _folder() -> Path:
    if MEETING not in os.environ:  # a test that was started by itself
        ENDING.enter_context(meeting_place())
    return Path(os.environ[MEETING])
