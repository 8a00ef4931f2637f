"""Demo models made by code, and the demo projects."""
