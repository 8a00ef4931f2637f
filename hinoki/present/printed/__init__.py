"""What prints of bodies, for screens."""
