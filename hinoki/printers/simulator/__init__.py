"""Simulated outside devices that ship with Hinoki, for demos and tests without any."""
