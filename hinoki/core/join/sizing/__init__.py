"""How large joints suit a mating face."""
