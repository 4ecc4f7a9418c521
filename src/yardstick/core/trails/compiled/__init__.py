"""Ordering touches and laying trails as machine code, for many touches; importing it loads the compiler's package."""

from .laying import counted, packed, ranges_of, unpacked, within_windows

__all__ = ["counted", "packed", "ranges_of", "unpacked", "within_windows"]
