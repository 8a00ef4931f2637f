"""Parts that turn, spring or fold: axles with their washers, coil springs, living hinges."""
