"""How a piece lies while it prints: candidates searched, measured and weighed."""
