"""Rows of text, typed, keyed and made into the core's tables."""
