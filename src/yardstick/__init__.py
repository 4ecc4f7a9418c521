"""Yardstick Trail: what each campaign cost and what it earned, under every rule at once."""

__version__ = "0.1.0"
