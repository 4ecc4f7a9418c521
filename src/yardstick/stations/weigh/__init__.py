"""Weigh: the ruler board, its trace, its findings, and all of them as files."""
