"""Addresses for servers that tests start."""

import socket


def free_port() -> int:
    """A port of this machine that nobody listens at."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])
