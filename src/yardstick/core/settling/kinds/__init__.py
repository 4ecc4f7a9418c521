"""Kinds of matters, a module each."""
