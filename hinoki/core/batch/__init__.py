"""Batches: what is printed, how long it takes, and where it lies on the bed."""
