"""Making a surface right, mildest first: one module for each family of means."""
