"""Joining: joints are chosen, sized, placed on mating faces and cut into the pieces."""
