"""Benchmarks: each a ratio to a floor of the same run; what workers read ahead is read before anything is timed."""

from importlib import import_module

from hinoki.jobs.forkserver import HEAVY

for name in HEAVY:
    import_module(name)
