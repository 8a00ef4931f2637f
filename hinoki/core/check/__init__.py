"""Findings, one module for each family."""
