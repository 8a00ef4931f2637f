"""The parts of a project as screens see them, and what they have to do with each other."""
