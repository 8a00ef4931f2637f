"""`hinoki serve`: start the application."""

import argparse
import os
import threading
import urllib.error
import urllib.request
import webbrowser
from collections.abc import Iterator
from contextlib import contextmanager, nullcontext
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from hinoki.jobs.cluster import ClusterAddress

PHRASE = "HINOKI_ACCESS_PHRASE"
LOOKS_EVERY_S = 0.2


def declare(parser: argparse.ArgumentParser) -> None:
    """Add what `serve` takes."""
    parser.add_argument("--data", type=Path, default=None, help="folder for the database and the cache")
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--port", type=int, default=8462)
    parser.add_argument(
        "--access-phrase-file",
        type=Path,
        default=None,
        help="a file with the access phrase, or its argon2 hash; needed when --host is not this machine. "
        f"Or say it in the environment, as {PHRASE}",
    )
    parser.add_argument("--access-phrase", default=None, help="the same in the open: every list of processes shows it")
    parser.add_argument("--cache-mb", type=int, default=None, help="most megabytes of computed files on disk (2000)")
    parser.add_argument("--open", action="store_true", help="open it in the browser as soon as it answers")
    parser.add_argument("--worker-mb", type=int, default=None, help="most megabytes each worker keeps between jobs")
    text = "a Dask cluster that does the heavy work: tcp://HOST:8786, tls://HOST:8786, or local:4 for processes of this machine"
    parser.add_argument("--cluster", default=None, metavar="ADDRESS", help=text)
    for name, what in (("ca", "certificate of who vouches"), ("cert", "own certificate"), ("key", "own key")):
        text = f"for a tls:// cluster: the {what}"
        parser.add_argument(f"--cluster-{name}", type=Path, default=None, metavar="PEM", help=text)
    parser.set_defaults(run=_serve, demo=False, print_speed=None)


def _serve(options: argparse.Namespace) -> int:
    from hinoki.api.server import serve
    from hinoki.core.errors import BadPlan
    from hinoki.jobs.memory import LIMIT

    for name, megabytes, least in (("--cache-mb", options.cache_mb, 50), ("--worker-mb", options.worker_mb, 300)):
        if megabytes is not None and megabytes < least:
            raise BadPlan(f"{name} needs at least {least}.", name)
    if options.worker_mb is not None:
        os.environ[LIMIT] = str(options.worker_mb)
    cache = None if options.cache_mb is None else options.cache_mb * 1_000_000
    phrase = _phrase(options)
    with opened(f"http://localhost:{options.port}/") if options.open else nullcontext():
        return serve(
            options.data,
            options.host,
            options.port,
            phrase,
            options.demo,
            options.print_speed or None,
            cache,
            _cluster(options),
        )


def _cluster(options: argparse.Namespace) -> "ClusterAddress | None":
    """Where the heavy work is done, if it was said."""
    if options.cluster is None:
        return None
    from hinoki.jobs.cluster import ClusterAddress

    return ClusterAddress(options.cluster, options.cluster_ca, options.cluster_cert, options.cluster_key)


def answers(address: str) -> bool:
    """Whether a server answers at an address, be it that it asks for its phrase first."""
    try:
        with urllib.request.urlopen(address, timeout=10 * LOOKS_EVERY_S):
            return True
    except urllib.error.HTTPError:
        return True
    except OSError:  # nobody is there yet
        return False


@contextmanager
def opened(address: str) -> Iterator[None]:
    """While a server is being started: once it answers at an address, the browser is asked to open that."""
    over = threading.Event()

    def wait() -> None:
        while not over.wait(LOOKS_EVERY_S):
            if answers(address):
                webbrowser.open(address)
                return

    waiting = threading.Thread(target=wait, daemon=True)
    waiting.start()
    try:
        yield
    finally:
        over.set()
        waiting.join()


def _phrase(options: argparse.Namespace) -> str | None:
    """The access phrase from a file, the environment, or the command line. Raises BadPlan for an empty file."""
    from hinoki.core.errors import BadPlan

    if options.access_phrase_file is None:
        return options.access_phrase or os.environ.pop(PHRASE, None) or None
    phrase: str = options.access_phrase_file.read_text("utf-8").strip()
    if not phrase:
        raise BadPlan(f"{options.access_phrase_file} is empty. Write the access phrase into it.", "--access-phrase-file")
    return phrase
