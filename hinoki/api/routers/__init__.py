"""Routers, one a subject; thin."""
