"""Dividing: partings cut the model into pieces, and say where the pieces meet."""
