"""What makers install: the wheel with the screens in it."""
