"""The wheel that makers install."""
