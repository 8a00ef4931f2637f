"""The print log: what was printed, how it came out, what is out of date, and what the next print learns from it."""
