"""The whole job at once: a model divided, joined and laid by itself, and what of it is worth telling."""
