"""How a part moves into its place: straight, turning, swinging; what is in its way."""
