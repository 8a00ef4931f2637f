"""Resting faces: which side a piece lies on, found quickly for every build."""
