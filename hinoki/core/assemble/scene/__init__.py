"""What is put together: parts, what holds them, and what they weigh."""
