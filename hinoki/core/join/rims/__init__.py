"""Rims: along which walls they run, and beads that click."""
