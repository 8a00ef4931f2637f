"""Parts of a project: taken apart from what came as one, placed once or often, and what they have to do with each other."""
