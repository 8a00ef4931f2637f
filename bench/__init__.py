"""Benchmarks: each a ratio against a floor measured in the same run."""
