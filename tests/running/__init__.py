"""Runs the tests: shares them out over lanes by measured duration, longest first, and tells the slowest."""
