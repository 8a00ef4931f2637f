"""What comes of a body in layers and lines: what of it prints, what is lost, and how long its lines really take."""
