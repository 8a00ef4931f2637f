"""Symmetries: planes a surface is mirrored by, axes it is round about, turns that bring points onto each other."""
