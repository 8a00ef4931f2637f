"""Geometry: meshes, solids, frames, rotations, rays, sections, symmetry. Knows nothing of the job."""
