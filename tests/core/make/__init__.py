"""Parts that Hinoki makes."""
