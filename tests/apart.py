"""Work in a thread of its own: where tests of the screens have run, an event loop runs in the main one, and no other may."""

import asyncio
from collections.abc import Callable, Coroutine
from concurrent.futures import ThreadPoolExecutor
from typing import Any, TypeVar

T = TypeVar("T")


def apart(work: Callable[[], T]) -> T:
    """What `work` gives, done in a new thread. Raises what it raises."""
    with ThreadPoolExecutor(1) as thread:
        return thread.submit(work).result()


def awaited(work: Coroutine[Any, Any, T]) -> T:
    """What a coroutine gives, in an event loop of its own."""
    return apart(lambda: asyncio.run(work))
