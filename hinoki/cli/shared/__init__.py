"""What commands have in common: arguments, output, progress, and how operations are asked."""
