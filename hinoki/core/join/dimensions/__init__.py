"""How large joints are, where they sit, and what they hold."""
