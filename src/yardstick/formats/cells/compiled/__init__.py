"""What is done to many rows at once, as machine code."""
