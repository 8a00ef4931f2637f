"""Stages: functions whose results are remembered by what went into them.

A stage declares a name and a version, and what goes in are its parameters: the key of a result is worked out from all of
them, never written by hand. What cannot change a result (NO_INPUT) is left out of the key by its name. Change what a stage
gives for the same input, and its version goes up.
"""

import hashlib
import inspect
from collections.abc import Callable, Mapping, Set
from dataclasses import dataclass, fields, is_dataclass
from functools import update_wrapper
from typing import Any, Generic, ParamSpec, TypeVar

import numpy as np
import orjson
from pydantic import BaseModel
from shapely.geometry.base import BaseGeometry

from hinoki.core.cache import Cache

P = ParamSpec("P")
R = TypeVar("R")
T = TypeVar("T")
NO_INPUT = ("cache", "tell", "source_of")
"""parameters that cannot change a result; files are named by their hash"""
STAGES: dict[str, "Stage[Any, Any]"] = {}
"""every stage, by its name"""


@dataclass(frozen=True)
class Keyed(Generic[T]):
    """A value whose maker is known: `fingerprint` stands for it in keys, such as that of the step that gave a solid."""

    value: T
    fingerprint: object


class Stage(Generic[P, R]):
    """A function with a memory. Call it with the cache first, then with what the function takes."""

    def __init__(self, make: Callable[P, R], name: str, version: int, weigh: Callable[[R], int]) -> None:
        self.name, self.version = name, version
        self.make, self.beside = make, NO_INPUT
        self._weigh, self._signature = weigh, inspect.signature(make)
        update_wrapper(self, make)

    @property
    def declared(self) -> tuple[str, ...]:
        """The names of its inputs."""
        return tuple(p for p in self._signature.parameters if p not in self.beside)

    def inputs(self, *args: P.args, **kwargs: P.kwargs) -> dict[str, object]:
        """What goes in, by name."""
        bound = self._signature.bind(*args, **kwargs)
        bound.apply_defaults()
        return {name: value for name, value in bound.arguments.items() if name not in self.beside}

    def key(self, *args: P.args, **kwargs: P.kwargs) -> str:
        """The name under which its result is kept. Raises TypeError for an input that has no fingerprint."""
        return digest([self.name, self.version, list(self.inputs(*args, **kwargs).values())])

    def __call__(self, cache: Cache, *args: P.args, **kwargs: P.kwargs) -> R:
        """Its result, worked out only when it is not kept."""
        return self.with_key(cache, *args, **kwargs)[1]

    def with_key(self, cache: Cache, *args: P.args, **kwargs: P.kwargs) -> tuple[str, R]:
        """The name under which its result is kept, and the result."""
        key = self.key(*args, **kwargs)
        return key, cache.get(key, lambda: self.make(*args, **kwargs), self._weigh)


def stage(name: str, version: int = 1, weigh: Callable[[Any], int] = lambda _: 100) -> Callable[[Callable[P, R]], Stage[P, R]]:
    """Declare a stage. `weigh` gives the size of a result, roughly in triangles. Raises ValueError for a name that is taken."""

    def declared(make: Callable[P, R]) -> Stage[P, R]:
        if name in STAGES:
            raise ValueError(f"there is a stage {name!r} already")
        STAGES[name] = made = Stage(make, name, version, weigh)
        return made

    return declared


def key_of(*parts: object) -> str:
    """A name made of parts, such as that of a drawing: equal for equal parts, in every process."""
    return digest(parts)


def digest(value: object) -> str:
    """A stable hash of plain values, arrays, models, outlines, data classes, and what has a fingerprint.

    Raises TypeError for anything else, such as a bare solid.
    """
    how = orjson.OPT_SERIALIZE_NUMPY | orjson.OPT_PASSTHROUGH_DATACLASS | orjson.OPT_NON_STR_KEYS
    data = orjson.dumps(value, default=_plain, option=how)
    return hashlib.blake2b(data, digest_size=16).hexdigest()


def _plain(value: object) -> object:
    if hasattr(value, "fingerprint"):  # it tells all that made it, shorter than by what it is
        return value.fingerprint
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json")
    if isinstance(value, np.ndarray):  # one that is not laid out in a row
        return value.tolist()
    if isinstance(value, Set):
        return sorted(value)
    if isinstance(value, Mapping):
        return dict(value)
    if isinstance(value, BaseGeometry):
        return value.wkb_hex
    if is_dataclass(value):
        return [type(value).__name__, *(getattr(value, f.name) for f in fields(value))]
    raise TypeError(f"{type(value).__name__} has no fingerprint: it cannot be an input of a stage")
