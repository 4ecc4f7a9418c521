"""A workspace at hand, and what every station needs of it."""
