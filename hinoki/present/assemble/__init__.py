"""The assembly as screens and sheets see it."""
