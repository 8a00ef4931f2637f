"""Assembling: in which order pieces, loose parts and hardware go together, proved on their exact shapes."""
