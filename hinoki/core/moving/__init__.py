"""What moves: axes, slides, rails, gears and rods; tried through their whole travel against everything that stands there."""
