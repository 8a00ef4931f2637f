"""Stages: keys come of all inputs, and every input that a stage declares is needed.

For each input of each stage: were it taken away, a result would be kept that is stale, which is seen. The inputs are those of
real work on small models, and other ones of the same kind put in their place.
"""

import dataclasses
import unittest
from collections import defaultdict
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from typing import Any
from unittest.mock import patch

import numpy as np
import shapely
from pydantic import BaseModel

from hinoki.core import stages
from hinoki.core.cache import Cache
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.stages import STAGES, Keyed, Stage, digest, stage
from tests.present.staged_work import more_inputs, work

MOST = 12
"""calls of a stage in which an input is taken away"""
KEPT = 600
"""calls of a stage that are remembered"""


def result_digest(value: object) -> str:
    """A digest of any result, bare solids and all."""
    return digest(_plain(value))


def _plain(value: Any) -> object:
    if isinstance(value, Solid):
        return _plain(value.mesh)
    if isinstance(value, Mesh):
        return [value.vertices.round(9), value.faces]
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json")
    if isinstance(value, np.ndarray | str | int | float | bool) or value is None:
        return value
    if isinstance(value, shapely.Geometry):
        return value.wkb_hex
    if isinstance(value, dict):
        return [[_plain(k), _plain(v)] for k, v in value.items()]
    if isinstance(value, list | tuple):
        return [_plain(v) for v in value]
    if isinstance(value, set | frozenset):
        return sorted(result_digest(v) for v in value)
    if dataclasses.is_dataclass(value):
        return [_plain(getattr(value, f.name)) for f in dataclasses.fields(value) if f.name != "cache"]
    if hasattr(value, "__dict__"):
        return [
            type(value).__name__,
            *(_plain(v) for v in vars(value).values() if not callable(v) and not isinstance(v, Cache)),
        ]
    return repr(value)


Call = dict[str, Any]


@contextmanager
def recorded() -> Iterator[dict[str, list[Call]]]:
    """What stages are asked while this lasts, by stage: each with other inputs than before."""
    calls: dict[str, list[Call]] = defaultdict(list)
    seen: dict[str, set[str]] = defaultdict(set)
    asked = Stage.with_key

    def remember(self: Stage[Any, Any], cache: Cache, *args: Any, **kwargs: Any) -> Any:
        key = self.key(*args, **kwargs)
        if key not in seen[self.name] and len(calls[self.name]) < KEPT:
            seen[self.name].add(key)
            bound = self._signature.bind(*args, **kwargs)
            bound.apply_defaults()
            calls[self.name].append(dict(bound.arguments))
        return asked(self, cache, *args, **kwargs)

    with patch.object(Stage, "with_key", remember):
        yield calls


def altered(value: Any) -> list[Any]:
    """Other values of an input: figures larger, each figure of a model by itself, arrays turned round."""
    if isinstance(value, bool):
        return [not value]
    if isinstance(value, int | float):
        return [value + 1, value * 1.5 + 0.1, value * 20]
    if isinstance(value, np.ndarray) and value.dtype == np.float64:
        return [-value]
    if isinstance(value, BaseModel):
        figures = [(k, v) for k, v in value if isinstance(v, int | float) and not isinstance(v, bool)]
        return [value.model_copy(update={k: type(v)(v * factor + 1)}) for k, v in figures for factor in (1.5, 0.2)]
    return []


def caught(one: Stage[Any, Any], name: str, calls: list[Call]) -> bool:
    """Whether a stage that leaves an input out of its key gives a stale result somewhere."""
    forgetful: Stage[Any, Any] = Stage(one.make, one.name, one.version, lambda _: 1)
    forgetful.beside = (*stages.NO_INPUT, name)
    values = {digest([value]): value for call in calls for value in (call[name], *altered(call[name]))}
    for call in [*calls[-MOST // 2 :], *calls[: MOST // 2]]:
        kept = Cache()
        first = result_digest(forgetful(kept, *call.values()))
        for value in list(values.values())[-2 * MOST :]:
            if digest([value]) == digest([call[name]]):
                continue
            now = {**call, name: value} | ({"cache": Cache()} if "cache" in call else {})
            try:
                right = result_digest(one.make(**now))
            except Exception:  # noqa: BLE001, S112 - a value that does not go with the others: another is tried
                continue
            if result_digest(forgetful(kept, *now.values())) == first and right != first:
                return True
    return False


class Declared(unittest.TestCase):
    calls: dict[str, list[Call]]

    @classmethod
    def setUpClass(cls) -> None:
        with recorded() as cls.calls:
            work()
        for name, calls in more_inputs().items():
            cls.calls[name] += calls
        for call in list(cls.calls["freeing"]):  # where a joint left out frees nothing
            solids = {i: u.solids for i, u in call["scene"].units.items()}
            cls.calls["freeing"].append({**call, "bare": Keyed(solids, "with joints")})
        for call in list(cls.calls["swung"]):  # a door that opens too little, and one that stands in its frame
            (unit,) = call["moving"]
            within = replace(unit, solids=tuple(s.moved(0, 0, -3) for s in unit.solids), made_by="within")
            cls.calls["swung"] += [{**call, "door": replace(call["door"], opens_deg=2.0)}, {**call, "moving": [within]}]

    def test_every_stage_is_asked(self) -> None:
        self.assertEqual(set(STAGES) - set(self.calls), set())
        self.assertGreater(len(STAGES), 40)

    def test_an_input_taken_away_gives_a_stale_result_that_is_caught(self) -> None:
        stale = {
            (one.name, name) for one in STAGES.values() for name in one.declared if not caught(one, name, self.calls[one.name])
        }
        self.assertEqual(stale, set(), "inputs that change nothing: leave them out, or add work that shows what they change")


class Keys(unittest.TestCase):
    def test_a_result_is_worked_out_once_for_equal_inputs(self) -> None:
        cache, made = Cache(), []
        one: Stage[Any, Any] = Stage(lambda a, b: made.append((a, b)) or len(made), "one", 1, lambda _: 1)
        self.assertEqual([one(cache, 1, b=2), one(cache, 1, 2), one(cache, a=1, b=3)], [1, 1, 2])

    def test_what_cannot_change_a_result_is_no_input(self) -> None:
        one: Stage[Any, Any] = Stage(lambda a, cache, tell: (a, cache, tell), "one", 1, lambda _: 1)
        self.assertEqual(one.declared, ("a",))
        self.assertEqual(one.key(1, Cache(), print), one.key(1, Cache(), None))

    def test_a_new_version_or_another_name_is_another_key(self) -> None:
        keys = {Stage(len, name, version, lambda _: 1).key("a") for name, version in (("a", 1), ("a", 2), ("b", 1))}
        self.assertEqual(len(keys), 3)

    def test_a_bare_solid_is_no_input(self) -> None:
        with self.assertRaisesRegex(TypeError, "Solid"):
            digest([Solid.box([0, 0, 0], [1, 1, 1])])
        self.assertEqual(digest([Keyed(Solid.nothing(), "a")]), digest([Keyed(None, "a")]))

    def test_a_name_is_given_once(self) -> None:
        with self.assertRaisesRegex(ValueError, "there is a stage 'read' already"):
            stage("read")(len)


if __name__ == "__main__":
    unittest.main()
