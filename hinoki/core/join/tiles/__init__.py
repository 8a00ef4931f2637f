"""Tiles that meet side by side, and the poles of their magnets."""
