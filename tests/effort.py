"""How much is tried: a little in every run, much more with `run.py test --thorough`. What is proved is the same in both."""

import functools
import os
import time
from collections.abc import Callable
from typing import Any, TypeVar

from hypothesis import HealthCheck, settings
from hypothesis.errors import UnsatisfiedAssumption

THOROUGH = os.environ.get("HINOKI_THOROUGH") == "1"
THOROUGH_TIMES = 8
USUAL_S, THOROUGH_S = 1.5, 120.0
AT_LEAST = 3
"""examples that are tried however long they take"""
T = TypeVar("T")
Test = TypeVar("Test", bound=Callable[..., Any])


def either(usual: T, thorough: T) -> T:
    """One of two sizes of the same test."""
    return thorough if THOROUGH else usual


def tried(examples: int, seconds: float = USUAL_S) -> Callable[[Test], Test]:
    """A property is tried on so many examples at the most, and so long; always the same ones in every run.

    After the time is used up the examples that are left pass untried, so a slow machine tries fewer. Thorough runs try more,
    new ones each time. Stands above `@given`.
    """
    budget = either(seconds, max(seconds, THOROUGH_S))

    def limited(test: Test) -> Test:
        inner = test.hypothesis.inner_test  # type: ignore[attr-defined]
        spent: list[float] = []
        failed = False

        @functools.wraps(inner)
        def within(*values: Any, **named: Any) -> None:
            nonlocal failed
            if not failed and len(spent) >= AT_LEAST and sum(spent) > budget:
                return
            begun = time.process_time()
            try:
                inner(*values, **named)
            except UnsatisfiedAssumption:
                raise
            except Exception:
                failed = True  # the smallest example that fails is looked for without a limit
                raise
            finally:
                spent.append(time.process_time() - begun)

        test.hypothesis.inner_test = within  # type: ignore[attr-defined]
        many = examples * THOROUGH_TIMES if THOROUGH else examples
        slow = [HealthCheck.too_slow, HealthCheck.data_too_large, HealthCheck.filter_too_much]
        return settings(max_examples=many, deadline=None, derandomize=not THOROUGH, database=None, suppress_health_check=slow)(
            test
        )

    return limited
