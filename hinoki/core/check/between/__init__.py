"""What is found between the parts of a project."""
