"""Servers that tests start, and their addresses."""

import contextlib
import socket
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

import httpx

STARTS_WITHIN_S = 600.0
"""however slow the machine; one that ends before is noticed at once"""


def free_port() -> int:
    """A port of this machine that nobody listens at."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def started(
    command: str,
    data: Path,
    *options: str,
    program: str = "hinoki.cli",
    python: str = sys.executable,
    made: bool = True,
    **more: Any,
) -> tuple["subprocess.Popen[bytes]", str]:
    """A server process (`serve` or `demo`) on a folder that answers, its demo projects `made` or not, and its address.
    Raises AssertionError if it does not."""
    port = free_port()
    line = [python, "-m", program, command, "--data", str(data), "--port", str(port), *options]
    process = subprocess.Popen(line, stdout=subprocess.DEVNULL, **more)
    address = f"http://127.0.0.1:{port}"
    end = time.monotonic() + STARTS_WITHIN_S
    with httpx.Client(base_url=address, timeout=60, verify=False) as http:  # a client that never encrypts reads no certificates
        while time.monotonic() < end and process.poll() is None:
            with contextlib.suppress(httpx.TransportError):
                http.get("/api/projects")
                if command != "demo" or not made or not http.get("/api/shelf/making").json()["names"]:
                    return process, address
            time.sleep(0.05)
    process.kill()
    process.wait()
    raise AssertionError(f"hinoki {command} did not start")
