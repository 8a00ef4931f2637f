"""What is wrong with a surface, one module for each family of findings."""
