"""What joints need besides the pieces: loose parts, hardware, what is to be bought."""
