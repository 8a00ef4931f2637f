"""Who is let in, and what pages may do: host names, origins, the access phrase, and the headers of every answer."""

import asyncio
import base64
import hashlib
import hmac
import logging
import secrets
import threading
import time
from collections import OrderedDict
from collections.abc import Awaitable, Callable

from fastapi import FastAPI, Request
from starlette.concurrency import run_in_threadpool
from starlette.responses import Response

from hinoki.api.shared.problems import problem
from hinoki.api.shared.response_headers import HEADERS
from hinoki.core.printlog.printer_connection import ASKED_BY

log = logging.getLogger("hinoki.doors")
Next = Callable[[Request], Awaitable[Response]]
FREE_GUESSES = 5
LONGEST_WAIT_S = 60.0
MOST_ADDRESSES = 10_000
LOCAL_NAMES = ("127.0.0.1", "localhost", "[::1]")
"""how requests name this machine"""
HASH = "$argon2"
"""how a phrase begins that is given as its hash"""


class Phrase:
    """The access phrase, kept as a slow hash; guesses are slowed down for each address."""

    def __init__(self, phrase: str, clock: Callable[[], float] = time.monotonic) -> None:
        from argon2 import PasswordHasher

        self._hasher = PasswordHasher()
        self._hash = phrase if phrase.startswith(HASH) else self._hasher.hash(phrase)
        self._key = secrets.token_bytes(32)
        self._right = b""
        """a keyed digest of what was found to be right, so that only the first request pays for the slow hash"""
        self._clock = clock
        self._wrong: OrderedDict[str, tuple[int, float]] = OrderedDict()
        """by address: how many wrong guesses, and when the next is heard"""
        self._lock = threading.Lock()
        self.one_at_a_time = asyncio.Lock()
        """held while a guess is looked at: each takes much memory, as it should"""

    def wait_s(self, address: str) -> float:
        """How long an address has to wait before it is heard again."""
        with self._lock:
            return max(0.0, self._wrong.get(address, (0, 0.0))[1] - self._clock())

    def is_known(self, given: str) -> bool:
        """Whether this was found to be right before."""
        return bool(self._right) and hmac.compare_digest(self._digest(given), self._right)

    def is_right(self, given: str, address: str) -> bool:
        """Whether it is the phrase; a wrong one is noted. Takes some tenths of a second, as it should."""
        from argon2.exceptions import InvalidHashError, VerificationError

        try:
            self._hasher.verify(self._hash, given)
        except (VerificationError, InvalidHashError):
            self._note(address)
            return False
        self._right = self._digest(given)
        with self._lock:
            self._wrong.pop(address, None)
        return True

    def _digest(self, given: str) -> bytes:
        return hashlib.blake2b(given.encode("utf-8", "surrogatepass"), key=self._key).digest()

    def _note(self, address: str) -> None:
        with self._lock:
            count = self._wrong.pop(address, (0, 0.0))[0] + 1
            waits = min(LONGEST_WAIT_S, 2.0 ** (count - FREE_GUESSES)) if count >= FREE_GUESSES else 0.0
            self._wrong[address] = count, self._clock() + waits
            while len(self._wrong) > MOST_ADDRESSES:
                self._wrong.popitem(last=False)
        log.warning("wrong access phrase from %s, %d in all; the next is heard in %.0f s", address, count, waits)


def install(app: FastAPI, hosts: tuple[str, ...], phrase: Phrase | None) -> None:
    """Put the guard before everything the application answers."""

    @app.middleware("http")
    async def guard(request: Request, call_next: Next) -> Response:
        answer = _refused(request, hosts)
        if answer is None and phrase is not None:
            answer = await _without_phrase(request, phrase)
        answer = answer or await call_next(request)
        for name, value in HEADERS.items():
            answer.headers.setdefault(name, value)
        return answer


def _refused(request: Request, hosts: tuple[str, ...]) -> Response | None:
    host = request.headers.get("host", "")
    name = host.rsplit(":", 1)[0] if not host.endswith("]") else host
    if "*" not in hosts and name not in hosts:
        return problem(421, f"This Hinoki does not answer to the name {name[:80]!r}.", "host")
    origin = request.headers.get("origin")
    if origin and request.method not in ("GET", "HEAD") and origin.split("://", 1)[-1] != host:
        return problem(403, "This request came from another site's page and was refused.", "origin")
    if ASKED_BY in request.headers:
        return problem(422, "This is Hinoki itself and no printer. Enter the printer's own address.", "no-printer")
    return None


async def _without_phrase(request: Request, phrase: Phrase) -> Response | None:
    """The refusal of a request that does not bring the phrase; None where it does."""
    given = _given(request)
    if given is not None and phrase.is_known(given):
        return None
    address = request.client.host if request.client else "?"
    waits = phrase.wait_s(address)
    if waits > 0:
        answer = problem(429, f"Too many wrong access phrases. Try again in {waits:.0f} s.", "access")
        answer.headers["Retry-After"] = f"{waits + 1:.0f}"
        return answer
    if given is not None:
        async with phrase.one_at_a_time:
            if phrase.wait_s(address) == 0 and await run_in_threadpool(phrase.is_right, given, address):
                return None
    answer = problem(401, "The access phrase is needed (as password, with any name).", "access")
    answer.headers["WWW-Authenticate"] = 'Basic realm="Hinoki"'
    return answer


def _given(request: Request) -> str | None:
    scheme, _, coded = request.headers.get("authorization", "").partition(" ")
    if scheme.lower() != "basic":
        return None
    try:
        return base64.b64decode(coded, validate=True).decode().partition(":")[2]
    except ValueError:
        return None
