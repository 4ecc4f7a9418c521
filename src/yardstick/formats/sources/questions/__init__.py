"""What a file does not decide, asked so that nothing is guessed between readings that differ in money, day, person."""
