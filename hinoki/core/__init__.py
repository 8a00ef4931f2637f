"""Geometry and rules of the job; imports nothing of the web, the store or the workers."""
