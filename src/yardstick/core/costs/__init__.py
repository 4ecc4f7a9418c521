"""Spend, its levels, further costs."""
