"""Hinoki: divide models larger than the printer, join the sections, plan the assembly."""

__version__ = "0.16.0"
