"""Joints that open and shut: hinges, hooks, rails, latches."""
