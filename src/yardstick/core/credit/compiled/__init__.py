"""Rules as machine code, for many touches."""
