"""Ladders: test pieces at stepped clearances, and what answering them teaches."""
