"""Tests; run them all with `python3 run.py test`."""
