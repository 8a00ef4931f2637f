"""How what stands on hinges and rails opens, tried on the finished pieces."""
